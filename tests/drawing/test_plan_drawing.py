"""The plan as drawn."""

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.drawing import pencil, plan
from tests.drawing.steps import of_class

MONDAY = date(2026, 11, 16)


def week(layout: plan.Layout, *items: plan.Item, load: float = 400, with_date: float | None = None) -> plan.Week:
    days = [
        plan.Day(
            MONDAY + timedelta(days=i),
            items if i == 0 else (),
            load if i == 0 else 0,
            False,
            i == 0,
            10.0 if i == 0 else None,
            with_date if i == 0 else None,
        )
        for i in range(7)
    ]
    return plan.week(days, (300, 700), layout)


def own(uid: str, hour: float, name: str, minutes: float = 20) -> plan.Item:
    return plan.Item(uid, "own", name, hour, minutes, 4, f"{name} spoken")


@pytest.mark.parametrize("layout", [plan.DESK, plan.TABLET, plan.PHONE])
def test_a_week_has_seven_staves_and_its_blocks_are_minutes_wide(layout):
    shown = week(layout, own("a", 9, "thirds", 60), plan.Item("e", "performance", "night", 19, 120, 6, "night"))
    assert len(of_class(shown.under, "staff")) == 35
    (block,) = of_class(shown.things[0].shapes, "block-own")
    assert float(block.attrs["width"]) + 1.6 == pytest.approx(shown.per_hour, abs=0.1)
    assert [t.uid for t in shown.things] == ["a", "e"]
    assert shown.width == layout.width


def test_a_session_of_several_blocks_has_one_name_and_what_is_far_apart_its_own():
    shown = week(plan.DESK, own("a", 9, "low F"), own("b", 9.4, "thirds"), own("c", 15, "act II"))
    names = [[s.text for s in t.shapes if s.text] for t in shown.things]
    assert names == [["low F, thirds"], [], ["act II"]]


def test_load_above_her_usual_is_a_hollow_cap_and_the_asked_date_an_outline():
    assert of_class(week(plan.DESK, load=900).over, "load-over")
    assert not of_class(week(plan.DESK, load=600).over, "load-over")
    more, less = week(plan.DESK, load=400, with_date=650), week(plan.DESK, load=400, with_date=200)
    assert of_class(more.over, "block-asked") and of_class(less.over, "struck")
    assert next(s.text for s in more.over if s.text) == "650"


@given(st.integers(0, 40), st.integers(0, 40))
def test_a_tally_has_a_stroke_for_ten_minutes(scheduled, wanted):
    strokes = pencil.tally(scheduled, wanted)
    assert len(of_class(strokes, "tally")) == scheduled
    assert len(of_class(strokes, "tally-open")) == max(0, wanted - scheduled)


def test_the_fortnight_marks_what_rises_and_what_falls():
    loads = {MONDAY + timedelta(days=i): (100.0, {3: 300.0, 5: 0.0}.get(i, 100.0)) for i in range(14)}
    shown = plan.fortnight(loads, MONDAY + timedelta(days=3), None)
    assert len(of_class(shown.under, "block-asked")) == 1 and len(of_class(shown.under, "struck")) == 1
