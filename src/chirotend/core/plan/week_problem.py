"""A week to lay, a plan of it, what a plan is worth, and which limit it breaks. Minutes, load in AU."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date

from chirotend.core.plan.week import Aim, Window, plan_rules


@dataclass(frozen=True)
class DayRoom:
    """What a day still takes: own minutes, load in AU (None = no limit), and why the minutes are limited.

    `fixed_load` is what stands there already. `why` is one of off, taper, dose, minutes (a light day).
    """

    day: date
    minutes: float
    load: float | None = None
    fixed_load: float = 0.0
    why: str = "minutes"


@dataclass(frozen=True)
class Problem:
    """A week (or two) to lay: aims, free windows, the room of each day, of each week, of instruments that ramp up.

    `week_load`: load each Monday's week still takes. `ramps`: minutes a day by instrument and day.
    """

    aims: tuple[Aim, ...]
    windows: tuple[Window, ...]
    days: Mapping[date, DayRoom]
    week_load: Mapping[date, float] = field(default_factory=dict)
    ramps: Mapping[tuple[str, date], float] = field(default_factory=dict)


@dataclass(frozen=True)
class Piece:
    """Units of one aim laid in one window (indices into the problem's aims and windows)."""

    aim: int
    window: int
    units: int


@dataclass(frozen=True)
class NotScheduled:
    """Minutes of an aim without a place, and what stands in the way on each day."""

    aim: Aim
    minutes: float
    reasons: Mapping[date, str]


@dataclass(frozen=True)
class Plan:
    """The pieces, their value (see `plan_value`), and what did not fit."""

    pieces: tuple[Piece, ...]
    value: float
    not_scheduled: tuple[NotScheduled, ...]


def monday(day: date) -> date:
    """Return the Monday of the week of `day`."""
    return date.fromordinal(day.toordinal() - day.weekday())


def wanted_units(aim: Aim) -> int:
    """Return the minutes wanted as whole units, rounded up."""
    return math.ceil(aim.minutes / plan_rules().unit_min)


def least_units(aim: Aim) -> int:
    """Return the shortest piece of an aim in units: two, or all of it when less is wanted."""
    return max(1, min(int(plan_rules().piece_least_min // plan_rules().unit_min), wanted_units(aim)))


def plan_value(problem: Problem, pieces: Sequence[Piece]) -> float:
    """Return what the planner maximises: weighted minutes placed, minus three penalties.

    The penalties: for the heaviest day of own practice, for own load on days with fixed load, for each piece.
    """
    r = plan_rules()
    minutes = sum(problem.aims[p.aim].weight * p.units * r.unit_min for p in pieces)
    own = dict.fromkeys(problem.days, 0.0)
    for p in pieces:
        own[problem.windows[p.window].day] += p.units * r.unit_min * problem.aims[p.aim].effort
    busy = sum(load * problem.days[day].fixed_load for day, load in own.items())
    peak = max(own.values(), default=0.0)
    return minutes - r.peak_price * peak - r.busy_price * busy - r.piece_price * len(pieces)


def breaks(problem: Problem, pieces: Sequence[Piece]) -> str:
    """Return the first limit that `pieces` break, as a reason word; "" = none. The rules, in one place."""
    r = plan_rules()
    unit = r.unit_min
    by_window: dict[int, list[Piece]] = {}
    by_day: dict[date, list[Piece]] = {}
    for p in pieces:
        by_window.setdefault(p.window, []).append(p)
        by_day.setdefault(problem.windows[p.window].day, []).append(p)
        aim = problem.aims[p.aim]
        if not least_units(aim) <= p.units <= r.piece_most_min / unit:
            return "piece"
    for w, here in by_window.items():
        minutes = sum(p.units for p in here) * unit + r.rest_min * (len(here) - 1)
        if minutes > min(problem.windows[w].minutes, r.session_most_min) + 1e-9:
            return "no_time"
    for day, here in by_day.items():
        room = problem.days[day]
        if sum(p.units for p in here) * unit > room.minutes + 1e-9:
            return room.why
        if room.load is not None and sum(p.units * unit * problem.aims[p.aim].effort for p in here) > room.load + 1e-9:
            return "load"
        if len({p.aim for p in here}) < len(here):
            return "piece"
        for (instrument, when), most in problem.ramps.items():
            used = sum(p.units * unit for p in here if problem.aims[p.aim].instrument == instrument)
            if when == day and used > most + 1e-9:
                return "ramp"
    for week, most in problem.week_load.items():
        used = sum(
            p.units * unit * problem.aims[p.aim].effort
            for day, here in by_day.items()
            if monday(day) == week
            for p in here
        )
        if used > most + 1e-9:
            return "week"
    for i, aim in enumerate(problem.aims):
        if sum(p.units for p in pieces if p.aim == i) > wanted_units(aim):
            return "piece"
    return ""


def rooms_of(problem: Problem, day: date) -> list[tuple[int, float]]:
    """The windows of a day, longest first, with the minutes one session may have in each."""
    most = plan_rules().session_most_min
    found = [(i, min(w.minutes, most)) for i, w in enumerate(problem.windows) if w.day == day]
    return sorted(found, key=lambda room: (-room[1], room[0]))
