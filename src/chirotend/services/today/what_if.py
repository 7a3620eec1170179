"""What today would become of typed minutes and an effort: asked, never kept."""

from chirotend.core.judge.what_if import WhatIf, what_if
from chirotend.core.record.words import EFFORT_MAX, SESSION_MAX_MIN
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.units import decimal


def asked_what_if(context: Context, minutes: str, effort: str) -> WhatIf:
    """Return what typed minutes and effort would make of today; `FieldError` names the field."""
    played = decimal("if_minutes", "What if I play", minutes, 1, SESSION_MAX_MIN, "minutes")
    hard = decimal("if_effort", "Effort", effort, 0, EFFORT_MAX)
    today = todays_call(context)
    return what_if(today.evidence, today.issued.dose.minutes, played, hard)
