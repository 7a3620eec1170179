"""B Plan: the week as it stands, laid by the planner, moved by hand, and a date asked for."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta
from uuid import uuid4

from chirotend.core.errors import MethodError
from chirotend.core.judge.evidence import Evidence
from chirotend.core.plan import planner, rests
from chirotend.core.plan.jumps import Jump, jumps, ramp_minutes, usual_week_load
from chirotend.core.plan.planner import monday
from chirotend.core.plan.week import PLAYED_KINDS, Aim, Engagement, PlannedBlock, free_windows, plan_rules
from chirotend.services import corrections, engagements, own_library
from chirotend.services.desk import Desk, NotThere, Refused
from chirotend.services.profile import Profile, profile
from chirotend.services.today import issue, said
from chirotend.store.models import AimRow, CallRow, PlannedRow

PLENTY_MIN = 24 * 60.0
STEP_MIN = 15
MOVE_DAYS_MAX = 60
TITLE_MAX = 120
Judged = tuple[CallRow, Evidence]


@dataclass(frozen=True)
class Ahead:
    """What is known of the days ahead: engagements, own blocks, expected load by day, her usual, ceilings of the call.

    `loads` in AU: logged for days past, what is written and planned for today, planned for days ahead. `ceilings`:
    minutes a day the call allows (nothing for days it says nothing of). `week_high`, `day_high`: None = not known yet.
    """

    first: date
    last: date
    engagements: tuple[Engagement, ...]
    blocks: tuple[PlannedBlock, ...]
    loads: Mapping[date, float]
    day_low: float | None
    day_high: float | None
    week_high: float | None
    ceilings: Mapping[date, float]
    call: str
    played_days: Mapping[str, int]
    evidence: Evidence
    judged: Judged


def ahead(desk: Desk, first: date, last: date, judged: Judged | None = None) -> Ahead:
    """Return what stands from `first` to `last` and what it adds up to; `judged` spares working the call out again."""
    row, evidence = judged or issue(desk)
    today = desk.today
    fixed = tuple(engagements.between(desk, first, last))
    blocks = tuple(blocks_between(desk, first, last))
    written = {r.uid for r in engagements.rows_between(desk, first, last) if r.session_uid}
    loads: dict[date, float] = {}
    for n in range((last - first).days + 1):
        day = first + timedelta(days=n)
        logged = evidence.load.on(day)[1]
        load = logged if logged == logged else 0.0
        if day >= today:
            load += sum(e.load for e in fixed if e.day == day and e.uid not in written)
            load += sum(b.load for b in blocks if b.day == day and b.end_utc > desk.now)
        loads[day] = load
    usual, week = evidence.usual_load, usual_week_load(evidence.load, today)
    return Ahead(
        first,
        last,
        fixed,
        blocks,
        loads,
        usual.low if usual else None,
        usual.high if usual else None,
        week[1] if week else None,
        _ceilings(desk, said(row)),
        said(row).effective,
        _played_days(evidence),
        evidence,
        (row, evidence),
    )


def _ceilings(desk: Desk, today) -> dict[date, float]:  # type: ignore[no-untyped-def]
    """Minutes a day the call allows; a level counts until its clear wakings could be over."""
    if today.effective == "tacet":
        return {desk.today + timedelta(days=n): 0.0 for n in range(today.standing.wakings_needed + 1)}
    if today.effective.startswith("muted") and today.dose.minutes is not None:
        days = today.standing.wakings_needed - today.standing.clear
        return {desk.today + timedelta(days=n): today.dose.minutes for n in range(max(1, days))}
    if today.dose.minutes is not None:
        return {desk.today: today.dose.minutes}
    return {}


def _played_days(evidence: Evidence) -> dict[str, int]:
    days: dict[str, set[date]] = {}
    for session in evidence.record.sessions:
        for block in session.blocks:
            if block.instrument and block.kind != "other":
                days.setdefault(block.instrument, set()).add(session.day)
    return {instrument: len(found) for instrument, found in days.items()}


def _starts(desk: Desk, what: Ahead) -> dict[str, float]:
    """First doses by instrument; none while the record is too young to tell a new instrument from an old one."""
    if sum(what.played_days.values()) < plan_rules()["new_instrument_days"]:
        return {}
    return {k: float(i.new_player_start_minutes) for k, i in own_library.instruments(desk).items()}


# --- blocks and aims ---------------------------------------------------------------------------------------


def blocks_between(desk: Desk, first: date, last: date) -> list[PlannedBlock]:
    shelf = desk.store.shelf(PlannedRow)
    rows = shelf.all(PlannedRow.day >= first, PlannedRow.day <= last, order=(PlannedRow.start_utc,))
    return [_block(row) for row in rows]


def _block(row: PlannedRow) -> PlannedBlock:
    return PlannedBlock(
        row.uid, row.day, row.start_utc, row.minutes, row.aim_uid, row.title, row.instrument, row.effort, row.laid_by
    )


def _values(block: PlannedBlock) -> dict[str, object]:
    names = ("uid", "day", "start_utc", "minutes", "aim_uid", "title", "instrument", "effort", "laid_by")
    return {n: getattr(block, n) for n in names}


def block_of(desk: Desk, uid: str) -> PlannedBlock:
    row = desk.store.shelf(PlannedRow).get(uid)
    if row is None:
        raise NotThere(uid)
    return _block(row)


def aims(desk: Desk, week: date) -> list[AimRow]:
    """Return the aims of the week that begins on `week`."""
    return desk.store.shelf(AimRow).all(AimRow.week == week, order=(AimRow.done, AimRow.title))


def every_aim(desk: Desk) -> list[AimRow]:
    """Return every aim she ever wrote, oldest first."""
    return desk.store.shelf(AimRow).all(order=(AimRow.week,))


@dataclass(frozen=True)
class TypedAim:
    """An aim as typed: minutes wanted that week, effort 0-10, whether new and hard, soft school or edge."""

    title: str
    minutes: float | None
    effort: float | None = None
    instrument: str = ""
    new_hard: bool = False
    manner: str = "soft"
    done: bool = False
    grip: str = ""


def write_aim(desk: Desk, week: date, typed: TypedAim, uid: str | None = None) -> str:
    """Write an aim (new, or in the place of `uid`); returns its id. `Refused` names the field."""
    if uid is not None and desk.store.shelf(AimRow).get(uid) is None:
        raise NotThere(uid)
    if not 1 <= len(typed.title.strip()) <= TITLE_MAX:
        raise Refused("aim_title", f"Say the aim in a few words, up to {TITLE_MAX} characters.")
    if typed.minutes is None or not 5 <= typed.minutes <= 1200:
        raise Refused("aim_minutes", "Minutes wanted this week run from 5 to 1200.")
    effort = 4.0 if typed.effort is None else typed.effort
    if not 0 <= effort <= 10:
        raise Refused("aim_effort", "Effort runs from 0 (nothing) to 10 (all you have).")
    if typed.manner not in ("soft", "edge"):
        raise Refused("aim_manner", "Choose soft and slow, or at the edge.")
    if typed.grip and typed.grip not in own_library.grips(desk):
        raise Refused("aim_grip", "Choose a grip or seat of the library, or none.")
    values = {
        "grip": typed.grip,
        "uid": uid or uuid4().hex,
        "week": monday(week),
        "title": typed.title.strip(),
        "minutes": typed.minutes,
        "effort": effort,
        "instrument": typed.instrument[:80],
        "new_hard": typed.new_hard,
        "manner": typed.manner,
        "done": typed.done,
        "unlaid": "",
    }
    corrections.put_row(desk, "aim", values)
    return str(values["uid"])


def grips_for(desk: Desk) -> dict[str, str]:
    """Return the grips, holds and seats for her instruments: name by id."""
    families = {i.family for k, i in own_library.instruments(desk).items() if k in desk.player.instruments}
    return {k: f"{g.name} ({g.kind})" for k, g in own_library.grips(desk).items() if families & set(g.families)}


def finish_aim(desk: Desk, uid: str) -> None:
    """Give credit: the aim is done. `NotThere` if she has none of that id."""
    row = desk.store.shelf(AimRow).get(uid)
    if row is None:
        raise NotThere(uid)
    row.done, row.unlaid = True, ""


def drop_aim(desk: Desk, uid: str) -> None:
    """Rub out an aim and what the planner laid for it ahead."""
    if desk.store.shelf(AimRow).get(uid) is None:
        raise NotThere(uid)
    desk.store.shelf(PlannedRow).drop_all(
        PlannedRow.aim_uid == uid, PlannedRow.laid_by == "planner", PlannedRow.start_utc > desk.now
    )
    corrections.delete(desk, "aim", uid)


def move(desk: Desk, uid: str, minutes: float = 0, days: int = 0, longer: float = 0) -> PlannedBlock:
    """Move a block by minutes and days, or make it longer; it is hers from then on. `Refused` says why not."""
    block = block_of(desk, uid)
    if abs(days) > MOVE_DAYS_MAX or abs(minutes) > MOVE_DAYS_MAX * 24 * 60:
        raise Refused("block", f"A block moves by at most {MOVE_DAYS_MAX} days.")
    if block.start_utc <= desk.now:
        raise Refused("block", "This lies in the past: what was played is written in under Record.")
    day = block.day + timedelta(days=days)
    local = (block.start_utc + timedelta(minutes=minutes)).astimezone(desk.zone)
    start = datetime.combine(local.date() + timedelta(days=days), local.time(), desk.zone).astimezone(UTC)
    length = block.minutes + longer
    if not 5 <= length <= 180:
        raise Refused("block", "A block takes 5 to 180 minutes.")
    if start < desk.now:
        raise Refused("block", "This place lies in the past.")
    moved = replace(block, day=day, start_utc=start, minutes=length, laid_by="hand")
    others = [b for b in blocks_between(desk, day, day) if b.uid != uid]
    for other in (*others, *engagements.between(desk, day - timedelta(days=1), day)):
        if moved.start_utc < other.end_utc and other.start_utc < moved.end_utc:
            raise Refused("block", f"“{other.title}” stands there. Move that first, or choose another place.")
    corrections.put_row(desk, "planned", _values(moved))
    return moved


def rub_out(desk: Desk, uid: str) -> None:
    block_of(desk, uid)
    corrections.delete(desk, "planned", uid)


# --- laying ------------------------------------------------------------------------------------------------


def lay(desk: Desk, week: date) -> int:
    """Lay the aims of a week into what is free of it; what was moved by hand stays. Returns the minutes laid.

    Each aim keeps a sentence for what found no place, and why.
    """
    week = monday(week)
    first, last = max(week, desk.today), week + timedelta(days=6)
    if first > last:
        raise Refused("week", "This week is over. Choose the present one or a later one.")
    shelf = desk.store.shelf(PlannedRow)
    shelf.drop_all(
        PlannedRow.laid_by == "planner",
        PlannedRow.start_utc > desk.now,
        PlannedRow.day >= first,
        PlannedRow.day <= last,
    )
    what = ahead(desk, week, last)
    rows = [a for a in aims(desk, week) if not a.done]
    wanted, problem = _problem(desk, what, rows, first)
    try:
        laid = planner.lay(problem)
    except MethodError as error:
        raise Refused("week", "No plan was found in time. Take out an aim or two and lay the rest.") from error
    for block in _placed(desk, problem, laid):
        shelf.put(_values(block))
    missing = {n.aim.uid: n for n in laid.not_laid}
    for row in rows:
        row.unlaid = why_not_laid(missing[row.uid]) if row.uid in missing else ""
        if row.uid not in {a.uid for a in wanted} and row.new_hard and what.call.startswith("muted"):
            row.unlaid = f"{row.title}: nothing new while Muted; it waits."
    desk.db.flush()
    return round(sum(p.units for p in laid.pieces) * plan_rules()["unit_min"])


def _problem(desk: Desk, what: Ahead, rows: Sequence[AimRow], first: date) -> tuple[tuple[Aim, ...], planner.Problem]:
    """Put the week's limits together: free windows, room of each day, the week, instruments that ramp up."""
    me, r = profile(desk), plan_rules()
    week, last = what.first, what.last
    days = [first + timedelta(days=n) for n in range((last - first).days + 1)]
    buffer = timedelta(minutes=r["buffer_min"])
    near = engagements.between(desk, first - timedelta(days=1), last + timedelta(days=1))
    busy = [(e.start_utc - buffer, e.end_utc + buffer) for e in near]
    busy += [(b.start_utc, b.end_utc) for b in what.blocks]
    windows = free_windows(days, busy, desk.zone, me.from_hour, me.to_hour, _next_quarter(desk.now))
    done = _minutes_by_aim(what.blocks)
    wanted = tuple(
        Aim(a.uid, a.title, max(0.0, a.minutes - done.get(a.uid, 0.0)), a.effort, a.instrument, a.new_hard, a.weight)
        for a in rows
        if a.minutes > done.get(a.uid, 0.0) and not (a.new_hard and what.call.startswith("muted"))
    )
    week_left = {week: what.week_high - sum(what.loads.values())} if what.week_high is not None else {}
    return wanted, planner.Problem(
        wanted, windows, {d: _room(what, me, near, d) for d in days}, week_left, _ramps(desk, what, wanted, days)
    )


def _room(what: Ahead, me: Profile, near: Sequence[Engagement], day: date) -> planner.DayRoom:
    """What a day still takes, by the strictest of its limits."""
    r = plan_rules()
    limits = [(PLENTY_MIN, "minutes")]
    own = sum(b.minutes for b in what.blocks if b.day == day)
    if me.rest_weekday == str(day.weekday()):
        limits.append((0.0, "off") if me.rest_school == "day off" else (r["light_day_most_min"] - own, "minutes"))
    performances = {e.day for e in near if e.kind == "performance"}
    if day in performances:
        limits.append((r["performance_day_most_min"] - own, "taper"))
    elif day + timedelta(days=1) in performances:
        limits.append((r["day_before_most_min"] - own, "taper"))
    if what.day_high is None:
        limits.append((r["no_usual_day_min"] - own, "minutes"))
    if day in what.ceilings:
        played = what.evidence.load.on(day)[0]
        taken = sum(e.minutes for e in what.engagements if e.day == day and e.kind in PLAYED_KINDS)
        limits.append((what.ceilings[day] - taken - own - (played if played == played else 0.0), "dose"))
    minutes, why = min(limits)
    fixed = what.loads[day]
    load = None if what.day_high is None else what.day_high - fixed
    return planner.DayRoom(day, max(0.0, minutes), load, fixed, why)


def _ramps(desk: Desk, what: Ahead, wanted: Sequence[Aim], days: Sequence[date]) -> dict[tuple[str, date], float]:
    """Minutes a day for each wanted instrument that is new to her, less what stands there already."""
    starts, found = _starts(desk, what), {}
    for instrument in {a.instrument for a in wanted if a.instrument in starts}:
        most = ramp_minutes(what.played_days.get(instrument, 0), starts[instrument])
        if most is None:
            continue
        for day in days:
            taken = sum(e.minutes for e in what.engagements if e.day == day and e.instrument == instrument)
            taken += sum(b.minutes for b in what.blocks if b.day == day and b.instrument == instrument)
            found[instrument, day] = max(0.0, most - taken)
    return found


def _minutes_by_aim(blocks: Sequence[PlannedBlock]) -> dict[str, float]:
    found: dict[str, float] = {}
    for block in blocks:
        if block.aim_uid:
            found[block.aim_uid] = found.get(block.aim_uid, 0.0) + block.minutes
    return found


def _next_quarter(now: datetime) -> datetime:
    step = timedelta(minutes=STEP_MIN)
    past = timedelta(minutes=now.minute % STEP_MIN, seconds=now.second, microseconds=now.microsecond)
    return now - past + step if past else now


def _placed(desk: Desk, problem: planner.Problem, laid: planner.Plan) -> list[PlannedBlock]:
    """Give each piece its hour: within a window the easier first, a rest between two."""
    r = plan_rules()
    found = []
    for w, window in enumerate(problem.windows):
        at = _next_quarter(window.start_utc)
        if (at - window.start_utc).total_seconds() / 60 + _length(problem, laid, w) > window.minutes:
            at = window.start_utc
        for piece in sorted((p for p in laid.pieces if p.window == w), key=lambda p: problem.aims[p.aim].effort):
            aim = problem.aims[piece.aim]
            minutes = min(piece.units * r["unit_min"], aim.minutes)
            found.append(
                PlannedBlock(
                    uuid4().hex, window.day, at, minutes, aim.uid, aim.title, aim.instrument, aim.effort, "planner"
                )
            )
            at += timedelta(minutes=minutes + r["rest_min"])
    return found


def _length(problem: planner.Problem, laid: planner.Plan, w: int) -> float:
    r = plan_rules()
    return sum(p.units * r["unit_min"] + r["rest_min"] for p in laid.pieces if p.window == w)


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


def why_not_laid(missing: planner.NotLaid) -> str:
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


def week_jumps(desk: Desk, what: Ahead, week_aims: Sequence[AimRow]) -> tuple[Jump, ...]:
    """Return what stands out in the days ahead, today included."""
    days = {d: load for d, load in what.loads.items() if d >= desk.today}
    planned: dict[tuple[str, date], float] = {}
    for thing in (*what.engagements, *what.blocks):
        if thing.day >= desk.today and thing.instrument:
            key = (thing.instrument, thing.day)
            planned[key] = planned.get(key, 0.0) + thing.minutes
    starts = _starts(desk, what)
    asks = [Aim(a.uid, a.title, a.minutes, a.effort, a.instrument, a.new_hard) for a in week_aims]
    whole_week = what.week_high if len(days) == len(what.loads) else None
    return jumps(days, what.day_high, whole_week, what.engagements, asks, what.played_days, planned, starts)


def session_rests(desk: Desk, minutes: float, played_today: float, instrument: str) -> list[tuple[float, float]]:
    """Return the bars and rests of a session by her preset; a heavy or wide instrument rests sooner."""
    known = own_library.instruments(desk).get(instrument)
    factor = known.rest_factor.value if known else 1.0
    return list(rests.bars(minutes, profile(desk).rest_preset or "fixed", played_today, factor))
