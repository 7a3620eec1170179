"""A date asked for: read from a line, answered, taken."""

from datetime import date, time, timedelta

import pytest

from chirotend.services.context import FieldError
from chirotend.services.plan import asked_date, engagements, own_blocks, scheduling, week_aims
from chirotend.services.plan.engagements import Typed
from chirotend.services.plan.week_aims import TypedAim
from tests.services.conftest import NEXT


@pytest.mark.parametrize(
    ("line", "day", "start", "end", "title", "instrument"),
    [
        ("Sa 28, 10.00, octet, contra, 3 h", date(2026, 11, 28), time(10), time(13), "octet", "contrabassoon"),
        ("28 Nov, 19:30–22:15, gala concert", date(2026, 11, 28), time(19, 30), time(22, 15), "gala concert", ""),
        ("2026-12-01, 9.00, quintet 90 min", date(2026, 12, 1), time(9), time(10, 30), "quintet", ""),
    ],
)
def test_a_date_is_read_from_one_line(context, line, day, start, end, title, instrument):
    found = asked_date.read_line(context, line)
    assert (found.day, found.start, found.end, found.title, found.instrument) == (day, start, end, title, instrument)


@pytest.mark.parametrize(
    "line",
    [
        "",
        "octet",
        "Sa 28, octet",
        "Sa 28, 10.00, octet",
        "Mo 28, 10.00, 3 h",
        "Sa 28, 27.00, 3 h",
        "2026-02-30, 10.00, 3 h",
        "2026-11-01, 10.00, octet, 3 h",
    ],
)
def test_a_line_that_cannot_be_read_says_what_is_missing(context, line):
    with pytest.raises(FieldError) as refused:
        asked_date.ask(context, line)
    assert refused.value.field == "line"


def test_a_date_is_answered_and_taken_with_its_changes(played):
    week_aims.write_aim(played, NEXT, TypedAim("Thirds", 280, 4, "bassoon"))
    scheduling.schedule(played, NEXT)
    (saturday,) = own_blocks.blocks_between(played, NEXT + timedelta(days=5), NEXT + timedelta(days=5))
    line = f"Sa 21, {saturday.start_utc.astimezone(played.zone):%H.%M}, octet, 2 h"
    asked = asked_date.ask(played, line)
    assert asked.verdict.startswith("Yes, with") and saturday in asked.answer.goes
    assert "Thirds on Saturday" in asked.changes[0]
    taken = asked_date.take(played, line)
    assert taken.title == "octet"
    assert saturday not in own_blocks.blocks_between(played, NEXT, NEXT + timedelta(days=6))


def test_against_the_answer_only_with_a_reason(played):
    engagements.write(played, Typed(NEXT + timedelta(days=5), time(19), time(22), "Concert"))
    line = "Sa 21, 20.00, second concert, 2 h"
    assert asked_date.ask(played, line).answer.verdict == "no"
    with pytest.raises(FieldError) as refused:
        asked_date.take(played, line)
    assert refused.value.field == "line"
    with pytest.raises(FieldError) as refused:
        asked_date.take(played, line, as_it_stands=True)
    assert refused.value.field == "reason"
    taken = asked_date.take(played, line, True, "only the second half")
    assert engagements.row_of(played, taken.uid).reason == "only the second half"
