"""Days, times, lengths and numbers as people write them. Each reader returns None for what it cannot read."""

from chirotend.formats.spelled.clocks import clock_of, clocks_of
from chirotend.formats.spelled.days import SpelledDay, day_of
from chirotend.formats.spelled.lengths import Length, length_of
from chirotend.formats.spelled.numbers import SpelledNumber, number_of
from chirotend.formats.spelled.plain import plain, runs_of

__all__ = [
    "Length",
    "SpelledDay",
    "SpelledNumber",
    "clock_of",
    "clocks_of",
    "day_of",
    "length_of",
    "number_of",
    "plain",
    "runs_of",
]
