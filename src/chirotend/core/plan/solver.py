"""The week as an integer programme: minutes shared out by day, then packed into windows."""

import math
from collections.abc import Mapping
from datetime import date
from typing import Any

import numpy as np
from numpy.typing import NDArray

from chirotend.core.errors import Degenerate
from chirotend.core.late import late
from chirotend.core.plan.week import plan_rules
from chirotend.core.plan.week_problem import Piece, Problem, least_units, monday, rooms_of, wanted_units

optimize = late("scipy.optimize")
sparse = late("scipy.sparse")

PACKING_ATTEMPTS = 3
Floats = NDArray[np.float64]


# one programme over aims and windows found no plan in time: decisions 18 and 19
def solver_plan(problem: Problem, seconds: float, gap: float) -> tuple[Piece, ...]:
    """Share minutes out by day, then put a day's pieces into its windows.

    A day whose pieces do not go into its windows has less room at the next attempt. `Degenerate` without an answer.
    """
    tight: dict[date, float] = {}
    pieces: tuple[Piece, ...] = ()
    for _ in range(PACKING_ATTEMPTS):
        by_day = _shared_out(problem, tight, seconds, gap)
        packed = {day: _packed(problem, day, units) for day, units in by_day.items()}
        pieces = tuple(p for found in packed.values() for p in found or ())
        spilt = [day for day, found in packed.items() if found is None]
        if not spilt:
            break
        tight = {**tight, **{day: tight.get(day, 0.0) + plan_rules().unit_min / 2 for day in spilt}}
    return pieces


def bound(problem: Problem) -> float:
    """Return what no plan can pass, in the minutes of `plan_value`: here a piece may be any fraction of a unit."""
    if not problem.aims or not problem.windows:
        return 0.0
    cost, constraints, high, _ = _programme(problem, {})
    solved = optimize.milp(cost, constraints=constraints, bounds=optimize.Bounds(0, high))
    return math.inf if solved.x is None else -float(solved.fun)


def _shared_out(
    problem: Problem, tight: Mapping[date, float], seconds: float, gap: float
) -> dict[date, dict[int, int]]:
    """Solve for the units of each aim on each day; `tight` takes minutes off the windows of a day."""
    cost, constraints, high, slots = _programme(problem, tight)
    count = len(slots)
    solved = optimize.milp(
        cost,
        constraints=constraints,
        integrality=np.concatenate([np.ones(2 * count), [0]]),
        bounds=optimize.Bounds(0, high),
        options={"time_limit": seconds, "mip_rel_gap": gap},
    )
    if solved.x is None:
        raise Degenerate("problem", "the planner found no plan in its time")
    found: dict[date, dict[int, int]] = {}
    for (a, day), n in zip(slots, np.rint(solved.x[:count]).astype(int), strict=True):
        if n > 0:
            found.setdefault(day, {})[a] = int(n)
    return found


def _programme(problem: Problem, tight: Mapping[date, float]) -> tuple[Floats, Any, Floats, list[tuple[int, date]]]:
    """Return cost, constraints and upper bounds over (units, whether there is a piece) of each slot, and the peak.

    The slots are (aim, day) in the order of the columns.
    """
    r = plan_rules()
    unit, rest = r.unit_min, r.rest_min
    most = int(r.piece_most_min // unit)
    days = sorted(problem.days)
    slots = [(a, day) for a in range(len(problem.aims)) for day in days]
    count, peak = len(slots), 2 * len(slots)
    program = _Program(2 * count + 1)
    for i, (a, day) in enumerate(slots):
        rooms = rooms_of(problem, day)
        longest = min(most, int(rooms[0][1] // unit)) if rooms else 0
        program.at_least({i: 1, count + i: -least_units(problem.aims[a])}, 0)
        program.at_most({i: 1, count + i: -longest}, 0)
    for a, aim in enumerate(problem.aims):
        program.at_most({i: 1 for i, s in enumerate(slots) if s[0] == a}, wanted_units(aim))
    for day, room in problem.days.items():
        here = [i for i, s in enumerate(slots) if s[1] == day]
        load = {i: unit * problem.aims[slots[i][0]].effort for i in here}
        free = sum(minutes + rest for _, minutes in rooms_of(problem, day)) - tight.get(day, 0.0)
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
        busy = r.busy_price * problem.days[day].fixed_load * problem.aims[a].effort
        cost[i], cost[count + i] = -unit * (problem.aims[a].weight - busy), r.piece_price
    cost[peak] = r.peak_price
    high = np.concatenate([np.full(count, most), np.ones(count), [np.inf]])
    return cost, program.constraints(), high, slots


class _Program:
    """Rows of a linear programme, each coefficients by column with one bound."""

    def __init__(self, columns: int) -> None:
        self.columns = columns
        self.rows: list[tuple[Mapping[int, float], float, float]] = []

    def at_most(self, coefficients: Mapping[int, float], bound: float) -> None:
        self.rows.append((coefficients, -np.inf, bound))

    def at_least(self, coefficients: Mapping[int, float], bound: float) -> None:
        self.rows.append((coefficients, bound, np.inf))

    def constraints(self) -> Any:
        matrix = sparse.lil_array((len(self.rows), self.columns))
        for k, (coefficients, _, _) in enumerate(self.rows):
            for j, value in coefficients.items():
                matrix[k, j] = value
        return optimize.LinearConstraint(
            matrix.tocsr(), [low for _, low, _ in self.rows], [top for _, _, top in self.rows]
        )


def _packed(problem: Problem, day: date, units: Mapping[int, int]) -> tuple[Piece, ...] | None:
    """Put the pieces of a day into its windows, longest first, trying every way; None when there is none."""
    r = plan_rules()
    pieces = sorted(units.items(), key=lambda item: (-item[1], item[0]))
    rooms = rooms_of(problem, day)

    def put(k: int, free: list[float]) -> tuple[Piece, ...] | None:
        if k == len(pieces):
            return ()
        aim, n = pieces[k]
        tried = set()
        for i, (window, _) in enumerate(rooms):
            needs = n * r.unit_min + r.rest_min
            if free[i] + 1e-9 < needs or free[i] in tried:
                continue
            tried.add(free[i])
            rest = put(k + 1, [f - needs if j == i else f for j, f in enumerate(free)])
            if rest is not None:
                return (Piece(aim, window, n), *rest)
        return None

    return put(0, [minutes + r.rest_min for _, minutes in rooms])
