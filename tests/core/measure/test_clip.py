"""How much of a clip lies past a published angle: counted over frames that show the wrist, with a camera's error."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.errors import TooFew
from chirotend.core.measure.clip import time_past

angles = st.lists(st.none() | st.floats(-60, 60), min_size=1, max_size=120)


def test_frames_past_either_edge_count_and_an_error_of_five_degrees_is_said():
    # of ten seen: 3 past 14.5 (one by less than 5°), 1 past 21.8 the other way by more, 2 within 5° of an edge
    found = time_past([0, 0, 0, 0, 10, -18, 15, 25, 30, -30, None], 14.5, 21.8)
    assert (found.time.past_pct, found.least_pct, found.most_pct) == (40, 30, 60)
    assert (found.seen, found.frames) == (10, 11)


@given(angles)
def test_the_share_lies_between_its_bounds_and_a_hand_seldom_seen_has_none(deg):
    seen = sum(a is not None for a in deg)
    if seen < 10 or seen * 2 < len(deg):
        with pytest.raises(TooFew):
            time_past(deg, 14.5, 21.8)
        return
    found = time_past(deg, 14.5, 21.8)
    assert 0 <= found.least_pct <= found.time.past_pct <= found.most_pct <= 100
