"""Signs: places whose tightness, stiffness or pain has been higher than usual over weeks (`rank_cusum`).

One budget of false signs a player: with n places watched, the sum must pass h + 2 ln(n). For independent days the
chance of a false alarm falls about by e for each step of 1 in h; days that resemble the day before need twice the step.
`docs/methods.md` has the simulated rates.
"""

import math
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.errors import TooFew
from chirotend.core.judge.cusum import RankCusum, rank_cusum
from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.rules import rules
from chirotend.core.load.averages import GAP_RESTARTS
from chirotend.core.memos import by_value
from chirotend.core.record import Place

WATCHED = ("tension", "stiffness", "pain")
MIN_LOGGED_OF_14 = 5


@dataclass(frozen=True)
class Sign:
    """A place whose values have risen: the day it passed the line, since when the sum has been growing, how high."""

    region: str
    side: str
    raised_on: date
    since: date
    height: float
    line: float

    @property
    def speaks(self) -> bool:
        return self.height > self.line


def signs(evidence: Evidence) -> tuple[Sign, ...]:
    """Return the signs that stand today, tallest first: those that speak and those that are only a faint mark."""
    days = _days_of_this_run(evidence)
    asked = set(evidence.asked)
    if sum(1 for d in days[-14:] if d in asked) < MIN_LOGGED_OF_14:
        return ()
    r = rules()
    watched = evidence.daily_worst(WATCHED)
    line = r.cusum_h + r.cusum_h_per_ln * math.log(max(1, len(watched)))
    found = [
        sign
        for place, by_day in watched.items()
        if (sign := _sign(evidence, place, by_day, days, asked, line)) is not None
    ]
    return tuple(sorted(found, key=lambda s: -s.height))


def _days_of_this_run(evidence: Evidence) -> list[date]:
    """The asked days and the gaps between, from the last long gap on."""
    asked = evidence.asked
    start = 0
    for i in range(1, len(asked)):
        if (asked[i] - asked[i - 1]).days > GAP_RESTARTS:
            start = i
    if not asked:
        return []
    first = asked[start]
    return [first + timedelta(days=n) for n in range((evidence.today - first).days + 1)]


def _sign(
    evidence: Evidence, place: Place, by_day: dict[date, float], days: list[date], asked: set[date], line: float
) -> Sign | None:
    r = rules()
    x = [by_day.get(d, 0.0) if d in asked else None for d in days]
    try:
        run = _run(
            tuple(_at_rest_after_settling(x, days, evidence)),
            r.cusum_m,
            r.cusum_k,
            line,
            r.cusum_cap,
            r.cusum_gate,
        )
    except TooFew:
        return None
    if not run.C or run.C[-1] <= r.cusum_h_faint:
        return None
    last_zero = max((i for i, c in enumerate(run.C) if c == 0), default=-1)
    over = next((i for i in range(last_zero + 1, len(run.C)) if run.C[i] > line), len(run.C) - 1)
    return Sign(place[0], place[1], days[run.days[over] - 1], days[run.days[last_zero + 1] - 1], run.C[-1], line)


@by_value(1024)
def _run(x: tuple[float | None, ...], m: int, k: float, line: float, cap: float, gate: float) -> RankCusum:
    """`rank_cusum`, kept by value: a page seldom asks about other days than the page before."""
    return rank_cusum(x, m, k, line, cap, gate)


def _at_rest_after_settling(x: list[float | None], days: list[date], evidence: Evidence) -> list[float | None]:
    """Leave out settled days past the reference, so that the sum starts from zero after them."""
    if evidence.settled_until is None:
        return x
    reference = rules().cusum_m
    kept: list[float | None] = []
    logged = 0
    for day, value in zip(days, x, strict=True):
        if value is not None:
            logged += 1
        kept.append(None if logged > reference and evidence.is_settled(day) else value)
    return kept
