"""Can I take this date? One question, answered with what it does to the fortnight."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from chirotend.core.plan.jumps import Jump
from chirotend.core.plan.week import Engagement, PlannedBlock, plan_rules
from chirotend.core.plan.week_problem import monday

YES, YES_WITH_CHANGES, NO = "yes", "yes_with_changes", "no"


@dataclass(frozen=True)
class Answer:
    """The verdict, the blocks that would go, what speaks against it, loads before and after (AU)."""

    verdict: str
    goes: tuple[PlannedBlock, ...]
    against: tuple[Jump, ...]
    before: Mapping[date, float]
    after: Mapping[date, float]


def asked(
    date_asked: Engagement,
    engagements: Sequence[Engagement],
    blocks: Sequence[PlannedBlock],
    loads: Mapping[date, float],
    baseline_day_high: float | None,
    baseline_week_high: float | None,
    ceilings_min: Mapping[date, float] | None = None,
) -> Answer:
    """Return what taking `date_asked` does.

    Own practice gives way first: what overlaps it (buffer included), then the day's longest pieces until the day is
    inside her usual, then other pieces of that week. Against it speak another engagement at the same time, a day or
    week that stays above her usual, and a ceiling of today's call. `loads`: expected load by day as it stands.
    """
    buffer = timedelta(minutes=plan_rules().buffer_min)
    day = date_asked.day
    goes = [
        b for b in blocks if _meet(b.start_utc, b.end_utc, date_asked.start_utc - buffer, date_asked.end_utc + buffer)
    ]
    after = dict(loads)
    after[day] = after.get(day, 0.0) + date_asked.load
    for block in goes:
        after[block.day] -= block.load
    if baseline_day_high is not None:
        _give_way(goes, after, [b for b in blocks if b.day == day], lambda: after[day] > baseline_day_high)
    week = monday(day)
    if baseline_week_high is not None:
        same_week = [b for b in blocks if monday(b.day) == week]
        _give_way(goes, after, same_week, lambda: _week(after, week) > baseline_week_high)
    against = _against(date_asked, engagements, after, loads, baseline_day_high, baseline_week_high, ceilings_min or {})
    verdict = NO if against else YES_WITH_CHANGES if goes else YES
    return Answer(verdict, tuple(sorted(goes, key=lambda b: b.start_utc)), against, dict(loads), after)


def _give_way(
    goes: list[PlannedBlock], after: dict[date, float], candidates: Sequence[PlannedBlock], too_much: Callable[[], bool]
) -> None:
    for block in sorted(candidates, key=lambda b: (-b.load, b.start_utc)):
        if not too_much():
            return
        if block not in goes:
            goes.append(block)
            after[block.day] -= block.load


def _week(loads: Mapping[date, float], week: date) -> float:
    return sum(load for day, load in loads.items() if monday(day) == week)


def _against(
    date_asked: Engagement,
    engagements: Sequence[Engagement],
    after: Mapping[date, float],
    before: Mapping[date, float],
    day_high: float | None,
    week_high: float | None,
    ceilings: Mapping[date, float],
) -> tuple[Jump, ...]:
    day, week = date_asked.day, monday(date_asked.day)
    found = [
        Jump("overlaps", {"title": e.title}, (day,))
        for e in engagements
        if _meet(e.start_utc, e.end_utc, date_asked.start_utc, date_asked.end_utc)
    ]
    if day in ceilings:
        played = sum(e.minutes for e in engagements if e.day == day) + date_asked.minutes
        if played > ceilings[day]:
            found.append(Jump("ceiling", {"minutes": round(played), "most": round(ceilings[day])}, (day,)))
    if day_high is not None and after[day] > day_high:
        found.append(Jump("day_above", {"load": round(after[day]), "usual": round(day_high)}, (day,)))
    if week_high is not None and _week(after, week) > max(week_high, _week(before, week)):
        values = {"load": round(_week(after, week)), "usual": round(week_high)}
        found.append(Jump("week_above", values, (week,)))
    return tuple(found)


def _meet(a: datetime, b: datetime, c: datetime, d: datetime) -> bool:
    return a < d and c < b
