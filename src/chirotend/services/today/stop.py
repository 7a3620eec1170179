"""Whether anything to play may be offered: on a Tacet day nothing is; rows 1 and 2 also keep later days empty."""

from dataclasses import dataclass
from datetime import timedelta

from chirotend.core.plan.week import PLAYED_KINDS, Engagement
from chirotend.services.call.issued_call import IssuedCall
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.plan import engagements
from chirotend.services.words import Reason, sentence

URGENT_ROW, HAND_OVER_ROW = 1, 2
DAYS_AHEAD = 14


@dataclass(frozen=True)
class Stop:
    """Why nothing is offered today, the deciding reason first; none when she made it Tacet herself.

    `urgent`: the urgent page itself. `later_too`: nothing is offered for later days either, until someone has seen it.
    """

    urgent: bool
    reasons: tuple[Reason, ...]
    later_too: bool = True

    @property
    def headline(self) -> str:
        """What to do now, in one sentence."""
        if self.urgent:
            return sentence("today", "put_it_down")
        return sentence("today", "hand_it_over") if self.later_too else sentence("today", "no_playing")


def stopped(context: Context) -> Stop | None:
    """Return why nothing to play may be offered today; None = it is not Tacet."""
    return stop_of(todays_call(context).issued)


def stop_of(call: IssuedCall) -> Stop | None:
    """Return the stop that a call brings: its findings of rows 1 and 2, else what made the day Tacet."""
    found = tuple(r for r in call.reasons if r.row in (URGENT_ROW, HAND_OVER_ROW))
    if found:
        return Stop(found[0].row == URGENT_ROW, found)
    if call.recovery.held and call.effective == "tacet":
        return Stop(False, call.reasons[:1])
    if call.effective != "tacet":
        return None
    return Stop(False, () if call.overrule == "tacet" else call.reasons[:1], later_too=False)


def to_hand_over(context: Context, stop: Stop | None = None) -> list[Engagement]:
    """Return what she is to play while it lasts, so that it can be handed over in time: a fortnight, or today."""
    days = DAYS_AHEAD if stop is None or stop.later_too else 0
    ahead = engagements.between(context, context.today, context.today + timedelta(days=days))
    return [e for e in ahead if e.kind in PLAYED_KINDS and e.end_utc > context.now]
