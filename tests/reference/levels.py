"""Levels of sound and the A and C curves: to hold `core.measure.loudness` against."""

import math
from collections.abc import Sequence

import numpy as np

from chirotend.core.errors import Degenerate, TooFew, check_range, check_word

CURVES = ("A", "C")


def rms_dbfs(samples: Sequence[float] | np.ndarray) -> float:
    """Return the level of `samples`, dB of full scale. `Degenerate` for silence, `TooFew` for nothing."""
    found = np.asarray(samples, dtype=float)
    if not found.size:
        raise TooFew("samples", "no samples")
    rms = math.sqrt(float(np.mean(found**2)))
    if rms == 0:
        raise Degenerate("samples", "silence has no level")
    return 20 * math.log10(rms)


def weighting_db(curve: str, f_hz: float) -> float:
    """Return what the A or C curve does to a tone of `f_hz` (10-20,000 Hz), dB against 1 kHz. IEC 61672-1, from memory.

    It cures no uncalibrated microphone.
    """
    check_word("curve", curve, CURVES)
    f = check_range("f_hz", f_hz, 10, 20_000, "Hz")
    return 20 * math.log10(_weight(curve, f) / _weight(curve, 1000.0))


def _weight(curve: str, f: float) -> float:
    c = 12194**2 * f**2 / ((f**2 + 20.6**2) * (f**2 + 12194**2))
    return c if curve == "C" else c * f**2 / math.sqrt((f**2 + 107.7**2) * (f**2 + 737.9**2))
