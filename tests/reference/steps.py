"""Coming back in steps as the published rules have it, for any joint: to hold the walk of a programme against."""

import math
from dataclasses import dataclass

from chirotend.core.errors import check_range
from chirotend.core.plan.programmes.steps import BACK, DOSE_MAX, DOSE_MIN, HOLD, UP, StepRule, stepped_up


@dataclass(frozen=True)
class NextStep:
    """What happens to the dose (`UP`, `HOLD` or `BACK`), and the minutes it becomes."""

    action: str
    minutes: float


#: "over 5" and "above the usual of mornings", as the sources have it for any joint
GENERAL = StepRule(0.1, math.inf, DOSE_MIN, 2, math.nextafter(5, 6), math.nextafter(0, 1))


def pain_zone(nrs: float) -> str:
    """Return safe (up to 2), acceptable (up to 5) or stop.

    Thomeé 1997, Phys Ther 77:1690-1703 (knee); Silbernagel et al. 2007, Am J Sports Med 35:897-906 (heel); from
    memory. A name of the method, never said to a player: nothing here is "safe".
    """
    felt = check_range("nrs", nrs, 0, 10)
    return "safe" if felt <= 2 else "acceptable" if felt <= 5 else "stop"


def next_minutes(
    minutes: float,
    previous_ok: float,
    during: float,
    after24: float,
    morning: float,
    morning_baseline: float,
    hours_since_increase: float,
    growth: float = GENERAL.growth,
    rule: StepRule = GENERAL,
) -> NextStep:
    """Return the next dose after one of `minutes` (5-600): up, the same, or back to `previous_ok` (5-600).

    `during`, `after24` (the strongest of the day after), `morning` and its usual are 0-10. `growth` is .1 to .2. A step
    up is a whole minute at least, rounded half up, and waits 48 hours for the last. Common practice, no source.
    """
    now = check_range("minutes", minutes, DOSE_MIN, DOSE_MAX, "min")
    before = check_range("previous_ok", previous_ok, DOSE_MIN, DOSE_MAX, "min")
    felt = max(check_range("during", during, 0, 10), check_range("after24", after24, 0, 10))
    rise = check_range("morning", morning, 0, 10) - check_range("morning_baseline", morning_baseline, 0, 10)
    hours = check_range("hours_since_increase", hours_since_increase, low=0, unit="h")
    share = check_range("growth", growth, 0.1, 0.2)
    if felt >= rule.stop_from or rise >= rule.back_rise:
        return NextStep(BACK, max(rule.least_min, min(before, now)))
    if felt <= rule.up_to and hours >= 48:
        return NextStep(UP, stepped_up(now, share, rule.most_step_min))
    return NextStep(HOLD, now)


def steps_to_goal(start: float, goal: float, growth: float, most_step_min: float = math.inf) -> tuple[float, ...]:
    """Return the doses from `start` to `goal` (5-600 min, goal not below start), the last step cut to the goal."""
    low = check_range("start", start, DOSE_MIN, DOSE_MAX, "min")
    high = check_range("goal", goal, low, DOSE_MAX, "min")
    share = check_range("growth", growth, 0.1, 0.2)
    ladder = [low]
    while ladder[-1] < high:
        ladder.append(min(high, stepped_up(ladder[-1], share, most_step_min)))
    return tuple(ladder)
