"""The measure of today by her instrument, what is marked and how old the last value is."""

from dataclasses import replace
from datetime import timedelta

import pytest

from chirotend.library.loader import families, instruments
from chirotend.library.probes import offered_measures
from chirotend.services.body.checks import TypedMarks, as_usual, write_marks
from chirotend.services.context import Context
from chirotend.services.technique import activities, ranges
from chirotend.services.technique.probes_page import probes_page
from chirotend.services.technique.registry import PROBES


def later(context: Context, days: int) -> Context:
    return replace(context, now=context.now + timedelta(days=days), worked_out={})


def mark(context: Context, place: str, kind: str, strength: float, back: int = 0) -> None:
    write_marks(context, TypedMarks([place], kind, strength, ["playing"]), context.today - timedelta(days=back))


def test_nothing_measured_and_nothing_marked_begins_with_the_press(context):
    assert probes_page(context).today.name == "Least pressure"


def test_a_mark_of_the_neck_asks_for_a_picture_and_then_for_what_it_is_not_yet_answered(context):
    mark(context, "neck_side.left", "tension", 2)
    page = probes_page(context)
    assert page.today.name == "Posture from a picture"
    assert page.today.reason == "You marked your neck and shoulder on 1 of the last 14 days, and this belongs to it."


@pytest.mark.parametrize("kind", ["numbness", "tingling"])
def test_a_numb_finger_is_asked_for_nothing(context, kind):
    as_usual(context)
    mark(context, "index_tip_palm.right", kind, 1, back=2)
    today = probes_page(context).today
    (kind_of_measure,) = (p.data.kind for p in PROBES if p.line and p.line(context).name == today.name)
    assert offered_measures()[kind_of_measure].asks == "looks"
    assert "numb or tingling" in today.reason
    assert "numb or tingling" not in probes_page(later(context, 1)).today.reason


def test_what_was_read_today_is_not_asked_for_again(context):
    mark(context, "wrist_crease_mid.left", "stiffness", 1, back=5)
    assert probes_page(context).today.name == "Least pressure"
    activities.answer(context, {"name1": "open a jar", "rating1": "4"})
    ranges.keep(context, {"movement": "wrist_back", "hand": "left", "deg": "60", "by": "level"})
    assert "Range" != probes_page(context).today.name


def test_strokes_are_offered_first_to_no_harp():
    strokes = offered_measures()["strokes"]
    assert not strokes.suits({instruments()["pedal_harp"].family}) and strokes.suits({instruments()["snare"].family})


def test_every_measure_of_the_bench_can_be_offered():
    assert {p.data.kind for p in PROBES if p.line} | {"pressure"} == set(offered_measures())
    for measure in offered_measures().values():
        assert {*measure.families} <= {*families(), "all"}
