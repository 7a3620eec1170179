"""The instant of what was answered on a device and sent later."""

from datetime import datetime, timedelta

from chirotend.services.desk import Desk

#: how long a device without a link may keep what was answered on it
KEPT_FOR = timedelta(days=30)


def answered_at(desk: Desk, at: datetime | None) -> datetime:
    """Return the instant a device says it was answered at; now, when it says none or one that cannot be."""
    if at is None or at.tzinfo is None or not desk.now - KEPT_FOR <= at <= desk.now:
        return desk.now
    return at
