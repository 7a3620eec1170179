"""What was played of what was laid: blocks of the record name the laid block they were played as. Minutes."""

from collections.abc import Sequence
from datetime import date

from chirotend.core.plan.week import PlannedBlock
from chirotend.services.desk import Desk


def played_by_block(desk: Desk, first: date, last: date) -> dict[str, float]:
    """Return the minutes played of each laid block, by its id, in the sessions from `first` to `last`."""
    found: dict[str, float] = {}
    for session in desk.store.sessions(first, last):
        for block in session.blocks:
            if block.planned:
                found[block.planned] = found.get(block.planned, 0.0) + block.minutes
    return found


def played_of(aim_uid: str, blocks: Sequence[PlannedBlock], played: dict[str, float]) -> float:
    """Return the minutes that were played of an aim."""
    return sum(played.get(block.uid, 0.0) for block in blocks if block.aim_uid == aim_uid)


def taken_care_of(blocks: Sequence[PlannedBlock], played: dict[str, float]) -> dict[str, float]:
    """Return the minutes of each aim that need no further place: those played, else those laid."""
    found: dict[str, float] = {}
    for block in blocks:
        if block.aim_uid:
            found[block.aim_uid] = found.get(block.aim_uid, 0.0) + played.get(block.uid, block.minutes)
    return found
