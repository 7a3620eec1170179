"""The programmes she is in: what each allows today and on the days ahead. They bow to the call."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.judge.evidence import Ceiling, Evidence
from chirotend.core.plan.programmes.seen import seen_days
from chirotend.core.plan.programmes.walk import REACHED, Climb, Walk, walked
from chirotend.core.plan.programmes.weeks import ProgrammeWeek, season, week_of, weeks_from
from chirotend.formats.kept_rows import ProgrammeData
from chirotend.library.loader import programmes
from chirotend.library.schema import ProgrammeEntry
from chirotend.services.context import Context
from chirotend.store.models import ProgrammeRow

#: calls under which playing is no step of a programme
OPEN_CALLS = ("open", "not_enough")


@dataclass(frozen=True)
class Programme:
    """A programme of hers: its row's values, and what the library says of it."""

    uid: str
    entry: ProgrammeEntry
    first: date
    ended: date | None
    data: ProgrammeData
    note: str

    @property
    def climb(self) -> Climb:
        """What a programme of steps climbs."""
        assert self.data.start_min is not None and self.data.aim_min is not None  # the forms and kept rows see to it
        return Climb(self.first, self.data.start_min, self.data.aim_min, self.data.given)

    @property
    def weeks(self) -> tuple[ProgrammeWeek, ...]:
        """The weeks of a programme that is known week by week."""
        rows = [(None if share < 0 else share, new, bool(easy)) for share, new, easy in self.entry.weeks]
        return weeks_from(self.first, rows)

    @property
    def season_min(self) -> tuple[float, ...]:
        """The minutes of each week of a season."""
        d = self.data
        assert d.until is not None and d.target_min is not None and d.usual_week_min is not None
        return season(self.first, d.until, d.usual_week_min, d.target_min)

    def season_week_min(self, day: date) -> float | None:
        """Return the minutes that a season allows the week of `day`, counted from its first day; None outside it."""
        weeks, number = self.season_min, (day - self.first).days // 7
        return weeks[number] if 0 <= number < len(weeks) else None


def programme_of(row: ProgrammeRow) -> Programme:
    data = ProgrammeData.model_validate(row.data)
    return Programme(row.uid, programmes()[row.programme], row.first, row.ended, data, row.note)


def all_of(context: Context) -> tuple[Programme, ...]:
    """Return every programme of hers, the newest first."""
    rows = context.store.repository(ProgrammeRow)
    return context.per_request(
        "programmes", lambda: tuple(map(programme_of, rows.all(order=(ProgrammeRow.first.desc(),))))
    )


def running(context: Context) -> tuple[Programme, ...]:
    """Return the programmes that have begun and are not ended, the newest first."""
    return tuple(p for p in all_of(context) if p.ended is None and p.first <= context.today)


def walk_of(context: Context, programme: Programme, evidence: Evidence) -> Walk:
    """Return how a programme of steps has gone up to the day of `evidence`."""
    return context.per_request(f"walk {programme.uid}", lambda: _walk(context, programme, evidence))


def _walk(context: Context, programme: Programme, evidence: Evidence) -> Walk:
    before = evidence.today - timedelta(days=1)
    said = context.store.said_calls(programme.first, before).items()
    held = {day for day, call in said if call not in OPEN_CALLS}
    return walked(programme.climb, seen_days(evidence, programme.first, held, programme.data.instrument))


def with_ceilings(context: Context, evidence: Evidence) -> Evidence:
    """Return `evidence` with what her programmes allow on its day."""
    found = tuple(c for p in running(context) for c in _ceiling(context, p, evidence))
    return evidence.with_limits(ceilings=found) if found else evidence


def _ceiling(context: Context, p: Programme, e: Evidence) -> Iterator[Ceiling]:
    """What a programme allows on the day of `e`; nothing for one that sets no limit to the day."""
    if p.entry.rule == "steps" and not p.data.instrument:
        walk = walk_of(context, p, e)
        if walk.state != REACHED:
            step = walk.today
            yield Ceiling(p.entry.id, step.allowed, "stopped" if step.stopped else step.why, step.number, instead=True)
    elif p.entry.rule == "weeks" and (minutes := _week_minutes(p, e.today)) is not None:
        yield Ceiling(p.entry.id, minutes, "week", (e.today - p.first).days // 7 + 1)
    elif p.entry.rule == "season" and (allowed := p.season_week_min(e.today)) is not None:
        days = (e.today - timedelta(days=n) for n in range(1, (e.today - p.first).days % 7 + 1))
        played = sum(m for m in (e.load.on(day)[0] for day in days) if m == m)
        left = float(round(max(0.0, allowed - played)))
        if e.baseline_minutes is not None and left < e.baseline_minutes:
            yield Ceiling(p.entry.id, left, "season")


def _week_minutes(p: Programme, day: date) -> float | None:
    here = week_of(p.weeks, day)
    if here is None or here[1].share is None or p.data.usual_min is None:
        return None
    return float(round(here[1].share * p.data.usual_min))


def doses_ahead(context: Context, evidence: Evidence, first: date, last: date) -> dict[date, float]:
    """Return the minutes that her programmes allow on days from `first` to `last` if all goes well: the least of them.

    Days on which none sets a limit are left out; today is the call's.
    """
    found: dict[date, float] = {}
    for p in running(context):
        for day, minutes in _ahead(context, p, evidence):
            if first <= day <= last:
                found[day] = min(minutes, found.get(day, minutes))
    return found


def _ahead(context: Context, p: Programme, e: Evidence) -> Iterator[tuple[date, float]]:
    if p.entry.rule == "steps" and not p.data.instrument:
        walk = walk_of(context, p, e)
        if walk.state == REACHED:
            return
        yield from walk.ahead or ((e.today + timedelta(days=n), walk.today.dose) for n in range(1, 15))
    elif p.entry.rule == "weeks":
        for n in range(1, 7 * len(p.weeks)):
            day = e.today + timedelta(days=n)
            if (minutes := _week_minutes(p, day)) is not None:
                yield day, minutes


def instrument_doses(context: Context, evidence: Evidence, first: date, last: date) -> dict[tuple[str, date], float]:
    """Return the minutes a day, from `first` to `last`, of each instrument that a programme of its own builds up."""
    found = {}
    for p in running(context):
        if p.entry.rule == "steps" and p.data.instrument:
            walk = walk_of(context, p, evidence)
            if walk.state == REACHED:
                continue
            ahead = {evidence.today: walk.today.allowed, **dict(walk.ahead)}
            for n in range((last - first).days + 1):
                day = first + timedelta(days=n)
                found[p.data.instrument, day] = ahead.get(day, walk.today.dose)
    return found


def season_left(context: Context, week: date, taken_min: float) -> float | None:
    """Return the minutes that a season leaves of the week of `week` beside `taken_min`; None without a season."""
    for p in running(context):
        if p.entry.rule == "season" and (allowed := p.season_week_min(week)) is not None:
            return max(0.0, allowed - taken_min)
    return None


def weaker_hand(context: Context) -> str:
    """Return the hand that has twice the time in the warm-up; "" = none."""
    return next((p.data.hand for p in running(context) if p.entry.rule == "hand"), "")


def easy_only(context: Context, day: date) -> Programme | None:
    """Return the programme that keeps `day` to easy material without engagements, if one does."""
    for p in running(context):
        here = week_of(p.weeks, day) if p.entry.rule == "weeks" else None
        if here is not None and here[1].easy:
            return p
    return None
