"""What she wrote down after playing, kept as lists: questions for the teacher, what went well, what was hard."""

from dataclasses import dataclass
from datetime import date

from sqlalchemy import or_

from chirotend.services.desk import Desk, Refused
from chirotend.store.models import SessionRow

KINDS = {"question": "Questions", "went_well": "Went well", "was_hard": "Was hard"}
MOST = 300


@dataclass(frozen=True)
class Written:
    """A line she wrote: when, in which session, which list, the words."""

    day: date
    session: str
    kind: str
    text: str


def written(desk: Desk, kind: str = "", search: str = "") -> list[Written]:
    """Return the lines of one list (or all), newest first, that hold the words of `search`; at most 300."""
    if kind and kind not in KINDS:
        raise Refused("kind", f"Choose one of {', '.join(KINDS.values())}.")
    kinds = (kind,) if kind else tuple(KINDS)
    rows = desk.store.shelf(SessionRow).all(
        or_(*(getattr(SessionRow, k) != "" for k in kinds)), order=(SessionRow.day.desc(), SessionRow.start_utc.desc())
    )
    words = search.lower().split()
    found = [
        Written(row.day, row.uid, k, getattr(row, k))
        for row in rows
        for k in kinds
        if getattr(row, k) and all(w in getattr(row, k).lower() for w in words)
    ]
    return found[:MOST]
