"""A player's baseline: medians and percentiles of her own days. Judgements and the score compare with it.

Plain Python on purpose: some thirty numbers at a time, many times a page.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from chirotend.core.judge.rules import rules
from chirotend.core.load.series import LoadSeries

#: days of seven that must be known for their sum to stand for the week (ours, common practice)
ENOUGH_OF_A_WEEK = 5


@dataclass(frozen=True)
class Range:
    """Her usual range of one quantity: low and high edge, and on how many played days it rests."""

    low: float
    high: float
    days: int


def median(values: Sequence[float]) -> float:
    """Return the middle value, or the mean of the two middle ones. ValueError when there is none."""
    if not values:
        raise ValueError("no value has no median")
    ordered, half = sorted(values), len(values) // 2
    return ordered[half] if len(values) % 2 else (ordered[half - 1] + ordered[half]) / 2


def percentile(ordered: Sequence[float], share: float) -> float:
    """Return the value that `share` per cent of the sorted values lie below, between two neighbours by proportion.

    Hyndman and Fan 1996, Am Stat 50:361-365, definition 7 (from memory). ValueError when there is none.
    """
    if not ordered:
        raise ValueError("no value has no percentile")
    place = (len(ordered) - 1) * (share / 100)
    low = math.floor(place)
    high, part = min(low + 1, len(ordered) - 1), place - low
    step = ordered[high] - ordered[low]
    return ordered[high] - step * (1 - part) if part >= 0.5 else ordered[low] + step * part


def baseline_range(values: Sequence[float], at: int) -> Range | None:
    """Return the usual range as it stood on day `at` of a series with a value a day (nan = not known, 0 = not played).

    The 10th to 90th percentile of the played days over the 42 days that end 7 days before; None with fewer than 7.
    """
    r = rules()
    end = at - r.baseline_range_ends_before
    window = values[max(0, end - r.baseline_range_days + 1) : max(0, end + 1)]
    played = sorted(v for v in window if v > 0)
    if len(played) < r.baseline_range_min_days:
        return None
    return Range(percentile(played, r.baseline_range_low), percentile(played, r.baseline_range_high), len(played))


def grown_slowly(values: Sequence[float], at: int, share: float = 1.0) -> Range | None:
    """Return the usual range on day `at`, its high edge no more than 10 % a week (times `share`) above what it was.

    Weeks that were far too much do not become usual by being played. Looks back as far as the window of the range;
    None where there is no range today. Common practice, no source.
    """
    now, growth = baseline_range(values, at), 1 + share * rules().baseline_growth / 100
    if now is None or growth == 1:
        return now
    weeks = range(1, rules().baseline_range_days // 7 + 1)
    before = [(n, baseline_range(values, at - 7 * n)) for n in weeks]
    high = min([now.high, *(found.high * growth**n for n, found in before if found is not None)])
    return Range(min(now.low, high), high, now.days)


def above_baseline(series: LoadSeries, day: date) -> Range | None:
    """Return her usual range of that day when its load passed it; None inside it, or when either is not known."""
    usual, load = baseline_range(series.load, series.index(day)), series.on(day)[1]
    return usual if usual is not None and load > usual.high else None


def baseline_week(values: Sequence[float], at: int) -> Range | None:
    """Return the usual range of seven-day sums of `values` (nan = not known) as it stood on day `at`: the same 42 days.

    A week counts when at least 5 of its 7 days are known; None with fewer than 7 such weeks.
    """
    r = rules()
    end = at - r.baseline_range_ends_before
    sums = []
    for i in range(max(6, end - r.baseline_range_days + 1), end + 1):
        known = [v for v in values[i - 6 : i + 1] if v == v]
        if len(known) >= ENOUGH_OF_A_WEEK:
            sums.append(sum(known))
    if len(sums) < r.baseline_range_min_days:
        return None
    ordered = sorted(sums)
    return Range(percentile(ordered, r.baseline_range_low), percentile(ordered, r.baseline_range_high), len(ordered))
