"""CUSUM control charts: one person's values have risen. The classic one, and one on ranks for diaries full of zeros."""

import math
from bisect import bisect_left, insort
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from chirotend.core.errors import TooFew, check_number, check_range
from chirotend.core.late import late

special = late("scipy.special")


@dataclass(frozen=True)
class Cusum:
    """Upper and lower sums after each value; `first_alarm` counts from 1, None = no alarm."""

    up: tuple[float, ...]
    down: tuple[float, ...]
    first_alarm: int | None


@dataclass(frozen=True)
class RankCusum:
    """Sum after each logged day past the reference; `first_alarm_day` counts all days from 1, None = none."""

    C: tuple[float, ...]
    days: tuple[int, ...]
    first_alarm_day: int | None


def cusum(x: Sequence[float], mu: float, sd: float, k: float, h: float) -> Cusum:
    """Return the two-sided cumulative sums of z = (x-mu)/sd with allowance `k`; alarm when one passes `h`.

    Page 1954, Biometrika 41:100; Montgomery, Statistical Quality Control. From memory. `sd` must be above 0.
    """
    check_range("sd", sd, low=np.nextafter(0, 1))
    up, down = [0.0], [0.0]
    alarm = None
    for i, value in enumerate(x, start=1):
        z = (check_number("x", value) - mu) / sd
        up.append(max(0.0, up[-1] + z - k))
        down.append(max(0.0, down[-1] - z - k))
        if alarm is None and max(up[-1], down[-1]) > h:
            alarm = i
    return Cusum(tuple(up[1:]), tuple(down[1:]), alarm)


def rank_cusum(
    x: Sequence[float | None], m: int = 14, k: float = 0.5, h: float = 7.0, cap: float = 2.0, gate: float = 1.0
) -> RankCusum:
    """Return the upper cumulative sum of one person's ranks among their own earlier days.

    The first `m` logged days are the reference. Each later logged day is ranked in it (mid-ranks), the rank made a
    z with the tie-corrected spread, capped at `cap`, and summed with allowance `k`; a day joins the reference only
    while the sum before it is at most `gate`, so that a build-up does not teach itself. Sequential ranks after
    McDonald 1990, Nav Res Logist 37:627-646 (from memory); gate and cap are ours, simulated.

    Parameters
    ----------
    x : sequence of float or None
        One value a day, oldest first; None = not logged (skipped, never filled in).
    m : int
        Reference size, 10 or more.

    Raises
    ------
    TooFew
        If fewer than `m` days are logged, or `m` is below 10.
    """
    if m < 10:
        raise TooFew("m", "the reference needs 10 days or more")
    logged = [(i, check_number("x", v)) for i, v in enumerate(x, start=1) if v is not None]
    if len(logged) < m:
        raise TooFew("x", f"{len(logged)} written days, {m} are needed")
    reference = _Reference(v for _, v in logged[:m])
    total, sums, days = 0.0, [], []
    alarm = None
    for day, value in logged[m:]:
        before = total
        total = max(0.0, total + min(reference.z(value), cap) - k)
        sums.append(total)
        days.append(day)
        if alarm is None and total > h:
            alarm = day
        if before <= gate:
            reference.add(value)
    return RankCusum(tuple(sums), tuple(days), alarm)


class _Reference:
    """The earlier days, kept sorted, with the running sum of t^3 - t over their ties."""

    def __init__(self, values: Iterable[float]) -> None:
        self.values: list[float] = []
        self.counts: dict[float, int] = {}
        self.ties = 0
        for value in values:
            self.add(value)

    def add(self, value: float) -> None:
        insort(self.values, value)
        equal = self.counts.get(value, 0)
        self.ties += 3 * equal * (equal + 1)  # by this much t^3 - t grows when one more is equal
        self.counts[value] = equal + 1

    def z(self, value: float) -> float:
        """Mid-rank of `value` among the reference and itself, as a z with the tie-corrected spread; 0 if all equal."""
        n, equal = len(self.values) + 1, self.counts.get(value, 0)
        rank = bisect_left(self.values, value) + (equal + 2) / 2
        spread = (n * n - 1) / 12 * (1 - (self.ties + 3 * equal * (equal + 1)) / (n**3 - n))
        return (rank - (n + 1) / 2) / math.sqrt(spread) if spread > 1e-12 else 0.0
