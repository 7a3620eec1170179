"""A stable complaint known to a clinician; rows 4-6 of the call ignore symptoms up to its level.

Rows 1-3 never change for it. It holds to its review, at most twelve weeks ahead. Whether and how this may be done is a
question to a clinician; not yet reviewed by one.
"""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date

from chirotend.core.record import Entry, Mark, Place, Record
from chirotend.core.record.words import Kind

KNOWN_KINDS = tuple(kind for kind in Kind if kind != Kind.WEAKNESS)
REVIEW_DAYS = 84
#: every timing but the night
DAY_TIMINGS = ("playing", "after", "waking", "daily")
#: pain from 5 on is row 3; what is known stays below it
LEVEL_MAX = 4


@dataclass(frozen=True)
class Known:
    """Place, kind and usual level (1-4 of 10), the days it holds (both included), and what belongs to it besides.

    `lasts`: it is known to stay longer than ten minutes; `timings`: when it is known to be felt. What is not known of
    it speaks: pain known while playing says nothing of pain on waking.
    """

    region: str
    side: str
    kind: str
    level: float
    since: date
    review: date
    lasts: bool = False
    timings: frozenset[str] = frozenset(DAY_TIMINGS)

    @property
    def place(self) -> Place:
        return self.region, self.side

    def holds_on(self, day: date) -> bool:
        return self.since <= day <= self.review

    def covers(self, mark: Mark) -> bool:
        """True when the mark is no more than what is known."""
        entry = mark.entry
        return (
            self.holds_on(mark.day)
            and (mark.place, entry.kind) == (self.place, self.kind)
            and entry.intensity <= self.level
            and not entry.flags
            and mark.timing in self.timings
            and (self.lasts or not _lasting(entry))
        )


def _lasting(entry: Entry) -> bool:
    """Numbness whose end is not written counts as lasting, as everywhere."""
    return entry.lasting in ("longer", "constant") or (entry.kind == "numbness" and entry.lasting is None)


def above(record: Record, known: Iterable[Known]) -> Record:
    """Return the record without the marks that are no more than what is known; its checks stay answered."""
    known = tuple(known)
    checks = []
    for check in record.checks:
        covered = {mark.entry for mark in check.marks if any(k.covers(mark) for k in known)}
        checks.append(replace(check, entries=tuple(e for e in check.entries if e not in covered)) if covered else check)
    return replace(record, checks=tuple(checks))
