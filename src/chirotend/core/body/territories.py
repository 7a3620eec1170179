"""Which nerve usually feels which part of the hand, and a published class of hand drawings.

Usual territories: individual overlap is common, so the screen says "the usual area of", never more. Standard anatomy;
the hand-diagram classes after Katz & Stirrat 1990, J Hand Surg Am 15:360-363, from memory.
"""

from collections.abc import Collection, Iterable
from dataclasses import dataclass
from functools import cache

from chirotend.core.errors import OutOfRange, check_word
from chirotend.core.record.words import SENSORY_KINDS
from chirotend.core.tables import rows

FACES = ("palmar", "dorsal_distal", "dorsal_proximal")
HALVES = ("radial", "ulnar")
PALMS = ("none", "radial", "ulnar_only", "whole")
TERRITORIES = ("median", "ulnar", "superficial radial", "palmar branch of the median", "dorsal branch of the ulnar")


def katz_class(sensory_digits: Collection[int], pain_digits: Collection[int], palm: str, dorsum: bool) -> str:
    """Return the class of a hand drawing: classic, probable, possible or unlikely for irritation of the median nerve.

    `sensory_digits`: digits with tingling, numbness or less feeling; `pain_digits`: with pain; both from 1-5, of which
    1-3 count. `palm`: none, radial, ulnar_only or whole; `dorsum`: the back of the hand is marked. The class is a
    pattern of a drawing, never a diagnosis. "At least one digit" for possible closes a gap of the sources (ours).
    """
    check_word("palm", palm, PALMS)
    for digit in (*sensory_digits, *pain_digits):
        if digit not in (1, 2, 3, 4, 5):
            raise OutOfRange("digits", digit, 1, 5)
    sensory = {d for d in sensory_digits if d <= 3}
    marked = sensory | {d for d in pain_digits if d <= 3}
    if not marked:
        return "unlikely"
    if len(sensory) >= 2 and not dorsum:
        if palm == "none":
            return "classic"
        if palm != "ulnar_only":
            return "probable"
    return "possible"


@dataclass(frozen=True)
class Place:
    """A zone of the hand as the classes read it: its usual territories (two where halves meet), digit (0 = none), part.

    The back of a knuckle belongs to a digit but is drawn on the back of the hand: `part` decides what it counts as.
    """

    zone: str
    nerves: tuple[str, ...]
    digit: int
    part: str  # digit | palm_radial | palm_ulnar | palm_whole | dorsum


@cache
def places() -> dict[str, Place]:
    """Return the zones of the hand with a usual territory, by id."""
    return {
        r["zone"]: Place(r["zone"], tuple(r["nerve"].split("/")), int(r["digit"]), r["part"])
        for r in rows("zone_territories")
    }


def drawn_class(marks: Iterable[tuple[str, str]]) -> str:
    """Return the class of one hand from its marks (zone, kind); kinds other than pain and feeling are passed over."""
    sensory, pain, palm, dorsum = set(), set(), set(), False
    for zone, kind in marks:
        place = places().get(zone)
        if place is None:
            continue
        if place.part == "digit" and kind in SENSORY_KINDS:
            sensory.add(place.digit)
        elif place.part == "digit" and kind == "pain":
            pain.add(place.digit)
        elif kind in (*SENSORY_KINDS, "pain"):
            dorsum = dorsum or place.part == "dorsum"
            if place.part.startswith("palm"):
                palm.add(place.part)
    where = "none" if not palm else {"palm_radial": "radial", "palm_ulnar": "ulnar_only"}.get("+".join(palm), "whole")
    return katz_class(sensory, pain, where, dorsum)


@dataclass(frozen=True)
class Territory:
    """A nerve whose usual area holds most of the tingling or numb places of one hand, with those places."""

    nerve: str
    zones: tuple[str, ...]
    share: float


def territory(marks: Iterable[tuple[str, str]]) -> Territory | None:
    """Return the nerve whose usual area holds at least two, and two thirds, of the tingling or numb zones.

    `marks`: (zone, kind) of one hand. None when they are few or spread. Two zones and two thirds are ours.
    """
    by_nerve: dict[str, list[str]] = {}
    count = 0
    for zone in dict.fromkeys(z for z, kind in marks if kind in SENSORY_KINDS):
        place = places().get(zone)
        if place is not None:
            count += 1
            for nerve in place.nerves:
                by_nerve.setdefault(nerve, []).append(zone)
    if not by_nerve:
        return None
    nerve, zones = max(by_nerve.items(), key=lambda item: len(item[1]))
    share = len(zones) / count
    return Territory(nerve, tuple(zones), share) if len(zones) >= 2 and share >= 2 / 3 else None
