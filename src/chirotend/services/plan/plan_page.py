"""What B Plan shows: the week drawn three times, the chosen block, the jumps in words, the aims with their tallies."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from chirotend.core.plan.jumps import Jump
from chirotend.core.plan.week import PLAYED_KINDS, Engagement, PlannedBlock
from chirotend.core.plan.week_problem import monday
from chirotend.core.record import Session
from chirotend.drawing import plan as drawn
from chirotend.drawing.pencil import tally
from chirotend.drawing.shapes import Shape
from chirotend.library.loader import jump_wordings
from chirotend.services.context import Context
from chirotend.services.kit import own_library
from chirotend.services.plan import credit, days_ahead, engagements, own_blocks, scheduling, week_aims
from chirotend.services.plan.asked_date import Asked, fortnight
from chirotend.services.plan.days_ahead import Ahead
from chirotend.store.models import AimRow, EngagementRow

ITEM_KIND = {
    "rehearsal": "fixed",
    "lesson": "fixed",
    "performance": "performance",
    "travel": "travel",
    "appointment": "travel",
    "other": "other",
}


@dataclass(frozen=True)
class ShownAim:
    """An aim with its tally: minutes laid (or moved there by hand) of those wanted, and those played as laid."""

    row: AimRow
    scheduled: float
    played: float
    strokes: tuple[Shape, ...]
    width: float

    @property
    def missing(self) -> float:
        return max(0.0, self.row.minutes - self.scheduled)


@dataclass(frozen=True)
class ShownJump:
    sentence: str
    rule: str
    do: str
    source: str


@dataclass(frozen=True)
class Chosen:
    """The block (or engagement) that is chosen, its line, and the bars and rests of a block by her preset."""

    uid: str
    block: PlannedBlock | None
    engagement: EngagementRow | None
    line: str
    rests: str


@dataclass(frozen=True)
class WeekPage:
    week: date
    this_week: date
    title: str
    pictures: tuple[drawn.Week, drawn.Week, drawn.Week]
    jumps: tuple[ShownJump, ...]
    aims: tuple[ShownAim, ...]
    unlaid: tuple[str, ...]
    chosen: Chosen | None
    has_baseline: bool
    over: bool
    empty: bool
    fortnight: drawn.Week | None


def planned_week_page(context: Context, week: date, chosen: str = "", question: Asked | None = None) -> WeekPage:
    """Return the week of `week` as the page shows it, with the block `chosen` and the date asked for."""
    start = monday(week)
    what = days_ahead.ahead(context, start, start + timedelta(days=6), question.judged if question else None)
    rows = week_aims.aims(context, start)
    played = credit.played_by_block(context, start, start + timedelta(days=6))
    days = _days(context, what, chosen, question)
    usual = (what.day_low, what.day_high) if what.day_low is not None and what.day_high is not None else None
    pictures = tuple(drawn.week(days, usual, layout) for layout in (drawn.DESK, drawn.TABLET, drawn.PHONE))
    shown_fortnight = None
    if question is not None:
        shown_fortnight = drawn.fortnight(fortnight(question), question.engagement.day, usual)
    return WeekPage(
        start,
        monday(context.today),
        f"Week of {start.day} {start:%B}",
        (pictures[0], pictures[1], pictures[2]),
        tuple(shown_jump(context, j) for j in days_ahead.week_jumps(context, what, rows)),
        tuple(_aim(row, what.blocks, played) for row in rows),
        tuple(row.unlaid for row in rows if row.unlaid and not row.done),
        _chosen(context, chosen),
        usual is not None,
        start + timedelta(days=6) < context.today,
        not what.engagements and not what.blocks and not rows,
        shown_fortnight,
    )


def _days(context: Context, what: Ahead, chosen: str, question: Asked | None) -> list[drawn.Day]:
    local = context.now.astimezone(context.zone)
    gone = {b.uid for b in question.answer.goes} if question else set()
    sessions = [s for s in what.evidence.record.sessions if what.first <= s.day <= what.last]
    found = []
    for n in range((what.last - what.first).days + 1):
        day = what.first + timedelta(days=n)
        items = [_played(context, s) for s in sessions if s.day == day and s.start_utc is not None]
        items += [_engaged(context, e, chosen) for e in what.engagements if e.day == day and e.uid in what.open]
        items += [_own(context, b, chosen, b.uid in gone) for b in what.blocks if b.day == day and what.left[b.uid]]
        if question and question.engagement.day == day:
            items.append(_asked(context, question.engagement))
        after = question.answer.after.get(day) if question else None
        logged = what.evidence.load.on(day)[1]
        found.append(
            drawn.Day(
                day,
                tuple(items),
                what.loads[day],
                day < context.today,
                day == context.today,
                local.hour + local.minute / 60 if day == context.today else None,
                after,
                day < context.today and logged != logged,
            )
        )
    return found


def _hour(context: Context, at: datetime, day: date) -> float:
    local = at.astimezone(context.zone)
    return local.hour + local.minute / 60 + 24 * (local.date() - day).days


def _spoken(context: Context, name: str, day: date, start: datetime, minutes: float) -> str:
    return f"{name}, {day:%A} {day.day}, {start.astimezone(context.zone):%H.%M}, {minutes:.0f} minutes"


def _played(context: Context, s: Session) -> drawn.Item:
    start = s.start_utc or context.now
    name = s.blocks[0].kind if s.playing_minutes else own_library.name_of(context, s.blocks[0].instrument)
    kind = "done" if s.playing_minutes else "other"
    spoken = f"played, {_spoken(context, name, s.day, start, s.minutes)}"
    return drawn.Item(s.uid, kind, name, _hour(context, start, s.day), s.minutes, s.effort or 5.0, spoken)


def _engaged(context: Context, e: Engagement, chosen: str) -> drawn.Item:
    minutes = (e.end_utc - e.start_utc).total_seconds() / 60
    spoken = f"{e.kind}, {_spoken(context, e.title, e.day, e.start_utc, minutes)}, fixed"
    return drawn.Item(
        e.uid,
        ITEM_KIND[e.kind],
        e.title,
        _hour(context, e.start_utc, e.day),
        minutes,
        e.effort,
        spoken,
        e.uid == chosen,
    )


def _own(context: Context, b: PlannedBlock, chosen: str, goes: bool) -> drawn.Item:
    by = "planned for you" if b.laid_by == "planner" else "placed by you"
    spoken = f"{_spoken(context, b.title or 'own practice', b.day, b.start_utc, b.minutes)}, {by}"
    kind = "gone" if goes else "own"
    return drawn.Item(
        b.uid, kind, b.title, _hour(context, b.start_utc, b.day), b.minutes, b.effort, spoken, b.uid == chosen
    )


def _asked(context: Context, e: Engagement) -> drawn.Item:
    minutes = (e.end_utc - e.start_utc).total_seconds() / 60
    spoken = f"the date asked for: {_spoken(context, e.title, e.day, e.start_utc, minutes)}"
    return drawn.Item("", "asked", e.title, _hour(context, e.start_utc, e.day), minutes, e.effort, spoken)


def _aim(row: AimRow, blocks: Sequence[PlannedBlock], played: dict[str, float]) -> ShownAim:
    scheduled = sum(b.minutes for b in blocks if b.aim_uid == row.uid)
    wanted = max(1, round(row.minutes / 10))
    count = min(24, max(wanted, round(scheduled / 10)))
    strokes = tuple(tally(min(round(scheduled / 10), 24), min(wanted, 24)))
    return ShownAim(
        row, scheduled, credit.played_of(row.uid, blocks, played), strokes, count * 9.0 + (count // 6) * 7.0 + 4
    )


def shown_jump(context: Context, jump: Jump) -> ShownJump:
    """Return a jump in words, with its rule and source."""
    wording = jump_wordings()[jump.code]
    values = dict(jump.values)
    values["days_count"] = values.get("days", 0)
    values["days"] = " and ".join(f"{d:%A}" for d in jump.days[:3]) + (" and more" if len(jump.days) > 3 else "")
    if "instrument" in values:
        values["instrument"] = own_library.name_of(context, str(values["instrument"])).lower()
    return ShownJump(wording.sentence.format(**values), wording.rule, wording.do, wording.source)


def _chosen(context: Context, uid: str) -> Chosen | None:
    if not uid:
        return None
    row = context.store.repository(EngagementRow).get(uid)
    if row is not None:
        minutes = (row.end_utc - row.start_utc).total_seconds() / 60
        return Chosen(uid, None, row, _spoken(context, row.title, row.day, row.start_utc, minutes), "")
    block = own_blocks.block_of(context, uid)
    bars = scheduling.session_rests(context, block.minutes, 0.0, block.instrument)
    rests = "; ".join(f"play {play:.0f}" + (f", rest {rest:.0f}" if rest else "") for play, rest in bars)
    line = _spoken(context, block.title or "own practice", block.day, block.start_utc, block.minutes)
    return Chosen(uid, block, None, line, rests)


@dataclass(frozen=True)
class AheadLine:
    """Something of the next days, for Today: when, and what."""

    day: date
    start_utc: datetime
    title: str
    kind: str
    minutes: float
    uid: str
    instrument: str = ""


def ahead_lines(context: Context, days: int = engagements.NEAR_DAYS) -> tuple[AheadLine, ...]:
    """Return what stands in the next days that is not over, engagements and own blocks in their order."""
    last = context.today + timedelta(days=days)
    blocks = own_blocks.blocks_between(context, context.today, last)
    left = credit.still_to_play(context, blocks)
    lines = [
        AheadLine(
            e.day, e.start_utc, e.title, e.kind, (e.end_utc - e.start_utc).total_seconds() / 60, e.uid, e.instrument
        )
        for e in engagements.near_today(context, last)
        if e.end_utc > context.now
    ]
    lines += [
        AheadLine(b.day, b.start_utc, b.title or "own practice", "practice", left[b.uid], b.uid)
        for b in blocks
        if left[b.uid]
    ]
    return tuple(sorted(lines, key=lambda line: (line.start_utc, line.title)))


@dataclass(frozen=True)
class StillToday:
    """What engagements still ask of her hands today: the first of them, and the minutes of all together."""

    uid: str
    title: str
    start_utc: datetime
    minutes: float
    count: int


def still_today(context: Context) -> StillToday | None:
    """Return what still stands in the calendar today; None when nothing does."""
    rows = [r for r in engagements.near_today(context, context.today) if not r.session_uid]
    ahead = [r for r in rows if r.end_utc > context.now and r.kind in PLAYED_KINDS]
    if not ahead:
        return None
    first = min(ahead, key=lambda r: r.start_utc)
    return StillToday(first.uid, first.title, first.start_utc, sum(r.minutes for r in ahead), len(ahead))
