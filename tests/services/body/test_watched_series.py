"""A series beside the places, opened from Today and from a place."""

from dataclasses import replace
from datetime import timedelta

import pytest

from chirotend.services.body import watched_series
from chirotend.services.body.checks import as_usual
from chirotend.services.context import NotThere
from chirotend.services.record import log
from chirotend.services.record.log import TypedSession
from chirotend.services.record.measured import keep
from chirotend.services.today.today_page import todays_page


def test_a_series_says_how_far_it_is_and_names_the_others(context):
    log.write_session(context, TypedSession(context.today, 60, effort=4))
    page = watched_series.watched_series_page(context, "marks_an_hour")
    assert page.lead.startswith("No value in three months") and page.wide is None
    assert [name for _, name in page.others] == ["stiffness on waking", "effort at equal load"]
    with pytest.raises(NotThere):
        watched_series.watched_series_page(context, "luck")


def test_a_measure_that_falls_is_said_with_its_own_numbers(context):
    for back in range(40, -1, -1):
        then = replace(context, now=context.now - timedelta(days=back))
        keep(then, "tempo.top_clean", (60 if back < 12 else 80) + back % 3, instrument="bassoon")
    as_usual(context)
    said = next(r for r in todays_page(context).issued.reasons if r.code == "beside")
    assert said.sentence.startswith("Top clean tempo, bassoon: 61 bpm since ") and "before that, 81" in said.sentence
    page = watched_series.watched_series_page(context, said.series)
    assert page.lead.startswith("61 bpm since") and len(page.values) == 41


def test_the_page_of_a_measure_looks_as_far_back_as_the_call(context):
    """Measured every fourth day: ninety days would hold too few to compare."""
    for back in range(160, -1, -4):
        then = replace(context, now=context.now - timedelta(days=back))
        keep(then, "tempo.top_clean", (60 if back < 60 else 80) + back % 3, instrument="bassoon")
    as_usual(context)
    said = next(r for r in todays_page(context).issued.reasons if r.code == "beside")
    page = watched_series.watched_series_page(context, said.series)
    assert len(page.values) == 41 and page.lead[:6] in said.sentence and "since" in page.lead
