"""What happened is taken within a year and a bit; an errand has a day; yesterday waits for its answer."""

from datetime import timedelta

import pytest

from chirotend.services.context import FieldError
from chirotend.services.record import log
from chirotend.services.today import happened, matters, missing, tell_happened


@pytest.mark.parametrize(("back", "taken"), [(400, True), (401, False), (0, True), (-400, True), (-401, False)])
def test_what_happened_lies_within_four_hundred_days(context, back, taken):
    """Ours, no source."""
    typed = {"day": (context.today - timedelta(days=back)).isoformat(), "answer": "rest"}
    if not taken:
        with pytest.raises(FieldError, match="within about a year"):
            tell_happened.write(context, "away", typed)
        return
    tell_happened.write(context, "away", typed)
    assert [row.day for row in happened.rows(context)] == [context.today - timedelta(days=back)]


def test_what_happened_ends_on_its_first_day_or_later(context):
    begins = context.today - timedelta(days=3)
    typed = {"day": begins.isoformat(), "answer": "rest"}
    with pytest.raises(FieldError, match="on or after the first day"):
        tell_happened.write(context, "away", {**typed, "until": (begins - timedelta(days=1)).isoformat()})
    tell_happened.write(context, "away", {**typed, "until": begins.isoformat()})
    assert happened.rows(context)[0].until == begins


def test_an_errand_has_a_title_and_a_day_within_a_year(context):
    """Ours, no source."""
    due = {"due": (context.today + timedelta(days=366)).isoformat()}
    with pytest.raises(FieldError, match="120 characters"):
        matters.add_errand(context, {**due, "title": "x" * 121})
    with pytest.raises(FieldError, match="a year ahead"):
        matters.add_errand(context, {"title": "strap", "due": (context.today + timedelta(days=367)).isoformat()})
    matters.add_errand(context, {**due, "title": "x" * 120})
    assert len(matters.open_matters(context)) == 1


def test_yesterday_waits_for_an_answer_and_the_day_before_does_not(context):
    log.write_session(context, log.TypedSession(context.today - timedelta(days=2), 40, effort=4))
    record = context.store.record(context.today - timedelta(days=5), context.today)
    assert missing.unasked_after_playing(record, context.today) is None
    yesterday = context.today - timedelta(days=1)
    log.write_session(context, log.TypedSession(yesterday, 40, effort=4))
    record = context.store.record(context.today - timedelta(days=5), context.today)
    assert missing.unasked_after_playing(record, context.today) == yesterday
