"""Check values: methods.md 14. Finger by finger: figures built with a known early finger (our own construction)."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.errors import Degenerate, Inconsistent, OutOfRange, TooFew
from chirotend.core.measure.loudness import as_db, played
from chirotend.core.measure.timing import cycle, ioi_evenness
from tests.reference.levels import rms_dbfs, weighting_db
from tests.reference.onsets import onset_f


def near(value):
    return pytest.approx(value, rel=1e-5)


def test_evenness():
    even = ioi_evenness([0, 0.1, 0.3, 0.4, 0.6])
    assert (even.mean_ms, even.cv, even.npvi) == (near(150), near(0.3849002), near(66.66667))
    even = ioi_evenness([0, 0.25, 0.51, 0.75, 1.02])
    assert (even.mean_ms, even.cv, even.npvi) == (near(255), near(0.0506272), near(7.89542))
    with pytest.raises(Inconsistent, match="onsets_s"):
        ioi_evenness([0, 0.2, 0.2])
    with pytest.raises(TooFew):
        ioi_evenness([0, 1])


def test_onset_f():
    found = onset_f([0, 0.5, 1, 1.5], [0.02, 0.56, 1.04, 1.5, 2])
    assert (found.hits, found.precision, found.recall, found.f) == (3, 0.6, 0.75, near(0.6666667))
    assert onset_f([1], [1.2]).f == 0
    with pytest.raises(TooFew, match="est_s"):
        onset_f([1], [])


def test_levels():
    assert rms_dbfs([0.5, -0.5, 0.5, -0.5]) == near(-6.0206)
    assert rms_dbfs([0.1, 0.2, -0.1, 0]) == near(-18.2391)
    assert rms_dbfs(np.sin(np.arange(48000) * 2 * np.pi / 48)) == pytest.approx(-3.0103, abs=1e-3)
    with pytest.raises(Degenerate):
        rms_dbfs([0, 0])
    assert weighting_db("A", 100) == near(-19.1451)
    assert weighting_db("A", 4000) == near(0.963456)
    assert weighting_db("C", 50) == near(-1.30006)
    with pytest.raises(OutOfRange):
        weighting_db("A", 5)


def test_what_is_played():
    """By hand: 2 s of playing, 0.3 s that is no let-go, 1 s of playing, 1 s of rest, 1 s of playing."""
    rms = np.concatenate([np.full(200, 0.1), np.zeros(30), np.full(100, 0.05), np.zeros(100), np.full(100, 0.1)])
    found = played(rms)
    assert [(s.start_s, s.end_s) for s in found.stretches] == [(0, near(3.3)), (near(4.3), near(5.3))]
    assert found.share_pct == near(100 * 4.3 / 5.3)
    assert found.longest.seconds == near(3.3)
    assert as_db(np.array([0.1]))[0] == near(-20)
    with pytest.raises(Degenerate):
        played(np.full(100, 1e-7))
    with pytest.raises(TooFew):
        played(np.zeros(0))


def figure(rounds, lengths, unit, early=None, noise=0.0, drift=0.0, rng=None):
    """Return the onsets of a figure: `early` = step → seconds it comes too soon; `drift` = share faster a minute."""
    rng = rng or np.random.default_rng(5)
    times, at = [], 0.5
    for n in range(rounds * len(lengths)):
        step = n % len(lengths)
        times.append(at - (early or {}).get(step, 0.0) + noise * rng.normal())
        at += lengths[step] * unit / (1 + drift * at / 60)
    return times


@pytest.mark.parametrize("lengths", [(1,) * 6, (3, 1), (2, 1, 1)])
def test_an_early_finger_is_found(lengths):
    found = cycle(figure(41, lengths, 0.192, {1: 0.026}), lengths)
    assert found.rounds == 41 and found.missed == 0 and found.extra == 0
    assert found.beat_ms == near(192)
    off = [s.middle_ms for s in found.steps]
    others = [o for k, o in enumerate(off) if k != 1]
    assert off[1] - np.median(others) == pytest.approx(-26, abs=0.2)
    assert max(others) - min(others) < 0.2


def test_a_missed_note_and_one_too_many_move_no_other():
    times = figure(20, (1,) * 6, 0.2, {2: 0.03})
    broken = sorted([*times[:25], *times[26:70], times[70] + 0.05, *times[70:]])
    found = cycle(broken, (1,) * 6)
    assert (found.missed, found.extra, found.rounds) == (1, 1, 20)
    assert found.steps[2].middle_ms == pytest.approx(-30, abs=1)
    assert found.steps[2].same_way == found.steps[2].rounds == 20


def test_a_change_of_tempo_is_no_ones_fault():
    found = cycle(figure(60, (1,) * 4, 0.15, drift=0.2), (1,) * 4)
    assert max(abs(s.middle_ms) for s in found.steps) < 1
    assert found.drift_pct_min == pytest.approx(18, abs=4)
    assert cycle(figure(60, (1,) * 4, 0.15), (1,) * 4).drift_pct_min == pytest.approx(0, abs=1e-6)


@given(st.integers(2, 8), st.integers(3, 20), st.floats(0.08, 0.6), st.floats(-0.2, 0.2), st.data())
def test_any_finger_early_or_late(size, rounds, unit, share, data):
    step = data.draw(st.integers(0, size - 1))
    found = cycle(figure(rounds, (1,) * size, unit, {step: share * unit}), (1,) * size)
    off = np.array([s.middle_ms for s in found.steps])
    assert found.missed == 0 and found.extra == 0
    rest = np.median(np.delete(off, step))
    assert off[step] - rest == pytest.approx(-1000 * share * unit, abs=1000 * unit * 0.02 + 0.5)


def test_loud_fingers_and_what_is_refused():
    times = figure(5, (1, 1, 1), 0.3)
    found = cycle(times, (1, 1, 1), [-20, -18, -20] * 5)
    assert [s.level_db for s in found.steps] == [0, 2, 0]
    with pytest.raises(TooFew, match="two rounds"):
        cycle(times[:5], (1, 1, 1))
    with pytest.raises(Inconsistent):
        cycle([0, 1, 1, 2, 3, 4], (1, 1))
    with pytest.raises(TooFew, match="lengths"):
        cycle(times, (1,))
