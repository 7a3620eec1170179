"""Hands and bench as drawn."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.fit import statics
from chirotend.core.fit.hands import Gap, Hand
from chirotend.core.fit.strings import fingerings, reach_map
from chirotend.drawing import equipment_bench, measured, pencil
from chirotend.drawing.shapes import Shape
from tests.drawing.steps import of_class


def test_a_hand_shows_what_was_measured_and_nothing_else():
    shown = measured.measured_hand("right", {"1-2": "58", "T-1": ""}, "198 mm")
    texts = [s.text for s in shown.shapes if s.text]
    assert sorted(texts) == ["198 mm", "58", "Right hand"]
    bare = measured.measured_hand("left", {}, "")
    assert [s.text for s in bare.shapes if s.text] == ["Left hand"]


def carry(now: float, lean: float = 30.0) -> measured.Picture:
    supports = [
        (statics.Support("left", 0.86, "square"), "left hand"),
        (statics.Support("strap", 0, "strap", 5), "strap"),
    ]
    forces = statics.Carried(33.0, {"left": now, "strap": 30.0}, {"left": 10, "strap": 90}, False)
    was = statics.Carried(33.0, {"left": 15.0, "strap": 30.0}, {"left": 10, "strap": 90}, False)
    texts = dict.fromkeys(("left", "strap", "weight"), ("1 N", "was"))
    return equipment_bench.carry_picture(equipment_bench.CarryScene(1.3, 0.47, lean, supports, forces, was, texts))


def length(shape: Shape) -> float:
    x1, y1, x2, y2 = (float(v) for part in str(shape.attrs["d"])[1:].split("L") for v in part.split())
    return ((x2 - x1) ** 2 + (y2 - y1) ** 2) ** 0.5


def test_arrows_are_to_one_scale_and_a_force_that_did_not_change_has_no_ghost():
    shapes = carry(15.0).shapes
    left, strap = of_class(shapes, "force")
    # the heads take 12 units each
    assert (length(left) + 12) / (length(strap) + 12) == pytest.approx(0.5, rel=0.02)
    assert of_class(shapes, "force-was") == []
    assert len(of_class(carry(10.0).shapes, "force-was")) == 1
    assert pencil.arrow(0, 0, 0, 0, "force") == []


@given(st.floats(2, 70), st.floats(-60, 60))
def test_labels_of_forces_stay_on_the_picture(lean, force):
    shown = carry(force, lean)
    for shape in shown.shapes:
        if shape.text:
            assert 0 <= float(shape.attrs["y"]) <= shown.height


@pytest.mark.parametrize("width", [700.0, 340.0])
def test_the_string_says_every_verdict_and_keeps_its_words_inside(width):
    hand = Hand(
        "left",
        {
            "1-2": Gap(58, 66),
            "2-3": Gap(40, 50),
            "3-4": Gap(42, 52),
            "1-3": Gap(82, 98),
            "2-4": Gap(50, 60),
            "1-4": Gap(104, 120),
        },
    )
    scene = equipment_bench.StringScene(
        1050,
        12,
        fingerings()["124"],
        "asks 60 mm",
        "you have 104",
        reach_map(1050, hand),
        tuple(fingerings().values()),
        ["A"] * 12,
    )
    shown = equipment_bench.string_picture(scene, width)
    assert len(of_class(shown.shapes, "reach-cell")) == sum(len(r) for r in scene.maps.values())
    assert {s.attrs["fill"] for s in shown.shapes if s.tag == "rect" and "fill" in s.attrs} == {
        "url(#hatch-stretched)",
        "url(#hatch-out)",
    }
    assert all(0 <= float(s.attrs["x"]) <= width for s in shown.shapes if s.text)
    with pytest.raises(ValueError, match="hatch"):
        pencil.hatched(0, 0, 1, 1, "plaid")
