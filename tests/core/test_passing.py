"""Passing soreness, counted by hand."""

import pytest

from chirotend.core.judge.signs.passing import passed


@pytest.mark.parametrize(
    ("strengths", "lengths"),
    [
        ([], ()),
        ([None, None], ()),
        ([0] * 10, ()),
        ([0, 0, 2, 0, 0, 0, 0], (1,)),
        ([0, 0, 0, 2, 3, 0, 1, 0, 0, 0, 0], (4,)),  # one clear day between does not end it
        ([0, 0, 0, 2, None, None, 1, None, 0, None, 0, 0, 0], (4,)),  # nor do days that were not asked
        ([0, 0, 0, 0, 0, 1, 2, 3], ()),  # what has not ended has not passed
        ([2, 2, 2, 3, 2, 2, 4, 4, 2, 2, 2], (1, 2)),  # above her own usual, which is 2
    ],
)
def test_stretches_above_her_usual_that_ended(strengths, lengths):
    assert passed(strengths) == lengths
