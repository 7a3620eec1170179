"""Known complaints as they are written: only what was marked, seen and reviewed in time; undone, taken along."""

import json
from datetime import timedelta

import pytest

from chirotend.core.judge.known import REVIEW_DAYS
from chirotend.services.body import checks, known
from chirotend.services.body.checks import TypedMarks
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import FieldError, NotThere
from chirotend.services.record import corrections, exports


@pytest.fixture
def tingling(context):
    checks.write_marks(context, TypedMarks(("thumb_ball.left",), "tingling", 2, ("after",), "brief"))
    checks.write_marks(
        context, TypedMarks(("thumb_ball.left",), "weakness", 1, ("after",)), context.today - timedelta(days=9)
    )
    return context


def typed(context, **changes):
    usual = {
        "what": "hand|left|tingling",
        "level": "2",
        "seen_on": context.today.isoformat(),
        "review": (context.today + timedelta(days=REVIEW_DAYS)).isoformat(),
    }
    return {**usual, "what": known.choices(context)[0].key, **changes}


def test_only_what_was_marked_and_can_be_known_is_offered(tingling):
    assert [c.kind for c in known.choices(tingling)] == ["tingling"]


@pytest.mark.parametrize(
    ("field", "value", "sentence"),
    [
        ("what", "hand|left|weakness", "among what you marked"),
        ("level", "5", "from 1 to 4"),
        ("level", "much", "from 1 to 4"),
        ("level", "0", "from 1 to 4"),
        ("seen_on", "", "a day that exists"),
        ("seen_on", 1, "in the last twelve weeks"),
        ("seen_on", -REVIEW_DAYS - 1, "in the last twelve weeks"),
        ("review", 0, "twelve weeks ahead"),
        ("review", REVIEW_DAYS + 1, "twelve weeks ahead"),
    ],
)
def test_what_cannot_be_taken_is_refused_at_its_field(tingling, field, value, sentence):
    value = (tingling.today + timedelta(days=value)).isoformat() if isinstance(value, int) else value
    with pytest.raises(FieldError, match=sentence) as refused:
        known.write(tingling, typed(tingling, **{field: value}))
    assert refused.value.field == field and known.shown(tingling) == ()


def test_it_is_written_once_reviewed_ended_undone_and_taken_along(tingling):
    known.write(tingling, typed(tingling, at_night="yes"))
    (one,) = known.shown(tingling)
    assert "night" in one.known.timings and not one.known.lasts and not one.due
    assert "waking" not in one.known.timings and "waking" not in one.when  # she never woke with it
    assert todays_call(tingling).evidence.known == (one.known,)
    with pytest.raises(FieldError, match="written already"):
        known.write(tingling, typed(tingling))
    soon = (tingling.today + timedelta(days=3)).isoformat()
    known.review(tingling, one.uid, typed(tingling, level="1,5", review=soon))
    assert known.shown(tingling)[0].known.level == 1.5
    assert json.loads(exports.everything(tingling))["known"][0]["review"] == soon
    known.end(tingling, one.uid)
    assert known.shown(tingling) == ()
    corrections.undo(tingling, corrections.offered(tingling).number)
    assert known.shown(tingling)[0].uid == one.uid
    for unknown in (known.end, lambda d, uid: known.review(d, uid, typed(d))):
        with pytest.raises(NotThere):
            unknown(tingling, "nothing")
