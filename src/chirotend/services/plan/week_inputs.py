"""What a week is planned from, loaded once: its aims, free windows, and the limits of its days."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date, timedelta

from chirotend.core.plan import week_problem
from chirotend.core.plan.jumps import ramp_minutes
from chirotend.core.plan.piece_hours import next_quarter
from chirotend.core.plan.week import PLAYED_KINDS, Aim, Engagement, free_windows, plan_rules
from chirotend.services.context import Context
from chirotend.services.kit.profile import Profile, profile
from chirotend.services.plan import credit, engagements
from chirotend.services.plan.days_ahead import Ahead, first_doses
from chirotend.services.plan.programmes import running
from chirotend.services.plan.week_aims import as_aim
from chirotend.store.models import AimRow

PLENTY_MIN = 24 * 60.0


def week_inputs(context: Context, what: Ahead, rows: Sequence[AimRow], first: date) -> week_problem.Problem:
    """Return the week to plan: the aims still wanted, free windows, and the limits of days, week and instruments."""
    me, r = profile(context), plan_rules()
    week, last = what.first, what.last
    days = [first + timedelta(days=n) for n in range((last - first).days + 1)]
    buffer = timedelta(minutes=r.buffer_min)
    near = engagements.between(context, first - timedelta(days=1), last + timedelta(days=1))
    busy = [(e.start_utc - buffer, e.end_utc + buffer) for e in near]
    busy += [(b.start_utc, b.end_utc) for b in what.blocks if what.left[b.uid]]
    windows = free_windows(days, busy, context.zone, me.from_hour, me.to_hour, next_quarter(context.now))
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


def nothing_new(context: Context, what: Ahead) -> str:
    """Return why what is new and hard waits, in words; "" = it need not."""
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
