"""Load of places and the week's sums. Rules of the trade: common practice, no source."""

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.load.places import place_loads
from chirotend.core.load.series import load_series
from chirotend.core.load.weeks import load_week
from chirotend.core.record import Block, DayNote, Record, Session

LAST = date(2026, 11, 11)
HAND, SHOULDER = ("wrist & thumb", "left"), ("neck & shoulder", "right")
ASKED = {"bassoon": frozenset({HAND}), "contrabassoon": frozenset({HAND, SHOULDER})}


def asks(block):
    return ASKED.get(block.instrument)


def back(days):
    return LAST - timedelta(days=days)


def sat(days_back, *blocks, effort=None):
    return Session(f"s{days_back}{len(blocks)}", back(days_back), tuple(blocks), effort)


def bassoon(minutes, effort=None, instrument="bassoon", kind="repertoire", planned=""):
    return Block(minutes, instrument, kind, effort, planned=planned)


def test_a_place_has_the_whole_load_of_what_asks_something_of_it():
    record = Record((sat(1, bassoon(60, 4), bassoon(30, 5, "contrabassoon")), sat(0, bassoon(20, None), effort=3)))
    found = place_loads(record, back(2), LAST, asks)
    assert found.by_place[HAND][1:] == (60 * 4 + 30 * 5, 60)
    assert found.by_place[SHOULDER][1:] == (150, 0)  # known, and nothing asked of it
    assert found.by_place[HAND][0] != found.by_place[HAND][0]  # not written is not zero
    assert found.week(HAND, LAST) == (450, 2)


def test_what_is_not_known_stays_not_known():
    record = Record((sat(1, bassoon(60)), sat(0, bassoon(25, 4, "kazoo"))), (), (DayNote(back(2), off=True),))
    found = place_loads(record, back(2), LAST, asks)
    assert found.by_place[HAND][0] == 0 and found.by_place[HAND][1] != found.by_place[HAND][1]
    assert found.week(HAND, LAST) == (0, 2)
    assert found.untold_min == 25  # nobody said what that loads: in no place, and said so


@given(st.lists(st.tuples(st.integers(0, 20), st.integers(1, 300), st.integers(0, 10)), max_size=20))
def test_a_place_that_everything_asks_of_has_the_load_of_the_day(played):
    sessions = tuple(Session(str(i), back(ago), (bassoon(float(m), float(e)),)) for i, (ago, m, e) in enumerate(played))
    found = place_loads(Record(sessions), back(20), LAST, asks)
    whole = load_series(Record(sessions), back(20), LAST).load
    assert found.by_place.get(HAND, whole) == pytest.approx(whole, nan_ok=True)


def test_the_week_as_sums():
    nights = [sat(d, bassoon(100, 6, kind="performance")) for d in (0, 2, 9)]
    own = [sat(d, bassoon(40, 3, planned="aim's"), bassoon(20), Block(60, "typing", "other", 2)) for d in (1, 3, 4, 5)]
    off = [DayNote(back(6), off=True), *(DayNote(back(d), off=True) for d in (7, 8, 10, 11, 12, 13))]
    week = load_week(Record((*nights, *own), (), tuple(off)), LAST, {"aim's"})
    assert (week.minutes, week.known, week.minutes_before) == (440, 7, 100)  # typing is no playing
    assert week.change_min == 340
    assert week.performances == (2, 3)
    assert (week.new_min, week.hard_min, week.unrated_min) == (160, 200, 80)
    assert (week.rest_day, week.hours_since) == (back(6), pytest.approx(440 / 60))
    assert week.summary is None and not week.alike  # four days have no load: nothing is filled in


def test_a_gap_is_no_day_of_rest():
    week = load_week(Record((sat(0, bassoon(60, 4)), sat(9, bassoon(60, 4)))), LAST, ())
    assert (week.known, week.change_min, week.rest_day, week.hours_since) == (1, None, None, None)


def test_equal_days_have_no_monotony():
    week = load_week(Record(tuple(sat(d, bassoon(60, 4)) for d in range(14))), LAST, ())
    assert week.summary is None and week.alike and week.change_min == 0
