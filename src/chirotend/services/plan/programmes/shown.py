"""What the page of programmes shows: where each stands, why today's dose is what it is, what would move it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.judge.evidence import Evidence
from chirotend.core.load.series import load_series
from chirotend.core.plan.programmes.steps import BACK, hands
from chirotend.core.plan.programmes.walk import ASK, REACHED, Walk
from chirotend.core.plan.programmes.weeks import week_of
from chirotend.core.plan.week import PLAYED_KINDS
from chirotend.drawing import programme as drawn
from chirotend.drawing.measured import Picture
from chirotend.library.loader import programmes
from chirotend.library.schema import ProgrammeEntry
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.kit import own_library
from chirotend.services.plan import engagements
from chirotend.services.plan.programmes.running import (
    Programme,
    all_of,
    doses_ahead,
    easy_only,
    instrument_doses,
    running,
    walk_of,
)
from chirotend.services.record import corrections
from chirotend.services.words import amount, day_words, dose_reason, sentence
from chirotend.store.models import EngagementRow, ProgrammeRow

AHEAD = timedelta(days=28)
ORDINALS = ("first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth")
REASON_MAX = 500


@dataclass(frozen=True)
class Move:
    """What would move the dose: up, level, back or none, with its bold part and the rest of its sentence."""

    kind: str
    lead: str
    rest: str


@dataclass(frozen=True)
class Drawn:
    """A drawing with its title, a pencilled remark and the words for it."""

    title: str
    remark: str
    label: str
    picture: Picture


@dataclass(frozen=True)
class Shown:
    """A programme as the page shows it. `wide` and `narrow`: its drawings for a wide screen and for a phone."""

    programme: Programme
    subject: str
    headline: str
    why: str
    moves: tuple[Move, ...]
    wide: tuple[Drawn, ...]
    narrow: tuple[Drawn, ...]
    #: running, ask, reached, over (its calendar has run out), waits
    state: str


@dataclass(frozen=True)
class Conflict:
    """An engagement that asks more than the day's dose; `left_min`: what the dose leaves for it."""

    row: EngagementRow
    sentence: str
    left_min: float


@dataclass(frozen=True)
class ProgrammesPage:
    running: tuple[Shown, ...]
    ended: tuple[Programme, ...]
    conflicts: tuple[Conflict, ...]
    offered: tuple[ProgrammeEntry, ...]
    usual_min: float | None


def programmes_page(context: Context) -> ProgrammesPage:
    """Return her programmes, what they clash with, and those that can be begun."""
    evidence = todays_call(context).evidence
    mine = all_of(context)
    return ProgrammesPage(
        tuple(_shown_programme(context, p, evidence) for p in mine if p.ended is None),
        tuple(p for p in mine if p.ended is not None),
        conflicts(context, evidence),
        tuple(programmes().values()),
        evidence.baseline_minutes,
    )


def one(context: Context, uid: str) -> Shown:
    """Return one of her programmes; `NotThere` when she has none of that id."""
    context.row(ProgrammeRow, uid)
    evidence = todays_call(context).evidence
    return next(_shown_programme(context, p, evidence) for p in all_of(context) if p.uid == uid)


def todays_lines(context: Context) -> tuple[str, ...]:
    """Return a line for Today of each programme that runs and whose dose is not among the reasons of the call."""
    if not running(context):
        return ()
    evidence = todays_call(context).evidence
    said_already = {c.programme for c in evidence.ceilings}
    shown = (_shown_programme(context, p, evidence) for p in running(context) if p.entry.id not in said_already)
    return tuple(f"{s.programme.entry.name}. {s.headline} {s.why}" for s in shown)


def _shown_programme(context: Context, p: Programme, e: Evidence) -> Shown:
    if p.first > context.today:
        return Shown(
            p, _subject(context, p), sentence("plan", "begins", day=day_words(p.first)), "", (), (), (), "waits"
        )
    if p.entry.rule == "steps":
        return _steps(context, p, e)
    if p.entry.rule == "weeks":
        return _weeks(context, p, todays_call(context).issued.dose.minutes)
    return _season(context, p, e) if p.entry.rule == "season" else _days(context, p, e)


def _subject(context: Context, p: Programme) -> str:
    d = p.data
    whys = {"layoff": "after a lay-off", "illness": "after an illness", "operation": "after an operation"}
    parts = [d.what, own_library.name_of(context, d.instrument) if d.instrument else "", whys.get(d.why, "")]
    if d.start_min is not None:
        whose = " set by your clinician" if d.by_clinician else ""
        parts.append(f"start of {d.start_min:g} minutes{whose}, {p.first:%-d %B}")
    if d.teacher:
        parts.append(f"with {d.teacher}")
    if d.hand:
        parts.append(f"the {d.hand} hand")
    if d.until is not None:
        parts.append(f"until {d.until:%-d %B %Y}")
    return ", ".join(part for part in parts if part)


# --- a dose that climbs


def _range_at_step(step: int) -> str:
    """Range in notes at a step, in words; it grows by one note per step."""
    if step == 1:
        return sentence("plan", "few_notes")
    return sentence("plan", "wider", notes=amount(step - 1, "note").capitalize())


def _which(number: int) -> str:
    return f"the {ORDINALS[number - 1]} step" if number <= len(ORDINALS) else f"step {number}"


def _steps(context: Context, p: Programme, e: Evidence) -> Shown:
    walk = walk_of(context, p, e)
    today = walk.today
    state = {ASK: "ask", REACHED: "reached"}.get(walk.state, "running")
    headline = sentence("plan", "nothing_more")
    if not today.stopped:
        headline = sentence("plan", "minutes_and_step", minutes=f"{today.dose:g}", step=_which(walk.number))
    asks = _asked_of_days(context, p)
    days = _dosed(context, p, walk, asks)
    why = dose_reason("stopped" if today.stopped else today.why, today.number)
    top = max(20.0, min(p.climb.aim_min, max(d.dose or 0 for d in days) * 1.1))
    return Shown(
        p,
        _subject(context, p),
        headline,
        f"{why} {_range_at_step(walk.number)}" if p.entry.note_a_step and not today.stopped else why,
        _moves(p, walk) if state == "running" else (),
        tuple(_staff(days[i : i + 14], walk, context.today, top) for i in range(0, len(days), 14)),
        tuple(_staff(days[i : i + 7], walk, context.today, top) for i in range(0, len(days), 7)),
        state,
    )


def _moves(p: Programme, walk: Walk) -> tuple[Move, ...]:
    rule, dose = hands(), walk.today.dose
    found = []
    if walk.up_in_days is not None:
        days = "the next two quiet days" if walk.up_in_days > 1 else "one more quiet day"
        found.append(
            Move("up", f"Up to {walk.up_to:g}", f"after {days}: {rule.up_to:g} or less, and mornings at your usual.")
        )
    found.append(Move("level", f"Stays at {dose:g}", "at 3 or 4 while playing or after."))
    if walk.back_to < dose:
        found.append(
            Move("back", f"Back to {walk.back_to:g}", f"if a morning wakes {rule.back_rise:g} above your usual.")
        )
    found.append(Move("none", "Nothing that day", f"at {rule.stop_from:g}, or any tingling, weakness or night sign."))
    return tuple(found)


def _asked_of_days(context: Context, p: Programme) -> dict[date, float]:
    """Minutes that engagements ask of the days ahead, on the programme's instrument where it has one."""
    found: dict[date, float] = {}
    for e in engagements.between(context, context.today, context.today + AHEAD):
        if e.kind in PLAYED_KINDS and p.data.instrument in ("", e.instrument):
            found[e.day] = found.get(e.day, 0.0) + e.minutes
    return found


def _dosed(context: Context, p: Programme, walk: Walk, asks: Mapping[date, float]) -> list[drawn.Dosed]:
    """Four weeks at most: from the Monday of last week (or of the first) on."""
    today = context.today
    monday = max(p.first, today - timedelta(days=7))
    monday -= timedelta(days=monday.weekday())
    past = {s.day: s for s in walk.steps}
    ahead = dict(walk.ahead)
    last = max([*ahead, today])
    found = []
    for n in range(28):
        day = monday + timedelta(days=n)
        step = past.get(day)
        dose = step.dose if step else ahead.get(day, ahead[last] if ahead and last < day else None)
        back = step is not None and step.action == BACK
        found.append(drawn.Dosed(day, dose, day < today, back, asks.get(day, 0.0) if day >= today else 0.0))
    while len(found) > 14 and all(d.dose is None for d in found[-14:]):
        del found[-14:]
    return found


def _staff(days: Sequence[drawn.Dosed], walk: Walk, today: date, top: float) -> Drawn:
    backs = [s for s in walk.steps if s.action == BACK and any(s.day == d.day for d in days)]
    remark = f"{backs[-1].day:%a %-d}: back to {backs[-1].dose:g}" if backs else ""
    title = f"{days[0].day:%-d %B} to {days[-1].day:%-d %B}"
    spoken = [f"{d.day:%A %-d} {d.dose:g}" for d in days if d.dose is not None]
    return Drawn(title, remark, f"Minutes a day: {', '.join(spoken)}", drawn.dose_staff(days, today, top))


# --- weeks


def _weeks(context: Context, p: Programme, dose: float | None) -> Shown:
    here = week_of(p.weeks, context.today)
    bars = [(1.0 if w.share is None else w.share, w.new) for w in p.weeks]
    picture = drawn.share_bars(bars, here[0] if here else None)
    lines = [f"week {n}: {new:.0%} new" for n, (_, new) in enumerate(bars, start=1)]
    shown = (Drawn("Week by week", "black: the new way; hatched: the old", ", ".join(lines), picture),)
    if here is None:
        return Shown(p, _subject(context, p), sentence("plan", "weeks_over"), "", (), shown, shown, "over")
    number, week = here
    of = len(p.weeks)
    headline = sentence("plan", "week_of", number=number, of=of)
    if p.data.usual_min is not None and week.new >= 1:
        headline = sentence("plan", "week_all_new", number=number, of=of)
    elif p.data.usual_min is not None:
        day = min(p.data.usual_min * (week.share or 1.0), p.data.usual_min if dose is None else dose)
        headline = sentence("plan", "week_new_first", number=number, of=of, minutes=f"{day * week.new:.0f}")
    why = sentence("plan", "easy_only") if week.easy else sentence("plan", "easy_music")
    return Shown(p, _subject(context, p), headline, why, (), shown, shown, "running")


def _season(context: Context, p: Programme, e: Evidence) -> Shown:
    allowed = p.season_min
    load = load_series(e.record, p.first, context.today)
    played = [
        None if not any(m == m for m in week) else sum(m for m in week if m == m)
        for week in (load.minutes[7 * n : 7 * n + 7] for n in range(len(allowed)))
    ]
    number = (context.today - p.first).days // 7 + 1
    over = number > len(allowed)
    picture = drawn.season_bars(allowed, played, None if over else number)
    lines = [f"week {n}: {minutes / 60:.1f} hours" for n, minutes in enumerate(allowed, start=1)]
    shown = (Drawn("Week by week", "", ", ".join(lines), picture),)
    if over:
        return Shown(p, _subject(context, p), sentence("plan", "date_come"), "", (), shown, shown, "over")
    done, most = f"{(played[number - 1] or 0) / 60:.1f}", f"{allowed[number - 1] / 60:.1f}"
    headline = sentence("plan", "season_week", number=number, of=len(allowed), done=done, allowed=most)
    why = sentence("plan", "last_week_eased") if number == len(allowed) else sentence("plan", "tenth_more")
    return Shown(p, _subject(context, p), headline, why, (), shown, shown, "running")


def _days(context: Context, p: Programme, e: Evidence) -> Shown:
    number = (context.today - p.first).days + 1
    state = "over" if number > p.entry.days else "running"
    headline = sentence("plan", "day_of", number=min(number, p.entry.days), of=p.entry.days)
    if p.entry.rule == "hand":
        why = sentence("plan", "twice_the_time", hand=p.data.hand)
        return Shown(p, _subject(context, p), headline, why, (), (), (), state)
    load = load_series(e.record, p.first, context.today)
    minutes = [None if m != m else m for m in load.minutes[: p.entry.days]]
    floor, bad = p.entry.floor_min, p.entry.bad_day_min
    kept = sum(m is not None and m >= bad for m in minutes)
    now = minutes[-1] or 0.0
    why = sentence(
        "plan", "daily_minutes", now=f"{now:.0f}", floor=f"{floor:g}", kept=kept, days=len(minutes), bad=f"{bad:g}"
    )
    label = f"{kept} of {len(minutes)} days kept"
    shown = (Drawn("Day by day", "", label, drawn.kept_days(minutes, floor, bad)),)
    return Shown(p, _subject(context, p), headline, why, (), shown, shown, state)


# --- engagements above the dose


def conflicts(context: Context, e: Evidence) -> tuple[Conflict, ...]:
    """Return the engagements of the next four weeks that a programme does not allow as they stand."""
    last = context.today + AHEAD
    rows = engagements.rows_between(context, context.today, last)
    open_rows = [r for r in rows if r.kind in PLAYED_KINDS and not r.session_uid and not r.reason and r.minutes > 0]
    doses = doses_ahead(context, e, context.today, last)
    dose_today = todays_call(context).issued.dose.minutes
    if e.ceilings and dose_today is not None:
        doses[context.today] = dose_today
    own = instrument_doses(context, e, context.today, last)
    found = []
    for row in open_rows:
        limits = [d for d in (doses.get(row.day), own.get((row.instrument, row.day))) if d is not None]
        easy = easy_only(context, row.day)
        if easy is not None:
            limits.append(0.0)
        others = sum(
            r.minutes for r in open_rows if r.day == row.day and r.uid != row.uid and r.start_utc < row.start_utc
        )
        if limits and row.minutes + others > min(limits):
            left = max(0.0, min(limits) - others)
            found.append(Conflict(row, _conflict_words(row, bool(easy), min(limits)), float(round(left))))
    return tuple(found)


def _conflict_words(row: EngagementRow, easy: bool, dose: float) -> str:
    day, minutes = day_words(row.day), f"{row.minutes:g}"
    if easy:
        return sentence("plan", "asks_too_much_easy", day=day, title=row.title, minutes=minutes)
    return sentence("plan", "asks_too_much", day=day, title=row.title, minutes=minutes, dose=f"{dose:g}")


def settle(context: Context, uid: str, how: str, reason: str) -> None:
    """Hand an engagement over, lighten it to what the dose leaves, or take it with a reason.

    `FieldError` names the field; `NotThere` when nothing clashes with it.
    """
    evidence = todays_call(context).evidence
    conflict = next((c for c in conflicts(context, evidence) if c.row.uid == uid), None)
    if conflict is None:
        raise NotThere(uid)
    if how == "hand_over":
        engagements.drop(context, uid)
    elif how == "lighten" and conflict.left_min > 0:
        corrections.change_row(context, "engagement", conflict.row, minutes=conflict.left_min)
    elif how == "take":
        if not reason.strip():
            raise FieldError("reason", "Write why you take it: it stands beside the date.")
        corrections.change_row(context, "engagement", conflict.row, reason=reason.strip()[:REASON_MAX])
    else:
        raise FieldError("how", "Choose one of the answers shown.")
