"""A matched table, read row by row into sessions, checks and notes, with what is asked, odd, or cannot be taken."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import date
from functools import cache
from zoneinfo import ZoneInfo

from chirotend.core.days import FIRST_DAY, practice_day
from chirotend.core.record import Check, DayNote, Entry
from chirotend.core.record.shape import TEXT_MAX
from chirotend.formats.cells import BadCell, plain_text
from chirotend.formats.csv_log import check_uid
from chirotend.formats.diary.felt import Answered, Body, Place
from chirotend.formats.diary.match import Column, Match
from chirotend.formats.diary.order import Calendar, ordered
from chirotend.formats.diary.played import Played, ReadSession, moment_of
from chirotend.formats.diary.questions import Question
from chirotend.formats.diary.sheets import Sheet
from chirotend.formats.diary.table import DiaryRow, Table, many
from chirotend.formats.diary.words import Words

STEP_ROWS = 500


@dataclass
class Diary:
    """What a table holds."""

    sheet: Sheet
    columns: list[Column]
    sessions: list[ReadSession] = field(default_factory=list)
    #: what was felt, by day and timing: places with the strongest that was written, {} = asked, nothing there
    felt: dict[tuple[date, str], dict[Place, float]] = field(default_factory=dict)
    notes: dict[date, DayNote] = field(default_factory=dict)
    #: days that a row says are off, with its line
    off: dict[date, int] = field(default_factory=dict)
    bad: list[BadCell] = field(default_factory=list)
    questions: list[Question] = field(default_factory=list)
    remarks: list[str] = field(default_factory=list)
    #: rows that she left out, by line
    left_out: dict[int, tuple[str, ...]] = field(default_factory=dict)

    @property
    def checks(self) -> list[Check]:
        """The checks, as the record keeps them."""
        entry = cache(Entry)  # a diary has few kinds of them
        return [
            Check(check_uid(day, timing), day, timing, tuple(entry(*place, found[place]) for place in found))
            for (day, timing), found in self.felt.items()
        ]


def read_sheet(
    sheet: Sheet,
    columns: Sequence[Column],
    match: Match,
    words: Words,
    home: ZoneInfo,
    today: date,
    step: Callable[[int], None] = lambda n: None,
) -> Diary:
    """Read a table by its matched columns. `today` is the last day that may be written; `step(n)` may raise to stop."""
    reader = _Reader(Table(sheet, columns, match, words), home, today)
    for count, (line, cells) in enumerate(sheet.rows, start=1):
        reader.take(line, cells)
        if count % STEP_ROWS == 0:
            step(STEP_ROWS)
    return reader.finished()


class _Reader:
    def __init__(self, table: Table, home: ZoneInfo, today: date) -> None:
        self.table, self.home, self.today = table, home, today
        self.diary = Diary(table.sheet, list(table.columns), bad=list(table.sheet.bad))
        at = [table.at["day"]] if "day" in table.at else []
        order = ordered(table.cells(*at), table.match.order, table.match.year, today)
        table.questions.extend(order.questions)
        self.calendar = Calendar(order)
        self.played = Played(table, home)
        self.body = Body(table)
        self.note_columns = [
            (n, "" if column.meaning == "note" else table.sheet.header[n])
            for n, column in enumerate(table.columns)
            if column.meaning in ("note", "add_note") or (column.meaning == "place" and not column.zone)
        ]
        #: what is noted of each day, each text once, and its sleep
        self.texts: dict[date, dict[str, None]] = {}
        self.sleeps: dict[date, str] = {}
        self.last_day: date | None = None
        self.day_above = self.empty = 0

    def take(self, line: int, cells: tuple[str, ...]) -> None:
        """Take a row whole, or not at all."""
        match = self.table.match
        if match.mended:
            cells = tuple(match.mended.get(f"{line}:{n}", cell).strip() for n, cell in enumerate(cells))
        if match.odd.get(line) == "out":
            self.diary.left_out[line] = cells
            return
        row = DiaryRow(self.table, line, cells)
        day = self._day(row)
        if day is not None:
            played = self.played.session(row, day)
            felt = self.body.answers(row, "playing" if played else "daily")
            said = self._keep_row(row, day)
            if not row.bad:
                self._keep(day, played, felt)
                self._keep_words(row, day)
                self.empty += not (played or felt or said or day in self.played.off)
        self.diary.bad.extend(row.bad)

    def _day(self, row: DiaryRow) -> date | None:
        """The day of a row: its own, the one its start names, or the one above."""
        cell, meaning = row.cell("day"), "day"
        if cell:
            day = self.calendar.day(cell)
        else:
            moment = moment_of(row.cell("start"))
            if moment is not None:
                day, meaning = practice_day(moment.replace(tzinfo=self.home), self.home), "start"
            else:
                day = self.last_day
                self.day_above += day is not None
        wrong = self._wrong(day)
        if wrong:
            row.refuse(self.table.name(meaning), cell, wrong)
            return None
        self.last_day = day
        return day

    def _wrong(self, day: date | None) -> str:
        """What is expected instead of a day that cannot be written; "" when it can."""
        if day is None:
            return "a day that exists, such as 12 October 2026"
        if day > self.today:
            return f"a day up to today, {self.today:%-d %B %Y}"
        return f"a day from {FIRST_DAY.year} on" if day < FIRST_DAY else ""

    def _keep_row(self, row: DiaryRow, day: date) -> bool:
        """Put together what a row says of its day; False when it says nothing."""
        for n, name in self.note_columns:
            cell = plain_text(row.cells[n])
            if cell:
                row.notes.append(f"{name}: {cell}"[:TEXT_MAX] if name else cell)
        if row.notes:
            texts = {*self.texts.get(day, ()), *row.notes}
            if sum(map(len, texts)) + len(texts) > TEXT_MAX:
                row.refuse("", row.notes[0], f"at most {TEXT_MAX} characters of notes on one day")
        return bool(row.notes or row.cell("sleep"))

    def _keep(self, day: date, played: ReadSession | bool, felt: Sequence[Answered]) -> None:
        if isinstance(played, ReadSession):
            self.diary.sessions.append(played)
        for answer in felt:
            found = self.diary.felt.setdefault((day, answer.timing), {})
            if answer.place is not None:
                found[answer.place] = max(found.get(answer.place, 0.0), answer.strength)

    def _keep_words(self, row: DiaryRow, day: date) -> None:
        sleep = row.word("sleep")
        if sleep:
            self.sleeps.setdefault(day, sleep)
        if row.notes:
            self.texts.setdefault(day, {}).update(dict.fromkeys(row.notes))

    def finished(self) -> Diary:
        """Return the diary once every row was taken."""
        diary = self.diary
        diary.off = self.played.off
        off = set(diary.off) - {taken.session.day for taken in diary.sessions}
        for day in sorted({*self.texts, *self.sleeps, *off}):
            diary.notes[day] = DayNote(day, day in off, self.sleeps.get(day), note="\n".join(self.texts.get(day, ())))
        diary.remarks.extend(diary.sheet.remarks)
        zero = self.played.nothing_played
        for count, one, several in (
            (self.day_above, "row has no day and takes the day above.", "rows have no day and take the day above."),
            (self.empty, "row holds a day and nothing else.", "rows hold a day and nothing else."),
            (zero, "row of 0 minutes is a day off.", "rows of 0 minutes are days off."),
        ):
            if count:
                diary.remarks.append(many(count, one, several))
        diary.questions = [*self.table.questions, *self.table.counted_questions()]
        return diary
