"""Steady diaries for measuring false signs: nothing changes, only noise with many zeros and day-to-day likeness.

These mechanics (a thresholded first-order autoregression) differ on purpose from those of `player.py`, which the
rules were tuned on.
"""

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtri

from chirotend.core.errors import check_range

STEP_SD = 1.0  # latent SD for one step of intensity above the first: report noise of SD 0.7-1.2 (assumed)


def steady_levels(
    days: int, zeros: float, r: float, rng: np.random.Generator, shift_from: int | None = None, shift_sd: float = 0.0
) -> NDArray[np.int64]:
    """Return `days` daily intensities 0-10 of one place: a share `zeros` of them 0, likeness `r` from day to day.

    Parameters
    ----------
    zeros : float
        Share of days without any symptom, 0 to below 1; 0 gives a diary around 3 of 10.
    r : float
        Correlation of a day's latent level with the day before, 0 to below 1.
    shift_from, shift_sd
        From this day on the latent level is higher by so many SD (None = steady to the end).
    """
    check_range("zeros", zeros, 0, 0.999)
    check_range("r", r, 0, 0.999)
    level = rng.normal()
    latent = np.empty(days)
    for i in range(days):
        latent[i] = level
        level = r * level + (1 - r * r) ** 0.5 * rng.normal()
    if shift_from is not None:
        latent[shift_from:] += shift_sd
    above = (latent - ndtri(zeros)) / STEP_SD if zeros > 0 else 3 + latent / STEP_SD
    return np.clip(np.ceil(above), 0, 10).astype(np.int64)
