"""What a call is computed from, loaded once: what is known on the day, and the recovery carried into it."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.judge.call import seen_by_clinician
from chirotend.core.judge.evidence import USUAL_WATCH, Evidence, is_strong
from chirotend.core.judge.known import Known
from chirotend.core.judge.recovery import Recovery
from chirotend.core.judge.rules import rules
from chirotend.core.judge.signs.chain import sign_rules
from chirotend.core.judge.signs.history import FOLLOWS_DAYS, followed
from chirotend.core.record import Place
from chirotend.core.record.words import SignAnswer
from chirotend.formats.kept_rows import recovery_from
from chirotend.services.context import Context
from chirotend.services.kit.profile import profile
from chirotend.services.plan.programmes import running as programmes
from chirotend.services.record import measured
from chirotend.services.today import happened
from chirotend.store.models import ClearanceRow, KnownRow, SignAnswerRow

#: after she has changed something its place is looked at again
LOOK_AGAIN_DAYS = 14


@dataclass(frozen=True)
class CallInputs:
    """All that a call is computed from.

    `recovery` is carried from the last earlier call, of `last_day`; None = it begins with a clinician's answer, or with
    nothing.
    """

    evidence: Evidence
    recovery: Recovery
    last_day: date | None


def load_inputs(context: Context, morning: bool = False) -> CallInputs:
    """Return what today's call is computed from; `morning` leaves out what came after waking."""
    clearance = context.per_request("clearance", context.store.latest_clearance)
    recovery, last_day = _recovery_before(context, clearance)
    return CallInputs(_evidence(context, recovery, clearance, morning), recovery, last_day)


def _recovery_before(context: Context, clearance: ClearanceRow | None) -> tuple[Recovery, date | None]:
    """The recovery carried into today with the day it is of: from the last earlier call, or from a clearance since."""
    last = context.store.call_before(context.today)
    if (
        clearance is not None
        and (last is None or clearance.at_utc > last.issued_utc)
        and clearance.at_utc <= context.now
    ):
        return seen_by_clinician(context.today, clearance.start_dose_min), None
    return (recovery_from(last.standing), last.day) if last is not None else (Recovery(), None)


def _evidence(context: Context, recovery: Recovery, clearance: ClearanceRow | None, morning: bool) -> Evidence:
    store, r, day = context.store, rules(), context.today
    sessions_from = day - timedelta(days=r.judge_load_days)
    record = store.record(day - timedelta(days=r.judge_days), day, recovery.held, sessions_from)
    if morning:
        record = record.until_morning(day)
    answers = store.repository(SignAnswerRow).all()
    settled, watched = settled_and_watched(answers, day)
    found = Evidence(
        record,
        day,
        context.now,
        recovery.settled_until,
        clearance.at_utc if clearance else None,
        store.played_days_before(sessions_from, r.baseline_days),
        profile(context).watch or USUAL_WATCH,
        tuple(map(known_of, store.repository(KnownRow).all())),  # due ones too: they held until their review
        settled,
        measured.series_until(context, day),
        overruled_until=recovery.overruled_until,
        watched=watched,
        happened=happened.happenings(context),
        states=happened.states_of(context),
        not_so=_not_so(context, answers),
    )
    return programmes.with_ceilings(context, found)


def known_of(row: KnownRow) -> Known:
    """Return a known complaint as the rules read it."""
    timings = frozenset((*row.timings.split(), *(("night",) if row.at_night else ())))
    return Known(row.region, row.side, row.kind, row.level, row.since, row.review, row.lasts, timings)


def settled_and_watched(
    rows: Sequence[SignAnswerRow], day: date
) -> tuple[tuple[tuple[Place, date], ...], tuple[Place, ...]]:
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


def _not_so(context: Context, rows: Sequence[SignAnswerRow]) -> tuple[tuple[Place, date], ...]:
    """The answers "not so" that raise a threshold: often enough at one place, and no strong symptoms followed there."""
    r = sign_rules()
    since = context.today - timedelta(days=r.not_so_within_days)
    said = [((row.region, row.side), row.day) for row in rows if row.answer == SignAnswer.NOT_SO and row.day > since]
    often = Counter(place for place, _ in said)
    return tuple(
        (place, day)
        for place, day in said
        if often[place] >= r.not_so_from and not followed(day, _strong_days(context, place, day))
    )


def _strong_days(context: Context, place: Place, day: date) -> set[date]:
    """The days of strong symptoms at a place in the four weeks from `day` on."""
    last = min(context.today, day + timedelta(days=FOLLOWS_DAYS))
    marks = (mark for check in context.store.record(day, last).checks for mark in check.marks)
    return {mark.day for mark in marks if mark.place == place and is_strong(mark.entry)}
