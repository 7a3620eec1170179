"""The record of one player: every query here is bound to that player; another player's rows do not exist for it."""

from collections.abc import Callable, Iterable, Iterator, Sequence
from datetime import date, datetime
from itertools import islice
from typing import Any

from sqlalchemy import Table, Text, delete, exists, func, insert, inspect, or_, select, type_coerce
from sqlalchemy.orm import Session as Db

from chirotend.core.record import Block, Check, DayNote, Entry, Record, Session
from chirotend.store.models import (
    BlockRow,
    CallRow,
    ChangeRow,
    CheckRow,
    ClearanceRow,
    DayRow,
    EntryRow,
    EventRow,
    Personal,
    SessionRow,
)
from chirotend.store.shelf import R, Shelf

CHUNK = 2000
#: columns that are fields of the same name
SESSION_COLUMNS = ("uid", "day", "start_utc", "end_utc", "effort", "went_well", "was_hard", "question")
BLOCK_COLUMNS = ("minutes", "instrument", "kind", "effort", "dynamic", "tempo_bpm")
CHECK_COLUMNS = ("uid", "day", "timing", "at_utc", "other_uses")
ENTRY_COLUMNS = ("zone", "side", "kind", "intensity", "lasting", "eased")
DAY_COLUMNS = ("day", "off", "sleep", "hands", "note")
#: columns of the tables read as plain tuples
S, B, C, E = (model.__table__.c for model in (SessionRow, BlockRow, CheckRow, EntryRow))
#: every table of personal rows, what hangs on another one first: derived, so that none can be forgotten
PERSONAL = tuple(
    sorted(
        Personal.__subclasses__(),
        key=lambda model: Personal.metadata.sorted_tables.index(model.__table__),  # type: ignore[arg-type]
        reverse=True,
    )
)


class PlayerStore:
    """Reads and writes the core's frozen values for one player. Nothing commits here: the edge does."""

    def __init__(self, db: Db, player_id: int) -> None:
        self.db = db
        self.player_id = player_id

    def shelf(self, model: type[R]) -> Shelf[R]:
        """Return one of this player's tables that hold no values of the core."""
        return Shelf(self.db, self.player_id, model)

    # --- reading -------------------------------------------------------------------------------------------

    def record(
        self,
        first: date | None = None,
        last: date | None = None,
        older_signs: bool = False,
        sessions_from: date | None = None,
    ) -> Record:
        """Return what was written from `first` to `last` (None = no limit); `older_signs` adds the checks before
        `first` that hold a sign of rows 1 or 2 of the call table, `sessions_from` leaves earlier sessions out."""
        checks = self._checks(_span(C, first, last))
        if older_signs and first is not None:
            checks = (*self._checks([C.day < first, self._holds_a_sign()]), *checks)
        return Record(self.sessions(sessions_from or first, last), checks, self._notes(first, last))

    def sessions(
        self, first: date | None = None, last: date | None = None, uid: str | None = None
    ) -> tuple[Session, ...]:
        """Return sessions with their blocks, by day, start and uid. One joined read of plain tuples."""
        wanted = [S.player_id == self.player_id, *_span(S, first, last)]
        if uid is not None:
            wanted.append(S.uid == uid)
        query = (
            select(
                S.uid,
                S.day,
                S.effort,
                S.start_utc,
                S.end_utc,
                S.went_well,
                S.was_hard,
                S.question,
                B.minutes,
                B.instrument,
                B.kind,
                B.effort,
                B.dynamic,
                B.tempo_bpm,
            )
            .join_from(
                SessionRow.__table__, BlockRow.__table__, (S.player_id == B.player_id) & (S.uid == B.session_uid)
            )
            .where(*wanted)
            .order_by(S.day, S.start_utc, S.uid, B.position)
        )
        found: dict[str, tuple[Any, list[Block]]] = {}
        blocks_seen: dict[Any, Block] = {}
        for row in self._tuples(query):
            kept = found.get(row[0])
            if kept is None:
                kept = found[row[0]] = row, []
            kept[1].append(_shared(blocks_seen, Block, row[8:]))
        return tuple(Session(r[0], r[1], tuple(blocks), *r[2:8]) for r, blocks in found.values())

    def played_days_before(self, day: date, count: int) -> tuple[tuple[date, float], ...]:
        """Return (day, minutes) of the last `count` played days before `day`, oldest first."""
        minutes = func.sum(B.minutes)
        query = (
            select(S.day, minutes)
            .join_from(
                SessionRow.__table__, BlockRow.__table__, (S.player_id == B.player_id) & (S.uid == B.session_uid)
            )
            .where(S.player_id == self.player_id, S.day < day, B.kind != "other")
            .group_by(S.day)
            .having(minutes > 0)
            .order_by(S.day.desc())
            .limit(count)
        )
        return tuple((row[0], float(row[1])) for row in self._tuples(query))[::-1]

    def session(self, uid: str) -> Session | None:
        return next(iter(self.sessions(uid=uid)), None)

    def check(self, day: date, timing: str) -> Check | None:
        return next(iter(self._checks([C.day == day, C.timing == timing])), None)

    def _checks(self, wanted: Sequence[Any]) -> tuple[Check, ...]:
        query = (
            select(
                C.uid,
                C.day,
                C.timing,
                C.red_flags,
                C.other_uses,
                C.at_utc,
                E.zone,
                E.side,
                E.kind,
                E.intensity,
                E.lasting,
                E.flags,
                E.eased,
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
        found: dict[str, tuple[Any, list[Entry]]] = {}
        entries_seen: dict[Any, Entry] = {}
        for row in self._tuples(query):
            kept = found.get(row[0])
            if kept is None:
                kept = found[row[0]] = row, []
            if row[6] is not None:
                kept[1].append(_shared(entries_seen, _entry, row[6:]))
        return tuple(
            Check(r[0], r[1], r[2], tuple(entries), tuple(r[3].split()), r[4], r[5]) for r, entries in found.values()
        )

    def _tuples(self, query: Any) -> Any:
        """Run a query for plain tuples, past the identity map: most of what is read here is only looked at."""
        self.db.flush()
        return self.db.connection().execute(query)

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
            select(DayRow.day, DayRow.off, DayRow.sleep, DayRow.hands, DayRow.note)
            .where(DayRow.player_id == self.player_id, *_span(DayRow, first, last))
            .order_by(DayRow.day)
        )
        return tuple(DayNote(*row) for row in rows)

    def note(self, day: date) -> DayNote | None:
        return next(iter(self._notes(day, day)), None)

    def first_day(self) -> date | None:
        """Return the first day on which anything was written; None for an empty record."""
        days = [
            self.db.scalar(select(func.min(model.day)).where(model.player_id == self.player_id))
            for model in (SessionRow, CheckRow, DayRow)
        ]
        return min((d for d in days if d), default=None)

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
        keys = [c for c in inspect(model).primary_key if c.key != "player_id"] or [model.player_id]
        raw = select(*(type_coerce(c, Text) for c in keys)).where(model.player_id == self.player_id)
        for key in self.db.execute(raw).all():
            wanted = [type_coerce(c, Text) == k for c, k in zip(keys, key, strict=True)]
            name = " ".join(str(k) for k in key)
            try:
                found = self.db.scalars(select(model).where(model.player_id == self.player_id, *wanted)).first()
                yield name, found if found is not None else LookupError("cannot be found again")
            except (ValueError, TypeError) as error:
                yield name, error

    # --- writing -------------------------------------------------------------------------------------------

    def put_session(self, session: Session) -> None:
        """Write a session, in the place of an older one with the same uid."""
        self.drop_session(session.uid)
        self.add_all([session], [], [])

    def put_check(self, check: Check) -> None:
        """Write a check, in the place of an older one of the same day and timing."""
        self.drop_check(check.day, check.timing)
        self.add_all([], [check], [])

    def put_note(self, note: DayNote) -> None:
        self.drop_note(note.day)
        self.add_all([], [], [note])

    def drop_session(self, uid: str) -> None:
        self.db.execute(delete(SessionRow).where(SessionRow.player_id == self.player_id, SessionRow.uid == uid))

    def drop_check(self, day: date, timing: str) -> None:
        self.db.execute(
            delete(CheckRow).where(CheckRow.player_id == self.player_id, CheckRow.day == day, CheckRow.timing == timing)
        )

    def drop_note(self, day: date) -> None:
        self.db.execute(delete(DayRow).where(DayRow.player_id == self.player_id, DayRow.day == day))

    def add_all(
        self,
        sessions: Sequence[Session],
        checks: Sequence[Check],
        notes: Sequence[DayNote],
        step: Callable[[int], None] = lambda n: None,
    ) -> None:
        """Insert many new documents; `step(n)` is called after each chunk of n rows and may raise to stop."""
        blocks = ((s.uid, i, b) for s in sessions for i, b in enumerate(s.blocks))
        entries = ((c.uid, i, e) for c in checks for i, e in enumerate(c.entries))
        self.add_rows(SessionRow, (_columns(s, SESSION_COLUMNS) for s in sessions), step)
        self.add_rows(
            BlockRow, ({"session_uid": u, "position": i, **_columns(b, BLOCK_COLUMNS)} for u, i, b in blocks), step
        )
        self.add_rows(
            CheckRow, ({**_columns(c, CHECK_COLUMNS), "red_flags": " ".join(c.red_flags)} for c in checks), step
        )
        self.add_rows(
            EntryRow,
            (
                {"check_uid": u, "position": i, **_columns(e, ENTRY_COLUMNS), "flags": " ".join(e.flags)}
                for u, i, e in entries
            ),
            step,
        )
        self.add_rows(DayRow, (_columns(n, DAY_COLUMNS) for n in notes), step)

    def add_rows(
        self, model: type[Personal], rows: Iterable[dict[str, Any]], step: Callable[[int], None] = lambda n: None
    ) -> None:
        """Insert rows of one table in chunks, each row with its player."""
        own = ({"player_id": self.player_id, **row} for row in rows)
        table: Table = model.__table__  # type: ignore[assignment]
        while chunk := list(islice(own, CHUNK)):
            self.db.execute(insert(table), chunk)
            step(len(chunk))

    def drop_everything(self) -> None:
        """Delete the whole record of this player, really and completely."""
        for model in PERSONAL:
            self.db.execute(delete(model).where(model.player_id == self.player_id))

    # --- calls and clearances ------------------------------------------------------------------------------

    def latest_call(self, day: date) -> CallRow | None:
        """Return the last call said for `day`."""
        return self.db.scalar(
            select(CallRow)
            .where(CallRow.player_id == self.player_id, CallRow.day == day)
            .order_by(CallRow.number.desc())
            .limit(1)
        )

    def call_before(self, day: date) -> CallRow | None:
        """Return the last call said for any day before `day`."""
        return self.db.scalar(
            select(CallRow)
            .where(CallRow.player_id == self.player_id, CallRow.day < day)
            .order_by(CallRow.day.desc(), CallRow.number.desc())
            .limit(1)
        )

    def calls(self, first: date, last: date) -> dict[date, CallRow]:
        """Return the last call of each day that has one."""
        rows = self.db.scalars(
            select(CallRow)
            .where(CallRow.player_id == self.player_id, CallRow.day >= first, CallRow.day <= last)
            .order_by(CallRow.day, CallRow.number)
        )
        return {row.day: row for row in rows}

    def add_call(self, **values: Any) -> CallRow:
        last = self.latest_call(values["day"])
        row = CallRow(player_id=self.player_id, number=1 + (last.number if last else 0), **values)
        self.db.add(row)
        self.db.flush()
        return row

    def latest_clearance(self) -> ClearanceRow | None:
        return self.db.scalar(
            select(ClearanceRow)
            .where(ClearanceRow.player_id == self.player_id)
            .order_by(ClearanceRow.at_utc.desc())
            .limit(1)
        )

    def add_clearance(self, at_utc: datetime, start_dose_min: float) -> None:
        self.db.add(ClearanceRow(player_id=self.player_id, at_utc=at_utc, start_dose_min=start_dose_min))
        self.db.flush()

    # --- events --------------------------------------------------------------------------------------------

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

    def open_session_uid(self) -> str | None:
        """Return the newest session that is open."""
        return next(iter(self.open_sessions()), None)

    def open_sessions(self) -> list[str]:
        """Return the sessions that have a start but no `close`: running, or stopped and not yet written in."""
        closed = select(EventRow.session_uid).where(EventRow.player_id == self.player_id, EventRow.kind == "close")
        started = (
            select(EventRow.session_uid)
            .where(EventRow.player_id == self.player_id, EventRow.kind == "start", EventRow.session_uid.not_in(closed))
            .order_by(EventRow.at_utc.desc())
        )
        return list(self.db.scalars(started))

    def drop_events(self, session_uid: str) -> None:
        self.db.execute(
            delete(EventRow).where(EventRow.player_id == self.player_id, EventRow.session_uid == session_uid)
        )

    # --- corrections ---------------------------------------------------------------------------------------

    def add_change(self, at_utc: datetime, action: str, subject: str, key: str, before: dict[str, Any] | None) -> int:
        number = 1 + (
            self.db.scalar(select(func.max(ChangeRow.number)).where(ChangeRow.player_id == self.player_id)) or 0
        )
        self.db.add(
            ChangeRow(
                player_id=self.player_id,
                number=number,
                at_utc=at_utc,
                action=action,
                subject=subject,
                key=key,
                before=before,
            )
        )
        self.db.flush()
        return number

    def change(self, number: int) -> ChangeRow | None:
        return self.db.get(ChangeRow, (self.player_id, number))

    def newest_change(self) -> ChangeRow | None:
        return self.db.scalar(
            select(ChangeRow).where(ChangeRow.player_id == self.player_id).order_by(ChangeRow.number.desc()).limit(1)
        )

    def drop_change(self, number: int) -> None:
        self.db.execute(delete(ChangeRow).where(ChangeRow.player_id == self.player_id, ChangeRow.number == number))

    def forget_history_of(self, subject: str, key: str) -> None:
        """Remove earlier versions of a deleted document: a delete is complete."""
        self.db.execute(
            delete(ChangeRow).where(
                ChangeRow.player_id == self.player_id,
                ChangeRow.subject == subject,
                ChangeRow.key == key,
                ChangeRow.action != "delete",
            )
        )


def _columns(value: Any, names: tuple[str, ...]) -> dict[str, Any]:
    return {name: getattr(value, name) for name in names}


def _shared(seen: dict[Any, Any], make: Callable[..., Any], values: Any) -> Any:
    """Return the frozen value of `values`, made (and checked) once for rows that are alike."""
    found = seen.get(values)
    if found is None:
        found = seen[values] = make(*values)
    return found


def _entry(
    zone: str, side: str, kind: str, intensity: float, lasting: str | None, flags: str, eased: str | None
) -> Entry:
    return Entry(zone, side, kind, intensity, lasting, tuple(flags.split()), eased)


def _span(model: Any, first: date | None, last: date | None) -> list[Any]:
    wanted = []
    if first is not None:
        wanted.append(model.day >= first)
    if last is not None:
        wanted.append(model.day <= last)
    return wanted
