"""Calls as they were said, and the answers "seen by a clinician"."""

from datetime import date, datetime
from typing import Any

from sqlalchemy import bindparam, select

from chirotend.store.bound import Bound
from chirotend.store.models import (
    CallRow,
    ClearanceRow,
)

# asked for on every page: made once
MINE = CallRow.player_id == bindparam("player")
LATEST = select(CallRow).where(MINE, CallRow.day == bindparam("day")).order_by(CallRow.number.desc()).limit(1)
BEFORE = (
    select(CallRow)
    .where(MINE, CallRow.day < bindparam("day"))
    .order_by(CallRow.day.desc(), CallRow.number.desc())
    .limit(1)
)
BETWEEN = (
    select(CallRow)
    .where(MINE, CallRow.day >= bindparam("first"), CallRow.day <= bindparam("last"))
    .order_by(CallRow.day, CallRow.number)
)
CLEARANCE = (
    select(ClearanceRow)
    .where(ClearanceRow.player_id == bindparam("player"))
    .order_by(ClearanceRow.at_utc.desc())
    .limit(1)
)


class Calls(Bound):
    """The calls of a player: a later one of the same day has a higher number, none is rewritten."""

    def latest_call(self, day: date) -> CallRow | None:
        """Return the last call said for `day`."""
        return self.db.scalar(LATEST, {"player": self.player_id, "day": day})

    def call_before(self, day: date) -> CallRow | None:
        """Return the last call said for any day before `day`."""
        return self.db.scalar(BEFORE, {"player": self.player_id, "day": day})

    def calls(self, first: date, last: date) -> dict[date, CallRow]:
        """Return the last call of each day that has one."""
        rows = self.db.scalars(BETWEEN, {"player": self.player_id, "first": first, "last": last})
        return {row.day: row for row in rows}

    def said_calls(self, first: date, last: date) -> dict[date, str]:
        """Return the last call of each day, as she made it where she overruled it: many days, without their reasons."""
        C = CallRow.__table__.c
        query = select(C.day, C.overrule, C.call).where(C.player_id == self.player_id, C.day >= first, C.day <= last)
        return {day: overrule or said for day, overrule, said in self.tuples(query.order_by(C.day, C.number))}

    def said_findings(self, first: date, last: date) -> list[tuple[date, list[dict[str, Any]]]]:
        """Return the findings of every call said from `first` to `last`, with its day, oldest first."""
        C = CallRow.__table__.c
        query = select(C.day, C.findings).where(C.player_id == self.player_id, C.day >= first, C.day <= last)
        return [(day, found) for day, found in self.tuples(query.order_by(C.day, C.number))]

    def add_call(self, **values: Any) -> CallRow:
        last = self.latest_call(values["day"])
        row = CallRow(player_id=self.player_id, number=1 + (last.number if last else 0), **values)
        self.db.add(row)
        self.db.flush()
        return row

    def latest_clearance(self) -> ClearanceRow | None:
        return self.db.scalar(CLEARANCE, {"player": self.player_id})

    def clearances(self) -> list[ClearanceRow]:
        """Return every such answer, oldest first."""
        mine = select(ClearanceRow).where(ClearanceRow.player_id == self.player_id)
        return list(self.db.scalars(mine.order_by(ClearanceRow.at_utc)))

    def add_clearance(self, at_utc: datetime, start_dose_min: float) -> None:
        self.db.add(ClearanceRow(player_id=self.player_id, at_utc=at_utc, start_dose_min=start_dose_min))
        self.db.flush()
