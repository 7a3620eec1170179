"""A matched table, read row by row into sessions, checks and notes, with what is asked, odd, or cannot be taken."""

import hashlib
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from chirotend.core.body.zones import zone
from chirotend.core.days import FIRST_DAY, instant_of, practice_day
from chirotend.core.errors import MethodError
from chirotend.core.record import Block, Check, DayNote, Entry, Session
from chirotend.core.record.shape import NAME_MAX, TEXT_MAX
from chirotend.formats.cells import BadCell, plain_text
from chirotend.formats.csv_log import check_uid
from chirotend.formats.diary.asked import Option, Question
from chirotend.formats.diary.complaints import Felt, complaints, is_nothing, kind_in
from chirotend.formats.diary.match import LENGTHS, Column, Match
from chirotend.formats.diary.order import Calendar, Order, ordered
from chirotend.formats.diary.scales import (
    Scale,
    end_question,
    highest,
    likely_end,
    likely_unit,
    said_end,
    unit_question,
)
from chirotend.formats.diary.sheets import Sheet
from chirotend.formats.diary.words import AS_IT_IS, NOTE, OFF, Words
from chirotend.formats.spelled import SpelledNumber, clocks_of, length_of, number_of, plain
from chirotend.library.loader import diary_words

EFFORT_ENDS, STRENGTH_ENDS = (5, 6, 10, 20, 100), (3, 5, 10, 100)
UNSAID_STRENGTH, UNSAID_KIND, UNSAID_SIDE = "3", "tension", "both"
#: questions about what is met on the way: as it is asked of one and of several, the answers, and the likeliest
COUNTED = {
    "unsaid_side": (
        "complaint names no side",
        "complaints name no side",
        {"both": "both sides", "left": "left", "right": "right", NOTE: "only the note"},
        UNSAID_SIDE,
    ),
    "unsaid_strength": (
        "complaint has no number",
        "complaints have no number",
        {"2": "2, slight", "3": "3, some", "5": "5, medium", NOTE: "only the note"},
        UNSAID_STRENGTH,
    ),
    "pairs": (
        "cell holds two numbers",
        "cells hold two numbers",
        {"middle": "the middle: 3–4 is 3.5", "out": "leave the row out"},
        "middle",
    ),
    "doubles": (
        "row is the same as another",
        "rows are the same as another",
        {"once": "one row, written twice", "both": "two, both count"},
        "once",
    ),
}
STEP_ROWS = 500
Place = tuple[str, str, str]  # zone, side, kind


@dataclass(frozen=True)
class Taken:
    """A session as it was read, with the row it came from: what cannot be told apart later needs her own cells."""

    line: int
    session: Session
    cells: tuple[str, ...]
    start_said: str = ""
    end_said: str = ""
    #: minutes between the times, where both were written beside a length
    between: float | None = None
    #: the day that the start itself names, where it does
    start_day: date | None = None


@dataclass
class Diary:
    """What a table holds."""

    sheet: Sheet
    columns: list[Column]
    sessions: list[Taken] = field(default_factory=list)
    #: what was felt, by day and timing: places with the strongest that was written, {} = asked, nothing there
    felt: dict[tuple[date, str], dict[Place, float]] = field(default_factory=dict)
    notes: dict[date, DayNote] = field(default_factory=dict)
    off: dict[date, int] = field(default_factory=dict)
    bad: list[BadCell] = field(default_factory=list)
    questions: list[Question] = field(default_factory=list)
    remarks: list[str] = field(default_factory=list)
    #: rows that say the same as another of their day
    doubles: int = 0
    #: rows that she left out, by line
    left_out: dict[int, tuple[str, ...]] = field(default_factory=dict)

    @property
    def checks(self) -> list[Check]:
        """The checks, as the record keeps them."""
        return [
            Check(
                check_uid(day, timing),
                day,
                timing,
                tuple(Entry(where, side, kind, strength) for (where, side, kind), strength in found.items()),
            )
            for (day, timing), found in self.felt.items()
        ]


def read(
    sheet: Sheet,
    columns: Sequence[Column],
    match: Match,
    words: Words,
    home: ZoneInfo,
    today: date,
    step: Callable[[int], None] = lambda n: None,
) -> Diary:
    """Read a table by its matched columns. `today` is the last day that may be written; `step(n)` may raise to stop."""
    reader = _Reader(Diary(sheet, list(columns)), match, words, home, today)
    for count, (line, cells) in enumerate(sheet.rows, start=1):
        reader.row(line, cells)
        if count % STEP_ROWS == 0:
            step(STEP_ROWS)
    return reader.finished()


class _Reader:
    def __init__(self, diary: Diary, match: Match, words: Words, home: ZoneInfo, today: date) -> None:
        self.diary, self.match, self.words, self.home, self.today = diary, match, words, home, today
        sheet = diary.sheet
        diary.bad.extend(sheet.bad)
        self.at: dict[str, int] = {}
        for n, column in enumerate(diary.columns):
            self.at.setdefault(column.meaning, n)
        self.places = [(n, c) for n, c in enumerate(diary.columns) if c.meaning == "place" and c.zone]
        self.symptoms = [n for n, c in enumerate(diary.columns) if c.meaning == "symptom"]
        self.kept_words = [
            (n, "" if c.meaning == "note" else sheet.header[n])
            for n, c in enumerate(diary.columns)
            if c.meaning in ("note", "add_note") or (c.meaning == "place" and not c.zone)
        ]
        self.calendar = Calendar(self._order())
        self.unit = self._unit()
        self.effort = self._scale("effort_of", "effort", EFFORT_ENDS, "How hard the sitting was, out of")
        self.strength = self._strength_scale()
        self.day_above = self.empty = self.zero = self.pairs = self.no_side = self.no_strength = 0
        self.last_day: date | None = None
        self.alike: Counter[tuple[object, ...]] = Counter()
        self.rows_seen: dict[tuple[str, ...], int] = {}

    # --- what the whole table says

    def _cells(self, meaning: str) -> list[str]:
        at = self.at.get(meaning)
        return [] if at is None else [cells[at].strip() for _, cells in self.diary.sheet.rows if cells[at].strip()]

    def _order(self) -> Order:
        order = ordered(self._cells("day"), self.match.order, self.match.year, self.today)
        self.diary.questions.extend(order.questions)
        return order

    def _unit(self) -> str:
        cells = self._cells("minutes") or self._cells("hours")
        likely, open_ = likely_unit(cells, in_hours="hours" in self.at)
        unit = self.match.lengths or likely
        if open_:
            self.diary.questions.append(unit_question(self._length_name(), cells, unit, bool(self.match.lengths)))
        return unit

    def _scale(self, code: str, meaning: str, ends: Sequence[int], asked: str) -> Scale:
        names = [self._name(meaning)] if meaning in self.at else []
        return self._scale_of(code, names, self._cells(meaning), ends, asked)

    def _strength_scale(self) -> Scale:
        cells = self._cells("intensity")
        names = [self._name("intensity")] if cells else []
        for n, _ in self.places:
            names.append(self.diary.sheet.header[n])
            cells += [c[n].strip() for _, c in self.diary.sheet.rows if c[n].strip()]
        return self._scale_of("strength_of", names, cells, STRENGTH_ENDS, "How strong a complaint was, out of")

    def _scale_of(
        self, code: str, names: Sequence[str], cells: Sequence[str], ends: Sequence[int], asked: str
    ) -> Scale:
        said = getattr(self.match, code) or next((end for name in names if (end := said_end(name))), 0)
        if said and highest(cells) > said:
            said = 0
        likely, open_ = likely_end(cells, ends, exact=code == "effort_of")
        if open_:
            self.diary.questions.append(end_question(code, asked, cells, ends, said or likely, bool(said)))
        return Scale(said or likely, self.match.pairs or "middle")

    # --- a row

    def row(self, line: int, cells: tuple[str, ...]) -> None:
        mended = self.match.mended
        if mended:
            cells = tuple(mended.get(f"{line}:{n}", cell) for n, cell in enumerate(cells))
        if self.match.odd.get(line) == "out":
            self.diary.left_out[line] = cells
            return
        bad = len(self.diary.bad)
        day = self._day(line, cells)
        if day is not None:
            notes: list[str] = []
            played = self._session(line, day, cells, notes)
            felt = self._felt(line, day, cells, notes, played)
            noted = self._note(line, day, cells, notes)
            if not (played or felt or noted or day in self.diary.off) and len(self.diary.bad) == bad:
                self.empty += 1

    def _refuse(self, line: int, column: str, value: str, expected: str) -> None:
        self.diary.bad.append(BadCell(self.diary.sheet.file, line, column, value, expected))

    def _cell(self, cells: tuple[str, ...], meaning: str) -> str:
        at = self.at.get(meaning)
        return "" if at is None else cells[at].strip()

    def _name(self, meaning: str) -> str:
        return self.diary.sheet.label(self.at[meaning])

    def _day(self, line: int, cells: tuple[str, ...]) -> date | None:
        cell = self._cell(cells, "day")
        if cell:
            day = self.calendar.day(cell)
            column = self._name("day")
        else:
            moment = moment_of(self._cell(cells, "start"))
            day = practice_day(moment.replace(tzinfo=self.home), self.home) if moment else None
            column = self._name("start") if moment else ""
            if day is None:
                day = self.last_day
                self.day_above += day is not None
        if day is None:
            column = column or (self._name("day") if "day" in self.at else "")
            self._refuse(line, column, cell, "a day that exists, such as 12 October 2026")
        elif day > self.today:
            self._refuse(line, column, cell, f"a day up to today, {self.today:%-d %B %Y}")
        elif day < FIRST_DAY:
            self._refuse(line, column, cell, f"a day from {FIRST_DAY.year} on")
        else:
            self.last_day = day
            return day
        return None

    def _session(self, line: int, day: date, cells: tuple[str, ...], notes: list[str]) -> bool:
        """Take the session of a row; False when it holds none."""
        kind = self._word("kind", cells, "repertoire", notes)
        length = self._length(line, day, cells)
        if OFF in (kind, length) or plain(self._cell(cells, "off")) in diary_words("off"):
            self.diary.off.setdefault(day, line)
            if not isinstance(length, float):
                return False
        start, end, start_day = self._times(line, day, cells)
        if length is None and start and end:
            length = (end - start).total_seconds() / 60
        if not isinstance(length, float):
            return False
        if length <= 0:
            self.zero += 1
            self.diary.off.setdefault(day, line)
            return False
        between = (end - start).total_seconds() / 60 if start and end and self._has_length(cells) else None
        if start is None and end is not None:
            start = end - timedelta(minutes=length)
        if start is not None:
            end = start + timedelta(minutes=length) if end is None or end <= start else end
        instrument = self._instrument(cells)
        try:
            block = Block(length, instrument, kind if kind != OFF else "repertoire")
            session = Session(
                self._uid(day, start, block),
                day,
                (block,),
                self._effort(line, cells, notes),
                start,
                end,
                *(self._text(cells, name) for name in ("went_well", "was_hard", "question")),
            )
        except MethodError:
            self._refuse(line, self._length_name(), self._length_cell(cells), "how long, up to 1440 minutes")
            return False
        row = (day.isoformat(), *(cell for n, cell in enumerate(cells) if n != self.at.get("day")))
        if row in self.rows_seen and self._is_double(row):
            self.diary.doubles += 1
            if self.match.doubles != "both":
                return True
        self.rows_seen.setdefault(row, line)
        said = self._cell(cells, "start"), self._cell(cells, "end")
        self.diary.sessions.append(Taken(line, session, cells, *said, between, start_day))
        return True

    def _is_double(self, row: tuple[str, ...]) -> bool:
        return sum(bool(cell.strip()) for cell in row) > 2

    def _uid(self, day: date, start: datetime | None, block: Block) -> str:
        """An id from the content and the place among equals of the day: the same row is known when it comes again."""
        content = day, start, block
        self.alike[content] += 1
        digest = hashlib.sha256(f"{day}|{start}|{block}".encode()).hexdigest()[:24]
        return f"row-{digest}-{self.alike[content]}"

    def _length_name(self) -> str:
        return next((self._name(meaning) for meaning in LENGTHS if meaning in self.at), "")

    def _length_cell(self, cells: tuple[str, ...]) -> str:
        return next((cell for meaning in LENGTHS if (cell := self._cell(cells, meaning))), "")

    def _has_length(self, cells: tuple[str, ...]) -> bool:
        return bool(self._length_cell(cells))

    def _length(self, line: int, day: date, cells: tuple[str, ...]) -> float | str | None:
        """The minutes of a row, OFF for a day off, None when no length is written."""
        cell = self._length_cell(cells)
        if not cell:
            return None
        found = length_of(cell)
        if found is not None:
            return round(found.minutes(self.unit), 3)
        two = number_of(cell)
        if two is not None and two.high is not None:
            self.pairs += 1
            hours = self.unit == "hours" or (self.unit == "looks" and two.high <= 8)
            if self.match.pairs != "out":
                return round(two.middle * (60 if hours else 1), 3)
        elif plain(cell) in diary_words("off") and not cell.isdigit():
            return OFF
        elif plain(cell) in ("–", "-", "—"):
            return None
        self._refuse(line, self._length_name(), cell, "how long, such as 90 min, 1h30 or 1,5 h")
        return "bad"

    def _times(
        self, line: int, day: date, cells: tuple[str, ...]
    ) -> tuple[datetime | None, datetime | None, date | None]:
        """Start and end as instants, and the day that the start itself names."""
        start = end = None
        named: date | None = None
        for meaning in ("start", "end"):
            cell = self._cell(cells, meaning)
            if not cell:
                continue
            moment = moment_of(cell)
            if moment is not None:
                found, after = moment.time(), None
                if meaning == "start":
                    named = practice_day(moment.replace(tzinfo=self.home), self.home)
            else:
                clocks = clocks_of(cell)
                if clocks is None:
                    self._refuse(line, self._name(meaning), cell, "a time such as 10:30, 10.30 or 9:30 AM")
                    continue
                found, after = clocks
            if meaning == "start":
                start = instant_of(day, found, self.home).astimezone(UTC)
                end = self._after(day, start, after) if after is not None else None
            else:
                end = self._after(day, start, found)
        return start, end, named

    def _after(self, day: date, start: datetime | None, clock: time) -> datetime:
        """The end at `clock`: in the night after the day where it lies before the start."""
        end = instant_of(day, clock, self.home).astimezone(UTC)
        if start is not None and end <= start:
            end = datetime.combine(day + timedelta(days=1), clock, self.home).astimezone(UTC)
        return end

    def _word(self, of: str, cells: tuple[str, ...], missing: str, notes: list[str]) -> str:
        cell = self._cell(cells, of)
        if not cell:
            return missing
        found = self.words.look(of, cell, NOTE)
        if found == NOTE:
            notes.append(f"{self._name(of)}: {cell}")
            return missing
        return found

    def _instrument(self, cells: tuple[str, ...]) -> str:
        cell = self._cell(cells, "instrument")
        if not cell:
            return ""
        found = self.words.look("instrument", cell, AS_IT_IS)
        return cell[:NAME_MAX] if found == AS_IT_IS else found

    def _effort(self, line: int, cells: tuple[str, ...], notes: list[str]) -> float | None:
        cell = self._cell(cells, "effort")
        if not cell:
            return None
        number = number_of(cell)
        if number is None:
            found = self._word("effort", cells, NOTE, notes)
            return None if found == NOTE else float(found)
        self.pairs += number.high is not None
        ten = self.effort.ten(number)
        if ten is None:
            self._refuse(line, self._name("effort"), cell, f"an effort from {_ends(self.effort)}")
        return ten

    def _text(self, cells: tuple[str, ...], meaning: str) -> str:
        return plain_text(self._cell(cells, meaning))[:TEXT_MAX]

    # --- what was felt

    def _felt(self, line: int, day: date, cells: tuple[str, ...], notes: list[str], played: bool) -> bool:
        """Take the complaints of a row; False when it says nothing of any."""
        unsaid = "playing" if played else "daily"
        row_timing = self._word("timing", cells, "", notes)
        before = len(self.diary.felt), len(notes)
        said = False
        for n, column in self.places:
            cell = cells[n].strip()
            if cell:
                said = True
                self._felt_at(line, day, n, column, cell, row_timing or column.timing or unsaid, notes)
        for n in self.symptoms:
            cell = cells[n].strip()
            if not cell:
                continue
            said = True
            found = complaints(cell, self.words)
            if found is None or any(felt.rest for felt in found):
                notes.append(f"{self.diary.sheet.label(n)}: {cell}")
            for felt in found or ():
                self._symptom(line, day, cells, felt, row_timing, unsaid, notes)
            if found == []:
                self.diary.felt.setdefault((day, row_timing or unsaid), {})
        return said or (len(self.diary.felt), len(notes)) != before

    def _felt_at(self, line: int, day: date, n: int, column: Column, cell: str, timing: str, notes: list[str]) -> None:
        """A cell of a place: a number, a word for a kind or a strength, or nothing there."""
        name = self.diary.sheet.label(n)
        number = number_of(cell)
        kind = column.kind or UNSAID_KIND
        strength: float | None
        if number is not None:
            self.pairs += number.high is not None
            strength = self.strength.ten(number)
            if strength is None:
                self._refuse(line, name, cell, f"a strength from {_ends(self.strength)}")
                return
        elif is_nothing(cell, self.words):
            strength = 0.0
        elif self.words.known("strength", cell) is not None:
            said = self.words.look("strength", cell, NOTE)
            strength = None if said == NOTE else float(said)
        elif named := kind_in(cell, self.words):
            kind, strength = named, self._unsaid_strength()
        else:
            found = complaints(f"{name} {cell}", self.words) or []
            kind = next((felt.kind for felt in found if felt.kind), kind)
            strength = next((s for felt in found if (s := self._ten(felt.strength)) is not None), None)
            if strength is None and any(felt.kind for felt in found):
                strength = self._unsaid_strength()
            if strength is None or any(felt.rest for felt in found):
                notes.append(f"{name}: {cell}")
        if strength is not None:
            self._add(day, timing, column.zone, column.side, kind, strength, notes, name)

    def _ten(self, strength: float | SpelledNumber | None) -> float | None:
        return self.strength.ten(strength) if isinstance(strength, SpelledNumber) else strength

    def _symptom(
        self, line: int, day: date, cells: tuple[str, ...], felt: Felt, row_timing: str, unsaid: str, notes: list[str]
    ) -> None:
        side = felt.side or self._word("side", cells, "", notes)
        kind = felt.kind
        if not kind and self._cell(cells, "symptom_kind"):
            kind = self.words.look("symptom", self._cell(cells, "symptom_kind"), NOTE)
            kind = "" if kind in (NOTE, "nothing") else kind
        cell = self._cell(cells, "intensity")
        strength = self._ten(felt.strength)
        if strength is None and cell:
            number = number_of(cell)
            if number is not None:
                strength = self.strength.ten(number)
                if strength is None:
                    self._refuse(line, self._name("intensity"), cell, f"a strength from {_ends(self.strength)}")
                    return
            else:
                said = self.words.look("strength", cell, NOTE)
                strength = None if said == NOTE else float(said)
        if strength is None:
            strength = self._unsaid_strength()
        if strength is None:
            notes.append("; ".join(cells[n].strip() for n in self.symptoms))
            return
        timing = felt.timing or row_timing or unsaid
        self._add(day, timing if timing != NOTE else unsaid, felt.zone, side, kind or UNSAID_KIND, strength, notes, "")

    def _unsaid_strength(self) -> float | None:
        self.no_strength += 1
        said = self.match.unsaid_strength or UNSAID_STRENGTH
        return None if said == NOTE else float(said)

    def _add(
        self, day: date, timing: str, where: str, side: str, kind: str, strength: float, notes: list[str], name: str
    ) -> None:
        found = self.diary.felt.setdefault((day, timing), {})
        if strength == 0:
            return
        sides: tuple[str, ...] = ("none",)
        if zone(where).sided:
            if side not in ("left", "right", "both"):
                self.no_side += 1
                side = self.match.unsaid_side or UNSAID_SIDE
                if side == NOTE:
                    notes.append(f"{name or zone(where).name}: {strength:g}")
                    return
            sides = ("left", "right") if side == "both" else (side,)
        for each in sides:
            key = where, each, kind
            found[key] = max(found.get(key, 0.0), strength)

    # --- the day

    def _note(self, line: int, day: date, cells: tuple[str, ...], notes: list[str]) -> bool:
        """Add what a row says of its day; False when it says nothing."""
        for n, name in self.kept_words:
            cell = plain_text(cells[n].strip())
            if cell:
                notes.append(f"{name}: {cell}" if name else cell)
        sleep = self._word("sleep", cells, "", notes)
        if not notes and not sleep:
            return False
        old = self.diary.notes.get(day) or DayNote(day)
        text = "\n".join(dict.fromkeys(part for part in (*old.note.split("\n"), *notes) if part))
        if len(text) > TEXT_MAX:
            self._refuse(line, "", text, f"at most {TEXT_MAX} characters of notes on one day")
            return True
        self.diary.notes[day] = replace(old, note=text, sleep=sleep or old.sleep)
        return True

    # --- the whole

    def finished(self) -> Diary:
        diary = self.diary
        played = {taken.session.day for taken in diary.sessions}
        for day in diary.off:
            if day not in played:
                diary.notes[day] = replace(diary.notes.get(day) or DayNote(day), off=True)
        diary.remarks.extend(diary.sheet.remarks)
        for count, one, several in (
            (self.day_above, "row has no day and takes the day above.", "rows have no day and take the day above."),
            (self.empty, "row holds a day and nothing else.", "rows hold a day and nothing else."),
            (self.zero, "row of 0 minutes is a day off.", "rows of 0 minutes are days off."),
        ):
            if count:
                diary.remarks.append(_many(count, one, several))
        diary.questions.extend(self._counted_questions())
        return diary

    def _counted_questions(self) -> list[Question]:
        """What was met on the way and could be meant otherwise."""
        counts = {
            "unsaid_side": self.no_side,
            "unsaid_strength": self.no_strength,
            "pairs": self.pairs,
            "doubles": self.diary.doubles,
        }
        asked = []
        for code, count in counts.items():
            if count:
                one, several, options, likely = COUNTED[code]
                said = getattr(self.match, code)
                offered = tuple(Option(value, name) for value, name in options.items())
                asked.append(Question(code, _many(count, one, several), offered, said or likely, bool(said)))
        return asked


def _ends(scale: Scale) -> str:
    return "6 to 20" if scale.out_of == 20 else f"0 to {scale.out_of}"


def _many(count: int, one: str, several: str) -> str:
    return f"{count} {one if count == 1 else several}"


def moment_of(cell: str) -> datetime | None:
    """A day with its time, as spreadsheets and machines write it; None for anything else."""
    if len(cell) < 12 or not cell[:4].isdigit():
        return None
    try:
        return datetime.fromisoformat(cell).replace(tzinfo=None)
    except ValueError:
        return None
