"""Laying the week: aims into free windows, as an integer programme. Minutes, load in AU (minutes x effort).

Laid is as much of the wanted minutes as fits; among plans that lay as much, the one that spreads own practice best,
keeps away from days that are busy already, and has the fewest pieces. The limits (usual range, ramp, taper, days off)
are the caller's; what did not fit is explained by the limits that stand in its way.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import lil_array

from chirotend.core.errors import Degenerate
from chirotend.core.plan.week import Aim, Window, plan_rules

SOLVER_SECONDS, SOLVER_GAP = 0.7, 0.01
PACKING_ATTEMPTS = 3
REASONS = ("off", "no_time", "taper", "minutes", "dose", "load", "ramp", "week", "piece")


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
class NotLaid:
    """Minutes of an aim without a place, and what stands in the way on each day."""

    aim: Aim
    minutes: float
    reasons: Mapping[date, str]


@dataclass(frozen=True)
class Plan:
    """The pieces, their value (see `plan_value`), and what did not fit."""

    pieces: tuple[Piece, ...]
    value: float
    not_laid: tuple[NotLaid, ...]


def monday(day: date) -> date:
    """Return the Monday of the week of `day`."""
    return date.fromordinal(day.toordinal() - day.weekday())


def wanted_units(aim: Aim) -> int:
    """Return the minutes wanted as whole units, rounded up."""
    return math.ceil(aim.minutes / plan_rules()["unit_min"])


def least_units(aim: Aim) -> int:
    """Return the shortest piece of an aim in units: two, or all of it when less is wanted."""
    return max(1, min(int(plan_rules()["piece_least_min"] // plan_rules()["unit_min"]), wanted_units(aim)))


def plan_value(problem: Problem, pieces: Sequence[Piece]) -> float:
    """Return what the planner maximises, in minutes: what is laid by its weight, less three small prices.

    The prices: the heaviest day of own practice, own load beside load that stands there already, each piece.
    """
    r = plan_rules()
    minutes = sum(problem.aims[p.aim].weight * p.units * r["unit_min"] for p in pieces)
    own = dict.fromkeys(problem.days, 0.0)
    for p in pieces:
        own[problem.windows[p.window].day] += p.units * r["unit_min"] * problem.aims[p.aim].effort
    busy = sum(load * problem.days[day].fixed_load for day, load in own.items())
    peak = max(own.values(), default=0.0)
    return minutes - r["peak_price"] * peak - r["busy_price"] * busy - r["piece_price"] * len(pieces)


def breaks(problem: Problem, pieces: Sequence[Piece]) -> str:
    """Return the first limit that `pieces` break, as a reason word; "" = none. The rules, in one place."""
    r = plan_rules()
    unit = r["unit_min"]
    by_window: dict[int, list[Piece]] = {}
    by_day: dict[date, list[Piece]] = {}
    for p in pieces:
        by_window.setdefault(p.window, []).append(p)
        by_day.setdefault(problem.windows[p.window].day, []).append(p)
        aim = problem.aims[p.aim]
        if not least_units(aim) <= p.units <= r["piece_most_min"] / unit:
            return "piece"
    for w, here in by_window.items():
        minutes = sum(p.units for p in here) * unit + r["rest_min"] * (len(here) - 1)
        if minutes > min(problem.windows[w].minutes, r["session_most_min"]) + 1e-9:
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


def lay(problem: Problem, seconds: float = SOLVER_SECONDS, gap: float = SOLVER_GAP) -> Plan:
    """Return the best plan found within `seconds`, or the first within the share `gap` of the best there can be.

    Minutes are shared out by day, then a day's pieces are put into its windows. A day whose pieces do not go into its
    windows has less room at the next attempt, so such a plan may be a piece short of the best.

    Raises `Degenerate` if the solver gives no answer at all.
    """
    tight: dict[date, float] = {}
    pieces: tuple[Piece, ...] = ()
    for _ in range(PACKING_ATTEMPTS if problem.aims and problem.windows else 0):
        by_day = _shared_out(problem, tight, seconds, gap)
        packed = {day: _packed(problem, day, units) for day, units in by_day.items()}
        pieces = tuple(p for found in packed.values() for p in found or ())
        spilt = [day for day, found in packed.items() if found is None]
        if not spilt:
            break
        tight = {**tight, **{day: tight.get(day, 0.0) + plan_rules()["unit_min"] / 2 for day in spilt}}
    return Plan(pieces, plan_value(problem, pieces), _explained(problem, pieces))


def _rooms(problem: Problem, day: date) -> list[tuple[int, float]]:
    """The windows of a day, longest first, with the minutes one session may have in each."""
    most = plan_rules()["session_most_min"]
    found = [(i, min(w.minutes, most)) for i, w in enumerate(problem.windows) if w.day == day]
    return sorted(found, key=lambda room: (-room[1], room[0]))


def _shared_out(
    problem: Problem, tight: Mapping[date, float], seconds: float, gap: float
) -> dict[date, dict[int, int]]:
    """Solve for the units of each aim on each day; `tight` takes minutes off the windows of a day."""
    r = plan_rules()
    unit, rest = r["unit_min"], r["rest_min"]
    most = int(r["piece_most_min"] // unit)
    days = sorted(problem.days)
    slots = [(a, day) for a in range(len(problem.aims)) for day in days]
    count, peak = len(slots), 2 * len(slots)
    program = _Program(2 * count + 1)
    for i, (a, day) in enumerate(slots):
        rooms = _rooms(problem, day)
        longest = min(most, int(rooms[0][1] // unit)) if rooms else 0
        program.at_least({i: 1, count + i: -least_units(problem.aims[a])}, 0)
        program.at_most({i: 1, count + i: -longest}, 0)
    for a, aim in enumerate(problem.aims):
        program.at_most({i: 1 for i, s in enumerate(slots) if s[0] == a}, wanted_units(aim))
    for day, room in problem.days.items():
        here = [i for i, s in enumerate(slots) if s[1] == day]
        load = {i: unit * problem.aims[slots[i][0]].effort for i in here}
        free = sum(minutes + rest for _, minutes in _rooms(problem, day)) - tight.get(day, 0.0)
        program.at_most({**dict.fromkeys(here, unit), **{count + i: rest for i in here}}, max(0.0, free))
        program.at_most(dict.fromkeys(here, unit), max(0.0, room.minutes))
        program.at_most({**load, peak: -1}, 0)
        if room.load is not None:
            program.at_most(load, max(0.0, room.load))
        for (instrument, when), ramp in problem.ramps.items():
            if when == day:
                mine = [i for i in here if problem.aims[slots[i][0]].instrument == instrument]
                program.at_most(dict.fromkeys(mine, unit), ramp)
    for week, left in problem.week_load.items():
        here = [i for i, s in enumerate(slots) if monday(s[1]) == week]
        program.at_most({i: unit * problem.aims[slots[i][0]].effort for i in here}, max(0.0, left))
    cost = np.zeros(2 * count + 1)
    for i, (a, day) in enumerate(slots):
        busy = r["busy_price"] * problem.days[day].fixed_load * problem.aims[a].effort
        cost[i], cost[count + i] = -unit * (problem.aims[a].weight - busy), r["piece_price"]
    cost[peak] = r["peak_price"]
    high = np.concatenate([np.full(count, most), np.ones(count), [np.inf]])
    solved = milp(
        cost,
        constraints=program.constraints(),
        integrality=np.concatenate([np.ones(2 * count), [0]]),
        bounds=Bounds(0, high),
        options={"time_limit": seconds, "mip_rel_gap": gap},
    )
    if solved.x is None:
        raise Degenerate("problem", "the planner found no plan in its time")
    found: dict[date, dict[int, int]] = {}
    for (a, day), n in zip(slots, np.rint(solved.x[:count]).astype(int), strict=True):
        if n > 0:
            found.setdefault(day, {})[a] = int(n)
    return found


class _Program:
    """Rows of a linear programme, each coefficients by column with one bound."""

    def __init__(self, columns: int) -> None:
        self.columns = columns
        self.rows: list[tuple[Mapping[int, float], float, float]] = []

    def at_most(self, coefficients: Mapping[int, float], bound: float) -> None:
        self.rows.append((coefficients, -np.inf, bound))

    def at_least(self, coefficients: Mapping[int, float], bound: float) -> None:
        self.rows.append((coefficients, bound, np.inf))

    def constraints(self) -> LinearConstraint:
        matrix = lil_array((len(self.rows), self.columns))
        for k, (coefficients, _, _) in enumerate(self.rows):
            for j, value in coefficients.items():
                matrix[k, j] = value
        return LinearConstraint(matrix.tocsr(), [low for _, low, _ in self.rows], [top for _, _, top in self.rows])


def _packed(problem: Problem, day: date, units: Mapping[int, int]) -> tuple[Piece, ...] | None:
    """Put the pieces of a day into its windows, longest first, trying every way; None when there is none."""
    r = plan_rules()
    pieces = sorted(units.items(), key=lambda item: (-item[1], item[0]))
    rooms = _rooms(problem, day)

    def put(k: int, free: list[float]) -> tuple[Piece, ...] | None:
        if k == len(pieces):
            return ()
        aim, n = pieces[k]
        tried = set()
        for i, (window, _) in enumerate(rooms):
            needs = n * r["unit_min"] + r["rest_min"]
            if free[i] + 1e-9 < needs or free[i] in tried:
                continue
            tried.add(free[i])
            rest = put(k + 1, [f - needs if j == i else f for j, f in enumerate(free)])
            if rest is not None:
                return (Piece(aim, window, n), *rest)
        return None

    return put(0, [minutes + r["rest_min"] for _, minutes in rooms])


def _explained(problem: Problem, pieces: Sequence[Piece]) -> tuple[NotLaid, ...]:
    """For each aim short of its minutes: which limit one more piece would break, day by day."""
    found = []
    for a, aim in enumerate(problem.aims):
        missing = wanted_units(aim) - sum(p.units for p in pieces if p.aim == a)
        if missing > 0:
            reasons = {day: _in_the_way(problem, pieces, a, day, missing) for day in problem.days}
            minutes = min(missing * plan_rules()["unit_min"], aim.minutes)
            found.append(NotLaid(aim, minutes, reasons))
    return tuple(found)


def _in_the_way(problem: Problem, pieces: Sequence[Piece], a: int, day: date, missing: int) -> str:
    """The limit that a further piece of aim `a` breaks on `day`; the mildest over the windows of that day."""
    if problem.days[day].minutes <= 0:
        return problem.days[day].why
    found = set()
    least = least_units(problem.aims[a])
    for w, window in enumerate(problem.windows):
        if window.day != day:
            continue
        mine = next((p for p in pieces if p.aim == a and p.window == w), None)
        others = [p for p in pieces if p is not mine]
        units = mine.units + 1 if mine else min(least, missing)
        found.add(breaks(problem, [*others, Piece(a, w, units)]) or "piece")
    return next((reason for reason in reversed(REASONS) if reason in found), "no_time")
