"""The exercises of the library as the composer reads them."""

from chirotend.core.plan.warmup import Exercise
from chirotend.library.loader import exercises, instruments
from chirotend.services.today.warmup_inputs import as_exercise


def shipped_exercises(instrument: str) -> list[Exercise]:
    """Return the library's exercises as the composer reads them, for a player of `instrument`."""
    played = instruments().get(instrument)
    return [as_exercise(entry, played) for entry in exercises().values()]
