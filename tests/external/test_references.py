"""The main job against references outside the project; each names its own."""

import itertools
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pymannkendall import hamed_rao_modification_test, original_test
from ruptures import Binseg
from scipy.integrate import solve_ivp
from scipy.stats import rankdata

from chirotend.core.days import practice_day
from chirotend.core.errors import Degenerate
from chirotend.core.judge.cusum import rank_cusum
from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.signs import signs
from chirotend.core.judge.trend import daily_trend, mann_kendall, theil_sen
from chirotend.core.load.averages import ewma, week_summary
from chirotend.core.load.industrial.holding import fatigue_pattern, joints
from chirotend.core.record import Check, Entry, Record
from tests.reference.days import practice_day_bounds
from tests.reference.run_length import arl_cusum

loads = st.lists(st.floats(0, 2000), min_size=1, max_size=60)


@given(loads, st.integers(1, 60))
def test_ewma_agrees_with_pandas(x, span):
    """pandas `ewm(span, adjust=False)`."""
    assert ewma(x, span).ewma == pytest.approx(pd.Series(x).ewm(span=span, adjust=False).mean().iloc[-1], abs=1e-9)


@given(st.lists(st.integers(0, 600), min_size=7, max_size=7).filter(lambda x: len(set(x)) > 1))
def test_week_summary_agrees_with_pandas(x):
    """pandas `describe` for sum, mean and the sample SD."""
    s, w = pd.Series(x, dtype=float), week_summary(x)
    assert (w.sum, w.mean, w.sd) == pytest.approx((s.sum(), s.mean(), s.std()))


@pytest.mark.parametrize(
    ("k", "h", "shift", "two_sided", "arl"),
    [
        (0.5, 4, 0, True, 167.68),  # R package spc 0.6.7
        (0.5, 5, 0, True, 465.44),  # R package spc
        (0.5, 5, 1, True, 10.38),  # R package spc
        (0.5, 5, 0, False, 930.887),  # methods.md 9: Markov chain (Brook & Evans 1972), recomputed
        (0.5, 4, 0.5, False, 26.68),
        (0.5, 5, 2, False, 4.009),
    ],
)
def test_cusum_run_lengths(k, h, shift, two_sided, arl):
    assert arl_cusum(k, h, shift, two_sided) == pytest.approx(arl, rel=5e-4)


def test_cusum_run_length_by_simulation():
    """A plain simulation of the definition (seeded): mean run length 10.38 at a shift of 1 SD, h = 5."""
    rng = np.random.default_rng(20261112)
    runs = []
    for _ in range(2000):
        total = days = 0
        while total <= 5:
            total = max(0.0, total + rng.normal(1) - 0.5)
            days += 1
        runs.append(days)
    assert np.mean(runs) == pytest.approx(10.38, abs=0.4)


@given(st.lists(st.integers(0, 6), min_size=14, max_size=14), st.integers(0, 6))
def test_the_first_rank_agrees_with_scipy(reference, value):
    """scipy `rankdata` mid-ranks; their spread is the population SD of all mid-ranks."""
    ranks = rankdata([*reference, value])
    spread = ranks.std()
    z = 0.0 if spread == 0 else (ranks[-1] - 8) / spread
    assert rank_cusum([*reference, value]).C[0] == pytest.approx(max(0, min(z, 2) - 0.5), abs=1e-9)


@pytest.mark.parametrize(
    ("day", "hours"),
    [(date(2026, 3, 28), 23), (date(2026, 3, 29), 24), (date(2026, 10, 24), 25), (date(2026, 10, 25), 24)],
)
def test_practice_days_over_both_daylight_saving_nights(day, hours):
    """Python's zoneinfo (IANA tz database): Vienna changes on 29 March and 25 October 2026 at 01:00 UTC."""
    zone = ZoneInfo("Europe/Vienna")
    first, after = practice_day_bounds(day, zone)
    assert after - first == timedelta(hours=hours)
    # minute by minute: the day changes once, and where zoneinfo shows 04:00
    at = first - timedelta(hours=2)
    seen = []
    while at < after + timedelta(hours=2):
        seen.append((practice_day(at, zone), at))
        at += timedelta(minutes=1)
    for (a, _), (b, when) in itertools.pairwise(seen):
        if a != b:
            assert b - a == timedelta(days=1) and when.astimezone(zone).strftime("%H:%M") == "04:00"
    assert [
        d
        for d, t in seen
        if t == datetime.combine(day, datetime.min.time(), zone).astimezone(UTC) + timedelta(hours=12)
    ] == [day]


def test_tiring_agrees_with_the_equations_it_solves():
    """The three-compartment controller of Xia & Frey-Law 2008 (from memory), stepped by scipy `solve_ivp`: drive 10/s,
    resting, active and fatigued shares. The closed form lies within .001 of it."""
    joint = joints()["shoulder"]

    def step(_t, shares, load):
        resting, active, tired = shares
        if active < load:
            drive = 10 * (load - active) if resting > load - active else 10 * resting
        else:
            drive = 10 * (load - active)
        faster = joint.r if load == 0 else 1.0
        return [
            -drive + faster * joint.R * tired,
            drive - joint.F * active,
            joint.F * active - faster * joint.R * tired,
        ]

    for pattern in ([(0.05, 420)], [(0.2, 20), (0.0, 10)]):
        shares, at, number = [1.0, 0.0, 0.0], 0.0, 0
        while at < 420:
            load, seconds = pattern[number % len(pattern)]
            seconds = min(seconds, 420 - at)
            shares = solve_ivp(step, (0, seconds), shares, args=(load,), max_step=0.5).y[:, -1]
            at, number = at + seconds, number + 1
        assert fatigue_pattern("shoulder", pattern, 420).MF == pytest.approx(shares[2], abs=1e-3)


weekly = st.lists(st.integers(0, 10), min_size=8, max_size=30).filter(lambda y: len(set(y)) > 1)


@given(weekly)
def test_trends_agree_with_pymannkendall(y):
    """pymannkendall 1.4.3, `original_test`: S, its variance, Z, p and the slope of Theil and Sen."""
    theirs = original_test(y)
    ours = mann_kendall(y)
    assert (ours.S, ours.var) == (theirs.s, pytest.approx(theirs.var_s))
    assert (ours.Z, ours.p) == (pytest.approx(theirs.z), pytest.approx(theirs.p))
    assert theil_sen(list(range(len(y))), y).slope == pytest.approx(theirs.slope)


@given(weekly)
def test_trends_of_days_agree_with_pymannkendall(y):
    """pymannkendall 1.4.3, `hamed_rao_modification_test`: the variance of days that resemble each other, Z and p."""
    with np.errstate(invalid="ignore", divide="ignore"):
        theirs = hamed_rao_modification_test(y)
    if not theirs.var_s > 0:
        with pytest.raises(Degenerate):
            daily_trend(y)
        return
    ours = daily_trend(y)
    assert (ours.S, ours.var) == (theirs.s, pytest.approx(theirs.var_s))
    assert (ours.Z, ours.p) == (pytest.approx(theirs.z), pytest.approx(theirs.p))


@pytest.mark.parametrize("seed", range(6))
def test_a_sign_begins_near_the_change_point_that_ruptures_finds(seed):
    """ruptures 1.1.10, `Binseg` with one change of a Gaussian mean, on a labelled series: a place of mostly zeros whose
    level rises by 3 on day 60 of 84. Both lie within ten days of the label, and within ten of each other."""
    rng = np.random.default_rng([seed, 60])
    told = [int(rng.random() < 0.3) for _ in range(60)] + [int(rng.integers(2, 5)) for _ in range(24)]
    first = date(2026, 6, 1)
    checks = tuple(
        Check(
            f"c{n}",
            first + timedelta(days=n),
            "after",
            (Entry("palm_centre", "left", "tension", float(s)),) if s else (),
        )
        for n, s in enumerate(told)
    )
    today = first + timedelta(days=83)
    now = datetime(today.year, today.month, today.day, 20, tzinfo=UTC)
    (sign,) = signs(Evidence(Record((), checks), today, now))
    change = Binseg(model="l2").fit(np.array(told, dtype=float)).predict(n_bkps=1)[0]
    since = (sign.since - first).days
    assert sign.speaks and abs(change - 60) <= 10 and abs(since - 60) <= 10 and abs(since - change) <= 10
