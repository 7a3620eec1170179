"""How much of a clip a joint spends past a published angle, and how far a camera's error moves that share."""

from collections.abc import Sequence
from dataclasses import dataclass

from chirotend.core.errors import TooFew, check_number
from chirotend.core.measure.angles import PICTURE_ERROR_DEG, TimeAtAngle, time_at_angle

#: frames that must show the joint, and the share of all frames they must be (ours, no source)
LEAST_FRAMES, LEAST_SEEN = 10, 0.5


@dataclass(frozen=True)
class TimePast:
    """The share of a clip's frames past a limit (%), with the shares where every angle were out by a picture's error.

    `time` counts the angles as they are; `least_pct` those past the limit by more than the error, `most_pct` those that
    come within the error of it, too. `seen` of `frames` frames showed the joint.
    """

    time: TimeAtAngle
    least_pct: float
    most_pct: float
    seen: int
    frames: int


def time_past(angles: Sequence[float | None], plus: float, minus: float) -> TimePast:
    """Return how much of a clip lies past `plus` degrees above 0 or `minus` below it; None = a frame showed nothing.

    Frames lie at equal steps of time. `TooFew` where fewer than ten of them, or than half of them, show the joint.
    """
    seen = [check_number("angles", a) for a in angles if a is not None]
    if len(seen) < LEAST_FRAMES or len(seen) < LEAST_SEEN * len(angles):
        raise TooFew("angles", f"{len(seen)} of {len(angles)} frames show it")
    error = PICTURE_ERROR_DEG
    least, most = (time_at_angle(seen, plus + e, minus + e).past_pct for e in (error, -error))
    return TimePast(time_at_angle(seen, plus, minus), least, most, len(seen), len(angles))
