"""Checks with their entries, and what is noted of a day."""

from collections.abc import Callable, Sequence
from datetime import date
from typing import Any

from sqlalchemy import delete, exists, func, or_, select

from chirotend.core.record import Check, DayNote, Entry
from chirotend.core.record.shape import field_names
from chirotend.store.bound import columns_of, shared, span
from chirotend.store.day_stamps import Stamps
from chirotend.store.models import (
    CheckRow,
    DayRow,
    EntryRow,
)

CHECK_COLUMNS = field_names(Check, without=("entries", "red_flags"))
ENTRY_COLUMNS = field_names(Entry, without=("flags",))
DAY_COLUMNS = field_names(DayNote)
C, E = (model.__table__.c for model in (CheckRow, EntryRow))


class Checks(Stamps):
    """The checks and day notes of a player."""

    def check(self, day: date, timing: str) -> Check | None:
        return next(iter(self._checks([C.day == day, C.timing == timing])), None)

    def symptoms_by_day(self) -> dict[date, int]:
        """Return how many symptoms were marked on each day with any."""
        query = (
            select(C.day, func.count())
            .join_from(CheckRow.__table__, EntryRow.__table__, (C.player_id == E.player_id) & (C.uid == E.check_uid))
            .where(C.player_id == self.player_id, E.intensity > 0)
            .group_by(C.day)
        )
        return dict(self.tuples(query))

    def _checks(self, wanted: Sequence[Any]) -> tuple[Check, ...]:
        query = (
            select(
                *(C[name] for name in CHECK_COLUMNS),
                C.red_flags,
                *(E[name] for name in ENTRY_COLUMNS),
                E.flags,
            )
            .join_from(
                CheckRow.__table__,
                EntryRow.__table__,
                (C.player_id == E.player_id) & (C.uid == E.check_uid),
                isouter=True,
            )
            .where(C.player_id == self.player_id, *wanted)
            .order_by(C.day, C.timing, E.position)
        )
        width, at = len(CHECK_COLUMNS), CHECK_COLUMNS.index("uid")
        found: dict[str, tuple[Any, list[Entry]]] = {}
        entries_seen: dict[Any, Entry] = {}
        for row in self.tuples(query):
            kept = found.get(row[at])
            if kept is None:
                kept = found[row[at]] = row[: width + 1], []
            if row[width + 1] is not None:
                kept[1].append(shared(entries_seen, _entry, row[width + 1 :]))
        return tuple(
            Check(
                **dict(zip(CHECK_COLUMNS, own[:width], strict=True)),
                entries=tuple(entries),
                red_flags=tuple(own[width].split()),
            )
            for own, entries in found.values()
        )

    def _holds_a_sign(self) -> Any:
        entry = EntryRow.__table__.alias().c
        sign = select(entry.position).where(
            entry.player_id == C.player_id,
            entry.check_uid == C.uid,
            or_(
                entry.kind == "weakness",
                entry.flags != "",
                (entry.kind == "numbness") & entry.lasting.in_(("longer", "constant")),
            ),
        )
        return or_(C.red_flags != "", exists(sign.correlate(CheckRow.__table__)))

    def _notes(self, first: date | None, last: date | None) -> tuple[DayNote, ...]:
        rows = self.db.execute(
            select(*(getattr(DayRow, name) for name in DAY_COLUMNS))
            .where(DayRow.player_id == self.player_id, *span(DayRow, first, last))
            .order_by(DayRow.day)
        )
        return tuple(DayNote(*row) for row in rows)

    def note(self, day: date) -> DayNote | None:
        return next(iter(self._notes(day, day)), None)

    def put_check(self, check: Check) -> None:
        """Write a check, in the place of an older one of the same day and timing."""
        self.drop_check(check.day, check.timing)
        self.add_checks([check])

    def put_note(self, note: DayNote) -> None:
        self.drop_note(note.day)
        self.add_notes([note])

    def drop_check(self, day: date, timing: str) -> None:
        self.touch([day])
        self.db.execute(
            delete(CheckRow).where(CheckRow.player_id == self.player_id, CheckRow.day == day, CheckRow.timing == timing)
        )

    def drop_note(self, day: date) -> None:
        self.touch([day])
        self.db.execute(delete(DayRow).where(DayRow.player_id == self.player_id, DayRow.day == day))

    def add_checks(self, checks: Sequence[Check], step: Callable[[int], None] = lambda n: None) -> None:
        """Insert new checks."""
        entries = ((c.uid, i, e) for c in checks for i, e in enumerate(c.entries))
        self.touch(c.day for c in checks)
        self.add_rows(
            CheckRow, ({**columns_of(c, CHECK_COLUMNS), "red_flags": " ".join(c.red_flags)} for c in checks), step
        )
        self.add_rows(
            EntryRow,
            (
                {"check_uid": u, "position": i, **columns_of(e, ENTRY_COLUMNS), "flags": " ".join(e.flags)}
                for u, i, e in entries
            ),
            step,
        )

    def add_notes(self, notes: Sequence[DayNote], step: Callable[[int], None] = lambda n: None) -> None:
        """Insert new notes of days."""
        self.touch(n.day for n in notes)
        self.add_rows(DayRow, (columns_of(n, DAY_COLUMNS) for n in notes), step)


def _entry(*values: Any) -> Entry:
    """The columns of an entry in their order, its flags (with spaces between) last."""
    return Entry(**dict(zip(ENTRY_COLUMNS, values[:-1], strict=True)), flags=tuple(values[-1].split()))
