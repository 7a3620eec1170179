"""What so many minutes more would make of today: worked by hand."""

import math

import pytest

from chirotend.core.errors import MethodError
from chirotend.core.judge.what_if import what_if
from chirotend.core.record import Block, Session
from tests.core.diary import TODAY, Diary


def test_minutes_and_load_are_added_to_what_is_written_of_today():
    evidence = Diary().steady().plays(0, 30, 5).evidence()
    asked = what_if(evidence, 120, 90, 3)
    assert (asked.load, asked.day_load, asked.day_minutes, asked.over_dose_min) == (270, 420, 120, 0)
    assert what_if(evidence, 110, 90, 3).over_dose_min == 10 and what_if(evidence, None, 900, 3).over_dose_min == 0


def test_her_usual_is_the_measure_and_its_upper_edge_is_inside():
    evidence = Diary().steady().evidence()
    high = evidence.baseline_load.high
    assert not what_if(evidence, None, high / 4, 4).above_range and what_if(evidence, None, high / 4 + 1, 4).above_range
    assert not what_if(Diary().evidence(), None, 900, 10).above_range  # no usual yet: nothing is above it


def test_a_session_without_effort_leaves_the_days_load_unknown():
    told = Diary().steady()
    told.sessions.append(Session("unrated", TODAY, (Block(40),), None))
    asked = what_if(told.evidence(), 60, 30, 3)
    assert asked.day_load is None and asked.day_minutes == 70 and asked.over_dose_min == 10


@pytest.mark.parametrize(("minutes", "effort"), [(0, 3), (1441, 3), (30, -1), (30, 11), (math.nan, 3), (30, math.nan)])
def test_what_cannot_be_played_is_refused(minutes, effort):
    with pytest.raises(MethodError):
        what_if(Diary().steady().evidence(), None, minutes, effort)
