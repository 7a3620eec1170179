"""Jumps before they happen: what in the days ahead stands out against her own usual. Load in AU, minutes.

No zone, no risk: a jump is named with its numbers, and she decides. All limits common practice, no source.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta

from chirotend.core.plan.week import Aim, Engagement, plan_rules
from chirotend.core.plan.week_problem import monday


@dataclass(frozen=True)
class Jump:
    """Something that stands out: a code, what was seen, and on which days."""

    code: str  # day_load | week_load | dense | new_instrument | new_hard
    values: Mapping[str, str | float | int] = field(default_factory=dict)
    days: tuple[date, ...] = ()


def jumps(
    ahead: Mapping[date, float],
    baseline_day_high: float | None,
    baseline_week_high: float | None,
    engagements: Sequence[Engagement],
    aims: Iterable[Aim],
    played_days_by_instrument: Mapping[str, int],
    planned_minutes: Mapping[tuple[str, date], float],
    start_minutes: Mapping[str, float],
) -> tuple[Jump, ...]:
    """Return the jumps in `ahead` (expected load by day, engagements and practice).

    `planned_minutes` by (instrument, day); `start_minutes` the first dose of an instrument; an instrument she has
    played on fewer than 14 days is new, and its dose grows by 5 minutes with each day it was played.
    """
    found = [*_loads(ahead, baseline_day_high, baseline_week_high), *_dense(engagements)]
    found += _new_instruments(played_days_by_instrument, planned_minutes, start_minutes)
    wanted = list(aims)
    total, new = sum(a.minutes for a in wanted), sum(a.minutes for a in wanted if a.new_hard)
    if total and new > total * plan_rules().new_hard_share / 100:
        found.append(Jump("new_hard", {"minutes": round(new), "of": round(total)}))
    return tuple(found)


def _loads(ahead: Mapping[date, float], day_high: float | None, week_high: float | None) -> list[Jump]:
    found = []
    if day_high is not None:
        over = tuple(d for d, load in sorted(ahead.items()) if load > day_high)
        if over:
            most = max(ahead[d] for d in over)
            found.append(Jump("day_load", {"load": round(most), "usual": round(day_high)}, over))
    if week_high is not None:
        weeks: dict[date, float] = {}
        for day, load in ahead.items():
            weeks[monday(day)] = weeks.get(monday(day), 0.0) + load
        for week, load in sorted(weeks.items()):
            if load > week_high:
                more = round(100 * (load / week_high - 1))
                found.append(Jump("week_load", {"load": round(load), "usual": round(week_high), "more": more}, (week,)))
    return found


def _dense(engagements: Sequence[Engagement]) -> list[Jump]:
    r = plan_rules()
    days = sorted({e.day for e in engagements if e.kind == "performance"})
    for first in days:
        run = [
            e for e in engagements if e.kind == "performance" and first <= e.day < first + timedelta(days=r.dense_days)
        ]
        if len(run) >= r.dense_performances:
            last = max(e.day for e in run)
            return [Jump("dense", {"performances": len(run), "days": (last - first).days + 1}, (first, last))]
    return []


def ramp_minutes(played_days: int, start_min: float) -> float | None:
    """Return the minutes a day a new instrument may have; None once it is no longer new."""
    r = plan_rules()
    if played_days >= r.new_instrument_days:
        return None
    return start_min + played_days * r.new_instrument_step_min


def _new_instruments(
    played: Mapping[str, int], planned: Mapping[tuple[str, date], float], start: Mapping[str, float]
) -> list[Jump]:
    found = []
    for instrument in sorted({i for i, _ in planned}):
        days = sorted(d for i, d in planned if i == instrument)
        most = ramp_minutes(played.get(instrument, 0), start.get(instrument, 0.0)) if instrument in start else None
        over = tuple(d for d in days if most is not None and planned[instrument, d] > most)
        if over and most is not None:
            values: dict[str, str | float | int] = {
                "instrument": instrument,
                "minutes": round(max(planned[instrument, d] for d in over)),
                "start": round(most),
                "played_days": played.get(instrument, 0),
            }
            found.append(Jump("new_instrument", values, over))
    return found
