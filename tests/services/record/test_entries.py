"""The record as a list: everything stands in it once, newest first, and what is looked for is found on any page."""

from datetime import date, timedelta

import pytest

from chirotend.services.body import checks
from chirotend.services.body.checks import TypedMarks
from chirotend.services.context import Context, FieldError
from chirotend.services.record import entries, log
from chirotend.services.record.months import months


def live_days(context: Context, days: int) -> None:
    for back in range(days):
        day = context.today - timedelta(days=back)
        word = "thirds" if back % 50 == 49 else ""
        log.write_session(context, log.TypedSession(day, 30, effort=4, instrument="bassoon", texts={"question": word}))
        checks.nothing(context, "waking", day)


def pages(context: Context, **asked: str) -> list[entries.Entry]:
    """All pages one after the other, as "Older" turns them."""
    found: list[entries.Entry] = []
    until: str | None = ""
    while until is not None:
        page = entries.entries(context, entries.wanted(context, {**asked, "until": until}))
        found += page.entries
        until = page.older.isoformat() if page.older else None
    return found


def test_turning_the_pages_shows_every_entry_once_newest_first(context: Context):
    live_days(context, 150)
    found = pages(context)
    assert len(found) == 300 and len({(e.day, e.kind) for e in found}) == 300
    assert [e.day for e in found] == sorted((e.day for e in found), reverse=True)


def test_words_instrument_and_kind_narrow_it_together(context: Context):
    live_days(context, 150)
    day = context.today - timedelta(days=160)
    log.write_session(
        context, log.TypedSession(day, 20, instrument="contrabassoon", kind="technique", texts={"was_hard": "Thirds."})
    )
    log.write_day(context, day - timedelta(days=1), True, "Snow.")
    assert len(pages(context, words="THIRDS")) == 4 and len(pages(context, words="thirds bassoon repertoire")) == 3
    assert [e.day for e in pages(context, words="thirds", kind="technique")] == [day]
    assert [e.day for e in pages(context, instrument="contrabassoon")] == [day]
    assert [e.text for e in pages(context, kind="off")] == ["Snow."]
    assert len(pages(context, words=f"{day:%B} {day.day} {day.year} technique")) == 1
    assert pages(context, words="reeds") == []


@pytest.mark.parametrize(("field", "value"), [("kind", "luck"), ("until", "2026-02-30")])
def test_what_cannot_be_looked_for_is_refused_at_its_field(context: Context, field, value):
    with pytest.raises(FieldError) as refused:
        entries.wanted(context, {field: value})
    assert refused.value.field == field


def test_months_hold_what_was_played_and_marked_in_them(context: Context):
    live_days(context, 40)
    checks.write_marks(context, TypedMarks(("thumb_ball.left", "thumb_ball.right"), "pain", 3, ("after",)))
    log.write_session(context, log.TypedSession(context.today, 15, effort=2, instrument="bassoon"))
    found = months(context)
    assert [m.first for m in found] == [date(2026, 11, 1), date(2026, 10, 1)] and found[0].last == date(2026, 11, 30)
    assert [(m.played_days, m.minutes, m.symptoms) for m in found] == [(12, 12 * 30 + 15, 2), (28, 28 * 30, 0)]
