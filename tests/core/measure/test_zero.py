"""The zero of a force trace: a press that never lets go is told as one, and what cannot be told is not."""

import numpy as np
import pytest

from chirotend.core.errors import Degenerate, OutOfRange, TooFew
from chirotend.core.measure.stretch import Stretch
from chirotend.core.measure.traces import envelope, hums, is_envelope, rests
from chirotend.core.measure.zero import is_clipped, is_upside_down, played, tare, zero_line

RATE = 100.0
RNG = np.random.default_rng(28)


def held(newtons: float, seconds: float, offset: float = 0.0) -> np.ndarray:
    """Three seconds of hands off, then a press held without a let-go, with the pad's noise."""
    force = np.concatenate([np.zeros(int(4 * RATE)), np.full(int(seconds * RATE), newtons)])
    return offset + force + RNG.normal(0, 0.02, len(force))


@pytest.mark.parametrize("offset", [0.0, 3.7, -2.0])
def test_a_press_held_for_five_minutes_has_no_let_go(offset):
    """Truth: ten newtons for 300 s."""
    force = held(10.0, 300.0, offset)
    zero = tare(force, RATE, 0.5)
    assert zero == pytest.approx(offset, abs=0.01)
    strength = envelope(force, RATE, "force", zero)[int(4.5 * RATE) :]
    assert strength.mean() == pytest.approx(10, rel=0.01)
    assert rests(100 * strength / 10, RATE, 2.0).longest_without_s == pytest.approx(299.5, abs=0.1)


def test_a_tare_is_refused_where_hands_were_on_or_nothing_is_there():
    force = held(10.0, 20.0)
    with pytest.raises(Degenerate, match="hands were not off"):
        tare(force, RATE, 2.5)
    with pytest.raises(OutOfRange):
        tare(force, RATE, 22.0)
    with pytest.raises(OutOfRange):
        tare(force, RATE, -1.0)
    gone = force.copy()
    gone[:250] = np.nan
    with pytest.raises(TooFew, match="missing"):
        tare(gone, RATE, 0.0)


def test_a_zero_that_drifts_is_followed_straight():
    line = zero_line([(1.0, 0.0), (11.0, 2.0)], 1300, RATE)
    assert line[[0, 100, 600, 1100, 1299]] == pytest.approx([0, 0, 1, 2, 2])
    assert zero_line([(5.0, 4.0)], 10, RATE).tolist() == [4.0] * 10


def test_a_pad_that_is_upside_down_or_at_its_end_is_told():
    force = held(10.0, 30.0)
    assert is_upside_down(-force) and not is_upside_down(force)
    assert not is_clipped(force, RATE) and is_clipped(np.minimum(force, 9.99), RATE)
    assert not is_clipped(np.full(500, 3.0), RATE), "what never moves has met no end"


def muscle(seconds: float = 20.0, rate: float = 1000.0) -> np.ndarray:
    t = np.arange(int(seconds * rate)) / rate
    return RNG.normal(size=len(t)) * np.where(t % 2 < 1, 1.0, 0.05)


def test_hum_is_found_and_taken_out_and_a_muscle_without_it_is_left_alone():
    """Truth: a muscle that rests half of the time; hum of its own size hides the rest."""
    plain, t = muscle(), np.arange(20_000) / 1000
    assert hums(plain, 1000.0) == ()
    for mains in (50.0, 60.0):
        hummed = plain + 1.5 * np.sin(2 * np.pi * mains * t)
        assert hums(hummed, 1000.0) == (mains,)
        quiet = (t % 2 > 1.3) & (t % 2 < 1.7) & (t > 1) & (t < 19)
        rest = envelope(hummed, 1000.0, "emg")[quiet].mean()
        assert rest < 2 * envelope(plain, 1000.0, "emg")[quiet].mean()


def test_an_envelope_is_not_rectified_again_and_a_raw_trace_above_zero_is_no_envelope():
    raw = muscle()
    smooth = envelope(raw, 1000.0, "emg")
    assert is_envelope(smooth, 1000.0) and not is_envelope(raw, 1000.0) and not is_envelope(raw + 512, 1000.0)
    again = envelope(smooth, 1000.0, "emg")
    assert again[500:-500] == pytest.approx(smooth[500:-500], abs=0.15)


def test_the_hands_off_before_and_after_are_no_let_go_of_the_playing():
    """Truth: off for 4 s, on for 20, off for 5; a let-go in the middle is one, even where she said so."""
    gaps = (Stretch(0.0, 4.0), Stretch(10.0, 14.0), Stretch(24.0, 29.0))
    assert played(gaps, (0.5, 25.0), 29.0) == (4.0, 24.0)
    assert played(gaps, (10.5,), 29.0) == (0.0, 29.0)
    assert played(gaps, (), 29.0) == (0.0, 29.0)
