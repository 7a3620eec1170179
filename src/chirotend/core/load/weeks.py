"""The seven days that end with a day, as sums: minutes and their change, how alike the days were, how dense, how new.

Nothing here is scored: each is a number with its days, beside the same of the seven days before. Minutes, AU, hours.
"""

from collections.abc import Collection
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.errors import Degenerate, Missing
from chirotend.core.load.averages import WeekSummary, week_summary
from chirotend.core.load.series import LoadSeries, load_series
from chirotend.core.record import Record

WEEK, MONTH = 7, 28
#: effort 0-10 from which a block counts as hard ("hard" on the scale; ours, common practice)
HARD_EFFORT = 5.0


@dataclass(frozen=True)
class LoadWeek:
    """What the seven days that end with `last` were. None = cannot be told.

    `minutes` as far as they are known (`known` days of seven), `minutes_before` and `known_before` the same of the week
    before. `summary` needs all seven loads; `alike` = it has none because every day had the same load. `performances`
    in 7 and in 28 days. `new_min`: minutes played for aims marked new and hard, `hard_min`: at an effort of 5 and more,
    `unrated_min`: without a rating. `rest_day`: the last day known to be without playing, `hours_since`: playing since.
    """

    last: date
    minutes: float
    known: int
    minutes_before: float
    known_before: int
    summary: WeekSummary | None
    alike: bool
    performances: tuple[int, int]
    new_min: float
    hard_min: float
    unrated_min: float
    rest_day: date | None
    hours_since: float | None

    @property
    def change_min(self) -> float | None:
        """Minutes more (or fewer) than the week before; None when a day of either is not known."""
        whole = self.known == self.known_before == WEEK
        return self.minutes - self.minutes_before if whole else None


# today is not over: the seven days end yesterday. Decision 85
def load_week(record: Record, last: date, new_hard: Collection[str]) -> LoadWeek:
    """Return the week that ends with `last`; `record` reaches 28 days back. `new_hard` holds the uids of laid blocks
    whose aim was marked new and hard."""
    series = load_series(record, last - timedelta(days=MONTH - 1), last)
    now, before = series.minutes[-WEEK:], series.minutes[-2 * WEEK : -WEEK]
    summary, alike = _summary(series)
    first = last - timedelta(days=WEEK - 1)
    blocks = [
        (b, s.effort_of(b)) for s in record.sessions if first <= s.day <= last for b in s.blocks if b.kind != "other"
    ]
    nights = [
        s.day
        for s in record.sessions
        if series.first <= s.day <= last and any(b.kind == "performance" for b in s.blocks)
    ]
    rest_day, hours = _since_rest(series)
    return LoadWeek(
        last,
        *_known(now),
        *_known(before),
        summary,
        alike,
        (sum(d >= first for d in nights), len(nights)),
        sum(b.minutes for b, _ in blocks if b.planned in new_hard),
        sum(b.minutes for b, effort in blocks if effort is not None and effort >= HARD_EFFORT),
        sum(b.minutes for b, effort in blocks if effort is None),
        rest_day,
        hours,
    )


def _known(values: tuple[float, ...]) -> tuple[float, int]:
    known = [v for v in values if v == v]
    return sum(known), len(known)


def _summary(series: LoadSeries) -> tuple[WeekSummary | None, bool]:
    try:
        return week_summary([v if v == v else None for v in series.load[-WEEK:]]), False
    except Missing:
        return None, False
    except Degenerate:
        return None, True


def _since_rest(series: LoadSeries) -> tuple[date | None, float | None]:
    """The last day known to be without playing, and the hours played since, as far as they are known."""
    for i in range(len(series.minutes) - 1, -1, -1):
        if series.minutes[i] == 0:
            return series.day(i), sum(m for m in series.minutes[i + 1 :] if m == m) / 60
    return None, None
