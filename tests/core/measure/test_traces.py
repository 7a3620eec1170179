"""Traces and strokes: filters against scipy's own design, shares and rests by hand, strokes of a known force."""

import numpy as np
import pytest
from scipy import signal

from chirotend.core.errors import Degenerate, NotANumber, OutOfRange, TooFew
from chirotend.core.load.industrial.amplitude import apdf
from chirotend.core.measure.strokes import at_equal_loudness, stroke_set, strokes
from chirotend.core.measure.traces import (
    band_pass,
    bursts,
    envelope,
    filled,
    low_pass,
    rests,
    share_of_maximum,
    stretches,
)
from chirotend.devices.muscle import struck

RATE = 1000.0
RNG = np.random.default_rng(4)


def test_filters_are_scipys():
    """Source: scipy.signal, designed as transfer functions and run by lfilter forwards and back."""
    x = RNG.normal(size=4000)
    b, a = signal.butter(2, 6, fs=RATE)
    pad = {"padtype": "odd", "padlen": 9}
    assert low_pass(x, RATE, 6)[200:-200] == pytest.approx(signal.filtfilt(b, a, x, **pad)[200:-200], abs=1e-6)
    tone = np.sin(2 * np.pi * 100 * np.arange(4000) / RATE)
    assert np.abs(band_pass(tone, RATE, 10, 450)[500:-500] - tone[500:-500]).max() < 0.01
    assert np.abs(band_pass(tone + 5, RATE, 10, 450)[500:-500].mean()) < 0.01
    assert low_pass(x, 12.0, 6) is x
    with pytest.raises(Degenerate, match="rate_hz"):
        band_pass(x, 20, 10, 450)
    with pytest.raises(TooFew):
        low_pass(x[:10], RATE, 6)


def test_an_envelope_follows_its_bursts():
    """A tone of amplitude 1 has the mean size 2/π; a hand-made gap stays a gap."""
    t = np.arange(8000) / RATE
    on = (t % 2) < 1
    muscle = np.where(on, np.sin(2 * np.pi * 120 * t), 0.0)
    muscle[6500:6520] = np.nan
    found = envelope(muscle, RATE, "emg")
    assert found[300:700].mean() == pytest.approx(2 / np.pi, rel=0.03)
    assert np.isnan(found[6500:6520]).all() and not np.isnan(found[:6500]).any()
    spans = bursts(found, RATE)
    assert len(spans) == 4 and bursts(found + 5, RATE) == spans  # what never lets go entirely has bursts too
    assert spans[1].start_s == pytest.approx(2, abs=0.1) and spans[1].seconds == pytest.approx(1, abs=0.15)
    share = share_of_maximum(found, 2 / np.pi)
    assert share[300:700].mean() == pytest.approx(100, abs=3)
    with pytest.raises(TooFew, match="missing"):
        filled(np.full(100, np.nan))
    with pytest.raises(Degenerate):
        bursts(np.ones(1000), RATE)
    with pytest.raises(Degenerate, match="maximum"):
        share_of_maximum(found, 0.1, 0.2)


def test_force_is_told_from_its_rest():
    force = np.concatenate([np.full(2000, 3.0), np.full(2000, 8.0)])
    found = envelope(force, RATE, "force", 3.0)
    assert found[:1500].mean() == pytest.approx(0, abs=0.05) and found[2500:].mean() == pytest.approx(5, abs=0.05)
    assert envelope(force, RATE, "force")[:1500].mean() == pytest.approx(3, abs=0.05)


def test_rests_by_hand():
    """10 s: 4 s of work, 1 s of rest, 3 s of work, 0.1 s too short to be one, 1.9 s of work."""
    pct = np.concatenate([np.full(4000, 12.0), np.zeros(1000), np.full(3000, 8.0), np.zeros(100), np.full(1900, 5.0)])
    found = rests(pct, RATE)
    assert len(found.gaps) == 1 and found.a_minute == pytest.approx(6)
    assert found.share_pct == pytest.approx(10) and found.longest_without_s == pytest.approx(5)
    with pytest.raises(TooFew):
        rests(pct[:500], RATE)
    assert [s.seconds for s in stretches(np.array([0, 1, 1, 0, 1], bool), 1.0, 2)] == [2]


def test_an_hour_of_amplitudes_is_the_same_as_a_list():
    long = RNG.exponential(5, 200_000)
    assert apdf(long) == apdf([float(v) for v in long])
    with pytest.raises(OutOfRange):
        apdf(np.array([1.0] * 20 + [-1.0]))
    with pytest.raises(NotANumber):
        apdf(np.array([1.0] * 20 + [np.nan]))


def test_strokes_of_a_known_force():
    peaks = [20, 35, 30, 8, 40]
    found = strokes(struck(peaks), 2000)
    assert [s.peak_N for s in found] == pytest.approx(peaks, rel=0.02)
    assert [s.at_s for s in found] == pytest.approx([0.502 + 0.25 * n for n in range(5)], abs=0.001)
    assert found[0].width_ms == pytest.approx(4 * 2 / 3, rel=0.15)  # half-sine: 2/3 of it lies above half
    total = stroke_set([s.peak_N for s in found])
    assert (
        total.count == 5
        and total.dose_N == pytest.approx(133, rel=0.02)
        and total.middle_N == pytest.approx(30, rel=0.02)
    )
    with pytest.raises(TooFew, match="3 are needed"):
        strokes(struck([20, 30]), 2000)


def test_the_stick_that_spares_the_hand_at_equal_loudness():
    """Two sticks: force = a · 10^(0.03 · dB), the second needs 20 % less; it was only played louder."""
    loud = RNG.uniform(-20, -10, 30)
    first = [(10 * 10 ** (0.03 * d), d) for d in loud]
    second = [(8 * 10 ** (0.03 * d), d) for d in loud + 8]
    found = at_equal_loudness({"heavy": first, "light": second})
    assert found["light"] / found["heavy"] == pytest.approx(0.8, rel=1e-6)
    with pytest.raises(TooFew):
        at_equal_loudness({"heavy": first})
    with pytest.raises(TooFew):
        at_equal_loudness({"heavy": first, "light": second[:2]})


@pytest.mark.parametrize("rate", [500.0, 2000.0])
@pytest.mark.parametrize("a_second", [0.2, 2.0, 16.0])
@pytest.mark.parametrize("noise", [0.0, 0.5])
def test_strokes_are_counted_from_one_in_five_seconds_to_sixteen_a_second(rate, a_second, noise):
    """Truth: strokes of 14 to 28 N in contact for 10 ms, on a hand that rests at 1 N."""
    rng = np.random.default_rng(16)
    count = max(4, round(20 * a_second))
    size, force = round(0.01 * rate), np.full(round((count / a_second + 1) * rate), 1.0)
    peaks = rng.uniform(14, 28, count)
    for n, peak in enumerate(peaks):
        at = round((0.3 + n / a_second) * rate)
        force[at : at + size] += peak * np.sin(np.pi * (np.arange(size) + 0.5) / size)
    found = strokes(force + rng.normal(0, noise, len(force)), rate)
    assert len(found) == count
    assert np.median([s.peak_N for s in found]) == pytest.approx(np.median(peaks), rel=0.05)
