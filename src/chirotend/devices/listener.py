"""A listener at a search for the least pressure: hears the note speak with a chance that grows with the press."""

import math
from collections.abc import Callable

import numpy as np

from chirotend.core.measure.least_pressure import Answer, search


def hears(threshold: float, slope: float, seed: int) -> Callable[[float], bool]:
    """Return an ear with its threshold and slope (% of her usual press) that slips once in a hundred."""
    rng = np.random.default_rng(seed)

    def ear(level: float) -> bool:
        chance = 0.01 + 0.98 / (1 + math.exp(-(level - threshold) / slope))
        return bool(rng.random() < chance)

    return ear


def answers(threshold: float, slope: float, seed: int) -> list[Answer]:
    """Return all the answers of a search by such an ear."""
    ear, found = hears(threshold, slope, seed), list[Answer]()
    while (asked := search(found).asked) is not None:
        found.append(Answer(asked, ear(asked)))
    return found
