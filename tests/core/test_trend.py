"""Trends and what went before: check values of our methods, scipy beside them, permutations counted out."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import kendalltau, norm, permutation_test, theilslopes

from chirotend.core.errors import Degenerate, TooFew
from chirotend.core.judge.before import AFTER_DAYS, LEAST_DAYS, went_before
from chirotend.core.judge.trend import mann_kendall, theil_sen

values = st.lists(st.integers(0, 8).map(float), min_size=8, max_size=30)


@pytest.mark.parametrize(
    ("y", "s", "var", "z", "p"),
    [
        ([1, 2, 2, 3, 5, 4, 6, 7], 25, 64.3333, 2.99222, 0.00276959),
        ([0, 0, 1, 0, 2, 1, 3, 0, 2, 3], 22, 113.333, 1.97261, 0.0485404),
    ],
)
def test_mann_kendall_check_values(y, s, var, z, p):
    """mann_kendall in docs/methods.md, worked beforehand in another program."""
    found = mann_kendall(y)
    assert (found.S, found.var, found.Z, found.p) == pytest.approx((s, var, z, p), rel=1e-5)


def test_theil_sen_check_values():
    found = theil_sen([0, 1, 3, 4, 8], [2, 2, 3, 5, 4])
    assert (found.slope, found.intercept) == pytest.approx((0.309524, 2.07143), rel=1e-5)


@given(values)
def test_against_scipy(y):
    days = list(range(len(y)))
    slope = theilslopes(y, days, method="separate")
    found = theil_sen(days, y)
    assert (found.slope, found.intercept) == pytest.approx((slope.slope, slope.intercept), abs=1e-9)
    if len(set(y)) > 1:
        test = mann_kendall(y)
        # without the correction for continuity Z is that of Kendall's tau
        p = kendalltau(days, y, method="asymptotic").pvalue
        plain = test.S / test.var**0.5
        assert 2 * norm.sf(abs(plain)) == pytest.approx(p, abs=1e-9)
        assert mann_kendall([-v for v in y]).S == -test.S and test.p <= 1


@pytest.mark.parametrize(
    ("refused", "call"),
    [
        (TooFew, lambda: mann_kendall([1] * 7)),
        (Degenerate, lambda: mann_kendall([2] * 9)),
        (TooFew, lambda: theil_sen([1, 2], [1, 2])),
        (Degenerate, lambda: theil_sen([4, 4, 4], [1, 2, 3])),
    ],
)
def test_what_has_no_trend_is_refused(refused, call):
    with pytest.raises(refused):
        call()


def test_what_went_before_by_hand():
    """Every seventh day is there; the marks of its day and the two after it are 3, all others 0: of the 27 shifts of 28
    days only those by whole weeks, three of them, give as much."""
    there = [n % 7 == 0 for n in range(28)]
    strengths = [3.0 if n % 7 <= AFTER_DAYS else 0.0 for n in range(28)]
    found = went_before(there, strengths)
    assert (found.with_it, found.without, found.p) == pytest.approx((3, 0, 4 / 28)) and found.said == "perhaps"
    turned = went_before(there, [3 - s for s in strengths])
    assert turned.p == 1 and turned.said == "chance"


def test_what_cannot_be_told_is_not():
    assert went_before([False] * 40, [1.0] * 40).said == "cannot_tell"
    assert went_before([True] * 40, [1.0] * 40).said == "cannot_tell"
    assert went_before([True] * LEAST_DAYS + [False] * 30, [None] * 36).said == "cannot_tell"


def test_single_days_are_judged_as_scipy_judges_permutations_of_them():
    """Where days do not cluster, shifting them and drawing them at random come to much the same."""
    rng = np.random.default_rng(5)
    strengths = rng.integers(0, 4, 300).astype(float)
    there = [n % 10 == 4 for n in range(300)]
    after = np.array([any(there[max(0, n - AFTER_DAYS) : n + 1]) for n in range(300)])
    strengths[after] += rng.random(after.sum()) < 0.2
    drawn = permutation_test(
        (strengths[after], strengths[~after]),
        lambda a, b, axis: a.mean(axis=axis) - b.mean(axis=axis),
        vectorized=True,
        alternative="greater",
        n_resamples=4000,
        rng=1,
    )
    ours = went_before(there, strengths.tolist())
    assert ours.with_it - ours.without == pytest.approx(drawn.statistic)


@settings(max_examples=15)
@given(st.integers(0, 10_000))
def test_marks_that_know_nothing_of_it_seldom_stand_out(seed):
    """p is at least 1/n, and over many diaries it is spread evenly: here in the mean, of twenty diaries each."""
    rng = np.random.default_rng(seed)
    ps = []
    for _ in range(20):
        there = (rng.random(84) < 0.15).tolist()
        found = went_before(there, rng.integers(0, 4, 84).astype(float).tolist())
        ps += [] if found.p is None else [found.p]
    assert min(ps) >= 1 / 84 and 0.2 < np.mean(ps) < 0.8
