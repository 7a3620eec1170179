"""Calendars against a sample written by hand after RFC 5545 (zones, recurrence, folding) and `icalendar`."""

import time
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import icalendar
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chirotend.core.errors import MethodError
from chirotend.formats import calendar_reader, ical
from chirotend.formats.cells import UnreadableFile

VIENNA = ZoneInfo("Europe/Vienna")
#: by hand after RFC 5545, sections 3.1 (folding), 3.3.10 and 3.8.5 (recurrence), 3.6.5 (time zones), 3.3.11 (escapes)
SAMPLE = """BEGIN:VCALENDAR
VERSION:2.0
PRODID:-//by hand//EN
BEGIN:VTIMEZONE
TZID:Europe/Vienna
BEGIN:STANDARD
DTSTART:19701025T030000
RRULE:FREQ=YEARLY;BYMONTH=10;BYDAY=-1SU
TZOFFSETFROM:+0200
TZOFFSETTO:+0100
END:STANDARD
BEGIN:DAYLIGHT
DTSTART:19700329T020000
RRULE:FREQ=YEARLY;BYMONTH=3;BYDAY=-1SU
TZOFFSETFROM:+0100
TZOFFSETTO:+0200
END:DAYLIGHT
END:VTIMEZONE
BEGIN:VEVENT
UID:weekly@by-hand
DTSTART;TZID=Europe/Vienna:20261020T180000
DTEND;TZID=Europe/Vienna:20261020T210000
RRULE:FREQ=WEEKLY;COUNT=4
EXDATE;TZID=Europe/Vienna:20261103T180000
SUMMARY:Rehearsal\\, Act I and a title that is so long that it has been fol
 ded
END:VEVENT
BEGIN:VEVENT
UID:weekly@by-hand
RECURRENCE-ID;TZID=Europe/Vienna:20261027T180000
DTSTART;TZID=Europe/Vienna:20261027T190000
DTEND;TZID=Europe/Vienna:20261027T200000
SUMMARY:Rehearsal moved
END:VEVENT
BEGIN:VEVENT
UID:utc@by-hand
DTSTART:20261112T183000Z
DURATION:PT2H30M
SUMMARY:First night
END:VEVENT
BEGIN:VEVENT
UID:floating@by-hand
DTSTART:20261113T100000
DTEND:20261113T110000
SUMMARY:Lesson
END:VEVENT
BEGIN:VEVENT
UID:allday@by-hand
DTSTART;VALUE=DATE:20261114
SUMMARY:Holiday
END:VEVENT
BEGIN:VEVENT
UID:off@by-hand
STATUS:CANCELLED
DTSTART:20261115T100000Z
DTEND:20261115T110000Z
SUMMARY:Off
END:VEVENT
END:VCALENDAR
""".replace("\n", "\r\n").encode()


def test_a_calendar_written_by_hand_is_read_with_zones_and_recurrence():
    found = ical.read_ical(SAMPLE, "by-hand.ics", VIENNA, date(2026, 10, 1), date(2026, 12, 1))
    assert [(e.start_utc, (e.end_utc - e.start_utc) / timedelta(minutes=1)) for e in found.entries] == [
        (datetime(2026, 10, 20, 16, 0, tzinfo=UTC), 180),  # summer time
        (datetime(2026, 10, 27, 18, 0, tzinfo=UTC), 60),  # the moved one, winter time
        (datetime(2026, 11, 10, 17, 0, tzinfo=UTC), 180),  # the third is taken out
        (datetime(2026, 11, 12, 18, 30, tzinfo=UTC), 150),
        (datetime(2026, 11, 13, 9, 0, tzinfo=UTC), 60),  # floating: by the player's clock
    ]
    assert found.entries[0].title == "Rehearsal, Act I and a title that is so long that it has been folded"
    assert len({e.source for e in found.entries}) == 5
    (holiday,) = found.days
    assert (holiday.first, holiday.last, holiday.title) == (date(2026, 11, 14), date(2026, 11, 14), "Holiday")
    assert found.passed_over == ("“Off” is cancelled.",) and found.cancelled == ("off@by-hand 20261115T1000Z",)


@pytest.mark.parametrize("data", [b"", b"not a calendar", b"\x00\x01", b"BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\n"])
def test_what_is_no_calendar_is_refused_or_empty(data):
    try:
        found = ical.read_ical(data, "x.ics", VIENNA, date(2026, 10, 1), date(2026, 12, 1))
    except UnreadableFile as error:
        assert "x.ics" in str(error)
    else:
        assert found.entries == ()


@given(
    st.lists(
        st.tuples(
            st.datetimes(datetime(2026, 1, 1), datetime(2026, 12, 1)),
            st.integers(1, 600),
            st.text("aä,;\\ \n“”é", min_size=1, max_size=90),
        ),
        max_size=5,
    )
)
@settings(max_examples=30)
def test_what_is_written_reads_back_the_same_here_and_in_icalendar(entries):
    items = [
        ical.Written(
            str(i),
            t.replace(tzinfo=UTC, second=0, microsecond=0),
            t.replace(tzinfo=UTC, second=0, microsecond=0) + timedelta(minutes=m),
            title,
            "practice",
        )
        for i, (t, m, title) in enumerate(entries)
    ]
    text = ical.write_ical(items, datetime(2026, 11, 12, tzinfo=UTC))
    assert all(len(line.encode()) <= 75 for line in text.split("\r\n"))
    found = ical.read_ical(text.encode(), "x.ics", VIENNA, date(2025, 12, 30), date(2026, 12, 30))
    assert sorted((e.start_utc, e.end_utc) for e in found.entries) == sorted((i.start_utc, i.end_utc) for i in items)
    read = list(icalendar.Calendar.from_ical(text).walk("VEVENT"))
    assert sorted(str(e["SUMMARY"]) for e in read) == sorted(i.title for i in items)


def test_an_entry_that_ends_before_it_begins_is_not_written():
    now = datetime(2026, 11, 12, tzinfo=UTC)
    with pytest.raises(MethodError):
        ical.write_ical([ical.Written("a", now, now, "x", "practice")], now)


OTHER = b"BEGIN:VEVENT\r\nUID:b\r\nDTSTART:20261120T100000\r\nDURATION:PT3H\r\nSUMMARY:Tutti\r\nEND:VEVENT\r\n"
TOUR = OTHER.replace(
    b"DTSTART:20261120T100000\r\nDURATION:PT3H", b"DTSTART;VALUE=DATE:20261120\r\nDTEND;VALUE=DATE:20261123"
)
TOUR = TOUR.replace(b"Tutti", b"Tour").replace(b"UID:b", b"UID:c")


def calendar_with(rule: str, start: str = "20200101T100000") -> bytes:
    lines = ["BEGIN:VCALENDAR", "VERSION:2.0", "BEGIN:VEVENT", "UID:a", f"DTSTART:{start}", "DURATION:PT1H"]
    return "\r\n".join([*lines, f"RRULE:{rule}", "SUMMARY:x", "END:VEVENT", "END:VCALENDAR", ""]).encode()


@pytest.mark.parametrize(
    "rule",
    ["FREQ=SECONDLY", "FREQ=MINUTELY;INTERVAL=5", "FREQ=DAILY;BYMINUTE=0,10,20,30,40,50", "FREQ=DAILY;BYSECOND=1,2"],
)
def test_no_rule_more_often_than_hourly_is_followed(rule):
    both = calendar_with(rule).replace(b"END:VCALENDAR", OTHER + b"END:VCALENDAR")
    found = ical.read_ical(both, "x.ics", VIENNA, date(2026, 11, 5), date(2027, 5, 1))
    assert found.passed_over == ("“x” repeats more often than hourly; no rehearsal does.",)
    assert [e.title for e in found.entries] == ["Tutti"]


def test_an_entry_that_cannot_be_read_costs_itself_alone():
    for broken in (b"DTSTART:yesterday", b"DTSTART:20261301T100000", b"SUMMARY:x"):
        data = calendar_with("FREQ=DAILY").replace(b"DTSTART:20200101T100000", broken)
        data = data.replace(b"END:VCALENDAR", OTHER + b"END:VCALENDAR")
        found = ical.read_ical(data, "x.ics", VIENNA, date(2026, 11, 5), date(2027, 5, 1))
        assert [e.title for e in found.entries] == ["Tutti"], broken
        assert [line[:3] for line in found.passed_over] == ["“x”"], broken


def test_what_lasts_days_comes_with_its_days_and_what_has_no_id_with_its_title():
    data = b"BEGIN:VCALENDAR\r\n" + OTHER.replace(b"UID:b\r\n", b"") + TOUR + b"END:VCALENDAR\r\n"
    found = ical.read_ical(data, "x.ics", VIENNA, date(2026, 11, 5), date(2027, 5, 1))
    assert [(d.title, d.first.day, d.last.day) for d in found.days] == [("Tour", 20, 22)]
    assert found.entries[0].source.startswith("title-")


def test_what_a_calendar_asks_for_is_counted_as_it_comes_and_stopped():
    began = time.monotonic()
    with pytest.raises(UnreadableFile, match="more than 5000"):
        hourly = calendar_with("FREQ=HOURLY", "20261101T100000")
        ical.read_ical(hourly, "x.ics", VIENNA, date(2026, 11, 5), date(2027, 11, 1))
    assert time.monotonic() - began < 60


def test_a_process_of_its_own_reads_the_same():
    data = calendar_with("FREQ=WEEKLY;COUNT=400")
    span = (date(2026, 11, 5), date(2027, 5, 1))
    there = calendar_reader.read_calendar_file(data, "x.ics", "Europe/Vienna", *span)
    assert there == ical.read_ical(data, "x.ics", ZoneInfo("Europe/Vienna"), *span) and len(there.entries) > 20
