"""Angles from points on a picture. x to the right, y down, in pixels; degrees.

One camera sees neither the turn of a forearm, nor that of a thumb or a neck: those are asked, never computed.
"""

import math
from dataclasses import dataclass

from chirotend.core.errors import Degenerate, OutOfRange, check_number, check_word

Point = tuple[float, float]
SIDES, FACING = ("left", "right"), ("left", "right")
#: a camera turned further from the side view than this shows too little of an angle to grade it
TURN_MAX_DEG = 30.0
#: what a single picture can be out by
PICTURE_ERROR_DEG = 5.0
#: shoulder breadth over the length shoulder to hip: .259 and .288 of the height. Drillis & Contini 1966, from memory
BREADTH_BY_TRUNK = 0.259 / 0.288
_LEAST_PX = 1e-9


def _vector(start: Point, end: Point, field: str) -> Point:
    x, y = (check_number(field, b) - check_number(field, a) for a, b in zip(start, end, strict=True))
    if math.hypot(x, y) < _LEAST_PX:
        raise Degenerate(field, "two of its points lie on one another")
    return x, y


def _between(u: Point, v: Point) -> float:
    """The angle between two vectors, 0-180: by atan2, which loses nothing near 0 and 180."""
    return math.degrees(math.atan2(abs(_cross(u, v)), u[0] * v[0] + u[1] * v[1]))


def _cross(u: Point, v: Point) -> float:
    """Positive = `v` lies clockwise of `u` on the screen."""
    return u[0] * v[1] - u[1] * v[0]


def angle3(A: Point, B: Point, C: Point, W: float = 1.0, H: float = 1.0) -> float:
    """Return the angle at `B` between `A` and `C`, 0-180. Points given as shares 0-1 need the picture's `W` and `H`.

    Bending of an elbow or a finger joint is 180 minus it. `Degenerate` where two points are one.
    """
    a, b, c = ((x * W, y * H) for x, y in (A, B, C))
    return _between(_vector(b, a, "pt"), _vector(b, c, "pt"))


def wrist_deviation(side: str, elbow: Point, wrist: Point, mcp3: Point, mirrored: bool = False) -> float:
    """Return the turn of the hand in the plane of the palm: + towards the little finger, − towards the thumb.

    Seen on the back of the hand; `side` is the anatomical hand, a palm view or a `mirrored` picture turns the sign.
    """
    check_word("side", side, SIDES)
    forearm, hand = _vector(elbow, wrist, "wrist"), _vector(wrist, mcp3, "mcp3")
    turn = math.copysign(_between(forearm, hand), _cross(forearm, hand))
    return turn if (side == "right") != mirrored else -turn


def wrist_flexion(elbow: Point, wrist: Point, mcp3: Point, palm_dir: Point) -> float:
    """Return the bend of the wrist from the side: + towards the palm (flexion), − towards the back (extension).

    `palm_dir` points out of the palm, on the screen; along the forearm it tells nothing: `Degenerate`.
    """
    forearm, hand = _vector(elbow, wrist, "wrist"), _vector(wrist, mcp3, "mcp3")
    palm = _cross(forearm, _vector((0.0, 0.0), palm_dir, "palm_dir"))
    if abs(palm) < _LEAST_PX:
        raise Degenerate("palm_dir", "the palm seems to point along the forearm")
    turn = math.copysign(_between(forearm, hand), _cross(forearm, hand))
    return turn if palm > 0 else -turn


def trunk_inclination(hip: Point, shoulder: Point, facing: str) -> float:
    """Return how far the line from `hip` to `shoulder` leans from upright: + forward, − back.

    Also for the head: ear over the base of the neck.
    """
    check_word("facing", facing, FACING)
    x, y = _vector(hip, shoulder, "shoulder")
    return math.degrees(math.atan2(x if facing == "right" else -x, -y))


def arm_elevation(shoulder: Point, elbow: Point) -> float:
    """Return how far the upper arm is raised from hanging straight down, 0-180."""
    x, y = _vector(shoulder, elbow, "elbow")
    return math.degrees(math.atan2(abs(x), y))


def level(start: Point, end: Point) -> float:
    """Return how far a line is from level, 0-90: shoulders from the front, a stick over its head."""
    x, y = _vector(start, end, "end")
    return math.degrees(math.atan2(abs(y), abs(x)))


def off_square(a: Point, b: Point, c: Point, d: Point) -> float:
    """Return how far the line `c` to `d` is from square to the line `a` to `b`, 0-90: a bow on its string."""
    between = _between(_vector(a, b, "b"), _vector(c, d, "d"))
    return abs(90.0 - between)


def camera_turn(near: Point, far: Point, hip: Point) -> float:
    """Return by how much the camera is turned from the side view, 0-90: the further, the wider the shoulders look.

    Shoulder breadth is taken from the length shoulder to hip by people's usual build, so it is a rough guess.
    """
    trunk = _vector(hip, near, "near")
    across = abs(far[0] - near[0])
    return math.degrees(math.asin(min(1.0, across / (BREADTH_BY_TRUNK * math.hypot(*trunk)))))


@dataclass(frozen=True)
class TimeAtAngle:
    """How a clip's frames are shared out: the share past a limit (%), the least, the middle and the largest angle."""

    past_pct: float
    least: float
    median: float
    most: float


def time_at_angle(angles: list[float], plus: float, minus: float | None = None) -> TimeAtAngle:
    """Return how much of a clip, in frames at equal steps, is strictly past a limit: `plus` above 0, `minus` below it
    (None = none that way). `OutOfRange` without frames."""
    if not angles:
        raise OutOfRange("angles", 0, words=("at least one frame",))
    ordered = sorted(check_number("angles", a) for a in angles)
    middle = len(ordered) // 2
    median = ordered[middle] if len(ordered) % 2 else (ordered[middle - 1] + ordered[middle]) / 2
    past = sum(a > plus or (minus is not None and a < -minus) for a in ordered)
    return TimeAtAngle(100 * past / len(ordered), ordered[0], median, ordered[-1])
