"""The day's call: issued when something it rests on was written, stored as it was said, overruled with a reason."""

import logging
import math
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from datetime import date, timedelta
from typing import Any

from sqlalchemy.exc import OperationalError

from chirotend.core.judge.call import Call, overruled, seen_by_clinician, todays_call
from chirotend.core.judge.evidence import USUAL_WATCH, Evidence
from chirotend.core.judge.findings import Finding
from chirotend.core.judge.known import Known
from chirotend.core.judge.recovery import Recovery
from chirotend.core.judge.rules import Dose, rules
from chirotend.core.judge.what_if import WhatIf, what_if
from chirotend.core.load.averages import ewma_over_gaps
from chirotend.core.record import Place, Record, Session
from chirotend.core.record.words import EFFORT_MAX, SESSION_MAX_MIN, SignAnswer
from chirotend.formats.kept_rows import RECOVERY_DAYS, dose_from, finding_from, recovery_from
from chirotend.library.loader import wordings
from chirotend.services.context import Context, FieldError
from chirotend.services.kit.profile import profile
from chirotend.services.plan.programmes import running as programmes
from chirotend.services.record import measured
from chirotend.services.today import happened, matters
from chirotend.services.today.judged import KEPT_CALLS
from chirotend.services.units import decimal
from chirotend.services.words import Reason, reason
from chirotend.store.accounts import hold
from chirotend.store.models import CallRow, ClearanceRow, KnownRow, SignAnswerRow

log = logging.getLogger(__name__)
REASON_MAX, MOST_START_MIN = 500, 240
#: after she has changed something its place is looked at again
LOOK_AGAIN_DAYS = 14


@dataclass(frozen=True)
class Said:
    """The call that stands for a day, as it was said, with the overrule if there is one."""

    day: date
    call: str
    row: int
    reasons: tuple[Reason, ...]
    dose: Dose
    recovery: Recovery
    overrulable: bool
    urgent: bool
    version: int
    overrule: str | None = None
    overrule_reason: str = ""

    @property
    def effective(self) -> str:
        return self.overrule or self.call


@dataclass(frozen=True)
class Week:
    """Seven days of playing up to and with `today`; None = nothing known. Minutes; load in AU a day.

    `logged`: days whose minutes are known; `rated`: those whose load is known too, which needs an effort.
    """

    minutes: float
    minutes_before: float | None
    logged: int
    rated: int
    running_load: float | None
    usual_low: float | None
    usual_high: float | None
    today_minutes: float | None
    usual_minutes: float | None


@dataclass(frozen=True)
class Today:
    said: Said
    week: Week
    record: Record
    sessions: tuple[Session, ...]
    asked: tuple[str, ...]
    day_off: bool


def evidence_on(context: Context, day: date, before: Recovery, morning: bool = False) -> Evidence:
    """Return what the judgement looks at for `day`; `morning` leaves out what came after waking."""
    store, r = context.store, rules()
    sessions_from = day - timedelta(days=r.judge_load_days)
    record = store.record(day - timedelta(days=r.judge_days), day, before.held, sessions_from)
    if morning:
        record = record.until_morning(day)
    clearance, me = _latest_clearance(context), profile(context)
    answered, watched = sign_answers(store.repository(SignAnswerRow).all(), day)
    found = Evidence(
        record,
        day,
        context.now,
        before.settled_until,
        clearance.at_utc if clearance else None,
        store.played_days_before(sessions_from, r.usual_days),
        me.watch or USUAL_WATCH,
        tuple(map(known_of, store.repository(KnownRow).all())),  # due ones too: they held until their review
        answered,
        measured.series_until(context, day),
        overruled_until=before.overruled_until,
        watched=watched,
        happened=happened.happenings(context),
        states=happened.states_of(context),
    )
    return programmes.with_ceilings(context, found)


def known_of(row: KnownRow) -> Known:
    timings = frozenset((*row.timings.split(), *(("night",) if row.at_night else ())))
    return Known(row.region, row.side, row.kind, row.level, row.since, row.review, row.lasts, timings)


def sign_answers(rows: Sequence[SignAnswerRow], day: date) -> tuple[tuple[tuple[Place, date], ...], tuple[Place, ...]]:
    """Return what the answers to signs do on `day`: places settled until a day, and places that are only watched.

    "Not so" settles until its day, a cause she knows until the day it ended. Until then, and for a fortnight after she
    has changed something, the place is watched: it is shown and mutes nothing.
    """
    settled, watched = [], []
    for row in rows:
        place = (row.region, row.side)
        if row.answer == SignAnswer.NOT_SO:
            settled.append((place, row.day))
        elif row.answer == SignAnswer.KNOWN_CAUSE and row.ended is not None:
            settled.append((place, row.ended))
        elif row.answer == SignAnswer.KNOWN_CAUSE or (day - row.day).days < LOOK_AGAIN_DAYS:
            watched.append(place)
    return tuple(settled), tuple(watched)


def issue(context: Context, morning: bool = False) -> tuple[CallRow, Evidence]:
    """Work out today's call and store it if it says something new. Returns the row that stands.

    A page that changes nothing works it out once, however many parts of it ask.
    """
    return context.once(f"call, {'morning' if morning else 'now'}", lambda: _issued(context, morning))


def _issued(context: Context, morning: bool) -> tuple[CallRow, Evidence]:
    call, evidence = _worked_out(context, morning)
    last = context.store.latest_call(context.today)
    if last is not None and _same(last, call):
        return last, evidence
    return _stored(context, morning, (call, evidence), last)


def _worked_out(context: Context, morning: bool) -> tuple[Call, Evidence]:
    before, last_day = _recovery_before(context, context.today)
    evidence = evidence_on(context, context.today, before, morning)
    return KEPT_CALLS.call(context.player.id, morning, evidence, before, last_day)


def _stored(
    context: Context, morning: bool, before: tuple[Call, Evidence], last: CallRow | None
) -> tuple[CallRow, Evidence]:
    """Store the call that was worked out `before`, unless another page said the same meanwhile.

    It is worked out again where nobody else writes: what was read before may be half of before and half of after
    another writer's commit. Where the disk cannot be written the call is said all the same, and stored by the next page
    that can.
    """
    values = _values(context, before[0], last)
    try:
        hold(context.db, context.player.id)
        call, evidence = _worked_out(context, morning)
        now = context.store.latest_call(context.today)
        if now is not None and _same(now, call):
            return now, evidence
        row = context.store.add_call(**_values(context, call, now))
        matters.raise_from(context, call)
        return row, evidence
    except OperationalError:
        if context.writes:
            raise
        log.warning("today’s call could not be stored now")
        context.db.rollback()
        return CallRow(player_id=context.player.id, number=0, **values), before[1]


def _values(context: Context, call: Call, last: CallRow | None) -> dict[str, Any]:
    """The row of a call; an overrule of `last` that still holds is kept."""
    kept = last if last is not None and last.overrule and _still_overruled(last, call) else None
    return {
        "day": context.today,
        "issued_utc": context.now,
        "version": call.version,
        "call": call.call,
        "row": call.row,
        "findings": [_finding_out(f) for f in call.findings],
        "dose": asdict(call.dose),
        "standing": _recovery_out(overruled(call) if kept and kept.overrule == "open" else call.recovery),
        "overrule": kept.overrule if kept else None,
        "reason": kept.reason if kept else "",
    }


def todays_page(context: Context) -> Today:
    """Return what A Today shows."""
    row, evidence = issue(context)
    today, record = context.today, evidence.record
    note = record.note(today)
    return Today(
        said(row),
        week_of(evidence),
        record,
        tuple(s for s in record.sessions if s.day == today),
        tuple(c.timing for c in record.checks_on(today)),
        bool(note and note.off),
    )


def said(row: CallRow) -> Said:
    """Return a stored call in words."""
    found = tuple(finding_from(f) for f in row.findings)
    call = Call(row.day, row.call, row.row, found, dose_from(row.dose), recovery_from(row.standing), row.version)
    return Said(
        row.day,
        row.call,
        row.row,
        tuple(reason(f) for f in found if f.code in wordings()),
        call.dose,
        call.recovery,
        call.overrulable,
        call.urgent,
        row.version,
        row.overrule,
        row.reason,
    )


def week_of(evidence: Evidence) -> Week:
    load, today = evidence.load, evidence.today
    minutes = load.minutes
    last, before = minutes[-7:], minutes[-14:-7]
    loads = [None if v != v else float(v) for v in load.load]
    average = ewma_over_gaps(loads, 7)
    usual = evidence.usual_load
    now = load.on(today)[0]
    logged = [v for v in last if v == v]
    return Week(
        sum(logged),
        sum(v for v in before if v == v) if any(v == v for v in before) else None,
        len(logged),
        sum(v is not None for v in loads[-7:]),
        average.ewma if average else None,
        usual.low if usual else None,
        usual.high if usual else None,
        None if now != now else now,
        evidence.usual_minutes,
    )


def played_today(evidence: Evidence) -> float:
    """Return the minutes written of today; 0 where none are known."""
    minutes = evidence.load.on(evidence.today)[0]
    return 0.0 if math.isnan(minutes) else minutes


def minutes_left(context: Context) -> float | None:
    """Return the minutes that today's limit leaves beside what is written of today; None = there is no limit."""
    row, evidence = issue(context)
    return said(row).dose.left(played_today(evidence))


def asked_what_if(context: Context, minutes: str, effort: str) -> WhatIf:
    """Return what typed minutes and effort would make of today; `FieldError` names the field."""
    played = decimal("if_minutes", "What if I play", minutes, 1, SESSION_MAX_MIN, "minutes")
    hard = decimal("if_effort", "Effort", effort, 0, EFFORT_MAX)
    row, evidence = issue(context)
    return what_if(evidence, said(row).dose.minutes, played, hard)


def overrule(context: Context, to: str, why: str) -> None:
    """Make today's call lighter (rows 5 and 6 only, with a reason) or Tacet (always, no reason asked).

    What was said stays as it was said: the overrule is a later call of the same day.
    """
    row, evidence = issue(context)
    call = todays_call(evidence, *_recovery_before(context, context.today))
    if to == "tacet":
        _say_again(context, row, overrule="tacet", reason=why[:REASON_MAX])
        return
    if to != "open":
        raise FieldError("to", "Choose Open or Tacet.")
    if not call.overrulable:
        raise FieldError("to", "This call rests on signs that cannot be overruled here. It can only be made stricter.")
    if not why.strip():
        raise FieldError("reason", "Write the reason in a few words: it stands in the score beside the call.")
    recovery = _recovery_out(overruled(call))
    _say_again(context, row, overrule="open", reason=why.strip()[:REASON_MAX], standing=recovery)


def take_back_overrule(context: Context) -> None:
    """Let today's call stand again as it was said."""
    row, evidence = issue(context)
    recovery = _recovery_out(todays_call(evidence, *_recovery_before(context, context.today)).recovery)
    _say_again(context, row, overrule=None, reason="", standing=recovery)


def _say_again(context: Context, row: CallRow, **changes: Any) -> None:
    """Store a later call of the same day that differs from `row` in `changes`."""
    kept = ("day", "version", "call", "row", "findings", "dose", "standing", "overrule", "reason")
    context.store.add_call(**{**{name: getattr(row, name) for name in kept}, "issued_utc": context.now, **changes})


def waits_for_clinician(context: Context) -> bool:
    """Return whether only the answer "seen by a clinician" opens the way back."""
    return recovery_from(issue(context)[0].standing).held


def check_start_dose(minutes: float | None) -> float:
    """Return the minutes a day she was given to start with; `FieldError` without them: there is no default dose."""
    if minutes is None or not 1 <= minutes <= MOST_START_MIN:
        raise FieldError(
            "start_dose_min",
            f"Type the minutes a day you were given, from 1 to {MOST_START_MIN}. There is no default dose.",
        )
    return minutes


def clear_by_clinician(context: Context, start_dose_min: float | None) -> None:
    """Take the answer "seen by a clinician" with the dose she was given; today's call follows from it.

    `FieldError` without a dose. Where nothing waits for the answer it changes nothing.
    """
    given = check_start_dose(start_dose_min)
    if waits_for_clinician(context):
        context.store.add_clearance(context.now, given)
        issue(context)


def _recovery_before(context: Context, day: date) -> tuple[Recovery, date | None]:
    """The recovery carried into `day` with the day it is of: from the last earlier call, or from a clearance since."""
    clearance = _latest_clearance(context)
    last = context.store.call_before(day)
    before = recovery_from(last.standing) if last is not None else Recovery()
    if (
        clearance is not None
        and (last is None or clearance.at_utc > last.issued_utc)
        and clearance.at_utc <= context.now
    ):
        return seen_by_clinician(day, clearance.start_dose_min), None
    return before, last.day if last is not None else None


def _latest_clearance(context: Context) -> ClearanceRow | None:
    return context.once("clearance", context.store.latest_clearance)


def _same(row: CallRow, call: Call) -> bool:
    return (
        row.call == call.call
        and row.row == call.row
        and row.version == call.version
        and row.findings == [_finding_out(f) for f in call.findings]
        and row.dose == asdict(call.dose)
        and (row.overrule is not None or row.standing == _recovery_out(call.recovery))
    )


def _still_overruled(last: CallRow, call: Call) -> bool:
    """An overrule holds for the rest of the day unless the call has become stricter."""
    return last.overrule == "tacet" or (call.overrulable and call.call == last.call)


def _finding_out(f: Finding) -> dict[str, Any]:
    return {
        "code": f.code,
        "row": f.row,
        "level": f.level,
        "values": f.values,
        "book": f.book,
        "nerve": f.nerve,
        "days": [d.isoformat() for d in f.days],
    }


def _recovery_out(s: Recovery) -> dict[str, Any]:
    days = {name: day.isoformat() if (day := getattr(s, name)) else None for name in RECOVERY_DAYS}
    return {**asdict(s), **days, "causes": [list(cause) for cause in s.causes]}
