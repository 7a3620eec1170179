"""What is measured on her against references outside the project; each names its own."""

from pathlib import Path

import mir_eval
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from music21 import corpus
from pyemgpipeline.processors import BandpassFilter, DCOffsetRemover, FullWaveRectifier, LinearEnvelope
from scipy import signal

from chirotend.core.fit.sticks import N_PER_LBF
from chirotend.core.load.industrial.amplitude import apdf
from chirotend.core.measure.traces import bursts, envelope, share_of_maximum
from chirotend.devices.microphone import played
from tests.core.measure.heard import heard
from tests.reference.onsets import onset_f

RECORDING = Path(__file__).parent.parent / "data" / "muscle_recording.txt"
RATE = 1000.0


@pytest.fixture(scope="module")
def muscle():
    return np.loadtxt(RECORDING)


def test_a_muscle_envelope_agrees_with_pyemgpipeline(muscle):
    """pyemgpipeline 1.0.0 (offset, 10-450 Hz, rectify, 6 Hz) on a real recording, away from its ends."""
    theirs = np.asarray(muscle, dtype=float)
    for step in (DCOffsetRemover(), BandpassFilter(RATE), FullWaveRectifier(), LinearEnvelope(RATE)):
        theirs = step.apply(theirs)
    ours = envelope(muscle, RATE, "emg")
    inside = slice(1000, -1000)
    assert ours[inside] == pytest.approx(np.maximum(0, theirs)[inside], abs=0.002 * theirs.max())
    spread = apdf(share_of_maximum(ours[inside], float(theirs[inside].max())))
    expected = np.percentile(100 * np.maximum(0, theirs[inside]) / theirs[inside].max(), (10, 50, 90))
    assert (spread.p10, spread.p50, spread.p90) == pytest.approx(tuple(expected), abs=0.2)


def test_bursts_of_the_recording_agree_with_a_hilbert_envelope(muscle):
    """scipy.signal.hilbert, another way to an envelope: the same stretches are loud."""
    loud = np.abs(signal.hilbert(signal.detrend(muscle)))
    smooth = np.convolve(loud, np.ones(200) / 200, "same")
    found = bursts(envelope(muscle, RATE, "emg"), RATE)
    assert any(b.start_s < 15.7 and b.end_s > 16.7 for b in found)  # the loudest second and a half, by eye
    on = np.zeros(len(muscle), bool)
    for each in found:
        on[int(each.start_s * RATE) : int(each.end_s * RATE)] = True
    assert smooth[on].mean() > 4 * smooth[~on].mean()


@given(st.lists(st.floats(0, 30), min_size=1, max_size=60), st.lists(st.floats(0, 30), min_size=1, max_size=60))
def test_onsets_are_scored_as_mir_eval_does(ref, est):
    """mir_eval 0.8.2 `onset.f_measure`, whose matching is the largest one possible."""
    ours = onset_f(ref, est)
    f, precision, recall = mir_eval.onset.f_measure(np.sort(ref), np.sort(est), window=0.05)
    assert (ours.f, ours.precision, ours.recall) == pytest.approx((f, precision, recall), abs=1e-9)


#: open scores inside the installed music21 10.5.1: the soprano of chorales, and folk tunes
SCORES = ("bach/bwv66.6", "bach/bwv115.6", "bach/bwv26.6", "bach/bwv294", "bach/bwv33.6")


@pytest.mark.parametrize(("kind", "least"), [("struck", 0.99), ("plucked", 0.95), ("blown", 0.9), ("bowed", 0.9)])
def test_notes_of_open_scores_are_heard(kind, least):
    """music21's corpus rendered to sound with our own notes, scored by mir_eval (± 50 ms).

    Blown and bowed notes swell: they are heard late by some 20 ms, which costs nothing here.
    """
    scores = []
    for name in SCORES:
        notes = corpus.parse(name).parts[0].flatten().notes
        onsets = 0.4 + np.unique([float(n.offset) for n in notes]) * 0.45
        scores.append(mir_eval.onset.f_measure(onsets, np.array(heard(played(kind, onsets))), window=0.05)[0])
    assert np.mean(scores) >= least, scores


def test_a_pound_of_force():
    """NIST SP 811 (2008), table B.8: 1 lbf = 4.448 222 N; the definition gives the digits after it. From memory."""
    assert N_PER_LBF == 0.45359237 * 9.80665
