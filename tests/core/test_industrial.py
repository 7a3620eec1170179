"""Check values: methods.md 1-6 (recomputed there by a separate script), unless another source stands beside."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.errors import Degenerate, Inconsistent, Missing, OutOfRange, TooFew
from chirotend.core.load.averages import acwr
from chirotend.core.load.industrial.amplitude import apdf
from chirotend.core.load.industrial.hand_activity import hal_radwin, hal_tlv_2018
from chirotend.core.load.industrial.holding import (
    fatigue_pattern,
    hold_endurance_s,
    joints,
    rohmert_endurance_min,
    rohmert_rest_pct,
)
from chirotend.core.load.industrial.strain_index import rsi, si1995
from chirotend.core.load.industrial.tendon import tendon_cycles, wear_ratio
from tests.reference.tiring import hal_tlv_2001, joint_endurance_s, miner_sum

MONTH = [60, 90, 0, 120, 60, 30, 0, 90, 90, 60, 120, 0, 45, 30, 60, 75, 90, 0, 120, 60, 30, 150, 180, 0, 200, 160, 90]


def near(value):
    return pytest.approx(value, rel=5e-6)


def test_acwr():
    found = acwr([*MONTH, 120])
    assert (found.acute, found.coupled, found.uncoupled) == (900, near(1.69014), near(2.19512))
    assert found.coupled == near(4 * found.uncoupled / (found.uncoupled + 3))
    for days, error in (
        ([0] * 21 + [60] * 7, Degenerate),
        ([1] * 27, TooFew),
        ([1] * 29, OutOfRange),
        ([*MONTH, None], Missing),
        ([*MONTH, -1], OutOfRange),
    ):
        with pytest.raises(error):
            acwr(days)


def test_hand_activity():
    assert [hal_radwin(0.5, 30), hal_radwin(2, 70), hal_radwin(1, 0.5)] == near([3.94243, 7.77774, 0])
    with pytest.raises(OutOfRange, match="F_hz"):
        hal_radwin(0, 50)


@pytest.mark.parametrize(
    ("limits", "hal", "npf", "al", "tlv", "zone", "pfi"),
    [
        (hal_tlv_2018, 4, 3, 1.36, 3.36, "between", 0.892857),
        (hal_tlv_2018, 7, 0.5, 0, 1.68, "between", 0.297619),
        (hal_tlv_2018, 2, 5, 2.48, 4.48, "above TLV", 1.11607),
        (hal_tlv_2018, 10, 1, 0, 0, "above TLV", None),
        (hal_tlv_2001, 4, 3, 3.33333, 4.66667, "below AL", 3 / 4.66667),
        (hal_tlv_2001, 1, 6, 5, 7, "between", 6 / 7),
    ],
)
def test_limits_of_hand_activity(limits, hal, npf, al, tlv, zone, pfi):
    found = limits(hal, npf)
    assert (found.al, found.tlv) == (pytest.approx(al, abs=1e-5), pytest.approx(tlv, abs=1e-5))
    assert found.zone == zone and found.pfi == (None if pfi is None else pytest.approx(pfi, rel=1e-5))


def test_revised_strain_index():
    found = rsi(0.3, 10, 2, 20, "extension", 4)
    assert [found.IM, found.EM, found.DM, found.PM, found.HM] == near([3.706, 2.6, 1.07, 1, 0.769766])
    assert (found.RSI, found.zone) == (near(7.93636), "10 or less")
    assert rsi(0.15, 100, 0.3, 25, "flexion", 3).RSI == near(28.9701)
    assert rsi(0.6, 4, 5, 45, "extension", 1).RSI == near(10.6687)
    with pytest.raises(Inconsistent, match="40 efforts of 2 s do not fit"):
        rsi(0.2, 40, 2, 0, "flexion", 1)
    with pytest.raises(OutOfRange, match="posture"):
        rsi(0.2, 4, 2, 0, "ulnar", 1)


@given(st.floats(0.01, 0.99), st.floats(1, 100), st.floats(0, 89), st.floats(0.1, 23))
def test_every_multiplier_of_the_revised_index_rises(force, efforts, angle, hours):
    one, more = (rsi(force * k, efforts * k, 0.5, angle * k, "flexion", hours * k) for k in (1, 1.01))
    assert all(getattr(more, m) >= getattr(one, m) for m in ("IM", "EM", "PM", "HM"))


def test_strain_index_of_1995():
    """The first is the published example (somewhat hard, 60 %, 12 a minute, fair, fair, 4-8 h: 13.5), from memory."""
    assert (si1995(20, 60, 12, 3, 3, 6).SI, si1995(20, 60, 12, 3, 3, 6).zone) == (13.5, ">7")
    found = si1995(8, 35, 25, 2, 4, 3)
    assert (found.mult, found.SI, found.zone) == ((1, 1.5, 3, 1, 1.5, 0.75), 5.0625, "5-7")
    assert [si1995(20, 60, 12, 3, 3, h).mult[5] for h in (1, 1.1, 8, 8.1)] == [0.25, 0.5, 1, 1.5]  # closed above
    assert si1995(5, 100, 0, 1, 1, 1).mult[2] == 3  # a static hold


def test_amplitudes():
    assert apdf(range(1, 22)).zones == ("above lower limit", "above lower limit", "ok")
    found = apdf([1, 1, 2, 2, 3, 4, 5, 6, 8, 10, 12, 15])
    assert [found.p10, found.p50, found.p90] == near([1.1, 4.5, 11.8]) and found.zones == ("ok", "ok", "ok")
    with pytest.raises(TooFew):
        apdf([1, 2, 3])


def test_holds():
    assert [rohmert_endurance_min(0.3), rohmert_endurance_min(0.5)] == near([2.53704, 1.1])
    assert [rohmert_rest_pct(0.4, 0.5), rohmert_rest_pct(0.2, 2)] == near([182.58, 77.2896])
    assert [joint_endurance_s("shoulder", 0.2), joint_endurance_s("hand", 0.5)] == near([282.575, 102.412])
    assert hold_endurance_s("shoulder", 0.2).seconds == near(274.295)
    assert hold_endurance_s("hand", 0.1).seconds == near(1384.59)
    assert (hold_endurance_s("shoulder", 0.05).seconds, hold_endurance_s("shoulder", 0.05).sustain_limit) == (
        None,
        near(0.084507),
    )
    for wrong in (lambda: rohmert_endurance_min(0.1), lambda: joint_endurance_s("elbow", 0.05)):
        with pytest.raises(OutOfRange):
            wrong()
    with pytest.raises(Inconsistent):
        rohmert_rest_pct(0.5, 2)


@pytest.mark.parametrize(
    ("joint", "pattern", "total", "r", "failed", "mf", "held"),
    [
        ("shoulder", [(0.05, 420)], 420, None, None, 0.274185, 420),
        ("shoulder", [(0.05, 9), (0, 1)], 420, None, None, 0.163688, 378),
        ("shoulder", [(0.05, 9), (0, 1)], 420, 1, None, 0.246559, 378),
        ("hand", [(0.3, 20), (0, 10)], 3600, None, None, 0.260375, 2400),
        ("shoulder", [(0.5, 30), (0, 5)], 300, None, 78.2387, 0.5, 68.2387),
    ],
)
def test_patterns_of_holding(joint, pattern, total, r, failed, mf, held):
    found = fatigue_pattern(joint, pattern, total, r)
    assert found.failed_at_s == (None if failed is None else near(failed))
    assert (found.MF, found.held_s) == (near(mf), near(held))
    assert found.capacity_pct == pytest.approx(100 * (1 - found.MF))


@given(st.sampled_from(sorted(joints())), st.floats(0.02, 0.6), st.floats(1, 60), st.floats(1, 60))
def test_letting_go_never_tires_sooner(joint, load, hold, rest):
    without = fatigue_pattern(joint, [(load, hold)], 600)
    rested = fatigue_pattern(joint, [(load, hold), (0, rest)], 600)
    assert (rested.failed_at_s or 1e9) >= (without.failed_at_s or 1e9)
    assert rested.failed_at_s is not None or rested.MF <= without.MF + 1e-12


def test_tendon():
    assert [tendon_cycles(20), tendon_cycles(50)] == near([301134, 2856.49])
    assert [wear_ratio(20, 10), wear_ratio(24, 15, 2000, 6000)] == near([4.72399, 1.34821])
    assert [miner_sum([(20, 3000), (10, 9000)]), miner_sum([(30, 1000)])] == near([0.016289, 0.0156873])
    with pytest.raises(OutOfRange):
        tendon_cycles(120)
