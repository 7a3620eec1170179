"""Programmes whose shape is known week by week: a change of technique in two schools, a season built up and eased."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.errors import check_range

#: a season's week grows by this share of the week before at most, and its last week before the date falls to this
SEASON_GROWTH, TAPER_SHARE = 0.10, 0.60


@dataclass(frozen=True)
class ProgrammeWeek:
    """A week from its first day: the share of her usual minutes that is played, and how much of that is the new way.

    `share` None = as much as otherwise; `new` 0-1. `easy`: easy material only, no performances.
    """

    first: date
    share: float | None
    new: float
    easy: bool = False


def weeks_from(first: date, rows: Sequence[tuple[float | None, float, bool]]) -> tuple[ProgrammeWeek, ...]:
    """Return the weeks of a change from its rows (share, new, easy), the first of them at `first`."""
    return tuple(
        ProgrammeWeek(first + timedelta(weeks=n), share, new, easy) for n, (share, new, easy) in enumerate(rows)
    )


def season(first: date, until: date, usual_min: float, target_min: float) -> tuple[float, ...]:
    """Return the minutes of each week from `first` to the week of `until`: built up to a target, then eased.

    No week is more than a tenth above the one before; the last is 60 % of the highest reached. Weeks begin at `first`.
    `usual_min` and `target_min` are minutes a week (60-4200). Common practice, no source.
    """
    usual = check_range("usual_min", usual_min, 60, 4200, "min")
    target = check_range("target_min", target_min, 60, 4200, "min")
    count = int(check_range("until", (until - first).days // 7 + 1, 3, 26, "weeks"))
    found = [min(target, usual)]
    while len(found) < count - 1:
        found.append(min(target, found[-1] * (1 + SEASON_GROWTH)))
    return (*found, found[-1] * TAPER_SHARE)


def week_of(weeks: Sequence[ProgrammeWeek], day: date) -> tuple[int, ProgrammeWeek] | None:
    """Return the number (from 1) and the week that holds `day`; None outside the programme."""
    for number, week in enumerate(weeks, start=1):
        if week.first <= day < week.first + timedelta(weeks=1):
            return number, week
    return None
