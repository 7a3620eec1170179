"""Laying the aims of a week into what is free of it."""

from datetime import date, timedelta
from uuid import uuid4

from chirotend.core.errors import MethodError
from chirotend.core.plan import planner, rests, week_problem
from chirotend.core.plan.piece_hours import PieceHour, with_hours
from chirotend.core.plan.week import PlannedBlock
from chirotend.core.plan.week_problem import monday
from chirotend.services.context import Context, FieldError
from chirotend.services.kit import own_library
from chirotend.services.kit.profile import profile
from chirotend.services.plan import daily_minutes
from chirotend.services.plan.days_ahead import ahead
from chirotend.services.plan.own_blocks import values_of
from chirotend.services.plan.week_aims import aims
from chirotend.services.plan.week_inputs import nothing_new, week_inputs
from chirotend.services.record import corrections
from chirotend.services.words import listed, sentence
from chirotend.store.models import PlannedRow


def schedule(context: Context, week: date) -> int:
    """Lay the aims of a week into what is free of it; what was moved by hand stays. Returns the minutes laid.

    Each aim keeps a sentence for what found no place, and why.
    """
    week = monday(week)
    first, last = max(week, context.today), week + timedelta(days=6)
    if first > last:
        raise FieldError("week", "This week is over. Choose the present one or a later one.")
    with corrections.as_one(context):
        return _laid_anew(context, week, first, last)


def _laid_anew(context: Context, week: date, first: date, last: date) -> int:
    old = context.store.repository(PlannedRow).all(
        PlannedRow.laid_by == "planner",
        PlannedRow.start_utc > context.now,
        PlannedRow.day >= first,
        PlannedRow.day <= last,
    )
    for row in old:
        corrections.delete(context, "planned", row.uid)
    what = ahead(context, week, last)
    rows = [a for a in aims(context, week) if not a.done]
    waits = nothing_new(context, what)
    problem = week_inputs(context, what, [a for a in rows if not (a.new_hard and waits)], first)
    try:
        scheduled = planner.schedule(problem)
    except MethodError as error:
        raise FieldError("week", "No plan was found in time. Take out an aim or two and plan the rest.") from error
    missing = {n.aim.uid: n for n in scheduled.not_scheduled}
    for aim in rows:
        unlaid = why_not_scheduled(missing[aim.uid]) if aim.uid in missing else ""
        if aim.new_hard and waits:
            unlaid = sentence("plan", "nothing_new", aim=aim.title, why=waits)
        corrections.change_row(context, "aim", aim, unlaid=unlaid)
    placed = [_block(piece, problem) for piece in with_hours(problem, scheduled)]
    placed += daily_minutes.kept_up(context, what, problem, placed)
    for block in placed:
        corrections.put_row(context, "planned", values_of(block))
    return round(sum(b.minutes for b in placed))


def _block(piece: PieceHour, problem: week_problem.Problem) -> PlannedBlock:
    aim = problem.aims[piece.aim]
    about = aim.uid, aim.title, aim.instrument, aim.effort
    return PlannedBlock(uuid4().hex, piece.day, piece.start_utc, piece.minutes, *about, "planner")


WHY = {
    "off": "off",
    "no_time": "no free time",
    "taper": "kept light round a performance",
    "minutes": "as much as the day takes",
    "dose": "today’s call allows no more",
    "load": "would pass your usual",
    "ramp": "a new instrument grows slowly",
    "week": "the week would pass your usual",
    "piece": "one piece of it stands there",
}


def why_not_scheduled(missing: week_problem.NotScheduled) -> str:
    """Say what found no place, and what stands in the way on which days."""
    days: dict[str, list[str]] = {}
    for day, reason in sorted(missing.reasons.items()):
        days.setdefault(reason, []).append(f"{day:%A}")
    count = len(missing.reasons)
    parts = [
        f"{WHY[reason]} on {listed(names)}" if len(names) < count else f"{WHY[reason]} on every day left"
        for reason, names in days.items()
    ]
    why = "; ".join(parts) or sentence("plan", "no_day_left")
    return sentence("plan", "no_place", minutes=f"{missing.minutes:.0f}", aim=missing.aim.title, why=why)


def session_rests(context: Context, minutes: float, played_today: float, instrument: str) -> list[tuple[float, float]]:
    """Return the bars and rests of a session by her preset; a heavy or wide instrument rests sooner."""
    known = own_library.instruments(context).get(instrument)
    factor = known.rest_factor.value if known else 1.0
    return list(rests.bars(minutes, profile(context).rest_preset or "fixed", played_today, factor))
