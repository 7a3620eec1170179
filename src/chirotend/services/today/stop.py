"""Whether anything to play may be offered: with an open finding of rows 1 or 2, nothing is, on any page."""

from dataclasses import dataclass
from datetime import timedelta

from chirotend.core.plan.week import PLAYED_KINDS, Engagement
from chirotend.services.desk import Desk
from chirotend.services.plan import engagements
from chirotend.services.today.days_call import Said, issue, said
from chirotend.services.words import Reason

URGENT_ROW, HAND_OVER_ROW = 1, 2
DAYS_AHEAD = 14


@dataclass(frozen=True)
class Stop:
    """Why nothing is offered: the findings of rows 1 and 2, the first deciding; `urgent` = the urgent page itself."""

    urgent: bool
    reasons: tuple[Reason, ...]


def stopped(desk: Desk) -> Stop | None:
    """Return why nothing to play may be offered today; None = the call has no finding of rows 1 or 2."""
    row, _ = issue(desk)
    return stop_of(said(row))


def stop_of(call: Said) -> Stop | None:
    """Return the stop that a call brings."""
    found = tuple(r for r in call.reasons if r.row in (URGENT_ROW, HAND_OVER_ROW))
    return Stop(found[0].row == URGENT_ROW, found) if found else None


def to_hand_over(desk: Desk) -> list[Engagement]:
    """Return what she is to play within the fortnight, so that it can be handed over in time."""
    ahead = engagements.between(desk, desk.today, desk.today + timedelta(days=DAYS_AHEAD))
    return [e for e in ahead if e.kind in PLAYED_KINDS and e.end_utc > desk.now]
