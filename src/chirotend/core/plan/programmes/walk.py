"""A programme in steps, day by day: where the dose stands, why, and what would move it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from functools import cache
from itertools import pairwise

from chirotend.core.errors import check_range
from chirotend.core.plan.programmes.seen import DaySeen
from chirotend.core.plan.programmes.steps import BACK, DOSE_MAX, HOLD, UP, StepRule, hands, stepped_up
from chirotend.core.tables import typed

#: how far ahead the doses are drawn: any aim is reached by then when all goes well
AHEAD_DAYS = 120
#: unplayed days in a row that take one step back
GAP_DAYS = 7
START, GIVEN = "start", "given"
RUNNING, ASK, REACHED = "running", "ask", "reached"


@dataclass(frozen=True)
class WalkRule:
    """Days at a dose before it goes up; how far past a dose is past it; steps back in a row before someone is asked."""

    days_at_dose: int
    over_share: float
    backs_to_ask: int


@cache
def walk_rule() -> WalkRule:
    return typed(WalkRule, "programme_rules")


@dataclass(frozen=True)
class Climb:
    """What is climbed: from a day at a dose to a aim (minutes a day); `given`: doses named by whoever she asked."""

    first: date
    start_min: float
    aim_min: float
    given: Mapping[date, float]

    def __post_init__(self) -> None:
        check_range("start_min", self.start_min, 1, DOSE_MAX, "min")
        check_range("aim_min", self.aim_min, self.start_min, DOSE_MAX, "min")


@dataclass(frozen=True)
class DayStep:
    """A day's dose (minutes), what it did (`START`, `UP`, `HOLD`, `BACK`, `GIVEN`) and why, as a code with its number.

    Codes: of BACK felt, sign, morning, gap; of UP quiet; of HOLD felt (over 2), first_day (one more at this dose),
    not_written, not_played, not_asked, over, held (the call was not Open), ask, aim. `stopped`: nothing more that day.
    """

    day: date
    dose: float
    action: str
    why: str
    number: float = 0.0
    stopped: bool = False

    @property
    def allowed(self) -> float:
        """Minutes that the day allows."""
        return 0.0 if self.stopped else self.dose


@dataclass(frozen=True)
class Walk:
    """The days so far, today last; the state (`RUNNING`, `ASK` someone, `REACHED`); what each way would make of it.

    `up_in_days`: days with nothing felt until the next step up (0 = it has just gone up; None = it cannot).
    """

    steps: tuple[DayStep, ...]
    state: str
    up_to: float
    back_to: float
    up_in_days: int | None
    ahead: tuple[tuple[date, float], ...]

    @property
    def today(self) -> DayStep:
        return self.steps[-1]

    @property
    def number(self) -> int:
        """How many different doses up to now were climbed, this one included."""
        return len({s.dose for s in self.steps if s.dose <= self.today.dose})


@dataclass(frozen=True)
class _At:
    """Where the climb stands: the dose, the doses below it that were well, good days at it, steps back in a row."""

    dose: float
    below: tuple[float, ...] = ()
    good: int = 0
    backs: int = 0
    unplayed: int = 0


def walked(climb: Climb, days: Sequence[DaySeen], rule: StepRule | None = None) -> Walk:
    """Return the walk over `days`, each day in order from `climb.first` on, today last.

    A day counts when it was played within its dose and asked about, with the call Open, and the morning after was asked
    too: a day not written is never a quiet one. Without days it is the start itself.
    """
    rule = rule or hands()
    start = min(climb.aim_min, climb.given.get(climb.first, climb.start_min))
    at = _At(start)
    steps = [DayStep(climb.first, start, START, GIVEN if climb.first in climb.given else START)]
    for before, now in pairwise(days):
        at, step = _morning(climb, rule, at, before, now)
        steps.append(step)
    if days:
        steps[-1] = replace(steps[-1], stopped=_stops(rule, days[-1]))
    state = _state(climb, at)
    nearest = max(0, walk_rule().days_at_dose - at.good) if state == RUNNING and at.dose < climb.aim_min else None
    return Walk(
        tuple(steps),
        state,
        _up(climb, rule, at.dose),
        at.below[-1] if at.below else at.dose,
        nearest,
        _ahead(climb, rule, at, steps[-1].day) if state == RUNNING else (),
    )


def _state(climb: Climb, at: _At) -> str:
    if at.backs >= walk_rule().backs_to_ask:
        return ASK
    return REACHED if at.dose >= climb.aim_min and at.good >= walk_rule().days_at_dose else RUNNING


def _morning(climb: Climb, rule: StepRule, at: _At, before: DaySeen, now: DaySeen) -> tuple[_At, DayStep]:
    """What yesterday and this morning make of the dose."""
    if now.day in climb.given:
        dose = min(climb.aim_min, climb.given[now.day])
        return _At(dose), DayStep(now.day, dose, GIVEN, GIVEN)
    unplayed = 0 if before.minutes else at.unplayed + 1
    at = replace(at, unplayed=unplayed)
    if at.backs >= walk_rule().backs_to_ask:
        return at, DayStep(now.day, at.dose, HOLD, "ask")
    felt = before.felt or 0.0
    for why, is_so, number in (
        ("felt", felt >= rule.stop_from, felt),
        ("sign", before.sign or now.woke_with, 0.0),
        ("morning", (now.rise or 0.0) >= rule.back_rise, now.rise or 0.0),
    ):
        if is_so:
            return _back(rule, at, now.day, why, number, at.backs + 1)
    if unplayed and unplayed % GAP_DAYS == 0:
        return _back(rule, at, now.day, "gap", unplayed, at.backs)
    why = _not_counted(at, before, now)
    if why:
        return at, DayStep(now.day, at.dose, HOLD, why, before.minutes or 0.0)
    if felt > rule.up_to:
        return replace(at, good=0), DayStep(now.day, at.dose, HOLD, "felt", felt)
    return _quiet(climb, rule, replace(at, good=at.good + 1), now.day)


def _quiet(climb: Climb, rule: StepRule, at: _At, day: date) -> tuple[_At, DayStep]:
    """One more quiet day at this dose: it may go up."""
    if at.good < walk_rule().days_at_dose:
        return at, DayStep(day, at.dose, HOLD, "first_day")
    if at.dose >= climb.aim_min:
        return at, DayStep(day, at.dose, HOLD, "aim")
    higher = _At(_up(climb, rule, at.dose), (*at.below, at.dose))
    return higher, DayStep(day, higher.dose, UP, "quiet")


def _back(rule: StepRule, at: _At, day: date, why: str, number: float, backs: int) -> tuple[_At, DayStep]:
    lower = at.below[-1] if at.below else max(min(rule.least_min, at.dose), at.dose / 2)
    return _At(lower, at.below[:-1], 0, backs, at.unplayed), DayStep(day, lower, BACK, why, number)


def _not_counted(at: _At, before: DaySeen, now: DaySeen) -> str:
    """Why yesterday is no day at this dose; "" = it is one."""
    if before.held:
        return "held"
    if not before.minutes:
        return "not_written" if before.minutes is None else "not_played"
    if before.minutes > at.dose * walk_rule().over_share:
        return "over"
    return "not_asked" if before.felt is None or now.rise is None else ""


def _stops(rule: StepRule, today: DaySeen) -> bool:
    """True when what was felt today ends its playing."""
    return today.sign or today.woke_with or (today.felt or 0.0) >= rule.stop_from


def _up(climb: Climb, rule: StepRule, dose: float) -> float:
    return min(climb.aim_min, stepped_up(dose, rule.growth, rule.most_step_min))


def _ahead(climb: Climb, rule: StepRule, at: _At, today: date) -> tuple[tuple[date, float], ...]:
    """The doses of the days ahead if each is played and quiet, until the aim has been held long enough."""
    needed, found = walk_rule().days_at_dose, []
    dose, good = at.dose, at.good
    for n in range(1, AHEAD_DAYS + 1):
        good += 1
        if good >= needed and dose < climb.aim_min:
            dose, good = _up(climb, rule, dose), 0
        found.append((today + timedelta(days=n), dose))
        if dose >= climb.aim_min and good >= needed - 1:
            break
    return tuple(found)
