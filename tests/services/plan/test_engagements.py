"""Engagements: written, brought from a calendar, written in as planned."""

from datetime import time, timedelta

import pytest

from chirotend.services.desk import Desk, NotThere, Refused
from chirotend.services.plan import engagements
from chirotend.services.plan.engagements import Typed
from chirotend.services.record import uses
from chirotend.services.today import days_call


def a_date(desk: Desk, days: int = 2, start: int = 19, end: int = 22, title: str = "Concert", **more) -> Typed:
    return Typed(desk.today + timedelta(days=days), time(start), time(end), title, **more)


def test_an_engagement_takes_what_is_usual_for_its_title_and_may_end_after_midnight(desk):
    made = engagements.write(desk, a_date(desk, start=23, end=2))
    assert (made.kind, made.minutes, made.effort, made.instrument) == ("performance", 126, 6, "bassoon")
    assert engagements.made(desk, a_date(desk, title="train to the coast")).minutes == 0
    assert engagements.made(desk, a_date(desk, title="dentist")).kind == "appointment"


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
def test_an_engagement_that_cannot_be_is_refused(desk, change, field):
    with pytest.raises(Refused) as refused:
        engagements.write(desk, a_date(desk, **change))
    assert refused.value.field == field


CALENDAR = """BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//EN\r\nBEGIN:VEVENT\r\nUID:a\r\nDTSTART:20261118T180000Z\r
DTEND:20261118T210000Z\r\nSUMMARY:{title}\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"""


def test_a_calendar_is_brought_once_changed_where_it_changed_and_can_be_taken_back(desk):
    bring = lambda text: engagements.bring_calendar(desk, "c.ics", text.encode())  # noqa: E731
    first = bring(CALENDAR.format(title="Orchestra rehearsal"))
    assert (first.new, first.known) == (1, 0)
    assert (bring(CALENDAR.format(title="Orchestra rehearsal")).known) == 1
    assert bring(CALENDAR.format(title="Dress rehearsal")).changed == 1
    moved = bring(CALENDAR.format(title="Dress rehearsal").replace("T180000Z", "T170000Z"))
    assert (moved.new, moved.gone) == (1, 1)
    (row,) = engagements.rows_between(desk, desk.today, desk.today + timedelta(days=30))
    assert (row.title, row.kind, row.minutes) == ("Dress rehearsal", "rehearsal", 144)
    engagements.take_back_import(desk, moved.uid)
    assert engagements.between(desk, desk.today, desk.today + timedelta(days=30)) == []
    for data in (b"", b"\x00not a calendar", b"x" * 3_000_000):
        with pytest.raises(Refused):
            engagements.bring_calendar(desk, "c.ics", data)


def test_load_fills_itself_as_planned_once_it_is_over(desk):
    made = engagements.write(desk, a_date(desk, 0, 8, 9, "Rehearsal", minutes=40, effort=4))
    assert [r.uid for r in engagements.waiting(desk)] == [made.uid]
    session = engagements.as_planned(desk, made.uid)
    assert (session.minutes, session.effort, session.blocks[0].kind) == (40, 4, "rehearsal")
    assert engagements.waiting(desk) == []
    with pytest.raises(Refused):
        engagements.as_planned(desk, made.uid)
    later = engagements.write(desk, a_date(desk, 0, 20, 21))
    with pytest.raises(Refused):
        engagements.as_planned(desk, later.uid)


def test_other_uses_count_in_the_load_and_not_as_playing(desk):
    uses.write_use(desk, "typing", 60)
    _, evidence = days_call.issue(desk)
    assert evidence.load.on(desk.today) == (0, 120)
    assert desk.store.played_days_before(desk.today + timedelta(days=1), 5) == ()
    with pytest.raises(Refused):
        uses.write_use(desk, "typing", None)
    with pytest.raises(NotThere):
        uses.write_use(desk, "knitting", 10)
