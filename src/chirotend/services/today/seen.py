"""The answer "I was seen": what was said, and the minutes a day that were allowed, if any were."""

from collections.abc import Mapping

from chirotend.core.judge.happened import LIMIT
from chirotend.services.call import clearances
from chirotend.services.context import Context
from chirotend.services.record import corrections
from chirotend.services.today import matters, told_limit
from chirotend.services.today.tell_happened import LastingHappening, lasting
from chirotend.services.today.told_limit import ToldLimit
from chirotend.services.units import maybe
from chirotend.store.models import MatterRow


def was_seen(context: Context, uid: str, typed: Mapping[str, str]) -> None:
    """Settle the visit `uid`. A Tacet that waits for it ends with the minutes she was given, which must be typed then;
    otherwise minutes are a limit of the day. `NotThere`; `FieldError` names the field."""
    if context.row(MatterRow, uid).settled_on is not None:  # sent twice
        return
    words = typed.get("words", "")
    held = clearances.waits_for_clinician(context)
    text, most = typed.get("start_dose_min", ""), clearances.MOST_START_MIN
    minutes = maybe("start_dose_min", "Minutes a day", text, 1, most, "minutes")
    if held:
        clearances.check_start_dose(minutes)
    with corrections.as_one(context):
        matters.seen(context, uid, words)
        if minutes is not None and not held:
            told_limit.keep_limit(context, ToldLimit(words, minutes))
    if held:
        clearances.clear_by_clinician(context, minutes)


def open_limits(context: Context) -> tuple[LastingHappening, ...]:
    """Return the limits that someone licensed gave and that hold."""
    return tuple(s for s in lasting(context) if s.row.kind == LIMIT or s.row.allowed_min is not None)
