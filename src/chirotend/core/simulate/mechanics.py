"""What load does to a place: four mechanics behind one face.

Each is a believable caricature, and they differ on purpose: what is tuned on one is proved on the others; no number of
the judgement was ever chosen by looking at `Queue`. `dose` is a
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

    def step(self, dose: Floats, weakness: Floats, rng: np.random.Generator | None) -> Floats:
        """Live one day; returns the excess (players, places) of its evening. Without `rng` chance is at its mean."""
        ...


class Irritation:
    """Load above what a place can carry irritates it; irritation fades by half in eight days. What it can carry
    follows what it has carried in the last month."""

    HALF_DAYS, CAPACITY_DAYS, HEADROOM, PER_DOSE, SPARED = 8.0, 30.0, 2.7, 1.6, 0.8

    def __init__(self, shape: Shape) -> None:
        self.irritated = np.zeros(shape)
        self.carried = np.full(shape, 0.75)

    def step(self, dose: Floats, weakness: Floats, rng: np.random.Generator | None) -> Floats:
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

    def step(self, dose: Floats, weakness: Floats, rng: np.random.Generator | None) -> Floats:
        self.damage *= 1 - self.REPAIRS * (1 - self.LESS * weakness)
        self.damage += dose**self.POWER
        return np.clip(self.PER_DAMAGE * (self.damage - self.FELT_FROM), 0.0, EXCESS_MAX)


class Threshold:
    """A level that wanders and returns, hardly moved by load; what passes a threshold is felt. A weak place starts
    higher."""

    LIKENESS, PER_DOSE, FELT_FROM, RISES = 0.75, 0.3, 1.0, 7.0

    def __init__(self, shape: Shape) -> None:
        self.level = np.zeros(shape)

    def step(self, dose: Floats, weakness: Floats, rng: np.random.Generator | None) -> Floats:
        drawn = 0.0 if rng is None else rng.normal(size=self.level.shape)
        self.level = self.LIKENESS * self.level + drawn * 0.5 * (1 - self.LIKENESS**2) ** 0.5
        felt = self.level + self.PER_DOSE * (dose - 0.75) + self.RISES * weakness - self.FELT_FROM
        return np.clip(felt, 0.0, EXCESS_MAX)


class Queue:
    """A day's load tears a number of fibres, more than in proportion to its dose; a crew that can mend so many a day
    works through them, and what waits above a number swells and is felt, days late. The crew follows the work of the
    last weeks; a weak place has a smaller one.

    Fibres fail by chance, the more likely the higher the load (fatigue of tendon: Schechtman and Bader 1997, J Biomech
    30:829-835, from memory); that a crew of fixed size mends them is ours.
    """

    TORN, POWER, CREW, FOLLOWS_DAYS, LESS, FELT_FROM, PER_FIBRE, LATE = 6.0, 2.0, 2.2, 40.0, 0.75, 12.0, 0.14, 0.4

    def __init__(self, shape: Shape) -> None:
        self.waiting, self.swollen = np.zeros(shape), np.zeros(shape)
        self.work = np.full(shape, self.TORN)

    def step(self, dose: Floats, weakness: Floats, rng: np.random.Generator | None) -> Floats:
        torn = self.TORN * dose**self.POWER
        torn = torn if rng is None else rng.poisson(torn).astype(float)
        mended = self.CREW * self.work * (1 - self.LESS * weakness)
        self.work += (torn - self.work) / self.FOLLOWS_DAYS
        self.waiting = np.maximum(0.0, self.waiting + torn - mended)
        self.swollen += self.LATE * (self.waiting - self.swollen)
        return np.clip(self.PER_FIBRE * (self.swollen - self.FELT_FROM), 0.0, EXCESS_MAX)


MECHANICS: dict[str, Callable[[Shape], Mechanics]] = {
    "irritation": Irritation,
    "repair": Repair,
    "threshold": Threshold,
    "queue": Queue,
}
