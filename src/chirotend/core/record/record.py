"""Everything one player wrote in a span of days.

A session or an explicit day off makes a day's load known; anything else is "not logged". A day without a check means
nothing at all.
"""

from dataclasses import dataclass, field
from datetime import date

from chirotend.core.record.check import Check
from chirotend.core.record.day import DayNote
from chirotend.core.record.session import Session


@dataclass(frozen=True)
class Record:
    """Everything one player wrote in a span of days."""

    sessions: tuple[Session, ...] = ()
    checks: tuple[Check, ...] = ()
    notes: tuple[DayNote, ...] = ()
    _by_day: dict[date, list[Check]] = field(default_factory=dict, init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        for check in self.checks:
            self._by_day.setdefault(check.day, []).append(check)

    def checks_on(self, day: date) -> list[Check]:
        return self._by_day.get(day, [])

    @property
    def asked_days(self) -> set[date]:
        """Days on which at least one check was completed."""
        return set(self._by_day)

    @property
    def load_days(self) -> set[date]:
        """Days whose load is known: a session, or an explicit day off."""
        return {s.day for s in self.sessions} | {n.day for n in self.notes if n.off}

    @property
    def logged_days(self) -> set[date]:
        return self.asked_days | self.load_days

    def note(self, day: date) -> DayNote | None:
        return next((n for n in self.notes if n.day == day), None)

    def until_morning(self, day: date) -> "Record":
        """Return what was known on the morning of `day`: all before it, and its waking check and note."""
        return Record(
            tuple(s for s in self.sessions if s.day < day),
            tuple(c for c in self.checks if c.day < day or (c.day == day and c.timing == "waking")),
            tuple(n for n in self.notes if n.day <= day),
        )
