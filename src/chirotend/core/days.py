"""Practice days: 04:00 to 04:00 by the player's own clock, so a late performance belongs to its evening.

Instants are timezone-aware datetimes (UTC inside); days are dates. On the two daylight-saving nights a practice
day lasts 23 or 25 hours. Common practice, no source: 04:00 is ours.
"""

from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from chirotend.core.errors import NotANumber, OutOfRange

DAY_STARTS = time(4, 0)
#: days that can be written or asked for: the weeks around them exist in every calendar
FIRST_DAY, LAST_DAY = date(1900, 1, 1), date(2200, 1, 1)


def is_sensible(when: date) -> bool:
    """True for a day from 1900 to 2200, and for an instant in the years between them (its day fits in any zone)."""
    if isinstance(when, datetime):
        return FIRST_DAY.year < when.year < LAST_DAY.year
    return FIRST_DAY <= when <= LAST_DAY


def day_named(text: str) -> date:
    """Return the day written as YYYY-MM-DD; `OutOfRange` when there is none, or it is not between 1900 and 2200."""
    try:
        day = date.fromisoformat(text)
    except ValueError:
        day = None
    if day is None or not is_sensible(day):
        raise OutOfRange("day", text, words=("a day that exists, written YYYY-MM-DD",))
    return day


def zone_named(name: str) -> ZoneInfo:
    """Return the time zone called `name` (IANA, such as "Europe/Vienna"); `OutOfRange` if there is none."""
    try:
        return ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError, OSError) as error:
        raise OutOfRange("zone", name, words=("a time zone such as Europe/Vienna",)) from error


def practice_day(instant: datetime, zone: ZoneInfo) -> date:
    """Return the practice day that holds `instant` (aware) for a player whose clock shows `zone`."""
    if instant.tzinfo is None:
        raise NotANumber("instant", "an instant needs its time zone")
    local = instant.astimezone(zone)
    return local.date() if local.time() >= DAY_STARTS else local.date() - timedelta(days=1)


def instant_of(day: date, clock: time, zone: ZoneInfo) -> datetime:
    """Return the instant of `clock` on practice day `day`: after midnight it still belongs to that evening."""
    return datetime.combine(day if clock >= DAY_STARTS else day + timedelta(days=1), clock, zone)
