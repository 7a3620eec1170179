"""The morning in one touch: what may be repeated, and where the body opens."""

from dataclasses import replace
from datetime import timedelta

import pytest

from chirotend.services.body import checks
from chirotend.services.body.checks import TypedMarks
from chirotend.services.context import FieldError


def woke_with(context, back: int, strength: int, zone: str = "thumb_ball.left") -> None:
    day = context.today - timedelta(days=back)
    checks.write_marks(context, TypedMarks((zone,), "pain", strength, ("waking",)), day)


def test_yesterdays_marks_can_be_repeated_until_three_mornings_are_alike(context):
    assert checks.yesterdays_marks(context) == ()
    woke_with(context, 3, 2)
    woke_with(context, 1, 2)
    (mark,) = checks.yesterdays_marks(context)
    assert (mark.zone, mark.intensity) == ("thumb_ball", 2)
    woke_with(context, 2, 2)
    assert checks.yesterdays_marks(context) == ()
    with pytest.raises(FieldError, match="Say how it is today"):
        checks.same_as_yesterday(context)
    tomorrow = replace(context, now=context.now + timedelta(days=1))
    woke_with(context, 0, 3)
    assert [m.intensity for m in checks.yesterdays_marks(tomorrow)] == [3]


def test_what_hurts_is_what_was_marked_last_within_three_days(context):
    woke_with(context, 3, 4, "neck_back.right")
    assert checks.hurting(context) == frozenset()
    woke_with(context, 2, 1)
    woke_with(context, 1, 1, "low_back_side.left")
    assert checks.hurting(context) == {"low_back_side.left"}
