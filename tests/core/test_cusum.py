"""Check values: methods.md section 9."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.errors import NotANumber, OutOfRange, TooFew
from chirotend.core.judge.cusum import cusum, rank_cusum

DIARY = [0, 1, 0, 0, 2, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, None, 2, 3, 2, 4, 3, None, 3]


def test_cusum_check_values():
    run = cusum([10, 12, 11, 13, 14], mu=10, sd=2, k=0.5, h=2)
    assert (run.up, run.down, run.first_alarm) == ((0, 0.5, 0.5, 1.5, 3), (0, 0, 0, 0, 0), 5)
    run = cusum([5, 4, 4, 3], mu=5, sd=1, k=0.5, h=4)
    assert (run.down, run.first_alarm) == ((0, 0.5, 1, 2.5), None)
    with pytest.raises(OutOfRange):
        cusum([1], 0, 0, 0.5, 4)


def test_rank_cusum_check_values():
    run = rank_cusum(DIARY, m=14, h=5)
    assert pytest.approx([0, 1.26383, 2.60774, 3.72496, 5.06887, 6.41278, 7.75668], abs=1e-5) == run.C
    assert run.first_alarm_day == 20
    run = rank_cusum([1] * 10 + [4], m=10)
    assert (run.C, run.first_alarm_day) == ((1.5,), None)


@pytest.mark.parametrize(
    ("x", "m", "error"), [([0, 0, 1], 10, TooFew), (DIARY, 9, TooFew), ([True] * 12, 10, NotANumber)]
)
def test_rank_cusum_refuses(x, m, error):
    with pytest.raises(error):
        rank_cusum(x, m=m)


@given(st.lists(st.integers(0, 10), min_size=15, max_size=60), st.lists(st.integers(0, 20), max_size=5))
def test_days_not_logged_change_nothing(x, gaps):
    with_gaps = list(x)
    for at in gaps:
        with_gaps.insert(at % (len(with_gaps) + 1), None)
    assert rank_cusum(with_gaps).C == rank_cusum(x).C


@given(st.lists(st.integers(0, 10), min_size=15, max_size=60))
def test_only_the_order_of_the_values_matters(x):
    assert pytest.approx(rank_cusum(x).C) == rank_cusum([v * v + 3 for v in x]).C
