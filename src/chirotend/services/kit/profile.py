"""What she says of herself: her hands, her room, her habits of practice. Nothing said stays nothing said ("")."""

import re
from dataclasses import asdict, dataclass, field, fields, replace
from typing import Any

from chirotend.core.judge.evidence import WATCHES
from chirotend.core.plan import rests, warmup
from chirotend.core.plan.suits import STATES
from chirotend.library.loader import retraining_schools
from chirotend.services.context import Context, FieldError
from chirotend.services.record import corrections
from chirotend.store.models import ProfileRow

#: the words each answer may be; "" = not said
ANSWERS: dict[str, tuple[str, ...]] = {
    "dominant": ("right", "left", "both"),
    "mirrored": ("no", "yes"),
    "cold_hands": ("never", "sometimes", "often"),
    "loose_joints": ("none", "some", "many"),
    "pregnant": ("no", "yes"),
    "under_16": ("no", "yes"),
    "thin_bones": ("no", "yes"),
    "recent_operation": ("no", "yes"),
    "cold_intolerance": ("no", "yes"),
    "states_asked": ("", "yes"),
    "little_left": ("moves alone", "moves with the ring finger"),
    "little_right": ("moves alone", "moves with the ring finger"),
    "weak_hand": ("left", "right"),
    "chair": ("firm, knees at a right angle", "not yet"),
    "stand": ("at eye line", "not yet"),
    "mirror": ("yes", "no"),
    "light": ("enough", "too little"),
    "camera": ("yes", "no"),
    "school": warmup.SCHOOLS,
    "manner": warmup.MANNERS,
    "long_sticks": ("no", "yes"),
    "rest_school": ("light day", "day off"),
    "rest_preset": tuple(rests.presets()),
    "tick": ("no", "yes"),
    "watch": WATCHES,
    "retraining": tuple(retraining_schools()),
}
ROOM = ("chair", "stand", "mirror", "light", "camera")
WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
TEXT_MAX = 1000


@dataclass(frozen=True)
class Profile:
    """Her own words about herself. Hours are local; `rest_weekday` "" = none, else 0 (Monday) to 6."""

    dominant: str = ""
    mirrored: str = ""
    cold_hands: str = ""
    loose_joints: str = ""
    pregnant: str = ""
    under_16: str = ""
    thin_bones: str = ""
    recent_operation: str = ""
    cold_intolerance: str = ""
    #: the six questions were answered, or put aside
    states_asked: str = ""
    little_left: str = ""
    little_right: str = ""
    weak_hand: str = ""
    #: how readily early signs speak
    watch: str = ""
    injuries: str = ""
    chair: str = ""
    stand: str = ""
    mirror: str = ""
    light: str = ""
    camera: str = ""
    school: str = ""
    manner: str = ""
    long_sticks: str = ""
    warm_minutes: float = 12.0
    from_hour: float = 9.0
    to_hour: float = 20.5
    rest_weekday: str = ""
    rest_school: str = ""
    #: how a grip is changed for good; "" = not chosen
    retraining: str = ""
    rest_preset: str = ""
    tick: str = ""
    #: the day on which she put today's measure off, ISO 8601
    probe_put_off: str = ""
    #: exercises that stay in every warm-up
    kept_steps: tuple[str, ...] = ()
    #: how holds are alternated, by instrument: pairs of a hold and its minutes
    alternation: dict[str, list[list[Any]]] = field(default_factory=dict)
    #: the bench as it hangs now: values by layout
    bench: dict[str, dict[str, float]] = field(default_factory=dict)

    @property
    def states(self) -> frozenset[str]:
        """What she has said of herself that leaves things out; nothing said is nothing."""
        said = {s for s in STATES if s != "loose_joints" and getattr(self, s) == "yes"}
        return frozenset({*said, "loose_joints"} if self.loose_joints in ("some", "many") else said)

    @property
    def room_open(self) -> tuple[str, ...]:
        """What of the room was answered with something still to mend."""
        return tuple(r for r in ROOM if getattr(self, r) in ("not yet", "no", "too little") and r != "camera")


def profile(context: Context) -> Profile:
    """Return what she has said so far."""
    return context.per_request("profile", lambda: _stored_profile(context))


def _stored_profile(context: Context) -> Profile:
    row = context.store.repository(ProfileRow).get()
    known = {f.name for f in fields(Profile)}
    if row is None:
        return Profile()
    said = {k: v for k, v in row.data.items() if k in known}
    return Profile(**{**said, "kept_steps": tuple(said.get("kept_steps", ()))})


def checked(data: Any) -> Profile:
    """Return kept answers as they may be; `FieldError` names the one that may not."""
    known = {f.name: f for f in fields(Profile)}
    if not isinstance(data, dict) or set(data) - set(known):
        raise FieldError("profile", "An answer is none of those that are asked.")
    usual = asdict(Profile())
    for name, value in data.items():
        kept = list(usual[name]) if isinstance(usual[name], tuple) else usual[name]
        number = isinstance(kept, float) and isinstance(value, int | float) and not isinstance(value, bool)
        if not number and type(value) is not type(kept):
            raise FieldError(name, f"“{str(value)[:40]}” is no answer to this.")
    said = Profile(**{**data, "kept_steps": tuple(data.get("kept_steps", ()))})
    if not all(isinstance(step, str) and len(step) <= 64 for step in said.kept_steps):
        raise FieldError("kept_steps", "An exercise is named by its id.")
    for turns in said.alternation.values():
        if not isinstance(turns, list) or not all(_is_turn(t) for t in turns):
            raise FieldError("alternation", "A hold is kept for some minutes, by its id.")
    for values in said.bench.values():
        numbers = isinstance(values, dict) and all(isinstance(v, int | float) and abs(v) < 1e6 for v in values.values())
        if not numbers:
            raise FieldError("bench", "The bench holds numbers by name.")
    _possible(data, said)
    return said


def _is_turn(turn: Any) -> bool:
    """True for a pair of a hold's id and its minutes."""
    if not isinstance(turn, list | tuple) or len(turn) != 2:
        return False
    hold, minutes = turn
    return isinstance(hold, str) and len(hold) <= 64 and isinstance(minutes, int | float) and 0 < minutes <= 60


def say(context: Context, **answers: Any) -> Profile:
    """Write answers down; `FieldError` names the one that is none of its words."""
    said = replace(profile(context), **answers)
    _possible(answers, said)
    corrections.put_row(context, "profile", {"data": asdict(said)})
    return said


def _possible(answers: dict[str, Any], said: Profile) -> None:
    for name, value in answers.items():
        if name in ANSWERS and value not in ("", *ANSWERS[name]):
            raise FieldError(name, f"Choose one of {', '.join(ANSWERS[name])}, or leave it open.")
    if len(answers.get("injuries", "")) > TEXT_MAX:
        raise FieldError("injuries", f"At most {TEXT_MAX} characters.")
    if (day := answers.get("probe_put_off", "")) and not re.fullmatch(r"\d{4}-\d\d-\d\d", day):
        raise FieldError("probe_put_off", "A measure is put off for a day.")
    if answers.get("rest_weekday", "") not in ("", *map(str, range(7))):
        raise FieldError("rest_weekday", "Choose a day of the week, or none.")
    if not warmup.MIN_MINUTES <= said.warm_minutes <= warmup.MAX_MINUTES:
        raise FieldError("warm_minutes", "A warm-up takes 5 to 90 minutes.")
    if not 4 <= said.from_hour < said.to_hour <= 28:
        raise FieldError(
            "to_hour", "Practice lies between 4.00 and 4.00 of the next morning, and ends after it begins."
        )
