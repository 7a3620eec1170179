"""The hours of a plan: in a window the easier piece first, a rest between two, from a quarter of an hour on."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from chirotend.core.plan.week import plan_rules
from chirotend.core.plan.week_problem import Plan, Problem

QUARTER_MIN = 15


@dataclass(frozen=True)
class PieceHour:
    """A piece with its hour: which of the problem's aims, its practice day, when it begins, its minutes."""

    aim: int
    day: date
    start_utc: datetime
    minutes: float


def next_quarter(at: datetime) -> datetime:
    """Return the first quarter of an hour that is not before `at`."""
    past = timedelta(minutes=at.minute % QUARTER_MIN, seconds=at.second, microseconds=at.microsecond)
    return at - past + timedelta(minutes=QUARTER_MIN) if past else at


def with_hours(problem: Problem, plan: Plan) -> Iterator[PieceHour]:
    """Yield each piece of `plan` with its hour."""
    r = plan_rules()
    for number, window in enumerate(problem.windows):
        pieces = sorted((p for p in plan.pieces if p.window == number), key=lambda p: problem.aims[p.aim].effort)
        wanted = sum(p.units * r.unit_min + r.rest_min for p in pieces)
        at = next_quarter(window.start_utc)
        if (at - window.start_utc).total_seconds() / 60 + wanted > window.minutes:
            at = window.start_utc
        for piece in pieces:
            minutes = min(piece.units * r.unit_min, problem.aims[piece.aim].minutes)
            yield PieceHour(piece.aim, window.day, at, minutes)
            at += timedelta(minutes=minutes + r.rest_min)
