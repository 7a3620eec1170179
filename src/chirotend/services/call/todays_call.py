"""Today's call: computed from what is known now, stored when it says something new, never rewritten.

A request that changes something issues it once, before it commits (`web/transaction.py`); a page that is only read
issues it where the hours alone have changed it.
"""

import logging
import math
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from sqlalchemy.exc import OperationalError

from chirotend.core.judge.call import Call, overruled
from chirotend.core.judge.evidence import Evidence
from chirotend.services.call.inputs import load_inputs
from chirotend.services.call.issued_call import IssuedCall, issued_call, stored_recovery, stored_values
from chirotend.services.call.kept_calls import KEPT_CALLS
from chirotend.services.context import Context
from chirotend.services.today import matters
from chirotend.store.accounts import hold
from chirotend.store.models import CallRow

log = logging.getLogger(__name__)


@dataclass(frozen=True)
class TodaysCall:
    """The row of the call that stands for today, and the evidence it was computed from."""

    row: CallRow
    evidence: Evidence

    @cached_property
    def issued(self) -> IssuedCall:
        return issued_call(self.row)

    @property
    def played_min(self) -> float:
        """The minutes written of today; 0 where none are known."""
        minutes = self.evidence.load.on(self.evidence.today)[0]
        return 0.0 if math.isnan(minutes) else minutes

    @property
    def minutes_left(self) -> float | None:
        """The minutes that today's limit leaves beside what is written of today; None = there is no limit."""
        return self.issued.dose.left(self.played_min)


def todays_call(context: Context, morning: bool = False) -> TodaysCall:
    """Return the call that stands for today; it is stored if it says something new.

    `morning` leaves out what came after waking. A page that changes nothing computes it once, however many parts of it
    ask.
    """
    return context.per_request(f"call, {'morning' if morning else 'now'}", lambda: _issued(context, morning))


def computed_call(context: Context, morning: bool = False) -> tuple[Call, Evidence]:
    """Return today's call as it comes out now, without storing it, and the evidence it rests on."""
    return KEPT_CALLS.call(context.player.id, morning, load_inputs(context, morning))


def _issued(context: Context, morning: bool) -> TodaysCall:
    call, evidence = computed_call(context, morning)
    last = context.store.latest_call(context.today)
    if last is not None and _same(last, call):
        return TodaysCall(last, evidence)
    return _stored(context, morning, TodaysCall(_new_row(context, call, last), evidence))


# two statements of one page may read on both sides of another write: decision 82
def _stored(context: Context, morning: bool, before: TodaysCall) -> TodaysCall:
    """Store the call that was computed `before`, unless another page said the same meanwhile.

    It is computed again where nobody else writes: what was read before may be half of before and half of after another
    writer's commit. Where the disk cannot be written the call is said all the same, and stored by the next page that
    can.
    """
    try:
        hold(context.db, context.player.id)
        call, evidence = computed_call(context, morning)
        last = context.store.latest_call(context.today)
        if last is not None and _same(last, call):
            return TodaysCall(last, evidence)
        row = context.store.add_call(**_values(context, call, last))
        matters.raise_from(context, call)
        return TodaysCall(row, evidence)
    except OperationalError:
        if context.writes:
            raise
        log.warning("today’s call could not be stored now")
        context.db.rollback()
        return before


def _new_row(context: Context, call: Call, last: CallRow | None) -> CallRow:
    return CallRow(player_id=context.player.id, number=0, **_values(context, call, last))


def _values(context: Context, call: Call, last: CallRow | None) -> dict[str, Any]:
    """The values of a row of `call`; an overrule of `last` that still holds is kept."""
    values = {"day": context.today, "issued_utc": context.now, **stored_values(call), "overrule": None, "reason": ""}
    if last is None or not last.overrule or not _still_overruled(last, call):
        return values
    if last.overrule == "open":
        values["standing"] = stored_recovery(overruled(call))
    return {**values, "overrule": last.overrule, "reason": last.reason}


def _same(row: CallRow, call: Call) -> bool:
    """True when `row` says what `call` says. An overrule has a recovery of its own."""
    values = stored_values(call)
    if row.overrule is not None:
        del values["standing"]
    return all(getattr(row, name) == value for name, value in values.items())


def _still_overruled(last: CallRow, call: Call) -> bool:
    """An overrule holds for the rest of the day unless the call has become stricter."""
    return last.overrule == "tacet" or (call.overrulable and call.call == last.call)
