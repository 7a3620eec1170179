"""What a turned camera makes of a lean: to hold `core.measure.angles` against."""

import math

from chirotend.core.errors import check_range


def foreshortened(true_deg: float, yaw_deg: float) -> float:
    """Return what a lean of `true_deg` from upright looks like to a camera turned by `yaw_deg` from the side."""
    lean = check_range("true_deg", true_deg, 0, math.nextafter(90, 0), "degrees")
    turn = check_range("yaw_deg", yaw_deg, 0, math.nextafter(90, 0), "degrees")
    return math.degrees(math.atan(math.tan(math.radians(lean)) * math.cos(math.radians(turn))))
