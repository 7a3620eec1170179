"""What was answered without a link goes into its own day, once, and takes nothing back."""

from dataclasses import replace
from datetime import timedelta

import pytest

from chirotend.services.body import away, checks
from chirotend.services.desk import Desk, Refused
from chirotend.services.record import log
from chirotend.store.models import TakenRow

MARK = checks.TypedMarks(["thumb_ball.left"], "tension", 3, ["waking"])


def on(desk: Desk, days_ago: int = 0):
    return [
        (c.timing, c.at_utc, len(c.entries)) for c in desk.store.record(*[desk.today - timedelta(days_ago)] * 2).checks
    ]


def test_a_morning_and_a_mark_of_yesterday_arrive_today_in_yesterday(desk: Desk):
    at = desk.now - timedelta(days=1)
    away.morning(desk, "short", "cold", at)
    away.marks(desk, MARK, at + timedelta(minutes=1))
    assert on(desk, 1) == [("waking", at + timedelta(minutes=1), 1)] and on(desk) == []
    note = desk.store.record(desk.today - timedelta(1), desk.today).note(desk.today - timedelta(1))
    assert note is not None and (note.sleep, note.hands) == ("short", "cold")


def test_sent_again_it_changes_nothing_also_when_it_was_rubbed_out_since(desk: Desk):
    away.marks(desk, MARK, desk.now, "a1")
    checks.rub_out(desk, desk.today, "waking", "thumb_ball", "left", "tension")
    away.marks(desk, MARK, desk.now, "a1")
    assert on(desk) == [("waking", desk.now, 0)]
    away.morning(desk, "short", "cold", desk.now - timedelta(minutes=5), "a2")
    log.set_morning(desk, desk.today, "sound", "warm")
    away.morning(desk, "short", "cold", desk.now - timedelta(minutes=5), "a2")
    note = desk.store.record(desk.today, desk.today).note(desk.today)
    assert note is not None and (note.sleep, note.hands) == ("sound", "warm")


def test_as_usual_takes_back_nothing_that_was_marked_elsewhere_meanwhile(desk: Desk):
    checks.write_marks(desk, MARK)
    away.morning(desk, None, None, desk.now - timedelta(minutes=20))
    assert on(desk) == [("waking", desk.now, 1)]  # nor is what was marked later made older


def test_an_id_is_forgotten_when_no_device_can_keep_it_any_more_and_a_wrong_one_is_refused(desk: Desk):
    away.morning(desk, None, None, desk.now, "a1")
    away.morning(replace(desk, now=desk.now + timedelta(days=31)), None, None, None, "a2")
    assert [row.uid for row in desk.store.shelf(TakenRow).all()] == ["a2"]
    with pytest.raises(Refused, match="an id no device gives"):
        away.morning(desk, None, None, desk.now, "../x")


@pytest.mark.parametrize("wrong", [timedelta(days=40), timedelta(days=-1)])
def test_a_clock_that_cannot_be_is_not_believed(desk: Desk, wrong):
    away.morning(desk, None, None, desk.now - wrong)
    assert [timing for timing, *_ in on(desk)] == ["waking"]


def test_a_mark_without_a_place_or_a_time_is_refused_in_words(desk: Desk):
    with pytest.raises(Refused, match="Touch where"):
        away.marks(desk, replace(MARK, places=[]), desk.now)
    with pytest.raises(Refused, match="Say when"):
        away.marks(desk, replace(MARK, timings=[]), desk.now)
