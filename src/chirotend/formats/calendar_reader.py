"""Calendars, read in a process of their own: what others wrote may ask for any amount of work."""

from collections.abc import Callable
from datetime import date, datetime
from typing import Any

from chirotend.core.days import zone_named
from chirotend.formats import ical, sandbox
from chirotend.formats.ical import CalendarEntry, CalendarRead, WholeDays

#: CPU time that a calendar may take
SECONDS = 4


def read_calendar_file(
    data: bytes, file: str, zone: str, first: date, last: date, seconds: int = SECONDS
) -> CalendarRead:
    """Return what `ical.read_ical` finds; `UnreadableFile` too when it takes more than `seconds` of CPU time."""
    request = {"file": file, "zone": zone, "first": first.isoformat(), "last": last.isoformat()}
    found = sandbox.read_file(__name__, file, request, data, seconds)
    entries = (
        CalendarEntry(s, datetime.fromisoformat(a), datetime.fromisoformat(b), t) for s, a, b, t in found["entries"]
    )
    days = (WholeDays(s, date.fromisoformat(a), date.fromisoformat(b), t) for s, a, b, t in found["days"])
    return CalendarRead(tuple(entries), tuple(days), tuple(found["cancelled"]), tuple(found["passed_over"]))


def answered(request: dict[str, Any], data: bytes, _step: Callable[[float], None]) -> dict[str, Any]:
    """Return what `read_calendar_file` asks for, as JSON holds it."""
    first, last = (date.fromisoformat(request[name]) for name in ("first", "last"))
    found = ical.read_ical(data, request["file"], zone_named(request["zone"]), first, last)
    return {
        "entries": [(e.source, e.start_utc.isoformat(), e.end_utc.isoformat(), e.title) for e in found.entries],
        "days": [(d.source, d.first.isoformat(), d.last.isoformat(), d.title) for d in found.days],
        "cancelled": found.cancelled,
        "passed_over": found.passed_over,
    }
