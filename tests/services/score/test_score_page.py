"""The score's facts: what was said then, what was not asked, remarks that settle, the usual that drifts."""

from dataclasses import replace
from datetime import date, timedelta

import pytest

from chirotend.core.body.zones import regions
from chirotend.services.body import checks
from chirotend.services.call import overrules
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.record import log
from chirotend.services.record.log import TypedSession
from chirotend.services.score import score_page
from chirotend.services.today.today_page import todays_page


def at(context: Context, days: int) -> Context:
    return replace(context, now=context.now + timedelta(days=days))


def test_an_empty_record_is_all_dotted_lines_and_says_so(context):
    page = score_page.score_lines_page(context, 2, context.today)
    assert page.logged == 0 and not page.remarks and len(page.days) == 14
    assert page.first.weekday() == 0 and page.last.weekday() == 6
    assert all("not asked" in score_page.summary(d) for d in page.days) and all(d.usual is None for d in page.days)
    assert [d.future for d in page.days[-3:]] == [True] * 3


def test_a_day_is_told_in_one_sentence(context):
    log.write_session(context, TypedSession(context.today, 60, kind="performance", effort=5))
    checks.write_marks(context, checks.TypedMarks(["thumb_base_joint.left"], "tension", 4, ["waking"]))
    todays_call(context)
    shown = next(d for d in score_page.score_lines_page(context, 2, context.today).days if d.today)
    call = "No call yet: too little is written"
    assert score_page.summary(shown) == f"Thursday 12 November, {call}, performance, left wrist tightness 4 waking"
    assert score_page.by_region(shown) == {"wrist & thumb": "left wrist tightness 4 waking"} and shown.load == 300


def test_several_signs_of_one_place_and_timing_show_the_strongest(context):
    for place, strength in (("thumb_base_joint.left", 2), ("web_thumb.left", 6)):
        checks.write_marks(context, checks.TypedMarks([place], "tension", strength, ["after"]))
    (mark,) = next(d for d in score_page.score_lines_page(context, 2, context.today).days if d.today).marks
    assert mark.intensity == 6


def test_a_remark_stands_where_it_was_first_said_and_settles_when_it_is_open_again(context):
    for back in range(6, 0, -1):
        log.write_session(context, TypedSession(context.today - timedelta(days=back), 60, effort=4))
    checks.write_marks(context, checks.TypedMarks(["thumb_base_joint.left"], "pain", 4, ["after"]))
    todays_call(context)
    (remark,) = score_page.score_lines_page(context, 2, context.today).remarks
    assert (remark.text, remark.settled, remark.region) == ("left thumb base joint: pain 4", False, "wrist & thumb")
    for n in (1, 2, 3):
        then = at(context, n)
        log.write_session(then, TypedSession(then.today - timedelta(days=1), 30, effort=3))
        checks.as_usual(then)
        todays_call(then)
    page = score_page.score_lines_page(at(context, 3), 2, at(context, 3).today)
    (remark,) = page.remarks
    assert remark.settled and remark.day == context.today
    said = {d.day: d.call for d in page.days}
    assert said[context.today] == "muted_mp" and said[context.today + timedelta(days=3)] == "open"


def test_the_score_shows_what_was_said_then_even_when_the_mark_is_gone(context):
    for back in range(6, 0, -1):
        log.write_session(context, TypedSession(context.today - timedelta(days=back), 60, effort=4))
    checks.write_marks(context, checks.TypedMarks(["thumb_base_joint.left"], "pain", 4, ["after"]))
    todays_call(context)
    tomorrow = at(context, 1)
    checks.rub_out(tomorrow, context.today, "after", "thumb_base_joint", "left", "pain")
    shown = {d.day: d.call for d in score_page.score_lines_page(tomorrow, 2, tomorrow.today).days}
    assert shown[context.today] == "muted_mp"


def test_the_overrule_and_its_reason_stand_in_the_day(context):
    for back in range(6, 0, -1):
        log.write_session(context, TypedSession(context.today - timedelta(days=back), 60, effort=4))
    checks.write_marks(context, checks.TypedMarks(["thumb_base_joint.left"], "pain", 4, ["after"]))
    overrules.overrule(context, "open", "a bruise from the door")
    shown = score_page.day(context, context.today)
    assert shown.issued and (shown.issued.call, shown.issued.effective) == ("muted_mp", "open")
    assert shown.issued.overrule_reason == "a bruise from the door" and "Open" in score_page.summary(
        score_page.score_lines_page(context, 2, context.today).days[-4]
    )
    empty = score_page.day(context, date(2026, 1, 1))
    assert empty.issued is None and empty.minutes is None and empty.load is None


@pytest.mark.parametrize(("minutes", "effort", "rated"), [(30, 4, True), (30, None, False)])
def test_the_week_knows_what_it_does_not_know(context, minutes, effort, rated):
    log.write_session(context, TypedSession(context.today, minutes, effort=effort))
    week = todays_page(context).week
    assert (week.minutes, week.logged, week.minutes_before) == (30, 1, None)
    assert (week.running_load is not None) == rated and week.usual_high is None and week.today_minutes == 30


def test_regions_of_a_day_stand_in_the_order_of_the_staff(context):
    """They once changed places with each restart."""
    places = ("index_tip_palm.left", "neck_back.left", "low_back_side.left", "jaw_joint.left", "elbow_inner.left")
    checks.write_marks(context, checks.TypedMarks(places, "tension", 2, ("waking",)), context.today)
    shown = next(d for d in score_page.score_lines_page(context, 2, context.today).days if d.day == context.today)
    order = [r for r in regions() if r in score_page.by_region(shown)]
    assert list(score_page.by_region(shown)) == order and len(order) == 5
