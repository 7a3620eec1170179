"""What today's warm-up is composed from, loaded once: what was asked for, the player's day, the exercises at hand."""

from dataclasses import dataclass
from typing import Literal

from chirotend.core.body.zones import zones
from chirotend.core.measure.least_pressure import LeastPressure
from chirotend.core.plan.suits import HAND
from chirotend.core.plan.warmup import Exercise, WarmupInputs, minutes_within
from chirotend.library.loader import families
from chirotend.library.schema import ExerciseEntry, Instrument
from chirotend.services.body.condition import condition, hand_marked, terms_of
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.kit import own_library
from chirotend.services.kit.profile import profile
from chirotend.services.plan.programmes import running
from chirotend.services.technique import least_pressure
from chirotend.store.models import WarmupRow

#: what is taken in while a press is harder than it need be
LIGHT = frozenset({"least_pressure", "low_free_strokes"})

Hand = Literal["left", "right", "both"]


@dataclass(frozen=True)
class WarmupRequest:
    """What she asked for today, as it is kept."""

    instrument: str
    minutes: float
    tags: tuple[str, ...] = ()
    skipped: tuple[str, ...] = ()
    swaps: tuple[tuple[str, str], ...] = ()
    grip: str = ""
    posture: str = ""


def todays_request(context: Context) -> tuple[WarmupRequest, bool]:
    """Return what was asked for today, and whether that is kept; else the first instrument and her usual minutes."""
    row = context.store.repository(WarmupRow).get(context.today)
    if row is not None:
        w = row.wish
        swaps = tuple((a, b) for a, b in w["swaps"])
        held = (w.get(name, "") for name in ("grip", "posture"))
        return WarmupRequest(w["instrument"], w["minutes"], tuple(w["tags"]), tuple(w["skipped"]), swaps, *held), True
    first = context.player.instruments[0] if context.player.instruments else ""
    return WarmupRequest(first, profile(context).warm_minutes), False


def warmup_inputs(context: Context, asked: WarmupRequest) -> WarmupInputs:
    """Return what today's warm-up is composed from, as the call, the record and her profile stand."""
    me = profile(context)
    today = todays_call(context)
    played = own_library.instruments(context).get(asked.instrument)
    now = condition(context, today, played)
    note = today.evidence.record.note(context.today)
    call = today.issued.effective
    weaker = running.weaker_hand(context) or me.weak_hand
    return WarmupInputs(
        minutes_within(asked.minutes, today.minutes_left),
        played.family if played else "",
        context.today,
        asked.tags,
        me.school or "warm first",
        "soft" if call.startswith("muted") else me.manner or "soft",
        "open" if call == "not_enough" else call,
        now,
        bool(note and note.hands == "cold") or me.cold_hands == "often" or "cold_intolerance" in now.states,
        "" if hand_marked(now, weaker) else weaker,
        me.long_sticks == "yes",
        done_before(context),
        frozenset(asked.skipped),
        frozenset(me.kept_steps) | (LIGHT if pressed_hard(context, asked.instrument) else frozenset()),
        asked.instrument,
        dict(asked.swaps),
        today.minutes_left,
    )


def exercises_for(context: Context, instrument: str) -> list[Exercise]:
    """Return all exercises of the library and her own, with the places they load on `instrument`."""
    played = own_library.instruments(context).get(instrument)
    family = families().get(played.family) if played else None
    mirrored = profile(context).mirrored == "yes" and bool(family and family.one_way_round)
    return [as_exercise(entry, played, mirrored) for entry in own_library.exercises(context).values()]


def as_exercise(entry: ExerciseEntry, played: Instrument | None, mirrored: bool = False) -> Exercise:
    """Return an exercise with the zones it loads; one on the instrument adds what the instrument loads.

    For a mirrored player the instrument's left is her right.
    """
    side: Hand = entry.hands if entry.hands in ("left", "right") else "both"
    zones: list[tuple[str, Hand]] = [(zone, side) for zone in entry.zones_loaded]
    if entry.zones_from_instrument and played is not None:
        sides: tuple[Hand, Hand] = ("right", "left") if mirrored else ("left", "right")
        for hand, loads in zip(sides, (played.left_load, played.right_load), strict=True):
            if side in ("both", hand):
                zones += [(load.zone, hand) for load in loads]
        zones += [(load.zone, "both") for load in played.centre_load]
        zones += [
            (zone, hand) for hand in sides if side in ("both", hand) for zone in _unknown(played, hand == sides[0])
        ]
    return Exercise(
        entry.id,
        entry.name,
        entry.stage,
        entry.minutes,
        entry.families,
        entry.hands,
        tuple(dict.fromkeys(zones)),
        entry.needs_warm,
        entry.lowest_call,
        entry.tags,
        entry.school,
        terms_of(entry),
        entry.only_on,
        entry.not_on,
        entry.first,
        entry.spare,
    )


def _unknown(played: Instrument, its_left: bool) -> tuple[str, ...]:
    """The zones of a hand that the library says nothing of: what is not stated is taken as asked for, never as free."""
    stated = {zones()[load.zone].region for load in (played.left_load if its_left else played.right_load)}
    silent = [region for region in HAND if region not in stated]
    return tuple(z.id for z in zones().values() if z.region in silent)


def pressed_hard(context: Context, instrument: str) -> LeastPressure | None:
    """The newest search for the least pressure, of four weeks, while much of the press was not needed."""
    return least_pressure.still_high(context, instrument, context.today - least_pressure.LIGHT_FOR)


def done_before(context: Context) -> frozenset[str]:
    """Return the exercises of every warm-up kept before today."""
    return context.store.exercises_before(context.today)
