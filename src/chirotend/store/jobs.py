"""The job table: work in the background that survives a restart."""

from sqlalchemy import select, update
from sqlalchemy.orm import Session as Db

from chirotend.store.models import JobRow


def next_waiting(db: Db) -> JobRow | None:
    return db.scalar(
        select(JobRow).where(JobRow.state.in_(("waiting", "saving"))).order_by(JobRow.created_utc).limit(1)
    )


def wake_interrupted(db: Db) -> None:
    """Put back to waiting what a stopped server left half-way: nothing of it had been saved."""
    db.execute(update(JobRow).where(JobRow.state == "running").values(state="waiting"))


def job(db: Db, player_id: int, uid: str) -> JobRow | None:
    return db.get(JobRow, (player_id, uid))
