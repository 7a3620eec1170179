"""What was played of what was laid: blocks of the record name the laid block they were played as. Minutes."""

from collections.abc import Mapping, Sequence
from datetime import date, timedelta

from chirotend.core.plan.week import PlannedBlock
from chirotend.services.context import Context

#: less than this left of a block is no block, in minutes
LEAST_MIN = 1.0


def played_by_block(context: Context, first: date, last: date) -> dict[str, float]:
    """Return the minutes played of each laid block, by its id, in the sessions from `first` to `last`."""
    found: dict[str, float] = {}
    for session in context.store.sessions(first, last):
        for block in session.blocks:
            if block.planned:
                found[block.planned] = found.get(block.planned, 0.0) + block.minutes
    return found


def still_to_play(context: Context, blocks: Sequence[PlannedBlock]) -> dict[str, float]:
    """Return the minutes of each laid block that still wait: none once its time is over, else those not played yet."""
    if not blocks:
        return {}
    played = played_by_block(context, context.today - timedelta(days=7), context.today)
    left = {b.uid: b.minutes - played.get(b.uid, 0.0) if b.end_utc > context.now else 0.0 for b in blocks}
    return {uid: minutes if minutes >= LEAST_MIN else 0.0 for uid, minutes in left.items()}


def played_of(aim_uid: str, blocks: Sequence[PlannedBlock], played: Mapping[str, float]) -> float:
    """Return the minutes that were played of an aim."""
    return sum(played.get(block.uid, 0.0) for block in blocks if block.aim_uid == aim_uid)


def taken_care_of(
    blocks: Sequence[PlannedBlock], played: Mapping[str, float], left: Mapping[str, float]
) -> dict[str, float]:
    """Return the minutes of each aim that need no further place: those played and those still waiting in their place;
    of a block whose time is over and that nothing names, its minutes."""
    found: dict[str, float] = {}
    for block in blocks:
        if block.aim_uid:
            counts = played[block.uid] + left[block.uid] if block.uid in played else block.minutes
            found[block.aim_uid] = found.get(block.aim_uid, 0.0) + counts
    return found
