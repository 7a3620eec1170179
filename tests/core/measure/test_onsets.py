"""What is heard in synthesised sound: our own notes with known beginnings; scored by mir_eval in tests/external."""

import numpy as np
import pytest

from chirotend.core.errors import Degenerate, OutOfRange, TooFew
from chirotend.core.measure.cycle import cycle
from chirotend.core.measure.onsets import CLEAR_LEAST, OnsetFinder, clearness
from chirotend.devices.microphone import RATE_HZ, figure, in_a_room, played
from tests.core.measure.heard import heard, onsets_in
from tests.reference.onsets import onset_f


@pytest.mark.parametrize(
    ("kind", "least_f", "within_ms"),
    [("struck", 0.99, 3), ("plucked", 0.95, 4), ("blown", 0.95, 22), ("bowed", 0.93, 24)],
)
@pytest.mark.parametrize("beat", [0.12, 0.3])
def test_notes_are_found(kind, least_f, within_ms, beat):
    onsets = 0.4 + np.arange(60) * beat + np.random.default_rng(1).normal(size=60) * 0.008
    found = heard(played(kind, onsets))
    assert onset_f(onsets, found).f >= least_f
    near = np.array([min((e - o for e in found), key=abs) for o in onsets])
    assert np.median(np.abs(near)) * 1000 < within_ms
    # how late a swelling note is heard is nearly the same each time: what tells fingers apart is the spread
    assert np.std(near[np.abs(near) < 0.05]) * 1000 < 8


def test_soft_is_heard_as_loud_and_blocks_do_not_matter():
    onsets = 0.4 + np.arange(30) * 0.2
    sound = played("plucked", onsets, noise=0.0005)
    loud = heard(sound)
    assert heard(sound * np.float32(0.01)) == pytest.approx(loud, abs=1e-4)
    assert heard(sound, block_s=0.37) == pytest.approx(loud, abs=1e-9)


def test_steady_tone_and_noise_hold_no_notes():
    t = np.arange(4 * RATE_HZ) / RATE_HZ
    vibrato = 0.2 * np.sin(2 * np.pi * 196 * (t + 0.004 * np.sin(2 * np.pi * 5.5 * t) / 5.5))
    assert len(heard(vibrato.astype(np.float32))) <= 1  # its own beginning
    onsets = np.array([0.5, 0.8, 1.1, 6.0, 6.3])  # a long let-go between, with the hiss of the room in it
    found = heard(played("blown", onsets, noise=0.003))
    assert len([t for t in found if 1.6 < t < 5.9]) <= 1


def test_an_early_finger_is_heard():
    onsets = 0.5 + np.arange(120) * 0.2
    onsets[2::6] -= 0.026
    for kind in ("plucked", "blown"):
        found = cycle(heard(played(kind, onsets)), (1,) * 6)
        assert found.rounds == 20
        assert found.steps[2].middle_ms == pytest.approx(-26, abs=5)


@pytest.mark.parametrize(
    ("kind", "ring_s", "far", "clear"),
    [
        ("plucked", 0.3, 0.3, True),
        ("blown", 0.5, 0.5, True),
        ("bowed", 0.3, 0.3, True),
        ("blown", 2.5, 2.0, False),
        ("bowed", 1.5, 1.2, False),
        ("bowed", 3.0, 4.0, False),
    ],
)
def test_a_recording_tells_whether_its_notes_begin_clearly_enough_to_be_timed(kind, ring_s, far, clear):
    """Truth: even playing, ± 6 ms. Where it says clear, every finger is within 8 ms; where not, notes are lost."""
    truth = figure(14, 4, 0.22, {}, 0.006)
    found = onsets_in(in_a_room(played(kind, truth), ring_s, far))
    assert (clearness(found) >= CLEAR_LEAST) is clear
    times = [o.at_s for o in found]
    if clear:
        assert max(abs(step.middle_ms) for step in cycle(times, (1,) * 4).steps) < 8
    else:
        assert onset_f(truth, times, 0.03).f < 0.98


def test_what_cannot_be_heard():
    with pytest.raises(OutOfRange, match="rate_hz"):
        OnsetFinder(4000, 0.1)
    with pytest.raises(Degenerate):
        OnsetFinder(44_100, 0.0)
    assert OnsetFinder(44_100, 0.1).onsets() == ()
    with pytest.raises(TooFew):
        clearness(())
