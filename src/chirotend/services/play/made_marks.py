"""Marks made while playing: the places with a button, and what the wrap-up asks about each of them afterwards."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from chirotend.core.session.fold import Running
from chirotend.services.body.checks import TypedMarks
from chirotend.services.context import FieldError, NotThere

#: what can be marked with one touch while playing: its name, the zone it is written to, whether it has a side
PLACES = {
    "thumb": ("Thumb", "thumb_base_joint", True),
    "wrist": ("Wrist", "wrist_back_mid", True),
    "forearm": ("Forearm", "forearm_outer_high", True),
    "shoulder": ("Shoulder", "shoulder_top", True),
    "jaw": ("Jaw, breath", "jaw_joint", True),
}
#: the other places, marked with two touches: the kind of symptom, then the place
MORE_PLACES = {
    "index": ("Index finger", "index_mid_back", True),
    "middle": ("Middle finger", "middle_mid_back", True),
    "ring": ("Ring finger", "ring_mid_back", True),
    "little": ("Little finger", "little_mid_back", True),
    "palm": ("Palm", "palm_centre", True),
    "elbow": ("Elbow", "elbow_outer", True),
    "arm": ("Upper arm", "arm_back", True),
    "neck": ("Neck", "neck_back", True),
    "lips": ("Lips", "lower_lip", False),
    "back": ("Back", "low_back_side", True),
}
ALL_PLACES = {**PLACES, **MORE_PLACES}
#: marked too, but not on the body
NOTES = {"error": "Error", "good": "Good"}
#: the one kind that may be left open: it is marked often, and without a strength it says little
MAY_BE_LEFT = "tension"


@dataclass(frozen=True)
class MadeMarks:
    """The marks of one kind at one place: their key in the form, when they were made, whether they want an answer."""

    key: str
    name: str
    zone: str
    sided: bool
    feeling: str
    times: tuple[datetime, ...]

    @property
    def must(self) -> bool:
        """True when how strong it was has to be said: pain and what nerves do are never lost by silence."""
        return self.feeling != MAY_BE_LEFT


@dataclass(frozen=True)
class Answered:
    """What the wrap-up said about marks: their key, the sides, and the strength 0-10 (0 = it was nothing)."""

    key: str
    sides: tuple[str, ...]
    strength: float


def made_marks(state: Running) -> tuple[MadeMarks, ...]:
    """Return what was marked on the body, a kind at a place each, as first touched."""
    times: dict[tuple[str, str], list[datetime]] = {}
    for mark in state.marks:
        if mark.place in ALL_PLACES:
            times.setdefault((mark.place, mark.feeling), []).append(mark.at_utc)
    return tuple(
        MadeMarks(f"{place}-{feeling}", *ALL_PLACES[place], feeling, tuple(at))
        for (place, feeling), at in times.items()
    )


def answered(made: Sequence[MadeMarks], answers: Sequence[Answered]) -> list[TypedMarks]:
    """Return the marks to write into the check of what was felt while playing.

    `FieldError` names what is not answered yet; `NotThere` for marks that were not made.
    """
    known, said = {m.key: m for m in made}, {a.key: a for a in answers}
    for key in said:
        if key not in known:
            raise NotThere(key)
    if open_ones := [m for m in made if m.must and m.key not in said]:
        raise FieldError(_field(open_ones[0]), "Say how strong this was, or that it was nothing.")
    found = []
    for key, answer in said.items():
        mark = known[key]
        if not answer.strength:
            continue
        if mark.sided and not answer.sides:
            raise FieldError(_field(mark), "Say left or right, or both.")
        places = tuple(f"{mark.zone}.{side}" for side in (answer.sides if mark.sided else ("none",)))
        found.append(TypedMarks(places, mark.feeling, answer.strength, ("playing",)))
    return found


def _field(mark: MadeMarks) -> str:
    return f"mark-{mark.key}"
