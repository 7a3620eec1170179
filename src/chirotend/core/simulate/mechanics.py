"""What load does to a place: three mechanics behind one face.

Each is a believable caricature, and they differ on purpose: what is tuned on one is proved on the others. `dose` is a
day's load at a place relative to her usual playing day (1 = usual, 0 = not played); `weakness` is 0 for a place that
is as it was and 1 for one that could not be played on. What comes out is the excess over her usual, 0-10. A healthy
place stands in balance: its excess does not drift. Directions are known, values assumed (common practice, no source).
"""

from collections.abc import Callable
from typing import Protocol

import numpy as np

from chirotend.core.judge.signs.chain import Floats

EXCESS_MAX = 10.0
Shape = tuple[int, int]


class Mechanics(Protocol):
    """The places (players, places) of a cohort under one mechanics."""

    def step(self, dose: Floats, weakness: Floats, rng: np.random.Generator) -> Floats:
        """Live one day; returns the excess (players, places) of its evening."""
        ...


class Irritation:
    """Load above what a place can carry irritates it; irritation fades by half in eight days. What it can carry
    follows what it has carried in the last month."""

    HALF_DAYS, CAPACITY_DAYS, HEADROOM, PER_DOSE, SPARED = 8.0, 30.0, 2.7, 1.6, 0.8

    def __init__(self, shape: Shape) -> None:
        self.irritated = np.zeros(shape)
        self.carried = np.full(shape, 0.75)

    def step(self, dose: Floats, weakness: Floats, rng: np.random.Generator) -> Floats:
        self.carried += (dose - self.carried) / self.CAPACITY_DAYS
        carries = self.HEADROOM * self.carried * (1 - self.SPARED * weakness)
        self.irritated *= 0.5 ** (1 / self.HALF_DAYS)
        self.irritated += self.PER_DOSE * np.maximum(0.0, dose - carries)
        return np.minimum(self.irritated, EXCESS_MAX)


class Repair:
    """Each day does damage, more than in proportion to its dose, and each night repairs a part of it; what is left
    above a threshold is felt. A weak place repairs less."""

    POWER, REPAIRS, LESS, FELT_FROM, PER_DAMAGE = 1.5, 0.42, 0.82, 2.6, 0.9

    def __init__(self, shape: Shape) -> None:
        self.damage = np.full(shape, 1.2)

    def step(self, dose: Floats, weakness: Floats, rng: np.random.Generator) -> Floats:
        self.damage *= 1 - self.REPAIRS * (1 - self.LESS * weakness)
        self.damage += dose**self.POWER
        return np.clip(self.PER_DAMAGE * (self.damage - self.FELT_FROM), 0.0, EXCESS_MAX)


class Threshold:
    """A level that wanders and returns, hardly moved by load; what passes a threshold is felt. A weak place starts
    higher."""

    LIKENESS, PER_DOSE, FELT_FROM, RISES = 0.75, 0.3, 1.0, 7.0

    def __init__(self, shape: Shape) -> None:
        self.level = np.zeros(shape)

    def step(self, dose: Floats, weakness: Floats, rng: np.random.Generator) -> Floats:
        wandered = rng.normal(size=self.level.shape) * 0.5 * (1 - self.LIKENESS**2) ** 0.5
        self.level = self.LIKENESS * self.level + wandered
        felt = self.level + self.PER_DOSE * (dose - 0.75) + self.RISES * weakness - self.FELT_FROM
        return np.clip(felt, 0.0, EXCESS_MAX)


MECHANICS: dict[str, Callable[[Shape], Mechanics]] = {
    "irritation": Irritation,
    "repair": Repair,
    "threshold": Threshold,
}
