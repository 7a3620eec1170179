"""A stamp for each day that holds anything: changed with every write to the day, so that what was read can be kept.

A stamp is random and stands in the same transaction as what it speaks of: one that was rolled back is never seen again,
and a day whose stamp is the one it was read under is as it was read, whoever else writes.
"""

import secrets
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from itertools import islice

from sqlalchemy import bindparam, delete, select

from chirotend.core.memos import Memo
from chirotend.core.record import Check, DayNote, Record, Session
from chirotend.store.bound import CHUNK, Bound, span
from chirotend.store.models import (
    DayStampRow,
)

D = DayStampRow.__table__.c
MOST_KEPT = 40_000  # days, some 1 kB each
MOST_RECORDS, LONGEST_RECORD_DAYS = 200, 200  # their days are the kept ones: some 30 kB each
Span = tuple[date | None, ...]
# asked for on every page: made once
BETWEEN = (
    select(D.day, D.stamp)
    .where(D.player_id == bindparam("player"), D.day >= bindparam("first"), D.day <= bindparam("last"))
    .order_by(D.day)
)


@dataclass(frozen=True)
class Day:
    """All that was written of one practice day."""

    sessions: tuple[Session, ...]
    checks: tuple[Check, ...]
    note: DayNote | None


class KeptDays(Memo):
    """Days as they were last read in this process, by player and day, each with its stamp."""

    def __init__(self) -> None:
        super().__init__()
        self._days: dict[tuple[int, date], tuple[str, Day]] = {}
        self._records: dict[tuple[int, Span], tuple[dict[date, str], Record]] = {}

    def get(self, player: int, day: date, stamp: str) -> Day | None:
        kept = self._days.get((player, day))
        return kept[1] if kept is not None and kept[0] == stamp else None

    def keep(self, player: int, day: date, stamp: str, found: Day) -> None:
        if len(self._days) >= MOST_KEPT:
            self._days.clear()
        self._days[player, day] = stamp, found

    def changed(self, player: int, days: Iterable[date]) -> None:
        for day in days:
            self._days.pop((player, day), None)

    def record(self, player: int, span: Span, stamps: dict[date, str]) -> Record | None:
        """Return the very record that was made of a span while its days had these stamps."""
        kept = self._records.get((player, span))
        return kept[1] if kept is not None and kept[0] == stamps else None

    def keep_record(self, player: int, span: Span, stamps: dict[date, str], found: Record) -> None:
        """Keep a record made of kept days, unless it is long; a day read under another stamp is not what stands."""
        if len(stamps) > LONGEST_RECORD_DAYS or any(
            self.get(player, day, stamp) is None for day, stamp in stamps.items()
        ):
            return
        if len(self._records) >= MOST_RECORDS:
            self._records.clear()
        self._records[player, span] = stamps, found

    def forget(self) -> None:
        self._days.clear()
        self._records.clear()


KEPT = KeptDays()


# a day that changed is read again, and not the whole record: decision 49
class Stamps(Bound):
    """The stamps of a player's days."""

    def stamps(self, first: date | None, last: date | None) -> dict[date, str]:
        """Return the stamp of each day that holds anything, oldest first."""
        if first is not None and last is not None:
            return dict(self.tuples(BETWEEN, {"player": self.player_id, "first": first, "last": last}))
        query = select(D.day, D.stamp).where(D.player_id == self.player_id, *span(D, first, last)).order_by(D.day)
        return dict(self.tuples(query))

    def touch(self, days: Iterable[date]) -> None:
        """Give `days` new stamps: called by every write to a session, a check or a note of theirs."""
        changed = iter(sorted(set(days)))
        while chunk := list(islice(changed, CHUNK // 4)):
            self.db.execute(delete(DayStampRow).where(DayStampRow.player_id == self.player_id, D.day.in_(chunk)))
            self.add_rows(DayStampRow, ({"day": day, "stamp": secrets.token_hex(8)} for day in chunk))
            KEPT.changed(self.player_id, chunk)
