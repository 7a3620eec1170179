"""What went before: whether marks come more often on days after something than its days, shifted about, would give.

A permutation test whose permutations are the circular shifts of the days of the something: they keep how its days and
those of the marks cluster (Edgington and Onghena, Randomization Tests; from memory). It shows what went together, not
what brought what.
"""

from collections.abc import Sequence
from dataclasses import dataclass

#: a day counts as after something on its own day and the two that follow
AFTER_DAYS = 2
#: days with it, and without it, that were asked: fewer tell nothing
LEAST_DAYS = 6
BEYOND_CHANCE, PERHAPS = 0.05, 0.2


@dataclass(frozen=True)
class Before:
    """Mean strength on asked days after it and on the others, one-sided p of the shifts; p None = cannot tell."""

    with_it: float
    without: float
    p: float | None

    @property
    def said(self) -> str:
        """cannot_tell, beyond_chance, perhaps or chance."""
        if self.p is None:
            return "cannot_tell"
        return "beyond_chance" if self.p <= BEYOND_CHANCE else "perhaps" if self.p <= PERHAPS else "chance"


# shifts keep how days of load and of marks cluster; drawn days would not: decisions 80 and 81
def went_before(there: Sequence[bool], strengths: Sequence[float | None]) -> Before:
    """Return how strengths (one a day, None = not asked) differ on days after the days that are `there`."""
    after = [any(there[max(0, n - AFTER_DAYS) : n + 1]) for n in range(len(there))]
    seen = _difference(after, strengths)
    if seen is None:
        return Before(0.0, 0.0, None)
    shifted = [_difference(after[k:] + after[:k], strengths) for k in range(1, len(after))]
    known = [d[0] - d[1] for d in shifted if d is not None]
    as_much = sum(d >= seen[0] - seen[1] - 1e-12 for d in known)
    return Before(*seen, (1 + as_much) / (1 + len(known)))


def _difference(after: Sequence[bool], strengths: Sequence[float | None]) -> tuple[float, float] | None:
    """Mean strengths with and without; None with too few days of either."""
    groups: tuple[list[float], list[float]] = ([], [])
    for there, strength in zip(after, strengths, strict=True):
        if strength is not None:
            groups[not there].append(strength)
    if min(map(len, groups)) < LEAST_DAYS:
        return None
    return sum(groups[0]) / len(groups[0]), sum(groups[1]) / len(groups[1])
