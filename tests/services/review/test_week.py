"""The week read back in words, from the call as it was said, and offered on Sunday evening."""

from dataclasses import replace
from datetime import timedelta

from chirotend.core.review.week import ReviewLine
from chirotend.services.body import checks
from chirotend.services.body.checks import TypedMarks
from chirotend.services.plan import week_aims
from chirotend.services.plan.week_aims import TypedAim
from chirotend.services.review import week


def test_an_empty_week_says_that_little_is_written(context):
    page = week.week_review_page(context, context.today)
    assert [line.sentence for line in page.lines] == ["You answered on 0 of 4 days, and wrote all you played on 0."]
    assert page.change.sentence.startswith("Answer the morning question") and page.better is None
    assert not page.over and page.first.weekday() == 0 and page.earlier < page.first <= page.last < page.later
    assert len(page.all) == 2


def test_lines_are_hers_in_words(context):
    checks.write_marks(context, TypedMarks(("thumb_base_joint.left",), "tension", 3, ("waking",)))
    week_aims.write_aim(context, page_monday(context), TypedAim("Low F {softly}", 40))
    said = [line.sentence for line in week.week_review_page(context, context.today).lines]
    assert "You marked your left wrist and thumb on 1 of one day asked, up to 3; once on waking." in said
    assert "Low F {softly}: 0 minutes of 40." in said


def page_monday(context):
    return context.today - timedelta(days=context.today.weekday())


def test_numbers_are_said_as_words():
    one = week.spoken(ReviewLine("load_over", {"count": 1, "more": 12, "most_on": "2026-11-11"}))
    assert one.sentence == "One day above your usual load. The most was Wednesday 11 November, by 12 %."
    assert week.spoken(ReviewLine("performances", {"count": 2})).sentence == "2 performances."
    assert week.spoken(ReviewLine("risen", {"region": "forearm", "side": "left"})).opens == ("forearm", "left")


def test_a_week_is_offered_on_sunday_evening_only(context):
    sunday = context.now + timedelta(days=3)
    for hour, offered in ((12, False), (18, True)):
        assert week.due(replace(context, now=sunday.replace(hour=hour))) == offered
