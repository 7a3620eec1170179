"""Days as people write them: 12/10/2026, 12.10., 2026-10-12, Mo 12. Okt 26, Oct 12 2026, 12 de octubre."""

import re
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.memos import by_value
from chirotend.formats.spelled.plain import plain
from chirotend.library.loader import diary_words

_NUMBERS = re.compile(
    r"(?:[^\W\d_]{1,12}\.?,?\s+)?(\d{1,2})\s?[./-]\s?(\d{1,2})(?:\s?[./-]\s?(\d{4}|\d{2}))?\.?(?:\s+[^\W\d_]{1,12})?"
)
_YEAR_FIRST = re.compile(r"(\d{4})[-./]?(\d{2})[-./]?(\d{2})(?:[T ]\d{1,2}:\d{2}.*)?")
_WORDS = re.compile(r"[^\W\d_]+|\d+")
#: two digits from here on are of the last century
CENTURY_TURNS = 70


@dataclass(frozen=True)
class SpelledDay:
    """A day as far as it is said: `first` and `second` in the order written, `month` where it is certain, `year`."""

    first: int
    second: int
    month: int | None = None
    year: int | None = None

    @property
    def settles(self) -> str:
        """Which order it settles for the others: "day", "month" (first), or "" when both could be."""
        if self.month is not None:
            return ""
        return "day" if self.first > 12 else "month" if self.second > 12 else ""

    def as_date(self, day_first: bool, year: int) -> date | None:
        """Return the day, with `year` where none is said; None when there is no such day."""
        if self.month is not None:
            month, day = self.month, self.first
        else:
            day, month = (self.first, self.second) if day_first else (self.second, self.first)
        try:
            return date(year if self.year is None else self.year, month, day)
        except ValueError:
            return None


def _full(year: str | None) -> int | None:
    if year is None:
        return None
    number = int(year)
    return number if len(year) > 2 else number + (1900 if number >= CENTURY_TURNS else 2000)


@by_value(20_000)
def day_of(text: str) -> SpelledDay | None:
    """Return the day that `text` spells, or None."""
    text = text.strip()
    iso = _YEAR_FIRST.fullmatch(text)
    if iso is not None:
        year, month, day = (int(part) for part in iso.groups())
        return SpelledDay(day, month, month, year) if 1 <= month <= 12 else None
    numbers = _NUMBERS.fullmatch(text)
    if numbers is not None:
        first, second, said = numbers.groups()
        return SpelledDay(int(first), int(second), None, _full(said))
    return _with_named_month(text)


def _with_named_month(text: str) -> SpelledDay | None:
    words = _WORDS.findall(text)
    if len(text) > 40 or len(words) > 7:
        return None
    months = [int(m) for w in words if (m := diary_words("month").get(plain(w)))]
    numbers = [w for w in words if w.isdecimal()]
    if len(months) != 1 or not 1 <= len(numbers) <= 2:
        return None
    if len(numbers) == 2 and len(numbers[0]) > 2:
        numbers.reverse()
    day, year = int(numbers[0]), _full(numbers[1]) if len(numbers) > 1 else None
    return SpelledDay(day, months[0], months[0], year) if 1 <= day <= 31 else None


#: a day as spreadsheets count it, where a cell lost its form: 1950 to 2100
_SERIALS = range(18264, 73415)
_SERIAL_START = date(1899, 12, 30)


def serial_day(text: str) -> date | None:
    """Return the day that a spreadsheet counts as this number, or None."""
    number = text.strip().split(".")[0]
    if not (number.isdecimal() and len(number) == 5 and int(number) in _SERIALS):
        return None
    return _SERIAL_START + timedelta(days=int(number))
