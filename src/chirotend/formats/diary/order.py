"""Which day is meant by 03/04, and which year by 12 Oct: settled by the cells where they can, else asked."""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from chirotend.formats.diary.questions import Option, Question
from chirotend.formats.spelled import SpelledDay, day_of
from chirotend.formats.spelled.days import serial_day

HALF_A_YEAR = 180
LONGEST_DIARY_YEARS = 60


@dataclass(frozen=True)
class Order:
    """How the days of a table are read: day or month first, and the year of its first row where none is written."""

    day_first: bool
    year: int
    questions: tuple[Question, ...]


@dataclass
class Calendar:
    """Reads the days of a table one after another: a year that is not written goes on from the day before."""

    order: Order
    last: date | None = None

    def day(self, cell: str) -> date | None:
        """Return the day in a cell, or None."""
        found = day_of(cell)
        return serial_day(cell) if found is None else self.take(found)

    def take(self, found: SpelledDay) -> date | None:
        """Return the day that is spelled: with no year, the one of the three around the day before that is nearest."""
        last = self.last
        day = found.as_date(self.order.day_first, last.year if last else self.order.year)
        if day is not None and found.year is None and last is not None:
            if (last - day).days > HALF_A_YEAR:
                day = found.as_date(self.order.day_first, last.year + 1) or day
            elif (day - last).days > HALF_A_YEAR:
                day = found.as_date(self.order.day_first, last.year - 1) or day
        self.last = day or last
        return day


def ordered(cells: Sequence[str], order: str, year: int | None, today: date) -> Order:
    """Return how `cells` are read; `order` and `year` are her answers ("" and None = none yet)."""
    found = [(cell, day) for cell in dict.fromkeys(cells) if (day := day_of(cell)) is not None]
    open_ones = [(cell, day) for cell, day in found if day.month is None]
    settled = {day.settles for _, day in open_ones} - {""}
    questions = []
    if len(settled) == 1:
        day_first = settled == {"day"}
    else:
        day_first = order != "month" if order else _rather_day_first([d for _, d in open_ones], today)
        different = next(((c, d) for c, d in open_ones if d.first != d.second), None)
        if different is not None:
            questions.append(_order_question(*different, [d for _, d in open_ones], day_first, bool(order), today))
    unsaid = [day for _, day in found if day.year is None]
    if unsaid:
        likely = _year(unsaid, day_first, today)
        if len(unsaid) == len(found):
            first = next((cell for cell, day in found if day.year is None), "")
            questions.append(_year_question(first, unsaid[0], day_first, year or likely, year is not None, likely))
        return Order(day_first, year or likely, tuple(questions))
    return Order(day_first, today.year, tuple(questions))


def _rather_day_first(days: Sequence[SpelledDay], today: date) -> bool:
    """The order that leaves fewer days out, puts fewer after today, and goes backwards less often; else day first."""

    def odd(day_first: bool) -> tuple[int, int, int]:
        read = [d.as_date(day_first, today.year) for d in days]
        dates = [d for d in read if d is not None]
        falls = sum(b < a for a, b in itertools.pairwise(dates))
        late = sum(d > today for d, spelled in zip(read, days, strict=True) if d and spelled.year is not None)
        return len(read) - len(dates), late, min(falls, len(dates) - 1 - falls)

    return odd(True) <= odd(False)


def _order_question(
    cell: str, found: SpelledDay, days: Sequence[SpelledDay], day_first: bool, answered: bool, today: date
) -> Question:
    options = []
    for value, name, first in (("day", "day first", True), ("month", "month first", False)):
        day = found.as_date(first, today.year)
        none = sum(d.as_date(first, today.year) is None for d in days)
        said = f"{day:%-d %B}" if day else "no such day"
        would = f"{name}; " + ("fits every row" if not none else f"{none} rows would have no such month")
        options.append(Option(value, said, would))
    return Question("order", f"“{cell}” is", tuple(options), "day" if day_first else "month", answered)


def _year(days: Sequence[SpelledDay], day_first: bool, today: date) -> int:
    """The latest year of the first day with which none of the days is after today."""
    for year in range(today.year, today.year - LONGEST_DIARY_YEARS, -1):
        calendar = Calendar(Order(day_first, year, ()))
        if all(day is None or day <= today for day in map(calendar.take, days)):
            return year
    return today.year


def _year_question(cell: str, found: SpelledDay, day_first: bool, year: int, answered: bool, likely: int) -> Question:
    years = sorted({likely, likely - 1, likely - 2, year}, reverse=True)
    options = tuple(
        Option(str(y), str(y), f"{day:%A %-d %B %Y}" if (day := found.as_date(day_first, y)) else "no such day")
        for y in years
    )
    return Question("year", f"“{cell}” has no year; the first row is of", options, str(year), answered)
