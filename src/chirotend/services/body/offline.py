"""What was answered on a device without a link: into the day it was answered on, once, however often it is sent."""

from datetime import datetime

from chirotend.core.days import practice_day
from chirotend.services.body import checks
from chirotend.services.context import Context
from chirotend.services.record import log
from chirotend.services.record.from_device import answered_at, first_time


def morning(context: Context, sleep: str | None, hands: str | None, at: datetime | None, uid: str = "") -> None:
    """Take the morning check: it adds to what is there, and takes back nothing that was marked meanwhile."""
    if first_time(context, uid):
        then = answered_at(context, at)
        day = practice_day(then, context.zone)
        log.set_morning(context, day, sleep or None, hands or None)
        checks.nothing(context, "waking", day, then)


def marks(context: Context, typed: checks.TypedMarks, at: datetime | None, uid: str = "") -> None:
    """Take marks as touched."""
    if first_time(context, uid):
        then = answered_at(context, at)
        checks.write_marks(context, typed, practice_day(then, context.zone), then)
