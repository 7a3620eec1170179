"""A listener at a search for the least pressure: hears the note speak with a chance that grows with the press."""

import math
from collections.abc import Callable
from statistics import NormalDist

import numpy as np

from chirotend.core.measure.least_pressure import Answer, search


def _logistic(level: float, threshold: float, slope: float) -> float:
    return 1 / (1 + math.exp(-(level - threshold) / slope))


def _normal(level: float, threshold: float, slope: float) -> float:
    return NormalDist(threshold, 1.7 * slope).cdf(level)


def _weibull(level: float, threshold: float, slope: float) -> float:
    """As steep as the others where half of the notes speak."""
    return 1 - math.exp(-math.log(2) * (level / threshold) ** max(0.3, threshold / (2 * math.log(2) * slope)))


#: how the chance that a note speaks grows with the press: the shapes of psychometric functions
SHAPES = {"logistic": _logistic, "normal": _normal, "Weibull": _weibull}


def hears(
    threshold: float, slope: float, seed: int, shape: str = "logistic", slips: float = 0.02
) -> Callable[[float], bool]:
    """Return an ear with its threshold and slope (% of her usual press), its shape and the share of its slips."""
    rng = np.random.default_rng(seed)

    def ear(level: float) -> bool:
        chance = slips / 2 + (1 - slips) * SHAPES[shape](level, threshold, slope)
        return bool(rng.random() < chance)

    return ear


def answers(threshold: float, slope: float, seed: int, shape: str = "logistic", slips: float = 0.02) -> list[Answer]:
    """Return all the answers of a search by such an ear."""
    ear, found = hears(threshold, slope, seed, shape, slips), list[Answer]()
    while (asked := search(found).asked) is not None:
        found.append(Answer(asked, ear(asked)))
    return found
