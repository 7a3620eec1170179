"""Laying the aims of a week into what is free of it."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, datetime, timedelta
from uuid import uuid4

from chirotend.core.errors import MethodError
from chirotend.core.plan import planner, rests, week_problem
from chirotend.core.plan.jumps import ramp_minutes
from chirotend.core.plan.week import PLAYED_KINDS, Aim, Engagement, PlannedBlock, free_windows, plan_rules
from chirotend.core.plan.week_problem import monday
from chirotend.services.context import Context, FieldError
from chirotend.services.kit import own_library
from chirotend.services.kit.profile import Profile, profile
from chirotend.services.plan import credit, daily_minutes, engagements
from chirotend.services.plan.days_ahead import Ahead, ahead, first_doses
from chirotend.services.plan.own_blocks import values_of
from chirotend.services.plan.programmes import running
from chirotend.services.plan.week_aims import aims, as_aim
from chirotend.services.record import corrections
from chirotend.store.models import AimRow, PlannedRow

PLENTY_MIN = 24 * 60.0
STEP_MIN = 15


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
    waits = _nothing_new(context, what)
    problem = _problem(context, what, [a for a in rows if not (a.new_hard and waits)], first)
    try:
        scheduled = planner.schedule(problem)
    except MethodError as error:
        raise FieldError("week", "No plan was found in time. Take out an aim or two and plan the rest.") from error
    missing = {n.aim.uid: n for n in scheduled.not_scheduled}
    for aim in rows:
        unlaid = why_not_scheduled(missing[aim.uid]) if aim.uid in missing else ""
        if aim.new_hard and waits:
            unlaid = f"{aim.title}: nothing new {waits}; it waits."
        corrections.change_row(context, "aim", aim, unlaid=unlaid)
    placed = _placed(context, problem, scheduled)
    placed += daily_minutes.kept_up(context, what, problem, placed)
    for block in placed:
        corrections.put_row(context, "planned", values_of(block))
    return round(sum(b.minutes for b in placed))


def _problem(context: Context, what: Ahead, rows: Sequence[AimRow], first: date) -> week_problem.Problem:
    """Put the week's limits together: free windows, room of each day, the week, instruments that ramp up."""
    me, r = profile(context), plan_rules()
    week, last = what.first, what.last
    days = [first + timedelta(days=n) for n in range((last - first).days + 1)]
    buffer = timedelta(minutes=r.buffer_min)
    near = engagements.between(context, first - timedelta(days=1), last + timedelta(days=1))
    busy = [(e.start_utc - buffer, e.end_utc + buffer) for e in near]
    busy += [(b.start_utc, b.end_utc) for b in what.blocks if what.left[b.uid]]
    windows = free_windows(days, busy, context.zone, me.from_hour, me.to_hour, _next_quarter(context.now))
    done = credit.taken_care_of(what.blocks, credit.played_by_block(context, week, last), what.left)
    wanted = tuple(
        replace(as_aim(a), minutes=max(0.0, a.minutes - done.get(a.uid, 0.0)))
        for a in rows
        if a.minutes > done.get(a.uid, 0.0)
    )
    return week_problem.Problem(
        wanted,
        windows,
        {d: _room(what, me, near, d) for d in days},
        _week_left(context, what, wanted),
        _ramps(context, what, wanted, days),
    )


def _nothing_new(context: Context, what: Ahead) -> str:
    """Why what is new and hard waits; "" = it need not."""
    if what.call.startswith("muted"):
        return "while Muted"
    quiet = next((p for p in running.running(context) if p.entry.nothing_new), None)
    return f"while “{quiet.entry.name}” runs" if quiet else ""


def _week_left(context: Context, what: Ahead, wanted: Sequence[Aim]) -> dict[date, float]:
    """The load the week still takes: up to her usual week, and up to what a season allows it.

    A season counts minutes: at the lightest effort wanted, so that the minutes laid never pass it.
    """
    limits = [] if what.week_high is None else [what.week_high - sum(what.loads.values())]
    played = sum(m for m in (what.evidence.load.on(day)[0] for day in what.loads) if m == m)
    fixed_minutes = sum(e.minutes for e in what.engagements if e.uid in what.open and e.kind in PLAYED_KINDS)
    left = running.season_left(context, what.first, played + fixed_minutes + sum(what.left.values()))
    if left is not None and wanted:
        limits.append(left * min(a.effort for a in wanted))
    return {what.first: min(limits)} if limits else {}


def _room(what: Ahead, me: Profile, near: Sequence[Engagement], day: date) -> week_problem.DayRoom:
    """What a day still takes, by the strictest of its limits."""
    r = plan_rules()
    limits = [(PLENTY_MIN, "minutes")]
    own = sum(b.minutes for b in what.blocks if b.day == day)
    if me.rest_weekday == str(day.weekday()):
        limits.append((0.0, "off") if me.rest_school == "day off" else (r.light_day_most_min - own, "minutes"))
    performances = {e.day for e in near if e.kind == "performance"}
    if day in performances:
        limits.append((r.performance_day_most_min - own, "taper"))
    elif day + timedelta(days=1) in performances:
        limits.append((r.day_before_most_min - own, "taper"))
    if what.day_high is None:
        limits.append((r.no_baseline_day_min - own, "minutes"))
    if day in what.ceilings:
        limits.append((what.ceilings[day] - what.fixed_minutes(day), "dose"))
    minutes, why = min(limits)
    fixed = what.loads[day]
    load = None if what.day_high is None else what.day_high - fixed
    return week_problem.DayRoom(day, max(0.0, minutes), load, fixed, why)


def _ramps(context: Context, what: Ahead, wanted: Sequence[Aim], days: Sequence[date]) -> dict[tuple[str, date], float]:
    """Minutes a day for each wanted instrument that is new to her, less what stands there already."""
    starts, found = first_doses(context, what), {}
    climbing = running.instrument_doses(context, what.evidence, days[0], days[-1])
    for instrument in {a.instrument for a in wanted}:
        new = starts.get(instrument)
        ramp = None if new is None else ramp_minutes(what.played_days.get(instrument, 0), new)
        for day in days:
            most = climbing.get((instrument, day), ramp)
            if most is None:
                continue
            taken = sum(e.minutes for e in what.engagements if e.day == day and e.instrument == instrument)
            taken += sum(b.minutes for b in what.blocks if b.day == day and b.instrument == instrument)
            found[instrument, day] = max(0.0, most - taken)
    return found


def _next_quarter(now: datetime) -> datetime:
    step = timedelta(minutes=STEP_MIN)
    past = timedelta(minutes=now.minute % STEP_MIN, seconds=now.second, microseconds=now.microsecond)
    return now - past + step if past else now


def _placed(context: Context, problem: week_problem.Problem, scheduled: week_problem.Plan) -> list[PlannedBlock]:
    """Give each piece its hour: within a window the easier first, a rest between two."""
    r = plan_rules()
    found = []
    for w, window in enumerate(problem.windows):
        at = _next_quarter(window.start_utc)
        if (at - window.start_utc).total_seconds() / 60 + _length(problem, scheduled, w) > window.minutes:
            at = window.start_utc
        for piece in sorted((p for p in scheduled.pieces if p.window == w), key=lambda p: problem.aims[p.aim].effort):
            aim = problem.aims[piece.aim]
            minutes = min(piece.units * r.unit_min, aim.minutes)
            found.append(
                PlannedBlock(
                    uuid4().hex, window.day, at, minutes, aim.uid, aim.title, aim.instrument, aim.effort, "planner"
                )
            )
            at += timedelta(minutes=minutes + r.rest_min)
    return found


def _length(problem: week_problem.Problem, scheduled: week_problem.Plan, w: int) -> float:
    r = plan_rules()
    return sum(p.units * r.unit_min + r.rest_min for p in scheduled.pieces if p.window == w)


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
        f"{WHY[reason]} on {_listed(names)}" if len(names) < count else f"{WHY[reason]} on every day left"
        for reason, names in days.items()
    ]
    return f"{missing.minutes:.0f} minutes of {missing.aim.title}: {'; '.join(parts) or 'no day is left'}."


def _listed(names: Sequence[str]) -> str:
    return names[0] if len(names) == 1 else ", ".join(names[:-1]) + " and " + names[-1]


def session_rests(context: Context, minutes: float, played_today: float, instrument: str) -> list[tuple[float, float]]:
    """Return the bars and rests of a session by her preset; a heavy or wide instrument rests sooner."""
    known = own_library.instruments(context).get(instrument)
    factor = known.rest_factor.value if known else 1.0
    return list(rests.bars(minutes, profile(context).rest_preset or "fixed", played_today, factor))
