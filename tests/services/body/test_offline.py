"""What was answered without a link goes into its own day, once, and takes nothing back."""

from dataclasses import replace
from datetime import timedelta

import pytest

from chirotend.services.body import checks, offline
from chirotend.services.context import Context, FieldError
from chirotend.services.record import log
from chirotend.store.models import DeviceTouchRow

MARK = checks.TypedMarks(["thumb_ball.left"], "tension", 3, ["waking"])


def on(context: Context, days_ago: int = 0):
    return [
        (c.timing, c.at_utc, len(c.entries))
        for c in context.store.record(*[context.today - timedelta(days_ago)] * 2).checks
    ]


def test_a_morning_and_a_mark_of_yesterday_arrive_today_in_yesterday(context: Context):
    at = context.now - timedelta(days=1)
    offline.morning(context, "short", "cold", at)
    offline.marks(context, MARK, at + timedelta(minutes=1))
    assert on(context, 1) == [("waking", at + timedelta(minutes=1), 1)] and on(context) == []
    note = context.store.record(context.today - timedelta(1), context.today).note(context.today - timedelta(1))
    assert note is not None and (note.sleep, note.hands) == ("short", "cold")


def test_sent_again_it_changes_nothing_also_when_it_was_rubbed_out_since(context: Context):
    offline.marks(context, MARK, context.now, "a1")
    checks.rub_out(context, context.today, "waking", "thumb_ball", "left", "tension")
    offline.marks(context, MARK, context.now, "a1")
    assert on(context) == [("waking", context.now, 0)]
    offline.morning(context, "short", "cold", context.now - timedelta(minutes=5), "a2")
    log.set_morning(context, context.today, "sound", "warm")
    offline.morning(context, "short", "cold", context.now - timedelta(minutes=5), "a2")
    note = context.store.record(context.today, context.today).note(context.today)
    assert note is not None and (note.sleep, note.hands) == ("sound", "warm")


def test_as_usual_takes_back_nothing_that_was_marked_elsewhere_meanwhile(context: Context):
    checks.write_marks(context, MARK)
    offline.morning(context, None, None, context.now - timedelta(minutes=20))
    assert on(context) == [("waking", context.now, 1)]  # nor is what was marked later made older


def test_an_id_is_forgotten_when_no_device_can_keep_it_any_more_and_a_wrong_one_is_refused(context: Context):
    offline.morning(context, None, None, context.now, "a1")
    offline.morning(replace(context, now=context.now + timedelta(days=31)), None, None, None, "a2")
    assert [row.uid for row in context.store.repository(DeviceTouchRow).all()] == ["a2"]
    with pytest.raises(FieldError, match="an id no device gives"):
        offline.morning(context, None, None, context.now, "../x")


@pytest.mark.parametrize("wrong", [timedelta(days=40), timedelta(days=-1)])
def test_a_clock_that_cannot_be_is_not_believed(context: Context, wrong):
    offline.morning(context, None, None, context.now - wrong)
    assert [timing for timing, *_ in on(context)] == ["waking"]


def test_a_mark_without_a_place_or_a_time_is_refused_in_words(context: Context):
    with pytest.raises(FieldError, match="Touch where"):
        offline.marks(context, replace(MARK, places=[]), context.now)
    with pytest.raises(FieldError, match="Say when"):
        offline.marks(context, replace(MARK, timings=[]), context.now)
