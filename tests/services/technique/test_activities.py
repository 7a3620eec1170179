"""What she can do: the same things answered again, told by the published size of a change."""

from dataclasses import replace
from datetime import timedelta

import pytest

from chirotend.formats.probe_data import Activities
from chirotend.services.context import FieldError
from chirotend.services.record import measured
from chirotend.services.report import contents, reports
from chirotend.services.technique import activities, probes

NAMES = {"name1": "hold the bassoon", "name2": "open a jar", "name3": ""}


def answered(context, days: int, first: int, second: int, **names: str):
    later = replace(context, now=context.now + timedelta(days=days), worked_out={})
    activities.answer(later, {**NAMES, **names, "rating1": str(first), "rating2": str(second)})
    return later


def test_the_same_things_are_compared_with_the_first_answer(context):
    assert activities.activities_page(context).headline.startswith("Name up to three things")
    answered(context, 0, 4, 5)
    assert "first answer about these" in activities.activities_page(context).beside
    near = answered(context, 14, 5, 6)
    assert "too near to tell apart" in activities.activities_page(near).beside
    more = answered(context, 28, 6, 7)
    page = activities.activities_page(more)
    assert page.headline == "You can do 6.5 of 10, on average."
    assert page.beside == "You can do more than on Thursday 12 November: it was 4.5 then."
    assert page.rule.startswith("A difference is more than chance from 2 points on")
    assert [a.last for a in page.asked] == ["6", "7", ""] and len(page.answers) == 3
    less = answered(context, 42, 1, 1)
    page = activities.activities_page(less)
    assert "You can do less" in page.beside and "someone licensed" in page.next
    assert activities.line(less).value == "1.0"
    uid = reports.make(less, {"audience": "clinician", "why": "", "named": ""})
    lines = contents.report(less, reports.row_of(less, uid)).measures
    assert any(m.name.startswith("what you can do") and (m.first, m.last) == (4.5, 1.0) for m in lines)


def test_other_things_begin_another_series(context):
    answered(context, 0, 4, 5)
    other = answered(context, 14, 9, 9, name2="turn a key")
    page = activities.activities_page(other)
    assert "first answer about these" in page.beside and len(page.answers) == 1
    assert {row.what for row in measured.kept(other, "able.mean")} == {"since 12 Nov 2026", "since 26 Nov 2026"}


def test_the_first_answer_is_the_first_of_all_and_lists_of_one_day_stay_apart(context):
    answered(context, 0, 1, 1)
    for day in range(1, 30):
        last = answered(context, day, 5, 5)
    page = activities.activities_page(last)
    assert "it was 1.0 then" in page.beside and len(page.answers) == probes.LATEST
    for minute, names in enumerate(({"name2": "turn a key"}, {"name2": "", "rating2": ""}, {"name2": "turn a key"})):
        last = replace(last, now=last.now + timedelta(minutes=minute + 1))
        activities.answer(last, {**NAMES, "rating1": "2", "rating2": "2", **names})
    assert "first answer about these" in activities.activities_page(last).beside
    what = [p.about.what for p in probes.of_kind(last, Activities, most=4)]
    assert what == ["since 12 Nov 2026", *(f"since 11 Dec 2026{n}" for n in ("", " (2)", " (3)"))]


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        ({}, "name1"),
        ({"name1": "a jar"}, "rating1"),
        ({"rating2": "4"}, "name2"),
        ({"name1": "a jar", "rating1": "11"}, "rating1"),
        ({"name1": "a" * 61, "rating1": "1"}, "name1"),
        ({"name1": "a jar", "rating1": "1", "name2": "a jar", "rating2": "1"}, "name2"),
    ],
)
def test_what_is_missing_is_asked_for_at_its_field(context, typed, field):
    with pytest.raises(FieldError) as refused:
        activities.answer(context, typed)
    assert refused.value.field == field
    assert probes.of_kind(context, Activities) == []
