"""Signs of one player: which of her places speak today, since when, how surely.

The statistic of a place is S + .35 of the root of C: S the log odds of the filter, C the `rank_cusum` of its days (0
before its reference, from the start again after a long gap). It speaks above her own threshold.
"""

import math
from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from chirotend.core.errors import TooFew
from chirotend.core.judge.cusum import rank_cusum
from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.rules import rules
from chirotend.core.judge.signs.chain import Floats, sign_rules
from chirotend.core.judge.signs.own_threshold import answered_enough, own_thresholds, raised_by_answers
from chirotend.core.judge.signs.passing import passed
from chirotend.core.judge.signs.runs import NOTHING, RUNS, DayRow, Observed, Settled
from chirotend.core.load.averages import GAP_RESTARTS
from chirotend.core.memos import by_value
from chirotend.core.record import Place
from chirotend.core.record.words import SENSORY_KINDS

#: of a mark's timing; twice this, and one more for kinds that tell more than tightness, is its character
WEIGHTY = {"playing": 0, "after": 1, "waking": 2, "daily": 2, "night": 3}
TELLING = frozenset({"pain", "tingling", "numbness"})
#: the days looked at begin on a day of this rhythm
ANCHOR_DAYS = 30


@dataclass(frozen=True)
class Sign:
    """A place that speaks, or is only kept as a faint mark.

    `raised_on` is the day its present episode first passed its threshold, `since` the day after its last low;
    `threshold` and `height` are those of today, `odds` the part of the height that is ln odds of a lasting excess.
    """

    region: str
    side: str
    raised_on: date
    since: date
    height: float
    threshold: float
    odds: float
    #: days that each passing soreness of the place took before
    passed: tuple[int, ...] = ()

    @property
    def speaks(self) -> bool:
        return self.height > self.threshold


@dataclass(frozen=True)
class Heights:
    """The statistic of every place on each day from `first` on, and its threshold, both (days, places).

    `odds` is the part of it that is ln odds; `rows` are the days as they were marked, `settled` as for the filter.
    """

    first: date
    places: tuple[Place, ...]
    rows: tuple[DayRow, ...]
    settled: Settled
    odds: Floats
    heights: Floats
    thresholds: Floats


def heights(evidence: Evidence) -> Heights | None:
    """Return how far each place stands out, day by day; None before enough days were asked, or without any mark."""
    asked = _from_an_anchor(evidence)
    if len(asked) < sign_rules().first_days:
        return None
    observed = _observed(evidence)
    places = tuple(sorted(observed))
    first, known = asked[0], set(asked)
    days = [first + timedelta(days=n) for n in range((evidence.today - first).days + 1)]
    answered = np.array([[day in known] for day in days])
    if not places or not answered_enough(answered)[-1]:
        return None
    rows = tuple(tuple(observed[p].get(d, NOTHING) for p in places) if d in known else None for d in days)
    settled = tuple(_settled(evidence, place, first) for place in places)
    odds, sums = _worked_out(rows, settled)
    found = statistic(odds, sums)
    own = own_thresholds(found.max(axis=1, keepdims=True), answered, evidence.watch)
    not_so = [[(day - first).days for at, day in evidence.not_so if at == place] for place in places]
    by_answers = [raised_by_answers(said, len(days)) for said in not_so]
    thresholds = own + np.column_stack(by_answers)
    return Heights(first, places, rows, settled, odds, found, thresholds)


def heights_of(evidence: Evidence, place: Place, first: date, days: int) -> tuple[tuple[float, float] | None, ...]:
    """Return how far a place stands out and its threshold, on `days` days from `first` on; None = not worked out."""
    found = heights(evidence)
    if found is None or place not in found.places:
        return (None,) * days
    at, begins = found.places.index(place), (first - found.first).days
    column, thresholds = found.heights[:, at], found.thresholds[:, at]
    known = range(sign_rules().first_days, len(column))
    return tuple((float(column[n]), float(thresholds[n])) if n in known else None for n in range(begins, begins + days))


def signs(evidence: Evidence) -> tuple[Sign, ...]:
    """Return the signs that stand today, tallest first: those that speak and those that are only a faint mark."""
    of_places = heights(evidence)
    if of_places is None:
        return ()
    raised = (_sign(of_places, n) for n in range(len(of_places.places)))
    return tuple(sorted((sign for sign in raised if sign is not None), key=lambda s: -s.height))


def _from_an_anchor(evidence: Evidence) -> list[date]:
    """The asked days that are looked at. Their first stays the same for a month, so that a new day is one more step."""
    window = evidence.today.toordinal() - rules().judge_days
    anchor = date.fromordinal(window - window % -ANCHOR_DAYS)
    return evidence.asked[bisect_left(evidence.asked, anchor) :]


def _observed(evidence: Evidence) -> dict[Place, dict[date, Observed]]:
    """The strongest mark of any kind, the weightiest character, and whether one was a nerve's, by place and day."""
    most = sign_rules().strongest
    found: dict[Place, dict[date, Observed]] = {}
    for mark in evidence.marks:
        strength = min(most, math.ceil(mark.entry.intensity - 0.5))
        if mark.entry.intensity > 0:
            character = 2 * WEIGHTY[mark.timing] + (mark.entry.kind in TELLING)
            by_day = found.setdefault(mark.place, {})
            before, nerve = by_day.get(mark.day, NOTHING), mark.entry.kind in SENSORY_KINDS
            by_day[mark.day] = max(before[0], strength), max(before[1], character), before[2] or nerve
    return found


@by_value(512)
def _worked_out(rows: tuple[DayRow, ...], settled: Settled) -> tuple[Floats, Floats]:
    """The log odds and the rank sums, each (days, places)."""
    strengths = [tuple(None if row is None else row[n][0] for row in rows) for n in range(len(settled))]
    sums = [rank_sums(s, day) for s, day in zip(strengths, settled, strict=True)]
    return RUNS.after(rows, settled).odds, np.column_stack(sums)


def _settled(evidence: Evidence, place: Place, first: date) -> int:
    """The number of the day until which a place is settled: by an overrule, or by her answer there."""
    days = [day for answered, day in evidence.answered if answered == place]
    days += [evidence.signs_settled_until] if evidence.signs_settled_until is not None else []
    return max([(day - first).days for day in days], default=-1)


def rank_sums(strengths: Sequence[int | None], settled: int = -1) -> Floats:
    """The rank sum of a place on each day, 0 before its reference and again after a long gap or what was settled."""
    r = rules()
    sums = np.zeros(len(strengths))
    start = _after_the_last_gap(strengths)
    logged = 0
    x: list[float | None] = []
    for n, value in enumerate(strengths[start:], start=start):
        if value is not None:
            logged += 1
        x.append(None if logged > r.cusum_m and n <= settled else value)
    try:
        run = rank_cusum(x, r.cusum_m, r.cusum_k, math.inf, r.cusum_cap, r.cusum_gate)
    except TooFew:
        return sums
    for day, total in zip(run.days, run.C, strict=True):
        sums[start + day - 1 :] = total
    return sums


def _after_the_last_gap(strengths: Sequence[int | None]) -> int:
    asked = [n for n, value in enumerate(strengths) if value is not None]
    gaps = [b for a, b in pairwise(asked) if b - a > GAP_RESTARTS]
    return gaps[-1] if gaps else 0


def statistic(odds: Floats, sums: Floats) -> Floats:
    """Return what is compared with the threshold: S and the root of C with its weight (`sum_weight`)."""
    return odds + sign_rules().sum_weight * np.sqrt(sums)


def _sign(found: Heights, n: int) -> Sign | None:
    """The sign of the place number `n`; None where it is not near its threshold."""
    r, height, thresholds, settled = sign_rules(), found.heights[:, n], found.thresholds[:, n], found.settled[n]
    if height[-1] <= thresholds[-1] - r.faint_below:
        return None
    raised = _episode_start(height > thresholds, max(0, settled + 1))
    first = max(0, settled + 1, raised - r.since_days)
    before = height[first : raised + 1]
    lowest = first + int(np.flatnonzero(before <= before.min() + r.since_near)[-1])
    since = min(lowest + 1, raised)
    return Sign(
        *found.places[n],
        found.first + timedelta(days=raised),
        found.first + timedelta(days=since),
        float(height[-1]),
        float(thresholds[-1]),
        float(found.odds[-1, n]),
        passed([None if row is None else row[n][0] for row in found.rows[:since]]),
    )


def _episode_start(above: NDArray[np.bool_], first: int) -> int:
    """First day of the current episode; episodes are separated by `quiet_days` quiet days."""
    over = [int(n) for n in np.flatnonzero(above) if n >= first]
    if not over:
        return len(above) - 1
    raised = over[-1]
    for n in reversed(over):
        if raised - n > sign_rules().quiet_days:
            break
        raised = n
    return raised
