"""Check values: methods.md 14."""

import numpy as np
import pytest

from chirotend.core.errors import Degenerate, Inconsistent, OutOfRange, TooFew
from chirotend.core.measure.loudness import as_db, played
from chirotend.core.measure.timing import ioi_evenness
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
