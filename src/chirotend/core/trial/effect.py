"""How much better the days with a change were: non-overlap of all pairs (NAP) with its interval, and Tau-U."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise

from chirotend.core.errors import TooFew, check_number, check_word

BETTER = ("lower", "higher")
LEAST = 3
#: of 100 such intervals about 90 hold the share
Z = 1.6448536269514722
#: days resemble the day before: more than this is not believed of a short series
MOST_ALIKE = 0.7
#: of fewer days the correlation is not put right: what is put back would be larger than what was seen
SHORT = 4


@dataclass(frozen=True)
class Nap:
    """U of Mann and Whitney for B, and the share of pairs in which B is better (0-1, .5 = no difference)."""

    U: float
    nap: float


@dataclass(frozen=True)
class TauU:
    """Tau of A against B (2 NAP - 1), the trend of A as Kendall's S in the better direction, and Tau-U."""

    tau_ab: float
    S_A: int
    tau_u: float


def nap(A: Sequence[float], B: Sequence[float], better: str) -> Nap:
    """Return the non-overlap of all pairs: ties count half. `TooFew` below 3 values in either.

    Parker & Vannest 2009, Behav Ther 40:357-367, from memory.
    """
    a, b = _values("A", A), _values("B", B)
    way = _way(better)
    u = sum(1.0 if way * (y - x) > 0 else 0.5 if x == y else 0.0 for x in a for y in b)
    return Nap(u, u / (len(a) * len(b)))


def tau_u(A: Sequence[float], B: Sequence[float], better: str) -> TauU:
    """Return Tau-U: Tau of A against B less the trend that A had anyway. It can leave -1 to 1.

    Parker et al. 2011, Behav Ther 42:284-299, from memory: one of several variants.
    """
    found = nap(A, B, better)
    way, a = _way(better), _values("A", A)
    trend = sum(_sign(way * (later - now)) for i, now in enumerate(a) for later in a[i + 1 :])
    pairs = len(A) * len(B)
    tau = 2 * found.nap - 1
    return TauU(tau, trend, (tau * pairs - trend) / pairs)


def alike(A: Sequence[float | None], B: Sequence[float | None]) -> float:
    """Return how far a day resembles the one before (0-.7): lag-1 correlation about each phase's mean; None = missing.

    Pairs with a missing day are passed over. About a mean of few days it comes out too low by (1 + 3r)/n, which is put
    back: Marriott & Pope 1954, Biometrika 41:390-402, from memory.
    """
    products, squares, count = 0.0, [], 0
    for phase in (A, B):
        known = [v for v in phase if v is not None]
        mean = sum(known) / len(known) if known else 0.0
        squares += [(v - mean) ** 2 for v in known]
        for before, now in pairwise(phase):
            if before is not None and now is not None:
                products += (before - mean) * (now - mean)
                count += 1
    spread = sum(squares)
    if not count or spread <= 0:
        return 0.0
    seen, n = products / count / (spread / len(squares)), len(squares) / 2
    return min(MOST_ALIKE, max(0.0, (n * seen + 1) / (n - 3) if n > SHORT else seen))


def half_width(n_a: int, n_b: int, resemblance: float = 0.0, z: float = Z) -> float:
    """Return how far from .5 a share lies at `z` standard errors; by itself: where its interval leaves .5 out."""
    return z * math.sqrt(_variance(0.5, *_effective(n_a, n_b, resemblance)))


def nap_interval(share: float, n_a: int, n_b: int, resemblance: float = 0.0) -> tuple[float, float]:
    """Return the 90 % interval of a share of pairs, wider when days resemble one another.

    Newcombe 2006, Stat Med 25:559-573, method 5, from memory; with fewer effective days n (1 - r)/(1 + r) (ours, common
    practice). `TooFew` below 3 values in either.
    """
    if min(n_a, n_b) < LEAST:
        raise TooFew("n", f"{min(n_a, n_b)} values, {LEAST} are needed in each")
    sizes = _effective(n_a, n_b, resemblance)

    def holds(true: float) -> bool:
        return abs(share - true) <= Z * math.sqrt(_variance(true, *sizes))

    return _edge(holds, share, 0.0), _edge(holds, share, 1.0)


def _edge(holds: Callable[[float], bool], inside: float, outside: float) -> float:
    """The last value towards `outside` that still holds."""
    if holds(outside):
        return outside
    for _ in range(40):
        middle = (inside + outside) / 2
        inside, outside = (middle, outside) if holds(middle) else (inside, middle)
    return inside


def _effective(n_a: int, n_b: int, resemblance: float) -> tuple[float, float]:
    shrink = (1 - resemblance) / (1 + resemblance)
    return max(1.0, n_a * shrink), max(1.0, n_b * shrink)


def _variance(share: float, n_a: float, n_b: float) -> float:
    most = (n_a + n_b) / 2 - 1
    spread = 1 + most * (1 - share) / (2 - share) + most * share / (1 + share)
    return share * (1 - share) * spread / (n_a * n_b)


def _values(name: str, values: Sequence[float]) -> list[float]:
    if len(values) < LEAST:
        raise TooFew(name, f"{len(values)} values, {LEAST} are needed")
    return [check_number(name, v) for v in values]


def _way(better: str) -> int:
    return 1 if check_word("better", better, BETTER) == "higher" else -1


def _sign(value: float) -> int:
    return (value > 0) - (value < 0)
