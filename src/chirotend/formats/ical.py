"""Calendars as iCalendar (RFC 5545) text: what stands between two days, recurrences written out; and writing one.

A floating time (no zone) is taken in the player's zone. What lasts whole days comes apart: its hours must be asked.
"""

import hashlib
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from itertools import islice, takewhile
from typing import TYPE_CHECKING
from zoneinfo import ZoneInfo

from chirotend.core.errors import MethodError
from chirotend.core.late import late
from chirotend.formats.cells import UnreadableFile

if TYPE_CHECKING:
    import icalendar
else:
    icalendar = late("icalendar")
recurring_ical_events = late("recurring_ical_events")

PRODID = "-//Chirotend//Plan//EN"
TITLE_MAX, SOURCE_MAX = 200, 400
ENTRIES_MAX = 5000
OWN = "@chirotend"
#: what the source of an entry without an id begins with
UNNAMED = "title-"


@dataclass(frozen=True)
class CalendarEntry:
    """One occurrence: where it came from (uid and occurrence), when, and its title. Instants in UTC."""

    source: str
    start_utc: datetime
    end_utc: datetime
    title: str


@dataclass(frozen=True)
class WholeDays:
    """An entry that lasts whole days, without hours: where it came from, its first and last day, its title."""

    source: str
    first: date
    last: date
    title: str


@dataclass(frozen=True)
class CalendarRead:
    """The occurrences found, oldest first; entries without hours; the sources of those that are cancelled; and a
    sentence for each entry that was passed over."""

    entries: tuple[CalendarEntry, ...]
    days: tuple[WholeDays, ...] = ()
    cancelled: tuple[str, ...] = ()
    passed_over: tuple[str, ...] = ()


def read_ical(data: bytes, file: str, zone: ZoneInfo, first: date, last: date) -> CalendarRead:
    """Return what stands in a calendar from `first` to `last`; `UnreadableFile` when it is none, or too much.

    What a calendar asks for is counted as it comes. An entry that cannot be read costs itself alone.
    """
    try:
        calendar = icalendar.Calendar.from_ical(data)
        passed_over = _readable(calendar)
        start = datetime.combine(first, time(0), zone)
        end = datetime.combine(last + timedelta(days=1), time(0), zone)
        occurrences = recurring_ical_events.of(calendar, skip_bad_series=True).after(start)
        found = list(islice(takewhile(lambda e: _begins_before(e, end, zone), occurrences), ENTRIES_MAX + 1))
    except UnreadableFile:
        raise
    except (ValueError, KeyError, IndexError, AttributeError, TypeError, OverflowError, RecursionError) as error:
        raise UnreadableFile(f"{file} is no calendar this server can read (iCalendar, .ics): {error}") from error
    if len(found) > ENTRIES_MAX:
        raise UnreadableFile(f"{file} holds more than {ENTRIES_MAX} entries in half a year. Export a smaller calendar.")
    entries, days, cancelled = [], [], []
    for event in found:
        title = _title(event)
        try:
            taken = _taken(event, title, zone)
        except (ValueError, KeyError, AttributeError, TypeError, OverflowError) as error:
            passed_over.append(f"“{title}” cannot be read: {error}.")
            continue
        if str(event.get("STATUS", "")).upper() == "CANCELLED":
            cancelled.append(taken.source)
            passed_over.append(f"“{title}” is cancelled.")
        elif isinstance(taken, WholeDays):
            days.append(taken)
        elif taken.end_utc <= taken.start_utc:
            passed_over.append(f"“{title}” on {taken.start_utc.astimezone(zone):%-d %B} ends before it begins.")
        else:
            entries.append(taken)
    entries.sort(key=lambda e: (e.start_utc, e.source))
    return CalendarRead(tuple(entries), tuple(days), tuple(cancelled), tuple(passed_over))


def _taken(event: "icalendar.Event", title: str, zone: ZoneInfo) -> CalendarEntry | WholeDays:
    """An entry with its hours, or with its days where it has none or lasts a day and more."""
    began, ended = event.start, event.end
    if isinstance(began, datetime) and isinstance(ended, datetime):
        start, end = _instant(began, zone), _instant(ended, zone)
        if end - start < timedelta(days=1):
            return CalendarEntry(_source(event, title, f"{start:%Y%m%dT%H%MZ}"), start, end, title)
        first, last = start.astimezone(zone).date(), (end - timedelta(seconds=1)).astimezone(zone).date()
    else:
        first, last = _day(began), max(_day(began), _day(ended) - timedelta(days=1))
    return WholeDays(_source(event, title, f"{first:%Y%m%d}"), first, last, title)


def _day(value: date) -> date:
    return value.date() if isinstance(value, datetime) else value


def _source(event: "icalendar.Event", title: str, at: str) -> str:
    """Where an occurrence came from: its id, or a mark of its title where the calendar gave none; and when it is."""
    uid = str(event.get("UID", "")) or f"{UNNAMED}{hashlib.sha256(title.encode()).hexdigest()[:16]}"
    return f"{uid} {at}"[-SOURCE_MAX:]


def _begins_before(event: "icalendar.Event", end: datetime, zone: ZoneInfo) -> bool:
    began = event.start
    return _instant(began, zone) < end if isinstance(began, datetime) else began < end.date()


def _readable(calendar: "icalendar.Calendar") -> list[str]:
    """Take out the entries that cannot be read, or repeat by the minute; returns a sentence for each."""
    passed_over = []
    for event in calendar.walk("VEVENT"):
        title = _title(event)
        wrong = ", ".join(str(name) for name, _ in event.errors) or ("" if "DTSTART" in event else "DTSTART")
        if wrong:
            passed_over.append(f"“{title}” cannot be read ({wrong}).")
        elif _is_fast(event):
            passed_over.append(f"“{title}” repeats more often than hourly; no rehearsal does.")
        else:
            continue
        for parent in calendar.walk():
            if event in parent.subcomponents:
                parent.subcomponents.remove(event)
    return passed_over


def _is_fast(event: "icalendar.Component") -> bool:
    """True for a recurrence by the second or minute: writing it out has no end."""
    rules = event.get("RRULE", [])
    return any(
        {"SECONDLY", "MINUTELY"} & {str(f).upper() for f in rule.get("FREQ", [])}
        or len(rule.get("BYSECOND", ())) > 1
        or len(rule.get("BYMINUTE", ())) > 4
        for rule in (rules if isinstance(rules, list) else [rules])
    )


def _title(event: "icalendar.Component") -> str:
    """Its title; of several the first."""
    said = event.get("SUMMARY", "")
    return str(said[0] if isinstance(said, list) else said).strip()[:TITLE_MAX] or "untitled"


def _instant(value: datetime, zone: ZoneInfo) -> datetime:
    return (value if value.tzinfo else value.replace(tzinfo=zone)).astimezone(UTC)


@dataclass(frozen=True)
class Written:
    """Something to write into a calendar. Instants aware."""

    uid: str
    start_utc: datetime
    end_utc: datetime
    title: str
    kind: str


def write_ical(items: Iterable[Written], stamp: datetime) -> str:
    """Return the text of a calendar that holds `items`; `MethodError` if one ends before it begins."""
    calendar = icalendar.Calendar()
    calendar.add("prodid", PRODID)
    calendar.add("version", "2.0")
    for item in items:
        if item.end_utc <= item.start_utc:
            raise MethodError("end_utc", f"“{item.title}” ends before it begins")
        event = icalendar.Event()
        event.add("uid", f"{item.uid}{OWN}")
        event.add("dtstamp", stamp.astimezone(UTC))
        event.add("dtstart", item.start_utc.astimezone(UTC))
        event.add("dtend", item.end_utc.astimezone(UTC))
        event.add("summary", item.title)
        event.add("categories", [item.kind])
        calendar.add_component(event)
    return str(calendar.to_ical(), "utf-8")
