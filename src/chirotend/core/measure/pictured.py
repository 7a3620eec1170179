"""The angles of a template, by the name of their formula: points on a picture (pixels) in, degrees out."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from chirotend.core.errors import check_word
from chirotend.core.measure import angles
from chirotend.core.measure.angles import Point


@dataclass(frozen=True)
class View:
    """How a picture was taken: which way she faces, which hand is in it ("" = none), mirrored as by a selfie camera."""

    facing: str = "right"
    hand: str = ""
    mirrored: bool = False


def _back(p: Sequence[Point], view: View) -> float:
    """The wrist: + bent back, − bent to the palm. The fourth point lies on the palm's side of the hand."""
    return -_bend_towards_palm(p, view)


def _bend_towards_palm(p: Sequence[Point], view: View) -> float:
    """Signed bend of the last segment, degrees; + = towards the palm."""
    elbow, wrist, knuckle, palm = p
    middle = ((wrist[0] + knuckle[0]) / 2, (wrist[1] + knuckle[1]) / 2)
    return angles.wrist_flexion(elbow, wrist, knuckle, (palm[0] - middle[0], palm[1] - middle[1]))


def _sideways(p: Sequence[Point], view: View) -> float:
    elbow, wrist, knuckle = p
    return angles.wrist_deviation(view.hand or "right", elbow, wrist, knuckle, view.mirrored)


def _off_line(p: Sequence[Point], view: View) -> float:
    """How far the line of the last two points is from that of the first two, 0-90."""
    return abs(90.0 - angles.off_square(*p))


#: by the names templates use
_ANGLES: dict[str, Callable[[Sequence[Point], View], float]] = {
    "bend": lambda p, view: 180.0 - angles.angle3(p[0], p[1], p[2]),
    "lean": lambda p, view: angles.trunk_inclination(p[0], p[1], view.facing),
    "raised": lambda p, view: angles.arm_elevation(*p),
    "level": lambda p, view: angles.level(*p),
    "off_square": lambda p, view: angles.off_square(*p),
    "off_line": _off_line,
    "back": _back,
    "towards": _bend_towards_palm,
    "sideways": _sideways,
}
FORMULAS = tuple(_ANGLES)


def pictured(formula: str, points: Sequence[Point], view: View) -> float:
    """Return the angle of `formula` over `points`, degrees; `Degenerate` where they lie on one another."""
    return _ANGLES[check_word("formula", formula, FORMULAS)](points, view)
