"""Her own usual and usual range, beside general libraries and by hand."""

from datetime import date

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.judge.baseline import baseline_range, baseline_week, median, percentile
from chirotend.core.load.series import LoadSeries

NAN = float("nan")
values = st.lists(st.floats(0, 5000), min_size=1, max_size=60)


@given(values)
def test_the_median_is_that_of_the_general_library_to_the_last_digit(found):
    assert median(found) == float(np.median(found))


@given(values, st.sampled_from([0, 10, 25, 50, 90, 100]))
def test_the_percentile_is_that_of_the_general_library_to_the_last_digit(found, share):
    assert percentile(sorted(found), share) == float(np.percentile(found, share))


def test_nothing_has_no_median_and_no_percentile():
    with pytest.raises(ValueError, match="median"):
        median([])
    with pytest.raises(ValueError, match="percentile"):
        percentile([], 50)


def test_the_usual_range_drifts_and_needs_played_days_a_week_old():
    """By hand: 7 played days of 100 AU, the last of them 7 days ago, give 100-100; one fewer gives none."""
    load = [100.0] * 7 + [NAN] * 23
    assert baseline_range(load, 12) is None
    found = baseline_range(load, 13)
    assert (found.low, found.high, found.days) == (100, 100, 7)
    load[7:14] = [200, 210, 220, 230, 240, 250, 260]
    later = baseline_range(load, 20)
    # 14 sorted values: place 1.3 lies between two hundreds, place 11.7 between 240 and 250
    assert baseline_range(load, 13).high == 100 and (later.low, later.high) == (100, pytest.approx(247))


def test_a_day_off_and_a_day_not_known_are_no_played_days():
    load = [0.0, NAN] * 7 + [100.0] * 6
    assert baseline_range(load, 26) is None
    assert baseline_range([*load, 50.0], 27) is not None


def test_the_usual_range_forgets_what_is_older_than_seven_weeks():
    load = [900.0] * 10 + [100.0] * 42 + [NAN] * 7
    assert baseline_range(load, 58).high == 100 and baseline_range(load, 57).high == pytest.approx(100)
    assert baseline_range(load, 52).high > 100


def test_the_usual_week_needs_known_days():
    first = date(2026, 1, 1)
    known = LoadSeries(first, (30.0,) * 60, (100.0,) * 60)
    found = baseline_week(known.load, 59)
    assert (found.low, found.high) == pytest.approx((700, 700))
    gappy = (NAN, 100.0) * 30
    assert baseline_week(gappy, 59) is None
