"""Her overrule of today's call: lighter with a reason, or Tacet; what was said stays as it was said."""

from typing import Any

from chirotend.core.judge.call import overruled
from chirotend.services.call.issued_call import stored_recovery
from chirotend.services.call.todays_call import computed_call, todays_call
from chirotend.services.context import Context, FieldError
from chirotend.store.models import CallRow

REASON_MAX = 500
REPEATED = ("day", "version", "call", "row", "findings", "dose", "standing", "overrule", "reason")


def overrule(context: Context, to: str, why: str) -> None:
    """Make today's call Open (rows 5 and 6 only, with a reason) or Tacet (always, no reason asked).

    The overrule is a later call of the same day. `FieldError` names the field.
    """
    row = todays_call(context).row
    call, _ = computed_call(context)
    if to == "tacet":
        _issue_again(context, row, overrule="tacet", reason=why[:REASON_MAX])
        return
    if to != "open":
        raise FieldError("to", "Choose Open or Tacet.")
    if not call.overrulable:
        raise FieldError("to", "This call rests on signs that cannot be overruled here. It can only be made stricter.")
    if not why.strip():
        raise FieldError("reason", "Write the reason in a few words: it stands in the score beside the call.")
    recovery = stored_recovery(overruled(call))
    _issue_again(context, row, overrule="open", reason=why.strip()[:REASON_MAX], standing=recovery)


def take_back(context: Context) -> None:
    """Let today's call stand again as it was said."""
    row = todays_call(context).row
    call, _ = computed_call(context)
    _issue_again(context, row, overrule=None, reason="", standing=stored_recovery(call.recovery))


def _issue_again(context: Context, row: CallRow, **changes: Any) -> None:
    """Store a later call of the same day that differs from `row` in `changes`."""
    values = {name: getattr(row, name) for name in REPEATED}
    context.store.add_call(**{**values, "issued_utc": context.now, **changes})
