"""Two readings of a range differ only past what both can be out by; a reading from another zero is told."""

import pytest

from chirotend.core.errors import OutOfRange
from chirotend.core.measure.joint_range import is_from_another_zero, ranges_differ


@pytest.mark.parametrize(
    ("one", "other", "differ"), [(60, 67, False), (60, 67.1, True), (67.1, 60, True), (0, 0, False)]
)
def test_seven_degrees_are_told_apart_and_less_is_not(one, other, differ):
    assert ranges_differ(one, other) is differ


def test_a_reading_far_past_what_most_people_reach_was_taken_from_another_zero():
    assert not is_from_another_zero(130, 70)
    assert is_from_another_zero(131, 70)
    with pytest.raises(OutOfRange):
        is_from_another_zero(181, 170)
