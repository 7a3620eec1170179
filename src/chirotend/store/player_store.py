"""The record of one player: every query here is bound to that player; another player's rows do not exist for it."""

from collections.abc import Callable, Iterator, Sequence
from datetime import date
from typing import Any

from sqlalchemy import Text, delete, func, inspect, select, type_coerce

from chirotend.core.record import Check, DayNote, Record, Session
from chirotend.store import blobs
from chirotend.store.bound import span
from chirotend.store.calls import Calls
from chirotend.store.changes import Changes
from chirotend.store.checks import C, Checks
from chirotend.store.day_stamps import KEPT, Day
from chirotend.store.events import Events
from chirotend.store.models import (
    BroughtRow,
    CallRow,
    CheckRow,
    DayRow,
    DayStampRow,
    EntryRow,
    EventRow,
    JobRow,
    Personal,
    SessionRow,
)
from chirotend.store.personal_tables import every_table
from chirotend.store.repository import R, Repository
from chirotend.store.sessions import Sessions
from chirotend.store.warmups import Warmups

NOTHING = Day((), (), None)


class PlayerStore(Sessions, Checks, Calls, Events, Changes, Warmups):
    """Reads and writes the core's frozen values for one player."""

    def repository(self, model: type[R]) -> Repository[R]:
        """Return one of this player's tables that hold no values of the core."""
        return Repository(self.db, self.player_id, model)

    def record(
        self,
        first: date | None = None,
        last: date | None = None,
        older_signs: bool = False,
        sessions_from: date | None = None,
    ) -> Record:
        """Return what was written from `first` to `last` (None = no limit); `older_signs` adds the checks before
        `first` that hold a sign of rows 1 or 2 of the call table, `sessions_from` leaves earlier sessions out."""
        stamps, span_of = self.stamps(first, last), (first, last, sessions_from)
        if not older_signs and (kept := KEPT.record(self.player_id, span_of, stamps)) is not None:
            return kept
        days = self._days_of(first, stamps)
        checks = tuple(check for day in days.values() for check in day.checks)
        if older_signs and first is not None:
            checks = (*self._checks([C.day < first, self._holds_a_sign()]), *checks)
        found = Record(
            tuple(s for d, day in days.items() if sessions_from is None or d >= sessions_from for s in day.sessions),
            checks,
            tuple(day.note for day in days.values() if day.note is not None),
        )
        if not older_signs:
            KEPT.keep_record(self.player_id, span_of, stamps, found)
        return found

    def sessions(self, first: date | None = None, last: date | None = None) -> tuple[Session, ...]:
        """Return sessions with their blocks, by day, start and uid."""
        return tuple(s for day in self.days(first, last).values() for s in day.sessions)

    def days(self, first: date | None, last: date | None) -> dict[date, Day]:
        """Return the days that hold anything, oldest first: those that stand as they were last read are not read again.

        Of a span with an open end nothing is kept: whoever asks for a whole record reads it once.
        """
        return self._days_of(first, self.stamps(first, last))

    def _days_of(self, first: date | None, stamps: dict[date, str]) -> dict[date, Day]:
        kept = {day: KEPT.get(self.player_id, day, stamp) for day, stamp in stamps.items()}
        found = {day: NOTHING if day_kept is None else day_kept for day, day_kept in kept.items()}
        changed = [day for day, day_kept in kept.items() if day_kept is None]
        if changed:
            read = self._days_read(changed[0], changed[-1])
            found.update((day, read.get(day, NOTHING)) for day in changed)
            if first is not None:
                # what another one wrote while this was read belongs to a newer stamp
                now = self.stamps(changed[0], changed[-1])
                for day in changed:
                    if now.get(day) == stamps[day]:
                        KEPT.keep(self.player_id, day, stamps[day], found[day])
        return found

    def _days_read(self, first: date, last: date) -> dict[date, Day]:
        sessions: dict[date, list[Session]] = {}
        checks: dict[date, list[Check]] = {}
        for session in self.sessions_read(first, last):
            sessions.setdefault(session.day, []).append(session)
        for check in self._checks(span(C, first, last)):
            checks.setdefault(check.day, []).append(check)
        notes = {note.day: note for note in self._notes(first, last)}
        return {
            day: Day(tuple(sessions.get(day, ())), tuple(checks.get(day, ())), notes.get(day))
            for day in {*sessions, *checks, *notes}
        }

    def first_day(self) -> date | None:
        """Return the first day on which anything was written; None for an empty record."""
        firsts = (
            select(func.min(model.day)).where(model.player_id == self.player_id).scalar_subquery()
            for model in (SessionRow, CheckRow, DayRow)
        )
        return min((day for day in self.db.execute(select(*firsts)).one() if day), default=None)

    def unstamped(self) -> list[str]:
        """Return the days (as they stand in the database) that hold something and have no stamp: `days` would not see
        them, so there should be none."""
        known = select(DayStampRow.day).where(DayStampRow.player_id == self.player_id)
        found = {
            day
            for model in (SessionRow, CheckRow, DayRow)
            for day in self.db.scalars(
                select(type_coerce(model.day, Text)).where(model.player_id == self.player_id, model.day.not_in(known))
            )
        }
        return sorted(found)

    def counts(self) -> dict[str, int]:
        """Return how many rows of each kind the record holds."""
        return {
            model.__tablename__: self.db.scalar(
                select(func.count()).select_from(model).where(model.player_id == self.player_id)
            )
            or 0
            for model in (SessionRow, CheckRow, EntryRow, DayRow, EventRow, CallRow)
        }

    def each_row(self, model: type[Personal]) -> Iterator[tuple[str, Personal | Exception]]:
        """Yield each row of a table with its key; in the place of one that cannot be read, what is wrong with it."""
        keys: list[Any] = [c for c in inspect(model).primary_key if c.key != "player_id"] or [model.player_id]
        raw = select(*(type_coerce(c, Text) for c in keys)).where(model.player_id == self.player_id)
        for key in self.db.execute(raw).all():
            wanted = [type_coerce(c, Text) == k for c, k in zip(keys, key, strict=True)]
            name = " ".join(str(k) for k in key)
            try:
                found = self.db.scalars(select(model).where(model.player_id == self.player_id, *wanted)).first()
                yield name, found if found is not None else LookupError("cannot be found again")
            except (ValueError, TypeError) as error:
                yield name, error

    def add_all(
        self,
        sessions: Sequence[Session],
        checks: Sequence[Check],
        notes: Sequence[DayNote],
        step: Callable[[int], None] = lambda n: None,
    ) -> None:
        """Insert many new documents; `step(n)` is called after each chunk of n rows and may raise to stop."""
        self.add_sessions(sessions, step)
        self.add_checks(checks, step)
        self.add_notes(notes, step)

    def file_names(self) -> set[str]:
        """Return the names of her files, also of those that a delete keeps for undo."""
        return blobs.names_of(self.db, self.player_id)

    def drop_record(self) -> None:
        """Delete the record, but not the import that takes its place, nor what was brought before."""
        for model in every_table():
            if model not in (JobRow, BroughtRow):
                self.db.execute(delete(model).where(model.player_id == self.player_id))

    def drop_everything(self) -> None:
        """Delete the whole record of this player, really and completely."""
        for model in every_table():
            self.db.execute(delete(model).where(model.player_id == self.player_id))
