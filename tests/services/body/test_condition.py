"""How she is today, as what is left out reads it: from which strength on a mark counts, and for how long."""

from dataclasses import replace
from datetime import timedelta

import pytest

from chirotend.core.body.zones import zone
from chirotend.core.record.words import SYMPTOM_KINDS
from chirotend.services.body.checks import TypedMarks, as_usual, history, write_marks
from chirotend.services.body.condition import condition, spared_hands
from chirotend.services.call.todays_call import todays_call

#: by hand, from docs/methods: pain 2, tightness and stiffness 3, the others however faint
LEAST = {"pain": 2, "tension": 3, "stiffness": 3, "tingling": 1, "numbness": 1, "weakness": 1}
PLACE = ("thumb_ball", "left")


def marked(context, kind: str, strength: float, back: int = 0) -> frozenset:
    write_marks(
        context, TypedMarks(["thumb_ball.left"], kind, strength, ["playing"]), context.today - timedelta(days=back)
    )
    return condition(context, todays_call(context), None).marked


@pytest.mark.parametrize("kind", SYMPTOM_KINDS)
def test_a_mark_counts_from_its_strength_on(context, kind):
    as_usual(context)
    spared = marked(context, kind, LEAST[kind])
    assert PLACE in spared and {(zone(z).region, side) for z, side in spared} == {("wrist & thumb", "left")}
    if LEAST[kind] > 1:
        assert marked(context, kind, LEAST[kind] - 1) == frozenset()


@pytest.mark.parametrize(("back", "counts"), [(0, True), (2, True), (3, False)])
def test_a_mark_counts_for_two_days_more(context, back, counts):
    assert (PLACE in marked(context, "pain", 2, back)) is counts


def test_what_the_call_rests_on_is_spared_as_long_as_it_stands(context):
    """Pain 4 three days ago, and a call of that day: the level still stands, and so the thumb is still spared."""
    then = replace(context, now=context.now - timedelta(days=3), worked_out={})
    write_marks(then, TypedMarks(["thumb_ball.left"], "pain", 4, ["playing"]))
    todays_call(then)
    today = todays_call(context)
    assert today.issued.recovery.places == (("wrist & thumb", "left"),)
    assert PLACE in condition(context, today, None).marked
    assert spared_hands(today.issued) == {"left": "left wrist and thumb"}


def test_the_history_of_a_place_goes_back_ninety_days(context):
    for back in (89, 90, 91):
        marked(context, "pain", 2, back)
    found = history(context, *PLACE)
    assert [(context.today - m.day).days for m in found] == [89, 90]
