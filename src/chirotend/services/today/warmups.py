"""The warm-up of the day: composed from the library for her instrument, marks and call, changed and kept by her."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Any

from chirotend.core.errors import MethodError
from chirotend.core.plan.cycles import accented_fingers, last_finger, rhythm_variants, scale_notes
from chirotend.core.plan.suits import NEEDS
from chirotend.core.plan.warmup import (
    DRILLS,
    LONG_ON_STICKS,
    MAX_MINUTES,
    MIN_MINUTES,
    Exercise,
    Step,
    Warmup,
    WarmupInputs,
    compose,
    offered_today,
)
from chirotend.library.schema import ExerciseEntry
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.kit import holds, own_library
from chirotend.services.kit.holds import Usual
from chirotend.services.kit.profile import profile, say
from chirotend.services.technique.least_pressure import HIGH_PCT
from chirotend.services.today.warmup_inputs import (
    LIGHT,
    WarmupRequest,
    exercises_for,
    pressed_hard,
    todays_request,
    warmup_inputs,
)
from chirotend.services.units import whole
from chirotend.services.words import listed, place_name, sentence
from chirotend.store.models import WarmupRow

MUSIC_STAGES = ("easy and soft", "one hand alone", DRILLS, "variants", "today's patterns")


@dataclass(frozen=True)
class ShownStep:
    """A step as the page shows it: the step, its entry in the library, a note for today, what may stand instead."""

    step: Step
    entry: ExerciseEntry
    note: str
    instead: tuple[tuple[str, str], ...]
    kept: bool


@dataclass(frozen=True)
class ShownWarmup:
    """Today's warm-up: what was asked for, the steps, what was left out and why, and the tags to choose from."""

    instrument: str
    minutes: float
    tags: tuple[str, ...]
    call: str
    warmup: Warmup
    steps: tuple[ShownStep, ...]
    left_out: tuple[str, ...]
    #: what was left out because it does not suit the instrument or the hold: every day the same
    not_for_it: tuple[str, ...]
    all_tags: tuple[str, ...]
    #: there is a long warm-up on sticks to choose
    on_sticks: bool
    kept: bool
    #: how she holds it in this warm-up ("" = not said), and what she usually takes
    grip: str
    posture: str
    usual: Usual


def warmup_page(context: Context) -> ShownWarmup:
    """Return today's warm-up as it stands: kept and changed by her, or composed afresh."""
    asked, kept = todays_request(context)
    entries = own_library.exercises(context)
    inputs, offered = warmup_inputs(context, asked), exercises_for(context, asked.instrument)
    warmup = compose(inputs, offered)
    free = {
        stage: [e for e in each if e.id not in warmup.ids] for stage, each in offered_today(inputs, offered).items()
    }
    return ShownWarmup(
        asked.instrument,
        asked.minutes,
        asked.tags,
        inputs.call,
        warmup,
        tuple(_shown_step(context, inputs, step, entries, free[step.exercise.stage]) for step in warmup.steps),
        (*_for_the_limit(asked, inputs), *_shorter(replace(asked, minutes=inputs.minutes), warmup), *_left_out(warmup)),
        _not_for_it(warmup),
        _music_tags(offered, inputs.family),
        any(e.school == LONG_ON_STICKS and _fits(e, inputs.family) for e in offered),
        kept,
        asked.grip,
        asked.posture,
        holds.usual(context, asked.instrument),
    )


def _music_tags(offered: Sequence[Exercise], family: str) -> tuple[str, ...]:
    """What music can ask for and this family has an exercise for."""
    return tuple(sorted({t for e in offered if e.stage in MUSIC_STAGES and _fits(e, family) for t in e.tags}))


def _fits(exercise: Exercise, family: str) -> bool:
    return "all" in exercise.families or family in exercise.families


def asks_first(context: Context) -> bool:
    """Return whether the six questions about what suits her are still open before her first warm-up."""
    return not profile(context).states_asked and not context.store.repository(WarmupRow).some(("day",), most=1)


def _shown_step(
    context: Context, inputs: WarmupInputs, step: Step, entries: Mapping[str, ExerciseEntry], free: Sequence[Exercise]
) -> ShownStep:
    note = ""
    if step.exercise.stage == "variants":
        variants = rhythm_variants()
        note = sentence("warmup", "rhythm", name=variants[context.today.toordinal() % len(variants)].name)
    if step.exercise.id in LIGHT and (hard := pressed_hard(context, inputs.instrument)) is not None:
        note = sentence("warmup", "light", wasted=f"{hard.wasted:.0f}", high=f"{HIGH_PCT:.0f}")
    answered = [tag for tag in inputs.tags if tag in step.exercise.tags]
    if answered and not note:
        note = sentence("warmup", "for_today", music=listed(answered))
    instead = tuple((e.id, e.name) for e in free[:8])
    return ShownStep(step, entries[step.exercise.id], note, instead, step.exercise.id in profile(context).kept_steps)


def _for_the_limit(asked: WarmupRequest, inputs: WarmupInputs) -> tuple[str, ...]:
    if inputs.minutes >= asked.minutes:
        return ()
    return (sentence("warmup", "half_of_limit", minutes=f"{inputs.minutes:g}", asked=f"{asked.minutes:g}"),)


def _shorter(asked: WarmupRequest, warmup: Warmup) -> tuple[str, ...]:
    """Say so where less is left to offer than she asked for: nothing is stretched to fill the time."""
    if not warmup.steps or warmup.minutes > asked.minutes - 1:
        return ()
    return (sentence("warmup", "only_so_many", minutes=f"{warmup.minutes:g}"),)


def _left_out(warmup: Warmup) -> tuple[str, ...]:
    """Say what was left out, by its reason: the marked place, the call, or that it would be new."""
    found = []
    for why, these in _by_why(warmup).items():
        if why.startswith("marked:"):
            _, region, side = why.split(":")
            found.append(sentence("warmup", "out_marked", place=place_name((region, side)), exercises=these))
        elif why == "call":
            found.append(sentence("warmup", "out_call", exercises=these))
        elif why.startswith("state:"):
            found.append(sentence("warmup", "out_state", state=why[6:].replace("_", " "), exercises=these))
        elif why == "warm":
            found.append(sentence("warmup", "out_cold", exercises=these))
        elif not why.startswith("needs:"):
            found.append(sentence("warmup", "out_new", exercises=these))
    return tuple(found)


def _not_for_it(warmup: Warmup) -> tuple[str, ...]:
    found = {why[6:]: these for why, these in _by_why(warmup).items() if why.startswith("needs:")}
    return tuple(sentence("warmup", "out_needs", what=NEEDS[need], exercises=these) for need, these in found.items())


def _by_why(warmup: Warmup) -> dict[str, str]:
    """The exercises that were left out, listed by reason."""
    names: dict[str, list[str]] = {}
    for out in warmup.left_out:
        names.setdefault(out.why, []).append(out.exercise.name)
    return {why: listed(n[:3] if len(n) < 5 else [*n[:3], f"{len(n) - 3} more"]) for why, n in names.items()}


def change(
    context: Context,
    minutes: float | None = None,
    instrument: str | None = None,
    tags: Sequence[str] | None = None,
    skip: str = "",
    swap: tuple[str, str] | None = None,
    grip: str | None = None,
    posture: str | None = None,
) -> None:
    """Change today's warm-up and keep it so; `FieldError` names the field."""
    asked, _ = todays_request(context)
    if minutes is not None:
        if not MIN_MINUTES <= minutes <= MAX_MINUTES:
            raise FieldError("warm_minutes", "A warm-up takes 5 to 90 minutes.")
        asked = replace(asked, minutes=minutes, skipped=(), swaps=())
    if instrument is not None:
        if instrument not in own_library.instruments(context):
            raise FieldError("instrument", "Choose one of your instruments.")
        if instrument != asked.instrument:
            asked, grip, posture = replace(asked, instrument=instrument, grip="", posture=""), None, None
    known = own_library.grips(context)
    for name, hold in (("grip", grip), ("posture", posture)):
        if hold and hold not in known:
            raise FieldError(name, "Choose a grip or seat of the list, or leave it open.")
    asked = replace(
        asked,
        grip=asked.grip if grip is None else grip,
        posture=asked.posture if posture is None else posture,
    )
    if tags is not None:
        asked = replace(asked, tags=tuple(t[:40] for t in tags[:12]))
    if skip:
        asked = replace(asked, skipped=tuple(dict.fromkeys((*asked.skipped, skip[:64]))))
    if swap:
        asked = replace(asked, swaps=tuple({**dict(asked.swaps), swap[0][:64]: swap[1][:64]}.items()))
    keep(context, asked)


def keep(context: Context, asked: WarmupRequest | None = None) -> Warmup:
    """Keep today's warm-up as it stands, so that the stand and later days know it."""
    asked = asked or todays_request(context)[0]
    try:
        warmup = compose(warmup_inputs(context, asked), exercises_for(context, asked.instrument))
    except MethodError as error:
        raise FieldError("warm_minutes", "A warm-up takes 5 to 90 minutes.") from error
    wish: dict[str, Any] = {
        "instrument": asked.instrument,
        "minutes": asked.minutes,
        "tags": list(asked.tags),
        "skipped": list(asked.skipped),
        "swaps": [list(pair) for pair in asked.swaps],
        "grip": asked.grip,
        "posture": asked.posture,
    }
    steps = [
        {"id": s.exercise.id, "name": s.exercise.name, "minutes": round(s.minutes, 2), "hand": s.hand}
        for s in warmup.steps
    ]
    context.store.repository(WarmupRow).put({"day": context.today, "wish": wish, "steps": steps})
    return warmup


def keep_step(context: Context, exercise_id: str) -> None:
    """Let an exercise stay in every warm-up from now on, or let it turn again."""
    if exercise_id not in own_library.exercises(context):
        raise NotThere(exercise_id)
    kept = profile(context).kept_steps
    say(context, kept_steps=tuple(k for k in kept if k != exercise_id) if exercise_id in kept else (*kept, exercise_id))


def compose_afresh(context: Context) -> None:
    """Forget what was changed about today's warm-up."""
    context.store.repository(WarmupRow).drop(context.today)


@dataclass(frozen=True)
class StandStep:
    """A step as the stand shows it; a step on the instrument is held as she said."""

    name: str
    how: str
    minutes: float
    grip: str = ""
    posture: str = ""


def kept_steps(context: Context, day: date) -> tuple[StandStep, ...]:
    """Return the steps kept for `day`, for the stand; none when nothing was kept."""
    row = context.store.repository(WarmupRow).get(day)
    if row is None:
        return ()
    entries, held = own_library.exercises(context), [row.wish.get(name, "") for name in ("grip", "posture")]
    found = []
    for s in row.steps:
        entry, name = entries.get(s["id"]), s["name"] + ("" if s["hand"] == "both" else f", {s['hand']} hand")
        on_instrument = held if entry and entry.zones_from_instrument else ()
        found.append(StandStep(name, entry.how if entry else "", s["minutes"], *on_instrument))
    return tuple(found)


def instrument_of(context: Context) -> str:
    """Return the instrument today's warm-up is for."""
    asked, _ = todays_request(context)
    if asked.instrument not in own_library.instruments(context):
        raise NotThere(asked.instrument)
    return asked.instrument


@dataclass(frozen=True)
class CountedOut:
    """A cycle counted out: how many notes, the first and last finger, which fingers the accents work."""

    notes: int
    first: str
    last: str
    accented: tuple[str, ...]
    fingers: int


def counted_out(typed: Mapping[str, str]) -> CountedOut:
    """Count a fingering cycle out over a scale (octaves) or so many notes; `FieldError` names the field."""
    cycle = typed["cycle"].replace("-", " ").replace(",", " ").split()
    if not cycle or len(cycle) > 16:
        raise FieldError("cycle", "Write 1 to 16 fingers with spaces between, such as i m a m.")
    notes = _whole("notes", typed["notes"], "Notes run from 1 to 2000.") if typed["notes"].strip() else None
    octaves = _whole("octaves", typed["octaves"], "Octaves run from 1 to 8.") if notes is None else 1
    group = _whole("group", typed["group"], "An accent falls on every 1st to 16th note.")
    try:
        count = scale_notes(octaves) if notes is None else notes
        last, accented = last_finger(cycle, count), accented_fingers(cycle, group)
    except MethodError as error:
        raise FieldError(error.field, "Octaves run from 1 to 8, notes from 1 to 2000, accents from 1 to 16.") from error
    return CountedOut(count, cycle[0], last, accented, len(set(cycle)))


def _whole(field: str, text: str, wanted: str) -> int:
    number = whole(text)
    if number is None:
        raise FieldError(field, f"“{text[:20]}” is not a whole number. {wanted}")
    return number
