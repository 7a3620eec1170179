"""Published sizes of a change: Farrar et al. 2001 (pain), Stratford et al. 1995 (activities), both from memory."""

import pytest

from chirotend.core.errors import Degenerate, Inconsistent, OutOfRange, TooFew
from chirotend.core.review.important_change import nrs_change, psfs_change


@pytest.mark.parametrize(
    ("before", "after", "drop", "pct", "sizes", "clear"),
    [
        (6, 4, 2, 100 / 3, (True, True), True),
        (2, 1, 1, 50, (False, True), False),
        (10, 8, 2, 20, (True, False), False),
        (4, 6, -2, -50, (False, False), False),
    ],
)
def test_pain_is_clearly_less_by_two_points_and_three_tenths(before, after, drop, pct, sizes, clear):
    found = nrs_change(before, after)
    assert (found.drop, found.pct) == (drop, pytest.approx(pct))
    assert ((found.by_points, found.by_share), found.clear) == (sizes, clear)


def test_activities_need_two_points_and_one_alone_needs_three():
    found = psfs_change([3, 4, 5], [6, 6, 6])
    assert (found.change, found.needed, found.detectable) == (2, 2, True)
    one = psfs_change([4], [6])
    assert (one.change, one.needed, one.detectable) == (2, 3, False)
    assert psfs_change([8, 8], [6, 6]).detectable


@pytest.mark.parametrize(
    ("call", "error"),
    [
        (lambda: nrs_change(0, 2), Degenerate),
        (lambda: nrs_change(5, 11), OutOfRange),
        (lambda: psfs_change([1, 2], [1]), Inconsistent),
        (lambda: psfs_change([], []), TooFew),
        (lambda: psfs_change([1], [-1]), OutOfRange),
    ],
)
def test_what_cannot_be_compared_is_refused(call, error):
    with pytest.raises(error):
        call()
