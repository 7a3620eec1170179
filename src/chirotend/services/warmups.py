"""The warm-up of the day: composed from the library for her instrument, marks and call."""

from chirotend.core.plan.warmup import Exercise
from chirotend.library.loader import exercises, instruments
from chirotend.library.schema import ExerciseEntry, Instrument


def shipped_exercises(instrument: str) -> list[Exercise]:
    """Return the library's exercises as the composer reads them, for a player of `instrument`."""
    played = instruments().get(instrument)
    return [as_exercise(entry, played) for entry in exercises().values()]


def as_exercise(entry: ExerciseEntry, played: Instrument | None) -> Exercise:
    """Return an exercise with the zones it loads; one on the instrument adds what the instrument loads."""
    side = entry.hands if entry.hands in ("left", "right") else "both"
    zones = [(zone, side) for zone in entry.zones_loaded]
    if entry.zones_from_instrument and played is not None:
        for hand, loads in (("left", played.left_load), ("right", played.right_load)):
            if side in ("both", hand):
                zones += [(load.zone, hand) for load in loads]
        zones += [(load.zone, "both") for load in played.centre_load]
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
    )
