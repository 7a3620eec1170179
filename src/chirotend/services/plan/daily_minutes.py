"""The minutes a day that a programme keeps up, laid on the days of a week that would have less."""

from collections.abc import Iterable, Iterator, Sequence
from datetime import datetime, timedelta
from itertools import groupby
from uuid import uuid4

from chirotend.core.plan.week import PlannedBlock, Window, plan_rules
from chirotend.core.plan.week_problem import Problem
from chirotend.services.context import Context
from chirotend.services.plan.days_ahead import Ahead
from chirotend.services.plan.programmes import running

#: the half hour is easy: common practice, no source
EASY_EFFORT = 3.0


def kept_up(
    context: Context, what: Ahead, problem: Problem, scheduled: Sequence[PlannedBlock]
) -> Iterator[PlannedBlock]:
    """Yield a block for each day that has less, as long as the day, its load and the week's still take it."""
    programme = next((p for p in running.running(context) if p.entry.rule == "daily"), None)
    if programme is None or not context.player.instruments:
        return
    week_left = min(problem.week_load.values(), default=None)
    if week_left is not None:
        week_left -= sum(b.load for b in scheduled)
    for day, windows in groupby(problem.windows, key=lambda w: w.day):
        if day >= programme.first + timedelta(days=programme.entry.days):
            return
        mine, room = [b for b in scheduled if b.day == day], problem.days[day]
        newly = sum(b.minutes for b in mine)
        limits = [programme.entry.floor_min - what.fixed_minutes(day) - newly, room.minutes - newly]
        if room.load is not None:
            limits.append((room.load - sum(b.load for b in mine)) / EASY_EFFORT)
        if week_left is not None:
            limits.append(week_left / EASY_EFFORT)
        minutes = float(int(min(limits)))
        start = _place(windows, mine, minutes)
        if minutes >= programme.entry.bad_day_min and start is not None:
            block = PlannedBlock(
                uuid4().hex,
                day,
                start,
                minutes,
                "",
                programme.entry.name,
                context.player.instruments[0],
                EASY_EFFORT,
                "planner",
            )
            if week_left is not None:
                week_left -= block.load
            yield block


def _place(windows: Iterable[Window], mine: Sequence[PlannedBlock], minutes: float) -> datetime | None:
    """The first free stretch that takes it, after what is laid there and a rest."""
    rest = timedelta(minutes=plan_rules().rest_min)
    for window in windows:
        end = window.start_utc + timedelta(minutes=window.minutes)
        at = max([window.start_utc, *(b.end_utc + rest for b in mine if window.start_utc <= b.start_utc < end)])
        if at + timedelta(minutes=minutes) <= end:
            return at
    return None
