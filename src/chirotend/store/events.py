"""The appended events of sessions, and which session is open."""

from datetime import datetime
from typing import Any

from sqlalchemy import delete, exists, select
from sqlalchemy.orm import aliased

from chirotend.store.bound import Bound
from chirotend.store.models import (
    EventRow,
    RunningSessionRow,
)


class Events(Bound):
    """The events of a player."""

    def events(self, session_uid: str) -> list[EventRow]:
        return list(
            self.db.scalars(
                select(EventRow)
                .where(EventRow.player_id == self.player_id, EventRow.session_uid == session_uid)
                .order_by(EventRow.at_utc)
            )
        )

    def session_of_event(self, uid: str) -> str | None:
        """Return the session of an event; None when there is none of that id."""
        return self.db.scalar(
            select(EventRow.session_uid).where(EventRow.player_id == self.player_id, EventRow.uid == uid)
        )

    def has_events_of(self, session_uid: str) -> bool:
        """True when any event of a session is kept; none of them is read."""
        any_of_it = select(EventRow.uid).where(
            EventRow.player_id == self.player_id, EventRow.session_uid == session_uid
        )
        return self.db.scalar(any_of_it.limit(1)) is not None

    def add_event(self, **values: Any) -> None:
        self.db.add(EventRow(player_id=self.player_id, **values))
        self.db.flush()
        if values["kind"] == "start":
            begun = RunningSessionRow(
                player_id=self.player_id, session_uid=values["session_uid"], began_utc=values["at_utc"]
            )
            self.db.merge(begun)
            self.db.flush()
        elif values["kind"] == "close":
            self._no_longer_open(values["session_uid"])

    def running_session_uid(self) -> str | None:
        """Return the newest session that is open."""
        return next(iter(self.running_sessions()), None)

    def running_sessions(self) -> list[str]:
        """Return the sessions that have a start but no `close`: running, or stopped and not yet written in."""
        query = select(RunningSessionRow.session_uid).where(RunningSessionRow.player_id == self.player_id)
        return list(self.db.scalars(query.order_by(RunningSessionRow.began_utc.desc())))

    def running_sessions_by_events(self) -> dict[str, datetime]:
        """Return what `running_sessions` stands for, worked out from every event: the open sessions and their start."""
        query = (
            select(EventRow.session_uid, EventRow.at_utc)
            .where(EventRow.player_id == self.player_id, EventRow.kind == "start", ~self._closed())
            .order_by(EventRow.at_utc)
        )
        return dict(self.tuples(query))

    def _closed(self) -> Any:
        end = aliased(EventRow)
        return exists().where(
            end.player_id == EventRow.player_id, end.session_uid == EventRow.session_uid, end.kind == "close"
        )

    def note_running_sessions(self) -> None:
        """Set down again which sessions are open, from their events: after many were brought at once."""
        self.db.execute(delete(RunningSessionRow).where(RunningSessionRow.player_id == self.player_id))
        found = self.running_sessions_by_events()
        self.add_rows(RunningSessionRow, ({"session_uid": uid, "began_utc": at} for uid, at in found.items()))

    def _no_longer_open(self, session_uid: str) -> None:
        mine = (RunningSessionRow.player_id == self.player_id, RunningSessionRow.session_uid == session_uid)
        self.db.execute(delete(RunningSessionRow).where(*mine))

    def open_again(self, session_uid: str) -> None:
        """Take back that a session was written in: if it was played here, it is stopped and waits again."""
        mine = (EventRow.player_id == self.player_id, EventRow.session_uid == session_uid)
        self.db.execute(delete(EventRow).where(*mine, EventRow.kind == "close"))
        began = self.db.scalar(select(EventRow.at_utc).where(*mine, EventRow.kind == "start").limit(1))
        if began is not None:
            self.db.merge(RunningSessionRow(player_id=self.player_id, session_uid=session_uid, began_utc=began))
            self.db.flush()

    def drop_events(self, session_uid: str) -> None:
        self.db.execute(
            delete(EventRow).where(EventRow.player_id == self.player_id, EventRow.session_uid == session_uid)
        )
        self._no_longer_open(session_uid)
