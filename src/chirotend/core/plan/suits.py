"""What may be offered to whom: the cautions of an exercise, a rest or an option as rules, and her state today.

Common practice put together with care, no source; not yet reviewed by a clinician. What is not said of her is taken as
not so; what is marked, or said, leaves things out and never adds any.
"""

from dataclasses import dataclass

from chirotend.core.body.zones import zone

Place = tuple[str, str]  # zone, side ("left", "right", "both" or "none")
#: what she may say of herself once, each optional, with the question as it is asked
STATES = {
    "pregnant": "Are you pregnant, or were you in the last months?",
    "under_16": "Are you under 16?",
    "thin_bones": "Were you told that your bones are thin?",
    "recent_operation": "Did you have an operation, a cast or a fracture in the last months?",
    "loose_joints": "Do your joints bend further than other people’s? (Look only, do not push them.)",
    "cold_intolerance": "Do your hands or fingers turn white, or hurt, in the cold?",
}
#: what a thing may need before it is offered
NEEDS = {
    "feeling": "no tingling or numb place in that hand or arm",
    "no arm tingling": "no tingling or numb place in either arm",
    "unmarked hand": "nothing marked in hand, wrist or forearm",
    "nothing marked": "nothing marked anywhere",
    "straight neck": "an instrument that does not turn the neck",
}
HAND = ("fingers", "wrist & thumb", "forearm")
ARM = (*HAND, "upper arm & elbow", "neck & shoulder")


@dataclass(frozen=True)
class Terms:
    """The cautions that are rules: states it does not go with, what it needs, zones that must be unmarked beside its
    own, and whether it may be offered soon after an operation (nothing is, unless it says so)."""

    not_with: tuple[str, ...] = ()
    needs: tuple[str, ...] = ()
    clear_zones: tuple[str, ...] = ()
    after_operation: bool = False


@dataclass(frozen=True)
class Condition:
    """How she is today: zones to be spared, those of them that tingle or are numb, what she has said of herself, and
    whether the instrument turns her neck."""

    marked: frozenset[Place] = frozenset()
    numb: frozenset[Place] = frozenset()
    states: frozenset[str] = frozenset()
    turns_neck: bool = False


NO_TERMS, NOTHING_SAID = Terms(), Condition()


def unsuitable(zones: tuple[Place, ...], terms: Terms, now: Condition, side: str = "both") -> str:
    """Return why a thing that loads `zones` on `side` is not offered: "" = it is.

    Else `marked:REGION:SIDE`, `state:STATE` or `needs:NEED`, by the first that holds.
    """
    loaded = (*zones, *((z, side) for z in terms.clear_zones))
    if touched := sorted(place for place in now.marked if _touches(loaded, place)):
        return f"marked:{zone(touched[0][0]).region}:{touched[0][1]}"
    if "recent_operation" in now.states and not terms.after_operation:
        return "state:recent_operation"
    if wrong := [s for s in terms.not_with if s in now.states]:
        return f"state:{wrong[0]}"
    if lacking := [n for n in terms.needs if not _met(n, now, side)]:
        return f"needs:{lacking[0]}"
    return ""


def _touches(zones: tuple[Place, ...], place: Place) -> bool:
    """True when one of `zones` is the marked `place`, on its side."""
    return any(z == place[0] and (side in ("both", place[1]) or place[1] == "none") for z, side in zones)


def _met(need: str, now: Condition, side: str) -> bool:
    match need:
        case "feeling":
            return not any(_in(p, ARM, side) for p in now.numb)
        case "no arm tingling":
            return not any(_in(p, ARM, "both") for p in now.numb)
        case "unmarked hand":
            return not any(_in(p, HAND, side) for p in now.marked)
        case "nothing marked":
            return not now.marked
        case "straight neck":
            return not now.turns_neck
        case _:
            raise KeyError(need)


def _in(place: Place, regions: tuple[str, ...], side: str) -> bool:
    return zone(place[0]).region in regions and (side == "both" or place[1] in (side, "none"))
