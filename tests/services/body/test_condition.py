"""How she is today, as what is left out reads it: from which strength on a mark counts, and for how long."""

from datetime import timedelta

import pytest

from chirotend.core.record.words import KINDS
from chirotend.services.body.checks import TypedMarks, as_usual, history, write_marks
from chirotend.services.body.condition import condition
from chirotend.services.today.days_call import issue

#: by hand, from docs/methods: pain 2, tightness and stiffness 3, the others however faint
LEAST = {"pain": 2, "tension": 3, "stiffness": 3, "tingling": 1, "numbness": 1, "weakness": 1}
PLACE = ("thumb_ball", "left")


def marked(desk, kind: str, strength: float, back: int = 0) -> frozenset:
    write_marks(desk, TypedMarks(["thumb_ball.left"], kind, strength, ["playing"]), desk.today - timedelta(days=back))
    return condition(desk, issue(desk)[1], None).marked


@pytest.mark.parametrize("kind", KINDS)
def test_a_mark_counts_from_its_strength_on(desk, kind):
    as_usual(desk)
    assert marked(desk, kind, LEAST[kind]) == {PLACE}
    if LEAST[kind] > 1:
        assert marked(desk, kind, LEAST[kind] - 1) == frozenset()


@pytest.mark.parametrize(("back", "counts"), [(0, True), (1, True), (2, False)])
def test_a_mark_counts_today_and_tomorrow(desk, back, counts):
    assert (PLACE in marked(desk, "pain", 4, back)) is counts


def test_the_history_of_a_place_goes_back_ninety_days(desk):
    for back in (89, 90, 91):
        marked(desk, "pain", 2, back)
    found = history(desk, *PLACE)
    assert [(desk.today - m.day).days for m in found] == [89, 90]
