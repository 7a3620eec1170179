"""Is it going up? Trends that ask nothing of the shape of the values: Mann-Kendall, of days that resemble each other by
Hamed and Rao, and Theil-Sen."""

import math
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from chirotend.core.errors import Degenerate, TooFew, check_number
from chirotend.core.judge.baseline import median
from chirotend.core.late import late

special = late("scipy.special")
stats = late("scipy.stats")

#: a correlation of ranks stands out beyond this many standard errors (two-sided 5 %)
STANDS_OUT_Z = 1.959963984540054


@dataclass(frozen=True)
class MannKendall:
    """S, its variance corrected for ties, Z with the correction for continuity, and the two-sided p."""

    S: int
    var: float
    Z: float
    p: float


@dataclass(frozen=True)
class Slope:
    """Change of the value a day, and the value on day 0."""

    slope: float
    intercept: float


def mann_kendall(y: Sequence[float]) -> MannKendall:
    """Return the test of a trend in `y`, oldest first.

    Mann 1945, Econometrica 13:245-259; Kendall 1975. From memory. `TooFew` below 8 values, `Degenerate` when all are
    equal. Values of neighbouring days resemble each other: give it weeks, or see `daily_trend`.
    """
    values = [check_number("y", v) for v in y]
    n = len(values)
    if n < 8:
        raise TooFew("y", f"{n} values, 8 are needed")
    s = sum((b > a) - (b < a) for i, a in enumerate(values) for b in values[i + 1 :])
    ties = sum(t * (t - 1) * (2 * t + 5) for t in Counter(values).values())
    var = (n * (n - 1) * (2 * n + 5) - ties) / 18
    if var <= 0:
        raise Degenerate("y", "all values are equal")
    return _tested(s, var)


def daily_trend(y: Sequence[float]) -> MannKendall:
    """Return the test of a trend in values of neighbouring days: its variance allows for how they resemble each other.

    The ranks of what lies about the line of Theil and Sen, at every lag whose correlation stands out (5 %). Hamed & Rao
    1998, J Hydrol 204:182-196, from memory. Errors as `mann_kendall`; `Degenerate` too where no variance is left.
    """
    plain, n = mann_kendall(y), len(y)
    slope = theil_sen(range(n), y).slope
    ranks = stats.rankdata([value - slope * (day + 1) for day, value in enumerate(y)])
    about = ranks - ranks.mean()
    like = np.correlate(about, about, "full")[n:] / (float(about @ about) or 1.0)
    lags = np.arange(1, n)
    weights = (n - lags) * (n - lags - 1) * (n - lags - 2)
    standing_out = np.abs(like) > STANDS_OUT_Z / math.sqrt(n)
    var = plain.var * (1 + 2 / (n * (n - 1) * (n - 2)) * float((weights * like)[standing_out].sum()))
    if var <= 0:
        raise Degenerate("y", "the days resemble each other so that no variance is left")
    return _tested(plain.S, var)


def _tested(s: int, var: float) -> MannKendall:
    z = (s - (s > 0) + (s < 0)) / math.sqrt(var)
    return MannKendall(s, var, z, float(2 * special.ndtr(-abs(z))))


def theil_sen(day: Sequence[float], y: Sequence[float]) -> Slope:
    """Return the median of the slopes of all pairs, and the intercept by the medians.

    Theil 1950; Sen 1968, J Am Stat Assoc 63:1379-1389. From memory. `TooFew` below 3 values, `Degenerate` when all lie
    on one day. Pairs on one day are passed over.
    """
    days, values = [check_number("day", d) for d in day], [check_number("y", v) for v in y]
    if len(days) < 3 or len(days) != len(values):
        raise TooFew("day", f"{len(days)} days, 3 are needed, and a value for each")
    points = list(zip(days, values, strict=True))
    slopes = [(b - a) / (e - d) for i, (d, a) in enumerate(points) for e, b in points[i + 1 :] if e != d]
    if not slopes:
        raise Degenerate("day", "all values lie on one day")
    slope = median(slopes)
    return Slope(slope, median(values) - slope * median(days))
