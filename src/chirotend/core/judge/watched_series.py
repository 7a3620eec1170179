"""What is watched beside the places: stiffness on waking, marks while playing an hour, effort at equal load, measures.

Each is a series of one value a day on which more is worse, ranked among her own earlier values (`rank_cusum`). What
stands out is shown with its days and never makes a call lighter or stricter: on invented players effort and marks an
hour do not foretell a trouble, and nobody has shown that they do in players.
"""

import math
from collections import deque
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.errors import TooFew
from chirotend.core.judge.baseline import median
from chirotend.core.judge.cusum import rank_cusum
from chirotend.core.judge.rules import rules
from chirotend.core.judge.series import Series, Values
from chirotend.core.judge.signs.chain import sign_rules
from chirotend.core.load.averages import GAP_RESTARTS
from chirotend.core.memos import by_value
from chirotend.core.record import Record, Session
from chirotend.core.record.words import TIGHTNESS

#: the series of a diary, as they are called in findings and addresses
DIARY = ("waking_stiffness", "marks_an_hour", "effort")
LEAST_MIN = 30.0  # minutes played, for marks an hour
ALIKE, ALIKE_DAYS, ALIKE_LEAST = 0.25, 42, 7  # sessions of like length (share), how far back, how many


@dataclass(frozen=True)
class WatchedSeries:
    """A series that stands out: since when, its sum today against the threshold, medians since and before."""

    series: str
    since: date
    height: float
    threshold: float
    now: float
    usual: float


def diary_series(record: Record, first: date, last: date) -> dict[str, Values]:
    """Return the series of a diary from `first` to `last`: (day, value) of the days that have one."""
    by_day: dict[date, list[Session]] = {}
    for session in record.sessions:
        if first <= session.day <= last:
            by_day.setdefault(session.day, []).append(session)
    days = [first + timedelta(days=n) for n in range((last - first).days + 1)]
    return {
        "waking_stiffness": tuple(_waking_stiffness(record, days)),
        "marks_an_hour": tuple(_marks_an_hour(record, by_day)),
        "effort": tuple(_effort_at_equal_load(by_day)),
    }


def _waking_stiffness(record: Record, days: list[date]) -> Iterator[tuple[date, float]]:
    """The strongest stiffness or tightness on waking anywhere; 0 on a morning that was asked and had none."""
    for day in days:
        mornings = [c for c in record.checks_on(day) if c.timing == "waking"]
        if mornings:
            yield day, max([e.intensity for c in mornings for e in c.entries if e.kind in TIGHTNESS], default=0.0)


def _marks_an_hour(record: Record, by_day: Mapping[date, list[Session]]) -> Iterator[tuple[date, float]]:
    """Marks made while playing, an hour of it, on days asked while or after playing."""
    for day, sessions in by_day.items():
        minutes = sum(s.playing_minutes for s in sessions)
        checks = [c for c in record.checks_on(day) if c.timing in ("playing", "after")]
        if minutes >= LEAST_MIN and checks:
            marks = sum(e.intensity > 0 for c in checks if c.timing == "playing" for e in c.entries)
            yield day, 60 * marks / minutes


def _effort_at_equal_load(by_day: Mapping[date, list[Session]]) -> Iterator[tuple[date, float]]:
    """Effort above the median of her earlier days of like length; days with fewer than seven such have no value."""
    past: deque[tuple[int, float, float]] = deque()
    for day in sorted(by_day):
        number = day.toordinal()
        minutes, total, rated = 0.0, 0.0, True
        for session in by_day[day]:
            for block in session.blocks:
                if block.kind != "other" and block.minutes:
                    effort = session.effort_of(block)
                    rated = rated and effort is not None
                    minutes += block.minutes
                    total += block.minutes * (effort or 0.0)
        if not minutes or not rated:
            continue
        while past and number - past[0][0] > ALIKE_DAYS:
            past.popleft()
        low, high, mean = minutes * (1 - ALIKE), minutes * (1 + ALIKE), total / minutes
        like = [e for _, m, e in past if low <= m <= high]
        if len(like) >= ALIKE_LEAST:
            yield day, mean - median(like)
        past.append((number, minutes, mean))


@by_value(512)
def stands_out(series: Series) -> WatchedSeries | None:
    """Return the series when its sum passes the threshold on its last value; None when it does not, or has too few."""
    r, threshold = rules(), sign_rules().threshold_watched
    kept = _after_the_last_gap(series.values) if series.name in DIARY else series.values
    try:
        ranked = [series.worse * v for _, v in kept]
        run = rank_cusum(ranked, r.cusum_m, r.cusum_k, math.inf, r.cusum_cap, r.cusum_gate)
    except TooFew:
        return None
    if not run.C or run.C[-1] <= threshold:
        return None
    quiet = [n for n, total in enumerate(run.C[:-1]) if total <= r.cusum_gate]
    first = r.cusum_m + (quiet[-1] + 1 if quiet else 0)
    usual, now = median([v for _, v in kept[:first]]), median([v for _, v in kept[first:]])
    return WatchedSeries(series.name, kept[first][0], run.C[-1], threshold, now, usual)


def _after_the_last_gap(values: Values) -> Values:
    """The values after the last stretch of more than two weeks without any: what was usual before it is long ago."""
    start = 0
    for n in range(1, len(values)):
        if (values[n][0] - values[n - 1][0]).days > 2 * GAP_RESTARTS:
            start = n
    return values[start:]


def first_day(today: date) -> date:
    """Return the first day of the series looked at today: as many days as the judgement reads sessions."""
    return today - timedelta(days=rules().judge_load_days)


def beside(record: Record, measured: tuple[Series, ...], today: date) -> tuple[WatchedSeries, ...]:
    """Return what stands out today beside the places, in the diary and in what was measured on her."""
    first = first_day(today)
    diary = [Series(name, values) for name, values in diary_series(record, first, today).items()]
    found = (stands_out(series) for series in (*diary, *measured) if series.values)
    return tuple(b for b in found if b is not None)
