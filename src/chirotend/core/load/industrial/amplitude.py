"""How a muscle's load is spread over a recording (industrial; needs surface EMG as % of the strongest contraction)."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from chirotend.core.errors import TooFew, check_range

#: should not / must not exceed, % of the strongest contraction
LIMITS = ((2.0, 5.0), (10.0, 14.0), (50.0, 70.0))
SHARES = (10.0, 50.0, 90.0)
LEAST_SAMPLES = 10


@dataclass(frozen=True)
class Amplitudes:
    """The static, median and peak load (10th, 50th, 90th percentile, %MVC) and where each lies against its limits."""

    p10: float
    p50: float
    p90: float

    @property
    def zones(self) -> tuple[str, str, str]:
        return _zone(self.p10, 0), _zone(self.p50, 1), _zone(self.p90, 2)


def apdf(pct_mvc: Sequence[float] | np.ndarray) -> Amplitudes:
    """Return the amplitude distribution of samples at equal steps (%MVC, 0 and more; at least 10, better 600).

    Linear between order statistics (numpy's default). Jonsson 1978, EEG Clin Neurophysiol Suppl 34:417-428; 1982, J Hum
    Ergol 11:73-88, from memory. Never shown without EMG: an effort she rates is not %MVC.
    """
    samples = _checked(pct_mvc)
    if len(samples) < LEAST_SAMPLES:
        raise TooFew("pct_mvc", f"{len(samples)} samples, {LEAST_SAMPLES} are needed")
    return Amplitudes(*(float(v) for v in np.percentile(samples, SHARES)))


def _checked(pct_mvc: Sequence[float] | np.ndarray) -> np.ndarray:
    """An hour at 1 kHz is checked at once; the first value that cannot be is refused by itself."""
    samples = np.asarray(pct_mvc if isinstance(pct_mvc, np.ndarray) else [check_range("pct_mvc", v) for v in pct_mvc])
    wrong = np.flatnonzero(~(samples >= 0) | ~np.isfinite(samples))
    if len(wrong):
        check_range("pct_mvc", float(samples[wrong[0]]), low=0, unit="%MVC")
    return samples


def _zone(value: float, which: int) -> str:
    should, must = LIMITS[which]
    return "above upper limit" if value > must else "above lower limit" if value > should else "ok"
