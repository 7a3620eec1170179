"""The answer "I was seen": what was said, and the minutes a day that were allowed, if any were."""

from collections.abc import Mapping

from chirotend.core.judge.happened import LIMIT
from chirotend.services.desk import Desk, Refused
from chirotend.services.record import corrections
from chirotend.services.today import days_call, matters, tell_happened
from chirotend.services.units import decimal
from chirotend.store.models import MatterRow

MOST_START_MIN = 240


def was_seen(desk: Desk, uid: str, typed: Mapping[str, str]) -> None:
    """Settle the visit `uid`. A Tacet that waits for it ends with the minutes she was given, which must be typed then;
    otherwise minutes are a limit of the day. `NotThere`; `Refused` names the field."""
    desk.row(MatterRow, uid)
    words = typed.get("words", "")
    held = days_call.waits_for_clinician(desk)
    text = typed.get("start_dose_min", "").strip()
    if held and not text:
        raise Refused(
            "start_dose_min",
            f"Type the minutes a day you were given, from 1 to {MOST_START_MIN}. There is no default dose.",
        )
    minutes = decimal("start_dose_min", "Minutes a day", text, 1, MOST_START_MIN, "minutes") if text else None
    with corrections.as_one(desk):
        matters.seen(desk, uid, words)
        if minutes is not None and not held:
            tell_happened.keep_limit(desk, minutes, words)
    if held:
        days_call.clear_by_clinician(desk, minutes)
    days_call.issue(desk)


def open_limits(desk: Desk) -> tuple[tell_happened.Shown, ...]:
    """Return the limits that someone licensed gave and that hold."""
    return tuple(s for s in tell_happened.shown(desk) if s.row.kind == LIMIT or s.row.allowed_min is not None)
