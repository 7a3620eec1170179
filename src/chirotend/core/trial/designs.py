"""What each order of days can show, and what it takes for an answer: simulated trials of 28 days and ten days more."""

import random
from dataclasses import dataclass
from functools import cache

from chirotend.core.tables import rows
from chirotend.core.trial.order import LEAST, drawn

DAYS = 28
_SEED = 3


@dataclass(frozen=True)
class TrialDesign:
    """How many of 100 trials in an order say “better”: of a change that does nothing (the worst of five simulated
    players), for a player who recovers anyway, of a change as large as the spread of her days, of one twice as large.

    `example` = days it could be drawn as, A without and B with the change.
    """

    order: str
    nothing: float
    recovering: float
    one: float
    two: float
    example: str


@cache
def trial_designs() -> tuple[TrialDesign, ...]:
    """Return the orders of `trial_designs.csv`, which docs/validation.md shows in full."""
    lot = random.Random(_SEED)
    return tuple(
        TrialDesign(
            r["order"],
            float(r["nothing"]),
            float(r["recovering"]),
            float(r["one"]),
            float(r["two"]),
            drawn(r["order"], DAYS, LEAST, lot),
        )
        for r in rows("trial_designs")
    )
