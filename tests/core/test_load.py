"""Check values: methods.md section 1 (recomputed there by a separate script), unless another source stands beside."""

from datetime import UTC, date, datetime
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.days import practice_day, zone_named
from chirotend.core.errors import Degenerate, Missing, NotANumber, OutOfRange, TooFew
from chirotend.core.load.averages import ewma, ewma_over_gaps, week_summary
from chirotend.core.load.series import load_series
from chirotend.core.load.session import session_load, srpe_load
from chirotend.core.record import Block, DayNote, Record, Session
from tests.reference.days import practice_day_bounds

DAY = date(2026, 11, 2)


@pytest.mark.parametrize(("rpe", "minutes", "load"), [(4, 75, 300), (0, 30, 0)])
def test_srpe_check_values(rpe, minutes, load):
    assert srpe_load(rpe=rpe, minutes=minutes) == load


@pytest.mark.parametrize(
    ("rpe", "minutes", "error"),
    [
        (11, 30, OutOfRange),
        (4, -1, OutOfRange),
        (True, 30, NotANumber),
        (float("nan"), 30, NotANumber),
        (4, 1441, OutOfRange),
    ],
)
def test_srpe_refuses(rpe, minutes, error):
    with pytest.raises(error):
        srpe_load(rpe=rpe, minutes=minutes)


@given(st.floats(0, 600), st.floats(0, 600), st.floats(0, 10))
def test_splitting_a_session_keeps_its_load(a, b, effort):
    assert srpe_load(effort, a) + srpe_load(effort, b) == pytest.approx(srpe_load(effort, a + b))


@pytest.mark.parametrize(
    ("daily", "expected"),
    [
        ([60, 120, 0, 180, 90, 45, 150], (645, 92.1429, 62.7068, 1.46942, 947.778)),
        ([300, 0, 240, 360, 0, 420, 180], (1500, 214.286, 165.616, 1.29387, 1940.81)),
    ],
)
def test_week_summary_check_values(daily, expected):
    w = week_summary(daily)
    assert (w.sum, w.mean, w.sd, w.monotony, w.strain) == pytest.approx(expected, rel=1e-5)


@pytest.mark.parametrize(
    ("daily", "error"),
    [
        ([120] * 7, Degenerate),
        ([60, None, 0, 180, 90, 45, 150], Missing),
        ([1] * 6, TooFew),
        ([1] * 8, OutOfRange),
    ],
)
def test_week_summary_refuses(daily, error):
    with pytest.raises(error):
        week_summary(daily)


@pytest.mark.parametrize(
    ("n", "lam", "value", "seed"), [(7, 0.25, 145.312, 0.421875), (28, 0.0689655, 113.35, 0.807044)]
)
def test_ewma_check_values(n, lam, value, seed):
    e = ewma([100, 200, 0, 300], n)
    assert (e.lam, e.ewma, e.seed_weight) == pytest.approx((lam, value, seed), rel=1e-5)


def test_ewma_of_nothing_is_refused_and_gaps_are_skipped_or_restart():
    with pytest.raises(TooFew):
        ewma([], 7)
    assert ewma_over_gaps([100, None, 200, None, 0, 300], 7) == ewma([100, 200, 0, 300], 7)
    assert ewma_over_gaps([500] + [None] * 7 + [100, 200], 7) == ewma([100, 200], 7)
    assert ewma_over_gaps([100] + [None] * 7, 7) is None
    assert ewma_over_gaps([], 7) is None


def test_a_day_not_logged_is_not_a_day_of_nothing():
    record = Record(
        sessions=(
            Session("a", DAY, (Block(30, effort=4), Block(20)), effort=5),
            Session("b", date(2026, 11, 4), (Block(45),)),
        ),
        notes=(DayNote(date(2026, 11, 3), off=True),),
    )
    series = load_series(record, DAY, date(2026, 11, 5))
    assert series.on(DAY) == (50, 220)  # 30 x 4 + 20 x 5
    assert series.on(date(2026, 11, 3)) == (0, 0)
    assert series.on(date(2026, 11, 4))[0] == 45 and np.isnan(series.on(date(2026, 11, 4))[1])
    assert np.isnan(series.on(date(2026, 11, 5))[0]) and np.isnan(series.on(date(2027, 1, 1))[0])
    assert load_series(record, DAY, date(2026, 11, 1)).minutes == ()
    assert session_load(record.sessions[1]) is None


def test_a_late_performance_belongs_to_the_evening_it_began_in():
    vienna = zone_named("Europe/Vienna")
    assert practice_day(datetime(2026, 11, 13, 2, 59, tzinfo=UTC), vienna) == date(2026, 11, 12)  # 03:59 local
    assert practice_day(datetime(2026, 11, 13, 3, 0, tzinfo=UTC), vienna) == date(2026, 11, 13)  # 04:00 local
    with pytest.raises(OutOfRange):
        zone_named("Europe/Nowhere")
    with pytest.raises(NotANumber):
        practice_day(datetime(2026, 11, 13, 3, 0), vienna)


@given(
    st.datetimes(datetime(2024, 1, 1), datetime(2027, 1, 1)),
    st.sampled_from(["Europe/Vienna", "America/St_Johns", "Australia/Lord_Howe", "Asia/Kathmandu", "UTC"]),
)
def test_every_instant_lies_inside_the_bounds_of_its_own_day(instant, name):
    zone, at = ZoneInfo(name), instant.replace(tzinfo=UTC)
    first, after = practice_day_bounds(practice_day(at, zone), zone)
    assert first <= at < after
