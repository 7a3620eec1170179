"""The practice log as three CSV files: sessions, symptoms, days. See docs/formats.md.

Reading gives drafts and complaints, never a half-read row; writing gives files that read back to the same record,
but for the instants at which checks were answered (the JSON export keeps those).
"""

import csv
import hashlib
import io
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from chirotend.core.body.redflags import red_flags
from chirotend.core.body.zones import zone, zones
from chirotend.core.days import practice_day
from chirotend.core.errors import MethodError
from chirotend.core.record import Block, Check, DayNote, Entry, Record, Session, overlap, words
from chirotend.core.record.shape import TEXT_MAX, Shape, columns, names_of
from chirotend.formats.cells import BadCell, Cells, safe_text, table

SESSION_COLUMNS = ("day", "start", "end", "session", *columns(Block), *columns(Session))
SYMPTOM_COLUMNS = ("day", "timing", "zone", *columns(Entry))
DAY_COLUMNS = ("day", "off", "checks", "red_flags", "other_uses", *columns(DayNote))
FILES = {"sessions": SESSION_COLUMNS, "symptoms": SYMPTOM_COLUMNS, "days": DAY_COLUMNS}
YES = ("yes", "no", "1", "0", "true", "false")

Step = Callable[[int], None]


@dataclass
class Draft:
    """What was read: documents ready to be written, and every cell that could not be taken."""

    sessions: list[Session] = field(default_factory=list)
    checks: dict[tuple[date, str], Check] = field(default_factory=dict)
    notes: dict[date, DayNote] = field(default_factory=dict)
    bad: list[BadCell] = field(default_factory=list)
    #: the file and line each session came from, by its id
    lines: dict[str, tuple[str, int]] = field(default_factory=dict)

    @property
    def record(self) -> Record:
        return Record(tuple(self.sessions), tuple(self.checks.values()), tuple(self.notes.values()))


def own_kind(data: bytes) -> str:
    """Return which of the three files `data` is: every column of its first line is one of that file's; "" if none."""
    try:
        head = data[:4096].decode("utf-8-sig").split("\n", 1)[0].lower()
    except UnicodeDecodeError:
        return ""
    named = {c.strip().strip('"') for c in head.replace(";", ",").split(",")}
    for kind, need in (("symptoms", {"zone", "kind"}), ("sessions", {"minutes"}), ("days", {"day"})):
        if need <= named <= set(FILES[kind]) and len(named) > 1:
            return kind
    return ""


def read_table(
    draft: Draft, kind: str, data: bytes, file: str, home: ZoneInfo, today: date, step: Step = lambda n: None
) -> None:
    """Read one file into `draft`. `today` is the last practice day that may be written; `step(n)` may raise to stop."""
    header, rows = table(data, file, FILES[kind])
    take: _Taker = {
        "sessions": _Sessions(draft, home, today),
        "symptoms": _Symptoms(draft, today),
        "days": _Days(draft, today),
    }[kind]
    for count, (line, cells) in enumerate(rows, start=1):
        if isinstance(cells, BadCell):
            draft.bad.append(cells)
        else:
            take(Cells(file, line, header, cells))
        if count % 500 == 0:
            step(500)
    take.finish()


class _Taker:
    def __init__(self, draft: Draft, today: date) -> None:
        self.draft, self.today = draft, today

    def day_of(self, cells: Cells) -> date | None:
        day = cells.day("day")
        if day is None and not cells.bad:
            cells.refuse("day", "a day, written YYYY-MM-DD; it is missing")
        return self.not_future(cells, day)

    def not_future(self, cells: Cells, day: date | None, column: str = "day") -> date | None:
        if day is not None and day > self.today:
            cells.refuse(column, f"a day up to today, {self.today.isoformat()}; this one is in the future")
            return None
        return day

    def __call__(self, cells: Cells) -> None:
        raise NotImplementedError

    def finish(self) -> None:
        """Nothing to do after the last row, unless a subclass joins rows."""


class _Sessions(_Taker):
    """One row a block; rows of one day with the same `session` are one session."""

    def __init__(self, draft: Draft, home: ZoneInfo, today: date) -> None:
        super().__init__(draft, today)
        self.home = home
        self.sessions: dict[str, tuple[Session, int, str]] = {}
        #: the sessions that share a word
        self.keys: dict[str, list[str]] = {}

    def __call__(self, cells: Cells) -> None:
        day = cells.day("day")
        start = cells.instant("start", day, self.home)
        if day is None and start is not None:
            day = practice_day(start, self.home)
        elif day is None and not cells.bad:
            cells.refuse("day", "a day, written YYYY-MM-DD, or a start with its date")
        day = self.not_future(cells, day)
        end = cells.instant("end", day, self.home)
        block, own = cells.described(Block), cells.described(Session)
        minutes = block.get("minutes")
        if minutes is None and not cells.raw.get("minutes", "").strip():
            cells.refuse("minutes", "the minutes played, 0 to 1440; they are missing")
        if cells.bad or day is None or minutes is None:
            self.draft.bad.extend(cells.bad)
            return
        made = Block(**block)
        start = start.astimezone(UTC) if start else None
        end = end.astimezone(UTC) if end else (start + timedelta(minutes=minutes) if start else None)
        if start and end and end <= start:
            cells.refuse("end", "a time after the start")
            self.draft.bad.extend(cells.bad)
            return
        named = cells.text("session").strip()
        uid = _named_uid(named) if named else _made_uid(day, start, made, len(self.sessions))
        if not named and uid in self.sessions:
            cells.refuse("start", f"a row of its own; line {self.sessions[uid][1]} says the same")
            self.draft.bad.extend(cells.bad)
            return
        self._join(uid, Session(uid, day, (made,), start_utc=start, end_utc=end, **own), cells)

    def _join(self, uid: str, session: Session, cells: Cells) -> None:
        """Add a row to the session of its word; one of another day, start or effort is a session of its own."""
        keys = self.keys.setdefault(uid, [])
        key = next((k for k in keys if _agree(self.sessions[k][0], session)), None)
        if key is None:
            keys.append(f"{uid}/{len(keys)}" if keys else uid)
            self.sessions[keys[-1]] = session, cells.line, cells.file
            return
        first, line, file = self.sessions[key]
        try:
            more = session.texts()
            texts: dict[str, Any] = {name: _both(text, more[name]) for name, text in first.texts().items()}
            effort = session.effort if first.effort is None else first.effort
            joined = replace(first, blocks=(*first.blocks, *session.blocks), effort=effort, **texts)
        except MethodError as error:
            cells.refuse("minutes", f"what one session holds: {str(error).partition(': ')[2]}")
            self.draft.bad.extend(cells.bad)
            return
        if first.end_utc and session.end_utc and first.start_utc and not cells.raw.get("end", "").strip():
            joined = replace(joined, end_utc=first.start_utc + timedelta(minutes=joined.minutes))
        self.sessions[key] = joined, line, file

    def _named_apart(self) -> None:
        """Give each session that shares its word with others an id: the earliest keeps the word, whatever the order."""
        for uid, keys in self.keys.items():
            for key in sorted(keys, key=lambda k: _when(self.sessions[k][0]))[1:]:
                session, line, file = self.sessions[key]
                said = f"{session.day}|{session.start_utc}|{session.effort}"
                apart = replace(session, uid=f"{uid}-{hashlib.sha256(said.encode()).hexdigest()[:8]}")
                self.sessions[key] = apart, line, file

    def finish(self) -> None:
        self._named_apart()
        timed = sorted(
            (s for s in self.sessions.values() if s[0].start_utc and s[0].end_utc),
            key=lambda s: (s[0].start_utc, s[0].uid),
        )
        clashes = set()
        latest = None
        for placed in timed:
            if latest and overlap(placed[0], [latest[0]]):
                session, line, file = placed
                self.draft.bad.append(
                    BadCell(
                        file,
                        line,
                        "start",
                        session.start_utc.isoformat() if session.start_utc else "",
                        f"a time outside the session of line {latest[1]}; the two overlap",
                    )
                )
                clashes.add(session.uid)
            elif latest is None or _end(placed[0]) > _end(latest[0]):
                latest = placed
        there = {session.uid for session in self.draft.sessions}
        for session, line, file in self.sessions.values():
            if session.uid in there:
                self.draft.bad.append(BadCell(file, line, "", session.uid, "a session once; another file has it too"))
            elif session.uid not in clashes:
                self.draft.sessions.append(session)
                self.draft.lines[session.uid] = file, line


def _agree(a: Session, b: Session) -> bool:
    """True when two rows of one word are one session: of one day, and neither says another start or effort."""
    told = ((a.start_utc, b.start_utc), (a.effort, b.effort))
    return a.day == b.day and all(one is None or other is None or one == other for one, other in told)


def _both(a: str, b: str) -> str:
    return "\n".join(dict.fromkeys(text for text in (a, b) if text))


def _when(session: Session) -> tuple[date, datetime]:
    return session.day, session.start_utc or datetime.min.replace(tzinfo=UTC)


def _end(session: Session) -> datetime:
    """The end of a session that has one."""
    return session.end_utc or datetime.max.replace(tzinfo=UTC)


def _named_uid(word: str) -> str:
    """The id of a session by its word: the word itself where an address can hold it, else one made from it."""
    fits = "/" not in word and word.strip(".")
    return word if fits else f"word-{hashlib.sha256(word.encode()).hexdigest()[:24]}"


def _made_uid(day: date, start: datetime | None, block: Block, position: int) -> str:
    """An id from the content, so that the same diary read twice is recognised; rows alike on one day stay apart."""
    digest = hashlib.sha256(f"{day}|{start}|{block}".encode()).hexdigest()[:24]
    return f"row-{digest}" if start else f"row-{digest}-{position}"


class _Symptoms(_Taker):
    """One row a symptom; rows of one day and timing make one check."""

    def __call__(self, cells: Cells) -> None:
        day = self.day_of(cells)
        timing = cells.word("timing", words.TIMINGS)
        if not timing and not cells.raw.get("timing", "").strip():
            cells.refuse("timing", f"one of {', '.join(words.TIMINGS)}; it is missing")
        place = cells.word("zone", tuple(zones()))
        if (cells.bad and cells.bad[-1].column == "zone") or not cells.raw.get("zone", "").strip():
            cells.bad = [b for b in cells.bad if b.column != "zone"]
            cells.refuse("zone", "a zone of the list in help, such as thumb_base_joint")
        found = cells.described(Entry)
        side, kind, intensity = (found.pop(name, None) for name in ("side", "kind", "intensity"))
        if place and zone(place).sided and side not in ("left", "right"):
            cells.refuse("side", "left or right")
        if not kind and not cells.raw.get("kind", "").strip():
            cells.refuse("kind", f"one of {', '.join(words.SYMPTOM_KINDS)}; it is missing")
        if intensity is None and not cells.raw.get("intensity", "").strip():
            cells.refuse("intensity", "a number from 0 to 10; it is missing")
        if cells.bad or not (day and timing and place and kind) or intensity is None:
            self.draft.bad.extend(cells.bad)
            return
        entry = Entry(place, side if side and zone(place).sided else "none", kind, intensity, **found)
        check = self.draft.checks.get((day, timing)) or Check(check_uid(day, timing), day, timing)
        self.draft.checks[day, timing] = replace(check, entries=(*check.entries, entry))


def with_entries(check: Check, entries: Sequence[Entry]) -> Check:
    """Return a check with more entries: one of a place, side and kind that is there stays, the stronger of the two."""
    found = {(e.zone, e.side, e.kind): e for e in check.entries}
    for entry in entries:
        old = found.get((entry.zone, entry.side, entry.kind))
        if old is None or entry.intensity > old.intensity:
            found[entry.zone, entry.side, entry.kind] = entry
    return replace(check, entries=tuple(found.values()))


def both_notes(a: DayNote, b: DayNote) -> DayNote:
    """Return what two notes of one day say together; where they differ the first holds."""
    text = "\n".join(dict.fromkeys(line for line in (*a.note.split("\n"), *b.note.split("\n")) if line))
    return DayNote(a.day, a.off or b.off, a.sleep or b.sleep, a.hands or b.hands, text[:TEXT_MAX])


def check_uid(day: date, timing: str) -> str:
    """There is one check a day and timing, so its id is just that."""
    return f"{day.isoformat()}-{timing}"


class _Days(_Taker):
    """One row a day: off or not, which checks were answered, sleep, hands, the urgent list."""

    def __call__(self, cells: Cells) -> None:
        day = self.day_of(cells)
        off = cells.word("off", YES) in ("yes", "1", "true")
        checks = cells.words("checks", words.TIMINGS)
        noted = cells.described(DayNote)
        flags = self._timed(cells, "red_flags", tuple(red_flags()))
        uses = self._timed(cells, "other_uses", words.OTHER_USES)
        if day and day in self.draft.notes:
            cells.refuse("day", "one row a day; this day stands above already")
        if cells.bad or day is None:
            self.draft.bad.extend(cells.bad)
            return
        self.draft.notes[day] = DayNote(day, off, **noted)
        for timing in dict.fromkeys((*checks, *(t for t, _ in flags), *(t for t, _ in uses))):
            check = self.draft.checks.get((day, timing)) or Check(check_uid(day, timing), day, timing)
            self.draft.checks[day, timing] = replace(
                check,
                red_flags=tuple(code for t, code in flags if t == timing),
                other_uses=next((word for t, word in uses if t == timing), None),
            )

    @staticmethod
    def _timed(cells: Cells, column: str, known: tuple[str, ...]) -> list[tuple[str, str]]:
        """Read `timing:word` pairs; a word alone belongs to daily life."""
        found = []
        for token in cells.raw.get(column, "").lower().split():
            timing, _, word = token.rpartition(":")
            if word not in known or (timing or "daily") not in words.TIMINGS:
                cells.refuse(
                    column,
                    f"words among {', '.join(known[:6])}{' …' if len(known) > 6 else ''}, "
                    "each with its timing before it, such as waking:" + known[0],
                )
                return []
            found.append((timing or "daily", word))
        return found


def write_tables(record: Record, home: ZoneInfo) -> dict[str, str]:
    """Return the three files of `record` as text, by name."""
    return {
        "sessions.csv": _written(SESSION_COLUMNS, _session_rows(record, home)),
        "symptoms.csv": _written(SYMPTOM_COLUMNS, _symptom_rows(record)),
        "days.csv": _written(DAY_COLUMNS, _day_rows(record)),
    }


def _written(columns: tuple[str, ...], rows: Iterable[Iterable[str]]) -> str:
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(columns)
    writer.writerows(rows)
    return out.getvalue()


def _number(value: float) -> str:
    return repr(int(value)) if float(value).is_integer() else repr(value)


def _session_rows(record: Record, home: ZoneInfo) -> Iterable[list[str]]:
    texts = {column for column, shape in columns(Session).items() if shape.longest}
    for s in record.sessions:
        own = _described(s)
        start, end = (t.astimezone(home).isoformat() if t else "" for t in (s.start_utc, s.end_utc))
        for i, b in enumerate(s.blocks):
            once = ["" if i and column in texts else cell for column, cell in zip(columns(Session), own, strict=True)]
            yield [s.day.isoformat(), start, end, safe_text(s.uid), *_described(b), *once]


def _symptom_rows(record: Record) -> Iterable[list[str]]:
    for c in record.checks:
        for e in c.entries:
            yield [c.day.isoformat(), c.timing, e.zone, *_described(e)]


def _described(value: Any) -> list[str]:
    """The cells of a value's described fields, in the order of their columns."""
    kind: Any = type(value)
    return [_cell(getattr(value, names_of(kind)[column]), shape) for column, shape in columns(kind).items()]


def _cell(value: Any, shape: Shape) -> str:
    if value is None:
        return ""
    if shape.several:
        return " ".join(value)
    if shape.longest:
        return safe_text(value)
    return str(value) if shape.words else _number(value)


def _day_rows(record: Record) -> Iterable[list[str]]:
    notes = {n.day: n for n in record.notes}
    for day in sorted(record.asked_days | set(notes)):
        note = notes.get(day) or DayNote(day)
        checks = record.checks_on(day)
        yield [
            day.isoformat(),
            "yes" if note.off else "",
            " ".join(c.timing for c in checks),
            " ".join(f"{c.timing}:{code}" for c in checks for code in c.red_flags),
            " ".join(f"{c.timing}:{c.other_uses}" for c in checks if c.other_uses),
            *_described(note),
        ]
