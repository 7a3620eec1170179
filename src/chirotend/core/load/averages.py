"""Rolling averages and the week's summary. Loads in AU per day, newest last."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from chirotend.core.errors import Degenerate, Missing, OutOfRange, TooFew, check_range

GAP_RESTARTS = 7  # days in a row without a log after which an average starts again (ours, common practice)


@dataclass(frozen=True)
class Ewma:
    """`lam` = 2/(N+1); `ewma` = last value; `seed_weight` = share still owed to the first day."""

    lam: float
    ewma: float
    seed_weight: float


@dataclass(frozen=True)
class WeekSummary:
    """Sum, mean, sample SD, monotony = mean/SD and strain = sum x monotony of seven daily loads (AU)."""

    sum: float
    mean: float
    sd: float
    monotony: float
    strain: float


def ewma(loads: Sequence[float], N: int) -> Ewma:
    """Return the exponentially weighted average of `loads` over a span of `N` days (N >= 1).

    E1 = x1, then E = lam*x + (1-lam)*E. Williams et al. 2017, Br J Sports Med 51:209-210, from memory; the seed
    rule is ours (= pandas `adjust=False`). Empty: `TooFew`; a negative load: `OutOfRange`.
    """
    check_range("N", N, low=1)
    if not loads:
        raise TooFew("loads", "no day at all")
    lam = 2.0 / (N + 1)
    value = check_range("loads", loads[0], low=0)
    for load in loads[1:]:
        value = lam * check_range("loads", load, low=0) + (1 - lam) * value
    return Ewma(lam, value, (1 - lam) ** (len(loads) - 1))


def ewma_over_gaps(loads: Sequence[float | None], N: int) -> Ewma | None:
    """Return `ewma` over the logged days only, begun again after 7 days in a row without a log; None = no value.

    `None` in `loads` is a day not logged; it is skipped, never filled in.
    """
    kept: list[float] = []
    gap = 0
    for load in loads:
        if load is None:
            gap += 1
            continue
        if gap >= GAP_RESTARTS:
            kept = []
        gap = 0
        kept.append(load)
    return ewma(kept, N) if kept and gap < GAP_RESTARTS else None


def week_summary(daily: Sequence[float | None]) -> WeekSummary:
    """Return the summary of exactly seven daily loads.

    Foster 1998, Med Sci Sports Exerc 30:1164-1168, from memory; SD with n-1 is ours.

    Raises
    ------
    TooFew, OutOfRange
        Not exactly seven days, or a negative load.
    Missing
        A day is not logged (None).
    Degenerate
        The same load every day: SD 0, monotony undefined.
    """
    if len(daily) < 7:
        raise TooFew("daily", f"{len(daily)} days, 7 are needed")
    if len(daily) > 7:
        raise OutOfRange("daily", len(daily), 7, 7, "days")
    logged = [d for d in daily if d is not None]
    if len(logged) < 7:
        raise Missing("daily", "a day of the week is not logged")
    values = np.array([check_range("daily", d, low=0) for d in logged])
    sd = float(np.std(values, ddof=1))
    if sd == 0:
        raise Degenerate("daily", "the same load every day")
    total, mean = float(values.sum()), float(values.mean())
    return WeekSummary(total, mean, sd, mean / sd, total * mean / sd)
