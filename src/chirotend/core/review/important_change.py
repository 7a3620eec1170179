"""The smallest published changes that tell more than chance, or matter to the one who has it: pain, and activities."""

from collections.abc import Sequence
from dataclasses import dataclass

from chirotend.core.errors import Degenerate, Inconsistent, TooFew, check_range

#: points of 0-10, and share of the first value: Farrar et al. 2001, Pain 94:149-158, from memory
PAIN_POINTS, PAIN_SHARE_PCT = 2.0, 30.0
#: points of 0-10, for the mean of several activities and for one: Stratford et al. 1995, Physiother Can 47:258-263,
#: from memory
SEVERAL_POINTS, ONE_POINTS = 2.0, 3.0


@dataclass(frozen=True)
class PainChange:
    """How far pain fell (points of 0-10, below 0 = it rose; % of the first value), and which published size it has.

    `clear` = both, which is ours.
    """

    drop: float
    pct: float
    by_points: bool
    by_share: bool

    @property
    def clear(self) -> bool:
        return self.by_points and self.by_share


def nrs_change(baseline: float, followup: float) -> PainChange:
    """Return how pain changed, both 0-10. `Degenerate` from 0, of which nothing can be a share.

    Farrar et al. 2001, Pain 94:149-158, of people in trials of pain; from memory.
    """
    before, after = (check_range(n, v, 0, 10) for n, v in (("baseline", baseline), ("followup", followup)))
    if before == 0:
        raise Degenerate("baseline", "there was no pain: nothing is a share of it")
    drop = before - after
    pct = 100 * drop / before
    return PainChange(drop, pct, drop >= PAIN_POINTS, pct >= PAIN_SHARE_PCT)


@dataclass(frozen=True)
class ActivitiesChange:
    """How the mean of the same activities changed (points of 0-10), what is needed, and whether chance is passed."""

    change: float
    needed: float

    @property
    def detectable(self) -> bool:
        return abs(self.change) >= self.needed


def psfs_change(before: Sequence[float], after: Sequence[float]) -> ActivitiesChange:
    """Return how activities changed, each 0 (cannot do it) to 10 (as before); `Inconsistent` where their number did.

    The patient-specific functional scale, Stratford et al. 1995, Physiother Can 47:258-263, from memory.
    """
    if len(before) != len(after):
        raise Inconsistent("after", f"{len(after)} activities where there were {len(before)}")
    if not before:
        raise TooFew("before", "no activities")
    for name, values in (("before", before), ("after", after)):
        for value in values:
            check_range(name, value, 0, 10)
    return ActivitiesChange(
        sum(after) / len(after) - sum(before) / len(before), ONE_POINTS if len(before) == 1 else SEVERAL_POINTS
    )
