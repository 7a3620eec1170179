"""Published angles to look at a picture beside: none of them was made for people who play. Degrees, minutes."""

from dataclasses import dataclass
from functools import cache

from chirotend.core.errors import OutOfRange, check_number, check_word
from chirotend.core.tables import rows

NEAR_DEG = 5.0
HEAVY_DEG = 20.0


@dataclass(frozen=True)
class StaticPosture:
    """A held posture: its zone, and the longest time it is given (None where the zone says it all)."""

    zone: str
    max_hold_min: float | None


ACCEPTABLE, TIME_LIMITED, NOT_RECOMMENDED = "acceptable", "time limited", "not recommended"
#: segment: acceptable up to, limited up to, minutes = first − slope · (angle − acceptable)
_SEGMENTS = {
    "trunk": (20.0, 60.0, 4.0, 0.075),
    "head": (25.0, 85.0, 8.0, 7 / 60),
    "upper_arm": (20.0, 60.0, 3.0, 0.05),
}


def iso11226(segment: str, deg: float, full_support: bool = False) -> StaticPosture:
    """Return the zone of a posture held longer than 4 s: `deg` forward of upright (upper arm: raised), negative = back.

    Edges belong to the milder class. Full support makes "time limited", and a trunk or head leaning back, acceptable.
    ISO 11226:2000 (industrial), from memory.
    """
    fair, most, first, slope = _SEGMENTS[check_word("segment", segment, tuple(_SEGMENTS))]
    angle = check_number("deg", deg)
    if angle > most:
        return StaticPosture(NOT_RECOMMENDED, None)
    if angle < 0:
        carried = full_support and segment != "upper_arm"
        return StaticPosture(ACCEPTABLE if carried else NOT_RECOMMENDED, None)
    if angle <= fair or full_support:
        return StaticPosture(ACCEPTABLE, None)
    return StaticPosture(TIME_LIMITED, first - slope * (angle - fair))


@dataclass(frozen=True)
class Range:
    """How far a joint can be moved by most people: not how far it should work."""

    joint: str
    movement: str
    deg: float
    status: str


@cache
def ranges() -> tuple[Range, ...]:
    """Return the normal active ranges. AAOS 1965, from memory."""
    return tuple(Range(r["joint"], r["movement"], float(r["deg"]), r["status"]) for r in rows("joint_ranges"))


def range_of(joint: str, movement: str) -> float:
    """Return the normal range of one movement; `OutOfRange` for one that is not in the table."""
    for each in ranges():
        if (each.joint, each.movement) == (joint, movement):
            return each.deg
    raise OutOfRange("movement", f"{joint} {movement}", words=tuple(f"{r.joint} {r.movement}" for r in ranges()))


def is_tracking_error(joint: str, movement: str, deg: float) -> bool:
    """True for an angle so far past the range that a point must be in the wrong place."""
    return deg > range_of(joint, movement) + HEAVY_DEG


def beside(deg: float, limit: float) -> str:
    """Return where an angle from a picture lies beside a limit: "under", "near" (what a picture tells), "past"."""
    check_number("deg", deg)
    return "near" if abs(deg - limit) <= NEAR_DEG else "past" if deg > limit else "under"
