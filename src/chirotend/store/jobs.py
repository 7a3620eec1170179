"""The job table: work in the background that survives a restart."""

from datetime import datetime
from typing import Any
from uuid import uuid4

from sqlalchemy import delete, select, update
from sqlalchemy.orm import Session as Db

from chirotend.store.models import BroughtRow, ChangeRow, JobRow


def queue(db: Db, player_id: int, kind: str, result: dict[str, Any], now: datetime, uid: str = "") -> str:
    """Put a job in the row of those that wait; returns its id (`uid`, or a new one)."""
    uid = uid or uuid4().hex
    db.add(
        JobRow(player_id=player_id, uid=uid, kind=kind, state="waiting", cancel=False, result=result, created_utc=now)
    )
    db.flush()
    return uid


#: the kind of a job that reads a sensor, and what is asked of those that do and those that do not
DEVICE = "device"
OF_DEVICES, OF_FILES = "of devices", "of files"


def next_waiting(db: Db, which: str = "") -> JobRow | None:
    """Return the job that has waited longest: one that reads a device, one that reads files, or either ("")."""
    waiting = select(JobRow).where(JobRow.state.in_(("waiting", "saving"))).order_by(JobRow.created_utc).limit(1)
    if which == OF_DEVICES:
        waiting = waiting.where(JobRow.kind == DEVICE)
    elif which == OF_FILES:
        waiting = waiting.where(JobRow.kind != DEVICE)
    return db.scalar(waiting)


def wake_interrupted(db: Db) -> None:
    """Put back to waiting what a stopped server left half-way: nothing of it had been saved."""
    db.execute(update(JobRow).where(JobRow.state == "running").values(state="waiting"))


def job(db: Db, player_id: int, uid: str) -> JobRow | None:
    return db.get(JobRow, (player_id, uid))


def forget_deleted(db: Db, before_utc: datetime) -> bool:
    """Remove, for every player, what deletes had kept for undo until `before_utc`; returns whether there was any."""
    old = (ChangeRow.action == "delete", ChangeRow.at_utc < before_utc)
    if db.scalar(select(ChangeRow.number).where(*old).limit(1)) is None:
        return False
    db.execute(delete(ChangeRow).where(*old))
    return True


def forget_brought(db: Db, before_utc: datetime) -> bool:
    """Remove, for every player, what taking back imports up to `before_utc` needed; returns whether there was any."""
    if db.scalar(select(BroughtRow.uid).where(BroughtRow.at_utc < before_utc).limit(1)) is None:
        return False
    db.execute(delete(BroughtRow).where(BroughtRow.at_utc < before_utc))
    return True
