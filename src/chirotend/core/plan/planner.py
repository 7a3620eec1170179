"""Laying the week: aims into free windows, piece by piece, and as an integer programme where that is not good enough.

Laid is as much of the wanted minutes as fits; among plans that lay as much, the one that spreads own practice best,
keeps away from days that are busy already, and has the fewest pieces. The limits (usual range, ramp, taper, days off)
are the caller's; what did not fit is explained by the limits that stand in its way. Minutes, load in AU.
"""

from collections.abc import Sequence
from datetime import date
from functools import partial

from chirotend.core.errors import Degenerate
from chirotend.core.plan.piece_by_piece import orders, piece_by_piece
from chirotend.core.plan.solver import bound, solver_plan
from chirotend.core.plan.week import plan_rules
from chirotend.core.plan.week_problem import (
    NotScheduled,
    Piece,
    Plan,
    Problem,
    breaks,
    least_units,
    plan_value,
    wanted_units,
)

SOLVER_SECONDS = 0.7
SOLVER_GAP = 0.01
SAME = 1e-9
REASONS = ("off", "no_time", "taper", "minutes", "dose", "load", "ramp", "week", "piece")


# piece by piece first, and the programme only where that is not good enough: decision 58
def schedule(problem: Problem, seconds: float = SOLVER_SECONDS, gap: float = SOLVER_GAP) -> Plan:
    """Return the best plan found within `seconds`, or the first within the share `gap` of the best there can be.

    Pieces laid one after the other are taken when they come that near to what no plan can pass. Else the integer
    programme is solved too, and the better of both is taken.

    Raises `Degenerate` if nothing was laid and the solver gives no answer at all.
    """
    quick = max((piece_by_piece(problem, order) for order in orders(problem)), key=partial(plan_value, problem))
    if plan_value(problem, quick) >= (1 - gap) * bound(problem) - SAME:
        return _plan(problem, quick)
    try:
        solved = solver_plan(problem, seconds, gap)
    except Degenerate:
        if not quick:
            raise
        solved = quick
    return _plan(problem, max(quick, solved, key=partial(plan_value, problem)))


def _plan(problem: Problem, pieces: tuple[Piece, ...]) -> Plan:
    return Plan(pieces, plan_value(problem, pieces), _explained(problem, pieces))


def _explained(problem: Problem, pieces: Sequence[Piece]) -> tuple[NotScheduled, ...]:
    """For each aim short of its minutes: which limit one more piece would break, day by day."""
    found = []
    for a, aim in enumerate(problem.aims):
        missing = wanted_units(aim) - sum(p.units for p in pieces if p.aim == a)
        if missing > 0:
            reasons = {day: _in_the_way(problem, pieces, a, day, missing) for day in problem.days}
            minutes = min(missing * plan_rules().unit_min, aim.minutes)
            found.append(NotScheduled(aim, minutes, reasons))
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
