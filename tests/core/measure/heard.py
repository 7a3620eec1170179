"""What the onset finder hears in sound that is fed to it block by block."""

import numpy as np

from chirotend.core.measure.onsets import OnsetFinder
from chirotend.devices.microphone import RATE_HZ


def heard(sound, block_s=3.0):
    """Return the onsets (s) found in `sound`."""
    return [o.at_s for o in onsets_in(sound, block_s)]


def onsets_in(sound, block_s=3.0):
    """Return the onsets found in `sound`, with how clearly each stands out."""
    size = RATE_HZ // 100
    rms = np.sqrt(np.mean(sound[: len(sound) // size * size].reshape(-1, size) ** 2, axis=1))
    finder = OnsetFinder(RATE_HZ, float(np.percentile(rms, 95)))
    step = int(block_s * RATE_HZ)
    for start in range(0, len(sound), step):
        finder.feed(sound[start : start + step])
    return finder.onsets()
