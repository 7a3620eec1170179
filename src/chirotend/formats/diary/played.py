"""What a row says was played: how long, when, on what, how hard."""

import hashlib
from collections import Counter
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from chirotend.core.days import instant_of, practice_day
from chirotend.core.errors import MethodError
from chirotend.core.record import Block, Session
from chirotend.core.record.session import SESSION_TEXTS
from chirotend.core.record.shape import NAME_MAX, TEXT_MAX
from chirotend.formats.cells import plain_text
from chirotend.formats.diary.scales import likely_unit, unit_question
from chirotend.formats.diary.table import DiaryRow, Table
from chirotend.formats.diary.words import AS_IT_IS, NOTE, OFF
from chirotend.formats.spelled import clocks_of, length_of, number_of, plain
from chirotend.formats.spelled.lengths import Length
from chirotend.library.loader import diary_words

EFFORT_ENDS = (5, 6, 10, 20, 100)
#: a row of fewer cells than these is no double: two half hours on one day are two half hours
DOUBLE_CELLS = 3
NOT_SAID = ("-", "–", "—")


@dataclass(frozen=True)
class When:
    """How long a row was played, and when; `between` = the minutes between its times, beside a length."""

    minutes: float
    start: datetime | None
    end: datetime | None
    between: float | None
    start_day: date | None


@dataclass(frozen=True)
class ReadSession:
    """A session as it was read, with the row it came from and her own spelling of its times."""

    line: int
    session: Session
    start_said: str
    end_said: str
    #: minutes between the times, where both were written beside a length
    between: float | None
    #: the day that the start itself names, where it does
    start_day: date | None


class Played:
    """Reads the sessions of a table."""

    def __init__(self, table: Table, home: ZoneInfo) -> None:
        self.table, self.home = table, home
        self.unit = self._unit()
        at = [table.at["effort"]] if "effort" in table.at else []
        self.effort = table.scale("effort_of", at, EFFORT_ENDS, "How hard the session was, out of")
        self.has_texts = any(name in table.at for name in SESSION_TEXTS)
        self.off: dict[date, int] = {}
        self.nothing_played = 0
        self._alike: Counter[str] = Counter()
        self._rows: dict[tuple[object, ...], int] = {}
        self._blocks: dict[tuple[float, str, str], Block] = {}

    def _unit(self) -> str:
        cells = self.table.cells(*self.table.lengths_at)
        likely, open_ = likely_unit(cells, in_hours="hours" in self.table.at)
        unit = self.table.match.lengths or likely
        if open_:
            name = self.table.sheet.label(self.table.lengths_at[0])
            self.table.questions.append(unit_question(name, cells, unit, bool(self.table.match.lengths)))
        return unit

    def session(self, row: DiaryRow, day: date) -> ReadSession | bool:
        """Return the session of a row; True for one that says the same as another, False when it holds none."""
        kind = row.word("kind", "repertoire")
        length = self._length(row)
        if OFF in (kind, length) or self._says_off(row):
            self.off.setdefault(day, row.line)
        when = self._when(row, day, length)
        if when is None:
            return False
        if when.minutes <= 0:
            self.nothing_played += 1
            self.off.setdefault(day, row.line)
            return False
        if self._is_double(row, day) and self.table.chosen("doubles") == "once":
            return True
        try:
            block = self._block(when.minutes, self._instrument(row), kind if kind != OFF else "repertoire")
            texts = {n: plain_text(row.cell(n))[:TEXT_MAX] for n in SESSION_TEXTS} if self.has_texts else {}
            uid = self._uid(day, when.start, block)
            session = Session(uid, day, (block,), self._effort(row), when.start, when.end, **texts)
        except MethodError:
            row.refuse(self._length_name(), row.length, "how long, up to 1440 minutes")
            return False
        return ReadSession(row.line, session, row.cell("start"), row.cell("end"), when.between, when.start_day)

    def _says_off(self, row: DiaryRow) -> bool:
        cell = row.cell("off")
        return cell != "" and plain(cell) in diary_words("off")

    def _block(self, minutes: float, instrument: str, kind: str) -> Block:
        """A block, the same one for rows alike: a diary has few kinds of them."""
        key = minutes, instrument, kind
        if key not in self._blocks:
            self._blocks[key] = Block(*key)
        return self._blocks[key]

    def _is_double(self, row: DiaryRow, day: date) -> bool:
        """True when a row says all that one above says of the same day, and more than how long."""
        at = self.table.at.get("day", len(row.cells))
        content = day, row.cells[:at], row.cells[at + 1 :]
        return self._rows.setdefault(content, row.line) != row.line and sum(map(bool, row.cells)) >= DOUBLE_CELLS

    def _uid(self, day: date, start: datetime | None, block: Block) -> str:
        """An id from the content and the place among equals of the day: the same row is known when it comes again."""
        content = f"{day}|{start}|{block.minutes}|{block.instrument}|{block.kind}"
        self._alike[content] += 1
        return f"row-{hashlib.sha256(content.encode()).hexdigest()[:24]}-{self._alike[content]}"

    def _instrument(self, row: DiaryRow) -> str:
        cell = row.cell("instrument")
        if not cell:
            return ""
        found = self.table.words.look("instrument", cell, AS_IT_IS)
        return cell[:NAME_MAX] if found == AS_IT_IS else found

    def _effort(self, row: DiaryRow) -> float | None:
        cell = row.cell("effort")
        if not cell:
            return None
        number = number_of(cell)
        if number is None:
            found = row.word("effort", NOTE)
            return None if found == NOTE else float(found)
        if number.high is not None:
            self.table.chosen("pairs")
        ten = self.effort.ten(number)
        if ten is None:
            row.refuse(self.table.name("effort"), cell, f"an effort from {self.effort.said}")
        return ten

    # --- how long and when

    def _length_name(self) -> str:
        return next((self.table.sheet.label(n) for n in self.table.lengths_at), "")

    def _length(self, row: DiaryRow) -> float | str | None:
        """The minutes of a row, OFF for a day off, None when no length is written; "" when it cannot be read."""
        cell = row.length
        if not cell or cell in NOT_SAID:
            return None
        found = length_of(cell)
        if found is not None:
            return round(found.minutes(self.unit), 3)
        two = number_of(cell)
        if two is not None and two.high is not None:
            if self.table.chosen("pairs") == "middle":
                return round(Length(two.middle, said=False).minutes(self.unit), 3)
        elif plain(cell) in diary_words("off"):
            return OFF
        row.refuse(self._length_name(), cell, "how long, such as 90 min, 1h30 or 1,5 h")
        return ""

    def _when(self, row: DiaryRow, day: date, length: float | str | None) -> When | None:
        """How long and when a row was played; None when it does not say how long."""
        start, end, start_day = self._times(row, day)
        between = (end - start).total_seconds() / 60 if start and end else None
        minutes = between if length is None else length
        if not isinstance(minutes, float):
            return None
        if start is None and end is not None:
            start = end - timedelta(minutes=minutes)
        if start is not None and (end is None or end <= start):
            end = start + timedelta(minutes=minutes)
        return When(minutes, start, end, None if length is None else between, start_day)

    def _times(self, row: DiaryRow, day: date) -> tuple[datetime | None, datetime | None, date | None]:
        """Start and end as instants, and the day that the start itself names."""
        begun, ended, named = self._clocks(row, "start")
        start = instant_of(day, begun, self.home).astimezone(UTC) if begun is not None else None
        own_end, _, _ = self._clocks(row, "end")
        clock = own_end if own_end is not None else ended
        return start, None if clock is None else self._after(day, start, clock), named

    def _clocks(self, row: DiaryRow, meaning: str) -> tuple[time | None, time | None, date | None]:
        """The time in a cell, a second one, and the practice day where the cell names it."""
        cell = row.cell(meaning)
        if not cell:
            return None, None, None
        moment = moment_of(cell)
        if moment is not None:
            return moment.time(), None, practice_day(moment.replace(tzinfo=self.home), self.home)
        clocks = clocks_of(cell)
        if clocks is None:
            row.refuse(self.table.name(meaning), cell, "a time such as 10:30, 10.30 or 9:30 AM")
            return None, None, None
        return *clocks, None

    def _after(self, day: date, start: datetime | None, clock: time) -> datetime:
        """The end at `clock`: in the night after the day where it lies before the start."""
        end = instant_of(day, clock, self.home).astimezone(UTC)
        if start is not None and end <= start:
            end = datetime.combine(day + timedelta(days=1), clock, self.home).astimezone(UTC)
        return end


def moment_of(cell: str) -> datetime | None:
    """Return a day with its time, as spreadsheets and machines write it; None for anything else."""
    if len(cell) < 12 or not cell[:4].isdigit():
        return None
    try:
        return datetime.fromisoformat(cell).replace(tzinfo=None)
    except ValueError:
        return None
