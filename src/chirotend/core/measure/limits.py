"""Published angles to look at a picture beside: none of them was made for people who play. Degrees, minutes."""

from dataclasses import dataclass
from functools import cache

from chirotend.core.errors import OutOfRange, check_number, check_word
from chirotend.core.tables import rows

NEAR_DEG = 5.0
HEAVY_DEG = 20.0


@dataclass(frozen=True)
class AngleLimit:
    """A published angle to lie beside: the most above 0 and below it, degrees (None = none that way).

    `held` = the part of the body whose longest time held it says, past `plus`; "" = it says none.
    """

    name: str
    plus: float
    minus: float | None
    held: str

    def edge(self, deg: float) -> float | None:
        """Return the limit on the side of 0 where `deg` lies; None = there is none."""
        return self.plus if deg >= 0 else self.minus


@cache
def angle_limits() -> dict[str, AngleLimit]:
    """Return the published angles of `angle_limits.csv` by their key."""
    return {
        r["key"]: AngleLimit(r["name"], float(r["plus"]), float(r["minus"]) if r["minus"] else None, r["held"])
        for r in rows("angle_limits")
    }


def angle_limit(key: str) -> AngleLimit:
    """Return a published angle; `OutOfRange` for one that is not in the table."""
    return angle_limits()[check_word("limit", key, tuple(angle_limits()))]


@dataclass(frozen=True)
class StaticPosture:
    """A held posture: its zone, and the longest time it is given (None where the zone says it all)."""

    zone: str
    max_hold_min: float | None


ACCEPTABLE, TIME_LIMITED, NOT_RECOMMENDED = "acceptable", "time limited", "not recommended"
#: segment: limited up to, minutes = first − slope · (angle − acceptable); what is acceptable stands in the table
_SEGMENTS = {
    "trunk": (60.0, 4.0, 0.075),
    "head": (85.0, 8.0, 7 / 60),
    "upper_arm": (60.0, 3.0, 0.05),
}


def iso11226(segment: str, deg: float, full_support: bool = False) -> StaticPosture:
    """Return the zone of a posture held longer than 4 s: `deg` forward of upright (upper arm: raised), negative = back.

    Edges belong to the milder class. Full support makes "time limited", and a trunk or head leaning back, acceptable.
    ISO 11226:2000 (industrial), from memory.
    """
    most, first, slope = _SEGMENTS[check_word("segment", segment, tuple(_SEGMENTS))]
    fair = angle_limit(segment).plus
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
    source: str
    status: str


@cache
def ranges() -> tuple[Range, ...]:
    """Return the normal active ranges. AAOS 1965, from memory."""
    table = rows("joint_ranges")
    return tuple(Range(r["joint"], r["movement"], float(r["deg"]), r["source"], r["status"]) for r in table)


def range_of(joint: str, movement: str) -> Range:
    """Return the normal range of one movement; `OutOfRange` for one that is not in the table."""
    for each in ranges():
        if (each.joint, each.movement) == (joint, movement):
            return each
    raise OutOfRange("movement", f"{joint} {movement}", words=tuple(f"{r.joint} {r.movement}" for r in ranges()))


def is_tracking_error(joint: str, movement: str, deg: float) -> bool:
    """True for an angle so far past the range that a point must be in the wrong place."""
    return deg > range_of(joint, movement).deg + HEAVY_DEG


def beside(deg: float, limit: float) -> str:
    """Return where an angle from a picture lies beside a limit: "under", "near" (what a picture tells), "past"."""
    check_number("deg", deg)
    return "near" if abs(deg - limit) <= NEAR_DEG else "past" if deg > limit else "under"
