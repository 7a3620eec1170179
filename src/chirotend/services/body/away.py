"""What was answered on a device without a link: into the day it was answered on, once, however often it is sent."""

from collections.abc import Sequence
from datetime import datetime

from chirotend.core.days import practice_day
from chirotend.services.body import checks
from chirotend.services.desk import Desk
from chirotend.services.record import log
from chirotend.services.record.from_device import answered_at


def morning(desk: Desk, sleep: str | None, hands: str | None, at: datetime | None) -> None:
    """Take the morning check: it adds to what is there, and takes back nothing that was marked meanwhile."""
    then = answered_at(desk, at)
    day = practice_day(then, desk.zone)
    if _there(desk, then, ["waking"]):
        return
    log.set_morning(desk, day, sleep or None, hands or None)
    checks.nothing(desk, "waking", day, then)


def marks(desk: Desk, typed: checks.TypedMarks, at: datetime | None) -> None:
    """Take marks as touched; sent again, the same ones change nothing, also when they were rubbed out since."""
    then = answered_at(desk, at)
    if not _there(desk, then, typed.timings):
        checks.write_marks(desk, typed, practice_day(then, desk.zone), then)


def _there(desk: Desk, then: datetime, timings: Sequence[str]) -> bool:
    """True when the same answer, known by its instant, was taken before."""
    day = practice_day(then, desk.zone)
    return any(c.at_utc == then for c in desk.store.record(day, day).checks if c.timing in timings)
