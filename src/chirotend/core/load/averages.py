"""Exponentially weighted moving averages (EWMA) and the week's summary. Loads in AU per day, newest last."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from chirotend.core.errors import Degenerate, Missing, OutOfRange, TooFew, check_range

GAP_RESTARTS = 7  # days in a row without a log after which an average starts again (ours, common practice)


@dataclass(frozen=True)
class Ewma:
    """`lam` = 2/(N+1); `ewma` = last value; `seed_weight` = weight of the first day in the average, 0-1."""

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


@dataclass(frozen=True)
class ShortToLong:
    """`acute` = the last 7 days; over a mean week of all 28 (`coupled`) or of the first 21 (`uncoupled`)."""

    acute: float
    coupled: float
    uncoupled: float


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


def acwr(daily28: Sequence[float | None]) -> ShortToLong:
    """Return the ratio of short to long average load over exactly 28 days: kept for export, never scored.

    Gabbett 2016, Br J Sports Med 50:273-280; Windt & Gabbett 2019, 53:988, from memory. Coupling alone makes the two
    averages resemble each other (Lolli et al. 2019, 53:921-922), and no cause, window or zone of it holds (Impellizzeri
    et al. 2020, Int J Sports Physiol Perform 15:907-913; 2021, Sports Med 51:581-592).

    Raises
    ------
    TooFew, OutOfRange
        Not exactly 28 days, or a negative load.
    Missing
        A day is not logged (None).
    Degenerate
        Nothing was played in the first 21 days.
    """
    if len(daily28) < 28:
        raise TooFew("daily28", f"{len(daily28)} days, 28 are needed")
    if len(daily28) > 28:
        raise OutOfRange("daily28", len(daily28), 28, 28, "days")
    loads = [check_range("daily28", d, low=0) for d in daily28 if d is not None]
    if len(loads) < 28:
        raise Missing("daily28", "a day of the four weeks is not logged")
    acute, before = sum(loads[21:]), sum(loads[:21])
    if before == 0:
        raise Degenerate("daily28", "nothing was played in the first 21 days")
    return ShortToLong(acute, acute / (sum(loads) / 4), acute / (before / 3))
