"""Coming back in steps: what a day's answers do to the minutes of the next. Minutes a day; strengths 0-10.

Common practice, not tested on players; the scale of pain comes from studies of knee and heel.
"""

import math
from dataclasses import dataclass
from functools import cache

from chirotend.core.tables import typed

DOSE_MIN, DOSE_MAX = 5.0, 600.0
UP, HOLD, BACK = "up", "hold", "back"


@dataclass(frozen=True)
class StepRule:
    """When a dose goes up, stays or goes back.

    Felt up to `up_to` it may go up, from `stop_from` on it goes back; so it does when a morning is `back_rise` above
    its usual. A step adds the share `growth`, `most_step_min` at most; no dose that is played is under `least_min`.
    """

    growth: float
    most_step_min: float
    least_min: float
    up_to: float
    stop_from: float
    back_rise: float


@cache
def hands() -> StepRule:
    """Return the stricter rule for hands, from `programme_rules.csv`."""
    return typed(StepRule, "programme_rules")


def stepped_up(minutes: float, growth: float, most_step_min: float = math.inf) -> float:
    """Return the dose one step up: a share more, rounded half up, at least one minute and at most `most_step_min`."""
    wanted = max(minutes + 1, math.floor(minutes * (1 + growth) + 0.5))
    return min(wanted, minutes + most_step_min)
