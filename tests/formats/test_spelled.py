"""Times of day as people write them, against dateutil's parser (a general reader of dates) where both read the same."""

from datetime import date, time

import pytest
from dateutil import parser
from hypothesis import given
from hypothesis import strategies as st

from chirotend.formats.spelled import clock_of

minutes = st.times().map(lambda t: t.replace(second=0, microsecond=0))


@given(minutes, st.sampled_from(["%H:%M", "%H.%M", "%Hh%M", "%H:%M:00", "%H:%M Uhr", "%I:%M %p", "%I:%M%p"]))
def test_each_way_to_write_a_time_is_read_as_that_time(at, way):
    assert clock_of(at.strftime(way)) == at
    assert clock_of(f" {at.strftime(way).lower()} ") == at


@given(minutes, st.sampled_from(["%H:%M", "%H:%M:00", "%I:%M %p", "%I:%M%p"]))
def test_dateutil_reads_the_same(at, way):
    assert parser.parse(at.strftime(way), default=None).time() == clock_of(at.strftime(way))


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("9 AM", time(9)),
        ("12 am", time(0)),
        ("12 p.m.", time(12)),
        ("18h", time(18)),
        ("24:00", time(0)),
        ("7:05", time(7, 5)),
    ],
)
def test_times_with_a_rule_of_their_own(text, found):
    assert clock_of(text) == found


@pytest.mark.parametrize(
    "text", ["", "10", "90", "25:00", "10:60", "24:01", "13 pm", "0 am", "half past", "2026-11-12T10:30"]
)
def test_what_is_no_time_is_none(text):
    assert clock_of(text) is None


def test_a_day_is_not_taken_for_a_time():
    assert clock_of(date(2026, 11, 12).isoformat()) is None
