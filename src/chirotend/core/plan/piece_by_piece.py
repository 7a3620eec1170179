"""A greedy schedule: one aim after the other, each piece where it fits; quick, and often as good as can be."""

from collections.abc import Sequence
from datetime import date

from chirotend.core.plan.week import plan_rules
from chirotend.core.plan.week_problem import Piece, Problem, breaks, least_units, rooms_of, wanted_units


def orders(problem: Problem) -> list[list[int]]:
    """Orders in which aims may be laid: as they come, the most wanted first, the lightest first."""
    aims = problem.aims
    return [
        list(range(len(aims))),
        sorted(range(len(aims)), key=lambda a: (-aims[a].weight * aims[a].minutes, a)),
        sorted(range(len(aims)), key=lambda a: (aims[a].effort, -aims[a].minutes, a)),
    ]


def piece_by_piece(problem: Problem, order: Sequence[int]) -> tuple[Piece, ...]:
    """Lay one aim after the other, each piece on the day with least own practice so far, while no limit breaks."""
    r = plan_rules()
    most = int(r.piece_most_min // r.unit_min)
    own = dict.fromkeys(problem.days, 0.0)
    pieces: list[Piece] = []
    for a in order:
        aim, left = problem.aims[a], wanted_units(problem.aims[a])
        for day in sorted(problem.days, key=lambda d: (own[d], d)):
            piece = _longest_that_fits(problem, pieces, a, day, min(most, left), left)
            if piece is not None:
                pieces.append(piece)
                own[day] += piece.units * r.unit_min * aim.effort
                left -= piece.units
    return tuple(pieces)


def _longest_that_fits(
    problem: Problem, pieces: Sequence[Piece], a: int, day: date, longest: int, left: int
) -> Piece | None:
    """The longest piece of aim `a` that `day` still takes; none that would leave a rest too short for a piece."""
    least = least_units(problem.aims[a])
    for units in range(longest, least - 1, -1):
        if units > least and 0 < left - units < least:
            continue
        for window, _ in rooms_of(problem, day):
            piece = Piece(a, window, units)
            if not breaks(problem, [*pieces, piece]):
                return piece
    return None
