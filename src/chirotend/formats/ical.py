"""Calendars as iCalendar (RFC 5545) text: what stands between two days, recurrences written out; and writing one.

A floating time (no zone) is taken in the player's zone. All-day entries have no hours and are passed over.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from itertools import islice, takewhile
from zoneinfo import ZoneInfo

import icalendar
import recurring_ical_events

from chirotend.core.errors import MethodError
from chirotend.formats.cells import UnreadableFile

PRODID = "-//Chirotend//Plan//EN"
TITLE_MAX, SOURCE_MAX = 200, 400
ENTRIES_MAX = 2000


@dataclass(frozen=True)
class CalendarEntry:
    """One occurrence: where it came from (uid and occurrence), when, and its title. Instants in UTC."""

    source: str
    start_utc: datetime
    end_utc: datetime
    title: str


@dataclass(frozen=True)
class CalendarRead:
    """The occurrences found, oldest first, and a sentence for each entry that was passed over."""

    entries: tuple[CalendarEntry, ...]
    passed_over: tuple[str, ...]


def read(data: bytes, file: str, zone: ZoneInfo, first: date, last: date) -> CalendarRead:
    """Return what stands in a calendar from `first` to `last`; `UnreadableFile` when it is none, or too much.

    What a calendar asks for is counted as it comes, and no recurrence more often than hourly is followed.
    """
    try:
        calendar = icalendar.Calendar.from_ical(data)
        _refuse_fast_rules(calendar, file)
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
    entries, passed_over = [], []
    for event in found:
        title = str(event.get("SUMMARY", "")).strip()[:TITLE_MAX] or "untitled"
        if str(event.get("STATUS", "")).upper() == "CANCELLED":
            passed_over.append(f"“{title}” is cancelled.")
            continue
        began, ended = event.start, event.end
        if not isinstance(began, datetime) or not isinstance(ended, datetime):
            passed_over.append(f"“{title}” on {began:%-d %B} lasts all day: it has no hours.")
        elif ended <= began:
            passed_over.append(f"“{title}” on {began:%-d %B} ends before it begins.")
        else:
            began, ended = _instant(began, zone), _instant(ended, zone)
            source = f"{event.get('UID', '')} {began:%Y%m%dT%H%MZ}"[-SOURCE_MAX:]
            entries.append(CalendarEntry(source, began, ended, title))
    return CalendarRead(tuple(sorted(entries, key=lambda e: (e.start_utc, e.source))), tuple(passed_over))


def _begins_before(event: icalendar.Event, end: datetime, zone: ZoneInfo) -> bool:
    began = event.start
    return _instant(began, zone) < end if isinstance(began, datetime) else began < end.date()


def _refuse_fast_rules(calendar: icalendar.Calendar, file: str) -> None:
    """Refuse a recurrence by the second or minute: no rehearsal has one, and writing it out has no end."""
    for event in calendar.walk("VEVENT"):
        rules = event.get("RRULE", [])
        for rule in rules if isinstance(rules, list) else [rules]:
            often = [str(f).upper() for f in rule.get("FREQ", [])]
            if (
                {"SECONDLY", "MINUTELY"} & set(often)
                or len(rule.get("BYSECOND", ())) > 1
                or len(rule.get("BYMINUTE", ())) > 4
            ):
                raise UnreadableFile(
                    f"{file} repeats an entry more often than hourly. Take that entry out, then bring it."
                )


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


def write(items: Iterable[Written], stamp: datetime) -> str:
    """Return the text of a calendar that holds `items`; `MethodError` if one ends before it begins."""
    calendar = icalendar.Calendar()
    calendar.add("prodid", PRODID)
    calendar.add("version", "2.0")
    for item in items:
        if item.end_utc <= item.start_utc:
            raise MethodError("end_utc", f"“{item.title}” ends before it begins")
        event = icalendar.Event()
        event.add("uid", f"{item.uid}@chirotend")
        event.add("dtstamp", stamp.astimezone(UTC))
        event.add("dtstart", item.start_utc.astimezone(UTC))
        event.add("dtend", item.end_utc.astimezone(UTC))
        event.add("summary", item.title)
        event.add("categories", [item.kind])
        calendar.add_component(event)
    return str(calendar.to_ical(), "utf-8")
