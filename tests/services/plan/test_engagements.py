"""Engagements: written, brought from a calendar, written in as planned."""

from dataclasses import replace
from datetime import time, timedelta

import pytest

from chirotend.formats import ical
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.plan import calendars, engagements
from chirotend.services.plan.engagements import Typed
from chirotend.services.record import uses


def _bring(context: Context, name: str, data: bytes) -> calendars.Imported:
    return calendars.bring(context, name, calendars.read_calendar(context, name, data))


def a_date(context: Context, days: int = 2, start: int = 19, end: int = 22, title: str = "Concert", **more) -> Typed:
    return Typed(context.today + timedelta(days=days), time(start), time(end), title, **more)


def test_an_engagement_takes_what_is_usual_for_its_title_and_may_end_after_midnight(context):
    made = engagements.write(context, a_date(context, start=23, end=2))
    assert (made.kind, made.minutes, made.effort, made.instrument) == ("performance", 126, 6, "bassoon")
    assert engagements.made(context, a_date(context, title="train to the coast")).minutes == 0
    assert engagements.made(context, a_date(context, title="dentist")).kind == "appointment"


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"title": " "}, "title"),
        ({"kind": "party"}, "kind"),
        ({"start": 1, "end": 23}, "end"),
        ({"minutes": 500}, "minutes"),
        ({"effort": 11}, "effort"),
    ],
)
def test_an_engagement_that_cannot_be_is_refused(context, change, field):
    with pytest.raises(FieldError) as refused:
        engagements.write(context, a_date(context, **change))
    assert refused.value.field == field


CALENDAR = """BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//EN\r\nBEGIN:VEVENT\r\nUID:a\r\nDTSTART:20261118T180000Z\r
DTEND:20261118T210000Z\r\nSUMMARY:{title}\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"""


def test_a_calendar_is_brought_once_changed_where_it_changed_and_can_be_taken_back(context):
    bring = lambda text: _bring(context, "c.ics", text.encode())  # noqa: E731
    first = bring(CALENDAR.format(title="Orchestra rehearsal"))
    assert (first.new, first.known) == (1, 0)
    assert (bring(CALENDAR.format(title="Orchestra rehearsal")).known) == 1
    assert bring(CALENDAR.format(title="Dress rehearsal")).changed == 1
    moved = bring(CALENDAR.format(title="Dress rehearsal").replace("T180000Z", "T170000Z"))
    assert (moved.new, moved.gone) == (1, ("Dress rehearsal",))
    (row,) = engagements.rows_between(context, context.today, context.today + timedelta(days=30))
    assert (row.title, row.kind, row.minutes) == ("Dress rehearsal", "rehearsal", 144)
    calendars.take_back(context, moved.uid)
    assert engagements.between(context, context.today, context.today + timedelta(days=30)) == []
    for data in (b"", b"\x00not a calendar", b"x" * 3_000_000):
        with pytest.raises(FieldError):
            _bring(context, "c.ics", data)


def test_load_fills_itself_as_planned_once_it_is_over(context):
    made = engagements.write(context, a_date(context, 0, 8, 9, "Rehearsal", minutes=40, effort=4))
    assert [r.uid for r in engagements.waiting(context)] == [made.uid]
    session = engagements.as_planned(context, made.uid)
    assert (session.minutes, session.effort, session.blocks[0].kind) == (40, 4, "rehearsal")
    assert engagements.waiting(context) == []
    with pytest.raises(FieldError):
        engagements.as_planned(context, made.uid)
    later = engagements.write(context, a_date(context, 0, 20, 21))
    with pytest.raises(FieldError):
        engagements.as_planned(context, later.uid)


def test_other_uses_count_in_the_load_and_not_as_playing(context):
    uses.write_use(context, "typing", 60)
    evidence = todays_call(context).evidence
    assert evidence.load.on(context.today) == (0, 120)
    assert context.store.played_days_before(context.today + timedelta(days=1), 5) == ()
    with pytest.raises(FieldError):
        uses.write_use(context, "typing", None)
    with pytest.raises(NotThere):
        uses.write_use(context, "knitting", 10)


def entry(uid: str, day: int, title: str = "Probe", more: str = "") -> str:
    named = f"UID:{uid}\r\n" if uid else ""
    return (
        f"BEGIN:VEVENT\r\n{named}DTSTART:202611{day:02}T180000Z\r\nDURATION:PT2H\r\nSUMMARY:{title}\r\n{more}"
        "END:VEVENT\r\n"
    )


def calendar(*entries: str) -> bytes:
    return ("BEGIN:VCALENDAR\r\nVERSION:2.0\r\n" + "".join(entries) + "END:VCALENDAR\r\n").encode()


def titles(context: Context) -> list[tuple[int, str]]:
    return [
        (row.day.day, row.title)
        for row in engagements.rows_between(context, context.today, context.today + timedelta(30))
    ]


def test_what_is_cancelled_or_gone_from_its_calendar_is_taken_out_and_said(context):
    _bring(context, "a.ics", calendar(entry("a", 20), entry("b", 21), entry("c", 22), entry("d", 23)))
    again = calendar(entry("a", 20), entry("b", 21, more="STATUS:CANCELLED\r\n"), entry("d", 23))
    assert _bring(context, "a.ics", again).gone == ("Probe",)  # b; half is there, which is not most
    found = _bring(context, "a.ics", calendar(entry("a", 20), entry("d", 23)))
    assert found.gone == ("Probe",) and titles(context) == [(20, "Probe"), (23, "Probe")]


def test_a_second_calendar_takes_nothing_of_the_first_out(context):
    _bring(context, "a.ics", calendar(entry("", 20), entry("", 21)))
    found = _bring(context, "b.ics", calendar(entry("", 22, "Konzert"), entry("", 20)))
    assert (found.new, found.known, found.gone) == (1, 1, ())
    assert [day for day, _ in titles(context)] == [20, 21, 22]


def test_an_entry_without_end_costs_itself_alone_and_one_of_days_asks_for_its_hours(context):
    endless = entry("a", 20).replace("PT2H", "P1D")
    found = _bring(context, "a.ics", calendar(endless, entry("b", 21, "Répétition générale")))
    assert (found.new, [d.title for d in found.days]) == (1, ["Probe"])
    assert engagements.rows_between(context, context.today, context.today + timedelta(30))[0].kind == "rehearsal"
    calendars.bring_days(context, found.days[0], time(10), time(13))
    assert sorted(titles(context)) == [(20, "Probe"), (21, "Probe"), (21, "Répétition générale")]
    assert _bring(context, "a.ics", calendar(endless)).days == ()
    with pytest.raises(FieldError, match="Up to 31 days"):
        calendars.bring_days(
            context, replace(found.days[0], last=found.days[0].first + timedelta(40)), time(10), time(13)
        )


def test_entries_of_our_own_export_are_known(context):
    mine = engagements.write(context, Typed(context.today, time(20), time(22), "Konzert"))
    text = ical.write_ical([ical.Written(mine.uid, mine.start_utc, mine.end_utc, mine.title, mine.kind)], context.now)
    found = _bring(context, "plan.ics", text.encode())
    assert (found.new, found.changed, found.known) == (0, 0, 1)
    assert [row.uid for row in engagements.rows_between(context, context.today, context.today)] == [mine.uid]


def test_a_calendar_can_be_taken_back_for_a_month(context):
    found = _bring(context, "season.ics", calendar(entry("a", 20)))
    assert [(row.uid, row.names) for row in calendars.brought(context)] == [(found.uid, "season.ics")]
    later = replace(context, now=context.now + timedelta(days=29))
    calendars.take_back(later, found.uid)
    assert calendars.brought(later) == [] and titles(context) == []
