"""Landmarks a model saw: their lines, and the points of a template they suggest."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.errors import Inconsistent
from chirotend.core.measure.landmarks import NAMES, Landmark, landmark_of, line_of, suggested

SHARES = st.floats(-9, 9).map(lambda v: round(v, 4) + 0.0)
SURE = st.floats(0, 1).map(lambda v: round(v, 3) + 0.0)
LANDMARKS = st.builds(Landmark, st.sampled_from(sorted(NAMES)), st.tuples(SHARES, SHARES), SURE)


@given(LANDMARKS)
def test_a_line_says_what_was_seen(landmark):
    assert landmark_of(line_of(landmark)) == landmark


@pytest.mark.parametrize("line", ["", "left_ear", "left_ear 0.5 0.5", "left_ear nan 0.5 0.5", "LEFT 0.5 0.5 0.5"])
def test_what_is_no_line_is_refused(line):
    with pytest.raises(Inconsistent):
        landmark_of(line)


def test_the_first_way_that_was_seen_places_a_point():
    marks = {
        "ear": [["{near}_ear"]],
        "far": [["{far}_shoulder"]],
        "knuckle": [["{near}_hand.middle_finger_mcp"], ["{near}_index", "{near}_pinky"]],
        "neck": [],
    }
    seen = [
        Landmark("left_ear", (0.2, 0.3), 0.9),
        Landmark("right_ear", (0.6, 0.3), 0.49),
        Landmark("left_shoulder", (0.4, 0.5), 0.5),
        Landmark("left_index", (0.2, 0.8), 0.9),
        Landmark("left_pinky", (0.4, 0.6), 0.9),
        Landmark("right_index", (0.7, 0.7), 0.9),
        Landmark("right_pinky", (1.1, 0.7), 0.9),
    ]
    assert suggested(marks, seen, "left") == {"ear": (0.2, 0.3), "knuckle": (pytest.approx(0.3), pytest.approx(0.7))}
    assert suggested(marks, seen, "right") == {"far": (0.4, 0.5)}, "the ear is not sure, the hand not all inside"
    whole = [*seen, Landmark("left_hand.middle_finger_mcp", (0.9, 0.9), 0.8)]
    assert suggested(marks, whole, "left")["knuckle"] == (0.9, 0.9)
