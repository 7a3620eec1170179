"""What was read beside what is there: new, known, said otherwise, and what looks alike but cannot be told."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from functools import cached_property
from typing import Any

from chirotend.core.body.zones import zone
from chirotend.core.record import Check, DayNote, Entry, Record, Session, overlap
from chirotend.core.record.session import filled
from chirotend.formats.cells import BadCell
from chirotend.formats.json_record import Tables
from chirotend.services.context import Context
from chirotend.services.record import exports
from chirotend.services.record.bring.answers import Answers
from chirotend.services.record.bring.read import Read
from chirotend.services.record.bring.whole import Missing, missing
from chirotend.store.models import BroughtRow, ChangeRow

#: sessions that came from rows of a diary, by their id
FROM_A_ROW = "row-"
#: so many of the rows of a diary must be known before one that is not is taken for one of them that was mended
KNOWN_SHARE = 0.5
Written = Session | Check | DayNote


@dataclass(frozen=True)
class Change:
    """Something of which the file says something else: what, and whether it is to be taken over."""

    key: str
    day: date
    said: tuple[str, ...]
    document: Written
    taken: bool


@dataclass
class Plan:
    """What an import would write: new documents, what is there already, what it would change, what cannot be taken."""

    sessions: list[Session] = field(default_factory=list)
    checks: list[Check] = field(default_factory=list)
    notes: list[DayNote] = field(default_factory=list)
    #: checks and day notes that are there and gain what they do not say yet
    joined: list[Check] = field(default_factory=list)
    joined_notes: list[DayNote] = field(default_factory=list)
    changes: list[Change] = field(default_factory=list)
    known: dict[str, int] = field(default_factory=lambda: {"sessions": 0, "checks": 0, "days": 0})
    #: sessions that look like ones that are there, and are not known to be the same
    alike: int = 0
    bad: list[BadCell] = field(default_factory=list)
    settings: dict[str, Any] | None = None
    kept: Tables | None = None
    #: of a whole record: rows of other tables to be added, how many stay behind, and whether all else goes first
    added: Missing | None = None
    replaces: bool = False

    @property
    def bad_rows(self) -> int:
        """How many rows cannot be taken, whatever the number of their cells."""
        return len({(b.file, b.line) for b in self.bad})

    @property
    def is_empty(self) -> bool:
        """True when there is nothing to write."""
        added = self.added is not None and any(self.added.tables.values())
        written = (self.sessions, self.checks, self.notes, self.joined, self.joined_notes, self.changes, self.kept)
        return not (any(written) or added)


def compared(context: Context, found: Read, answers: Answers) -> Plan:
    """Compare what was read with the record as it stands now."""
    record = found.record
    plan = Plan(bad=list(found.bad))
    if found.kept is not None:
        empty = exports.is_empty(context)
        if empty or answers.whole == "replace":
            whole = list(record.sessions), list(record.checks), list(record.notes)
            return Plan(*whole, bad=list(found.bad), settings=found.settings, kept=found.kept, replaces=not empty)
        plan.added = missing(context, found.kept)
    days = found.days
    if days:
        there = context.store.record(min(days) - timedelta(days=1), max(days) + timedelta(days=1))
        taken = _Ticks(context, answers)
        _sessions(plan, found, there, answers.alike != "new", taken)
        _checks(plan, record.checks, there, taken)
        _notes(plan, record.notes, there, taken)
    return plan


class _Ticks:
    """Which changes are taken: those she ticked; unasked, those of entries that she did not write or mend here."""

    def __init__(self, context: Context, answers: Answers) -> None:
        self.context, self.answers = context, answers

    @cached_property
    def by_hand(self) -> set[str]:
        """What she wrote or mended here: asked for only where something changes."""
        brought = {row.act for row in self.context.store.repository(BroughtRow).some(("act",))}
        rows = self.context.store.repository(ChangeRow).some(("subject", "key", "act"))
        return {f"{row.subject} {row.key}" for row in rows if row.act not in brought}

    def change(self, key: str, said: Iterable[str], document: Written) -> Change:
        said_of_it = self.answers.changes.get(key)
        taken = key not in self.by_hand if said_of_it is None else said_of_it
        return Change(key, document.day, tuple(said), document, taken)


def _sessions(plan: Plan, found: Read, there: Record, same: bool, ticks: _Ticks) -> None:
    """Sort the sessions found into known, changed and new ones."""
    by_uid = {s.uid: s for s in there.sessions}
    by_content: dict[tuple[object, ...], Session] = {
        (s.day, s.start_utc, s.blocks): s for s in there.sessions if s.start_utc
    }
    left: list[Session] = []
    matched: set[str] = set()
    for session in found.record.sessions:
        old = by_uid.get(session.uid) or by_content.get((session.day, session.start_utc, session.blocks))
        if old is None:
            left.append(session)
        else:
            matched.add(old.uid)
            _known_or_changed(plan, old, session, ticks)
    near = _by_day(there.sessions)
    free = _by_day(s for s in there.sessions if s.uid not in matched)
    mended = _is_this_diary(found.record, there, matched)
    for session in left:
        _place(plan, found, session, free, near, (same, mended), ticks)


def _by_day(sessions: Iterable[Session]) -> dict[date, list[Session]]:
    found: dict[date, list[Session]] = {}
    for session in sessions:
        found.setdefault(session.day, []).append(session)
    return found


def _is_this_diary(record: Record, there: Record, matched: set[str]) -> bool:
    """True when most rows that came from a diary, on the days of this one, are in it."""
    days = {s.day for s in record.sessions}
    rows = [s.uid for s in there.sessions if s.day in days and s.uid.startswith(FROM_A_ROW)]
    return bool(rows) and sum(uid in matched for uid in rows) >= KNOWN_SHARE * len(rows)


def _place(
    plan: Plan,
    found: Read,
    session: Session,
    free: dict[date, list[Session]],
    near: dict[date, list[Session]],
    allowed: tuple[bool, bool],
    ticks: _Ticks,
) -> None:
    """Find a place for a session that no id knows: mended, alike, or new where nothing stands at its time."""
    same, mended = allowed
    here = free.get(session.day, [])
    old = next((s for s in here if s.start_utc is not None and s.start_utc == session.start_utc), None)
    if old is None and mended:
        rows = [s for s in here if s.uid.startswith(FROM_A_ROW) and _one_instrument(s, session)]
        old = min(rows, key=lambda s: abs(s.minutes - session.minutes), default=None)
    if old is not None:
        here.remove(old)
        _known_or_changed(plan, old, session, ticks)
        return
    alike = next((s for s in here if _alike(s, session)), None)
    if alike is not None:
        plan.alike += 1
        here.remove(alike)
        if same:
            plan.known["sessions"] += 1
            return
    around = [s for n in (-1, 0, 1) for s in near.get(session.day + timedelta(days=n), ())]
    clash = overlap(session, around)
    if clash is None:
        plan.sessions.append(session)
        return
    file, line = found.lines.get(session.uid, ("", 0))
    plan.bad.append(
        BadCell(
            file,
            line,
            "",
            f"{session.day:%-d %B %Y}, {session.minutes:g} minutes",
            f"a time of its own; it falls into a session written before ({clash.minutes:g} minutes)",
        )
    )


def _one_instrument(a: Session, b: Session) -> bool:
    names = {block.instrument for session in (a, b) for block in session.blocks}
    return len(names - {""}) <= 1


def _alike(old: Session, new: Session) -> bool:
    return round(old.minutes, 1) == round(new.minutes, 1) and _one_instrument(old, new)


def _known_or_changed(plan: Plan, old: Session, new: Session, ticks: _Ticks) -> None:
    said = _otherwise(old, new)
    if not said:
        plan.known["sessions"] += 1
        return
    document = replace(filled(new, old), uid=old.uid)
    plan.changes.append(ticks.change(f"session {old.uid}", said, document))


def _otherwise(old: Session, new: Session) -> list[str]:
    """What a file says of a known session that the record does not; where it says nothing it says nothing else."""
    said = []
    if new.effort is not None and new.effort != old.effort:
        said.append(f"effort {'not said' if old.effort is None else f'{old.effort:g}'} → {new.effort:g}")
    if round(new.minutes, 3) != round(old.minutes, 3):
        said.append(f"{old.minutes:g} → {new.minutes:g} minutes")
    texts = zip(old.texts().values(), new.texts().values(), strict=True)
    said += [f"“{then[:40]}” → “{now[:40]}”" for then, now in texts if now and now != then]
    return said


def _checks(plan: Plan, found: Sequence[Check], there: Record, ticks: _Ticks) -> None:
    written = {(c.day, c.timing): c for c in there.checks}
    for check in found:
        old = written.get((check.day, check.timing))
        if old is None:
            plan.checks.append(check)
            continue
        marked = {(e.zone, e.side, e.kind): e for e in old.entries}
        more = tuple(e for e in check.entries if (e.zone, e.side, e.kind) not in marked)
        flags = tuple(f for f in check.red_flags if f not in old.red_flags)
        joined = replace(old, entries=(*old.entries, *more), red_flags=(*old.red_flags, *flags))
        said, entries = _stronger_or_weaker(joined.entries, check.entries)
        if more or flags:
            plan.joined.append(joined)
        if said:
            changed = replace(joined, entries=tuple(entries))
            plan.changes.append(ticks.change(f"check {old.day} {old.timing}", said, changed))
        elif not (more or flags):
            plan.known["checks"] += 1


def _stronger_or_weaker(old: Sequence[Entry], new: Sequence[Entry]) -> tuple[list[str], list[Entry]]:
    """Return what the file says otherwise of the strength of what is marked, and the entries as it says them."""
    now = {(e.zone, e.side, e.kind): e.intensity for e in new}
    said, entries = [], []
    for entry in old:
        strength = now.get((entry.zone, entry.side, entry.kind), entry.intensity)
        if strength != entry.intensity:
            said.append(f"{zone(entry.zone).spoken(entry.side)} {entry.intensity:g} → {strength:g}")
        entries.append(replace(entry, intensity=strength))
    return said, entries


def _notes(plan: Plan, found: Sequence[DayNote], there: Record, ticks: _Ticks) -> None:
    written = {n.day: n for n in there.notes}
    for note in found:
        old = written.get(note.day)
        if old is None:
            plan.notes.append(note)
            continue
        said = _said_otherwise(old, note)
        text = (note.note or old.note) if said else max(old.note, note.note, key=len)
        document = DayNote(note.day, note.off or old.off, note.sleep or old.sleep, note.hands or old.hands, text)
        if said:
            plan.changes.append(ticks.change(f"day {note.day}", said, document))
        elif document != old:
            plan.joined_notes.append(document)
        else:
            plan.known["days"] += 1


def _lines(note: DayNote) -> list[str]:
    return [line for line in note.note.split("\n") if line]


def _said_otherwise(old: DayNote, new: DayNote) -> list[str]:
    """What a note would lose or have replaced; what it only gains is not of that kind."""
    said = []
    if old.note and new.note and not (set(_lines(old)) <= set(_lines(new)) or set(_lines(new)) <= set(_lines(old))):
        said.append(f"“{old.note[:40]}” → “{new.note[:40]}”")
    for then, now in ((old.sleep, new.sleep), (old.hands, new.hands)):
        if then and now and now != then:
            said.append(f"{then} → {now}")
    return said
