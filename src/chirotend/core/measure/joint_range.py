"""What two readings of a joint's range can tell, and which reading was taken from another zero. Degrees."""

from math import sqrt

from chirotend.core.errors import check_range
from chirotend.core.measure.angles import PICTURE_ERROR_DEG

#: two readings can be out by so much together: each by what a picture can be (doubtful for a level)
CHANGE_DEG = sqrt(2) * PICTURE_ERROR_DEG
#: so far past what most people reach, a reading was taken from another zero (ours, no source)
TOO_FAR_DEG = 60.0
MOST_DEG = 180.0


def ranges_differ(one: float, other: float) -> bool:
    """Return whether two readings, each 0-180, lie further apart than both can be out by."""
    first, second = (check_range("deg", value, 0, MOST_DEG, "°") for value in (one, other))
    return abs(first - second) > CHANGE_DEG


def is_from_another_zero(deg: float, usual: float) -> bool:
    """Return whether a reading, 0-180, lies too far past what most people reach to be taken from the zero described."""
    return check_range("deg", deg, 0, MOST_DEG, "°") > check_range("usual", usual, 0, MOST_DEG, "°") + TOO_FAR_DEG
