"""Sessions with their blocks."""

from collections.abc import Callable, Sequence
from datetime import date
from typing import Any

from sqlalchemy import bindparam, delete, func, or_, select

from chirotend.core.record import Block, Session
from chirotend.core.record.shape import field_names
from chirotend.store.bound import columns_of, shared, span
from chirotend.store.day_stamps import Stamps
from chirotend.store.models import (
    BlockRow,
    SessionRow,
)

SESSION_COLUMNS, BLOCK_COLUMNS = field_names(Session, without=("blocks",)), field_names(Block)
S, B = (model.__table__.c for model in (SessionRow, BlockRow))
#: a session joined with its blocks
WITH_ITS_BLOCKS = (SessionRow.__table__, BlockRow.__table__, (S.player_id == B.player_id) & (S.uid == B.session_uid))
# asked for on every page: made once
PLAYED_BEFORE = (
    select(S.day, func.sum(B.minutes))
    .join_from(*WITH_ITS_BLOCKS)
    .where(S.player_id == bindparam("player"), S.day < bindparam("day"), B.kind != "other")
    .group_by(S.day)
    .having(func.sum(B.minutes) > 0)
    .order_by(S.day.desc())
    .limit(bindparam("count"))
)


class Sessions(Stamps):
    """The sessions of a player."""

    def sessions_read(
        self, first: date | None = None, last: date | None = None, uid: str | None = None
    ) -> tuple[Session, ...]:
        """Return sessions with their blocks, by day, start and uid. One joined read of plain tuples."""
        wanted = [S.player_id == self.player_id, *span(S, first, last)]
        if uid is not None:
            wanted.append(S.uid == uid)
        query = (
            select(*(S[name] for name in SESSION_COLUMNS), *(B[name] for name in BLOCK_COLUMNS))
            .join_from(*WITH_ITS_BLOCKS)
            .where(*wanted)
            .order_by(S.day, S.start_utc, S.uid, B.position)
        )
        width, at = len(SESSION_COLUMNS), SESSION_COLUMNS.index("uid")
        found: dict[str, tuple[Any, list[Block]]] = {}
        blocks_seen: dict[Any, Block] = {}
        for row in self.tuples(query):
            kept = found.get(row[at])
            if kept is None:
                kept = found[row[at]] = row[:width], []
            kept[1].append(shared(blocks_seen, Block, row[width:]))
        return tuple(
            Session(**dict(zip(SESSION_COLUMNS, own, strict=True)), blocks=tuple(blocks))
            for own, blocks in found.values()
        )

    def words_written(self, kinds: Sequence[str]) -> list[tuple[date, str, tuple[str, ...]]]:
        """Return (day, uid, texts in the order of `kinds`) of the sessions that hold any of them, newest first."""
        texts = [S[kind] for kind in kinds]
        query = (
            select(S.day, S.uid, *texts)
            .where(S.player_id == self.player_id, or_(*(text != "" for text in texts)))
            .order_by(S.day.desc(), S.start_utc.desc())
        )
        return [(row[0], row[1], tuple(row[2:])) for row in self.tuples(query)]

    def played_days_before(self, day: date, count: int) -> tuple[tuple[date, float], ...]:
        """Return (day, minutes) of the last `count` played days before `day`, oldest first."""
        found = self.tuples(PLAYED_BEFORE, {"player": self.player_id, "day": day, "count": count})
        return tuple((row[0], float(row[1])) for row in found)[::-1]

    def minutes_by_day(self) -> dict[date, float]:
        """Return the minutes played on each day with any, other uses of the hands left out."""
        query = (
            select(S.day, func.sum(B.minutes))
            .join_from(*WITH_ITS_BLOCKS)
            .where(S.player_id == self.player_id, B.kind != "other")
            .group_by(S.day)
        )
        return {day: float(minutes) for day, minutes in self.tuples(query)}

    def first_played(self) -> dict[str, date]:
        """Return the first day on which each instrument was played, by its id or word."""
        query = (
            select(B.instrument, func.min(S.day))
            .join_from(*WITH_ITS_BLOCKS)
            .where(S.player_id == self.player_id, B.instrument != "", B.kind != "other")
            .group_by(B.instrument)
        )
        return dict(self.tuples(query))

    def session(self, uid: str) -> Session | None:
        return next(iter(self.sessions_read(uid=uid)), None)

    def put_session(self, session: Session) -> None:
        """Write a session, in the place of an older one with the same uid."""
        self.drop_session(session.uid)
        self.add_sessions([session])

    def drop_session(self, uid: str) -> None:
        mine = (SessionRow.player_id == self.player_id, SessionRow.uid == uid)
        self.touch(self.db.scalars(select(SessionRow.day).where(*mine)))
        self.db.execute(delete(SessionRow).where(*mine))

    def add_sessions(self, sessions: Sequence[Session], step: Callable[[int], None] = lambda n: None) -> None:
        """Insert new sessions."""
        blocks = ((s.uid, i, b) for s in sessions for i, b in enumerate(s.blocks))
        self.touch(s.day for s in sessions)
        self.add_rows(SessionRow, (columns_of(s, SESSION_COLUMNS) for s in sessions), step)
        self.add_rows(
            BlockRow, ({"session_uid": u, "position": i, **columns_of(b, BLOCK_COLUMNS)} for u, i, b in blocks), step
        )
