"""The first weeks: what is said already, what comes when, and what the first day asks."""

from dataclasses import dataclass
from datetime import timedelta

from chirotend.core.judge.rules import rules
from chirotend.core.judge.signs.chain import sign_rules
from chirotend.library.loader import first_days_steps
from chirotend.services.context import Context
from chirotend.services.today.today_page import Today


@dataclass(frozen=True)
class Step:
    when: str
    what: str
    reached: bool


@dataclass(frozen=True)
class FirstDays:
    """`day_one` = nothing was written before today; `asked_now` = the first day's question was answered."""

    day_one: bool
    asked_now: bool
    steps: tuple[Step, ...]


def first_days(context: Context, today: Today) -> FirstDays | None:
    """Return what a new player is told in the first six weeks; None after them."""
    r, record = rules(), today.record
    over = context.today - timedelta(days=r.baseline_range_days)
    if any(day <= over for day in record.logged_days):  # for most players the record at hand tells it without a query
        return None
    begun = context.store.first_day() or context.today
    age = (context.today - begun).days
    if age >= r.baseline_range_days:
        return None
    limits = {
        "enough_days": r.enough_days,
        "usual_days": r.baseline_range_min_days,
        "sign_days": sign_rules().first_days,
        "range_days": r.baseline_range_days,
    }
    week = {context.today - timedelta(days=n) for n in range(7)}
    there = {
        "written": len(week & record.logged_days),
        "usual": r.baseline_range_min_days if today.week.usual_high is not None else 0,
        "asked": len(record.asked_days),
        "age": age,
    }
    steps = tuple(
        Step(s.when.format(**limits), s.what.format(**limits), all(there[k] >= limits[v] for k, v in s.needs.items()))
        for s in first_days_steps()
    )
    return FirstDays(begun == context.today, "daily" in today.asked, steps)
