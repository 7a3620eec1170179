"""The instants between which a practice day lies."""

from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

from chirotend.core.days import DAY_STARTS


def practice_day_bounds(day: date, zone: ZoneInfo) -> tuple[datetime, datetime]:
    """Return the first instant of practice day `day` and the first instant after it, both in UTC."""
    first = datetime.combine(day, DAY_STARTS, zone).astimezone(UTC)
    after = datetime.combine(day + timedelta(days=1), DAY_STARTS, zone).astimezone(UTC)
    return first, after
