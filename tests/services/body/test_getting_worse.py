"""Is it getting worse, in words: yes where a sign speaks or the weeks rise, and what is not known is not no."""

from datetime import timedelta

from chirotend.services.body import checks, signs
from chirotend.services.body.checks import TypedMarks
from chirotend.services.body.getting_worse import getting_worse_page
from chirotend.services.score import score_page


def marked(context, back: int, zone: str, strength: int) -> None:
    day = context.today - timedelta(days=back)
    checks.write_marks(context, TypedMarks((zone,), "tension", strength, ("after",)), day)


def asked(context, days: int) -> None:
    for back in range(days, -1, -1):
        checks.nothing(context, "waking", context.today - timedelta(days=back))


def test_nothing_marked_is_said_and_few_weeks_are_no_answer(context):
    assert getting_worse_page(context).answer == "You marked nothing in the last twelve weeks."
    asked(context, 20)
    marked(context, 3, "thumb_ball.left", 2)
    assert getting_worse_page(context).answer == "Too few weeks are written to say whether it gets worse."


def test_a_sign_is_a_yes_and_stands_first_on_its_page_in_the_score_and_on_the_place(context):
    asked(context, 84)
    for back in (80, 73, 60, 52, 40, 33, 20):
        marked(context, back, "neck_back.right", 2)
    for back in range(12, -1, -1):
        marked(context, back, "thumb_ball.left", 3 + (back < 4))
    page = getting_worse_page(context)
    assert page.answer.startswith("By what you marked, yes: ") and "left wrist and thumb" in page.answer
    first, second = page.lines
    assert first.name == "Left wrist and thumb" and first.going.startswith("You have marked more here than usual since")
    assert second.name == "Right neck and shoulder" and second.going == "Much as before."
    assert first.wide.width > first.phone.width
    headline = score_page.headline_of(context, score_page.score_lines_page(context, 6, context.today))
    assert headline.startswith("Left wrist and thumb: above your usual since ")
    assert signs.place_page(context, "neck & shoulder", "right").trend == "Much as before."


def test_the_score_of_earlier_weeks_has_no_headline_of_today(context):
    asked(context, 84)
    page = score_page.score_lines_page(context, 2, context.today - timedelta(days=40))
    assert score_page.headline_of(context, page) == page.days_shown and page.days_shown.endswith("2026")
