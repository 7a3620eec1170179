"""What is known of the days ahead: what stands there, what it adds up to, what the call and her usual allow."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.judge.baseline import baseline_week
from chirotend.core.judge.evidence import Evidence
from chirotend.core.load.session import srpe_load
from chirotend.core.plan.jumps import Jump, jumps
from chirotend.core.plan.week import PLAYED_KINDS, Engagement, PlannedBlock, plan_rules
from chirotend.services.call.issued_call import IssuedCall
from chirotend.services.call.todays_call import TodaysCall, todays_call
from chirotend.services.context import Context
from chirotend.services.kit import own_library
from chirotend.services.plan import credit, engagements
from chirotend.services.plan.own_blocks import blocks_between
from chirotend.services.plan.programmes import running
from chirotend.services.plan.week_aims import as_aim
from chirotend.store.models import AimRow


@dataclass(frozen=True)
class Ahead:
    """What is known of the days ahead: engagements, own blocks, expected load by day, her usual, ceilings of the call.

    `open`: the engagements not written in. `left`: minutes of each own block that still wait. `loads` in AU: logged for
    days past, what is written and still waits for today, planned for days ahead. `ceilings`: minutes a day the call
    allows (nothing for days it says nothing of). `week_high`, `day_high`: None = not known yet.
    """

    first: date
    last: date
    engagements: tuple[Engagement, ...]
    open: frozenset[str]
    blocks: tuple[PlannedBlock, ...]
    left: Mapping[str, float]
    loads: Mapping[date, float]
    day_low: float | None
    day_high: float | None
    week_high: float | None
    ceilings: Mapping[date, float]
    call: str
    played_days: Mapping[str, int]
    evidence: Evidence
    judged: TodaysCall

    def fixed_minutes(self, day: date) -> float:
        """Return the minutes of the hands on a day: played, asked by engagements not written in, own blocks waiting."""
        played = self.evidence.load.on(day)[0]
        open_here = (e for e in self.engagements if e.day == day and e.uid in self.open)
        asked = sum(e.minutes for e in open_here if e.kind in PLAYED_KINDS)
        waiting = sum(self.left[b.uid] for b in self.blocks if b.day == day)
        return (played if played == played else 0.0) + asked + waiting


def ahead(context: Context, first: date, last: date, judged: TodaysCall | None = None) -> Ahead:
    """Return what stands from `first` to `last` and what it adds up to; `judged` spares working the call out again."""
    call, today = judged or todays_call(context), context.today
    evidence = call.evidence
    fixed = tuple(engagements.between(context, first, last))
    blocks = tuple(blocks_between(context, first, last))
    left = credit.still_to_play(context, blocks)
    unwritten = frozenset(r.uid for r in engagements.rows_between(context, first, last) if not r.session_uid)
    loads: dict[date, float] = {}
    for n in range((last - first).days + 1):
        day = first + timedelta(days=n)
        logged = evidence.load.on(day)[1]
        load = logged if logged == logged else 0.0
        if day >= today:
            load += sum(e.load for e in fixed if e.day == day and e.uid in unwritten)
            load += sum(srpe_load(b.effort, left[b.uid]) for b in blocks if b.day == day)
        loads[day] = load
    usual, week = evidence.baseline_load, baseline_week(evidence.load.load, evidence.load.index(today))
    return Ahead(
        first,
        last,
        fixed,
        unwritten,
        blocks,
        left,
        loads,
        usual.low if usual else None,
        usual.high if usual else None,
        week.high if week else None,
        _ceilings(context, call.issued, evidence, last),
        call.issued.effective,
        _played_days(evidence),
        evidence,
        call,
    )


def _ceilings(context: Context, today: IssuedCall, evidence: Evidence, last: date) -> dict[date, float]:
    """Minutes a day the call and her programmes allow; a level counts until its clear wakings could be over."""
    found = running.doses_ahead(context, evidence, context.today + timedelta(days=1), last)
    days, dose = 1, today.dose.minutes
    if today.effective == "tacet":
        days, dose = today.recovery.wakings_needed + 1, 0.0
    elif today.effective.startswith("muted"):
        days = max(1, math.ceil(today.recovery.wakings_needed - today.recovery.clear))
    if dose is not None:
        for n in range(days):
            day = context.today + timedelta(days=n)
            found[day] = min(dose, found.get(day, dose))
    return found


def _played_days(evidence: Evidence) -> dict[str, int]:
    days: dict[str, set[date]] = {}
    for session in evidence.record.sessions:
        for block in session.blocks:
            if block.instrument and block.kind != "other":
                days.setdefault(block.instrument, set()).add(session.day)
    return {instrument: len(found) for instrument, found in days.items()}


def first_doses(context: Context, what: Ahead) -> dict[str, float]:
    """First doses by instrument; none while the record is too young to tell a new instrument from an old one."""
    if sum(what.played_days.values()) < plan_rules().new_instrument_days:
        return {}
    return {k: float(i.new_player_start_minutes) for k, i in own_library.instruments(context).items()}


def week_jumps(context: Context, what: Ahead, week_aims: Sequence[AimRow]) -> tuple[Jump, ...]:
    """Return what stands out in the days ahead, today included."""
    days = {d: load for d, load in what.loads.items() if d >= context.today}
    planned: dict[tuple[str, date], float] = {}
    things: list[Engagement | PlannedBlock] = [*what.engagements, *what.blocks]
    for thing in things:
        if thing.day >= context.today and thing.instrument:
            key = (thing.instrument, thing.day)
            planned[key] = planned.get(key, 0.0) + thing.minutes
    starts = first_doses(context, what)
    asks = [as_aim(row) for row in week_aims]
    whole_week = what.week_high if len(days) == len(what.loads) else None
    return jumps(days, what.day_high, whole_week, what.engagements, asks, what.played_days, planned, starts)
