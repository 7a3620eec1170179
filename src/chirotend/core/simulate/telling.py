"""How what is felt becomes a mark: autoregressive noise, an excess of zeros, days on which it is not marked.

The strength told is the step of noise and excess above 0; a share is kept silent. Noise, zeros and likeness after the
clinical rules (SD 0.7-1.2, likeness 0.2-0.5, 40-90 % zeros), the rest assumed.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from chirotend.core.judge.signs.chain import Floats
from chirotend.core.late import late
from chirotend.core.simulate.kinds import Kind
from chirotend.core.simulate.mechanics import Shape

special = late("scipy.special")

Whole = NDArray[np.int64]
STRONGEST = 10
#: of marks of a usual day, and of late ones: while playing, after, waking, daily life, night
USUAL_TIMINGS = (0.50, 0.35, 0.13, 0.02, 0.0)
LATE_TIMINGS = (0.15, 0.33, 0.32, 0.12, 0.08)
#: the character of each timing (twice it; one more for pain, tingling and numbness)
WEIGHTY = np.array([0, 1, 2, 2, 3])
TELLING_USUAL, TELLING_LATE = 0.0, 0.6
#: an excess of this makes half of the marks late ones
LATE_HALF = 8.0
#: an excess of this at a nerve shows on 63 % of days
NERVE_SCALE = 2.5


@dataclass(frozen=True)
class Telling:
    """How the players of a cohort tell, each (players, places)."""

    above: Floats  # the noise must pass this to show at all
    sd: Floats
    likeness: Floats
    silent: Floats
    scale: Floats
    more: Floats
    nerve: NDArray[np.bool_]

    def strength(self, noise: Floats, excess: Floats) -> Floats:
        """Return what would be marked if nothing were kept silent, 0-10."""
        told = np.clip(np.ceil((noise - self.above) * self.sd + self.scale * excess), 0, STRONGEST)
        return np.where(told > 0, np.minimum(told + self.more, STRONGEST), 0.0)

    def kept_silent(self, excess: Floats) -> Floats:
        """Return the share of marks that are not told at such an excess."""
        return np.where(self.nerve & (excess > 0), np.exp(-excess / NERVE_SCALE), self.silent)

    def tell(
        self, noise: Floats, excess: Floats, tingles: NDArray[np.bool_], rng: np.random.Generator
    ) -> tuple[Floats, Floats, Whole]:
        """Return the noise of a day after that of the day before, what is marked (0-10) and its character (0-7)."""
        noise = self.likeness * noise + np.sqrt(1 - self.likeness**2) * rng.normal(size=noise.shape)
        strength = self.strength(noise, excess)
        strength = np.where(rng.random(noise.shape) < self.kept_silent(excess), 0.0, strength)
        chances = characters(excess, tingles).cumsum(axis=-1)
        character = (rng.random(noise.shape)[..., None] > chances).sum(axis=-1)
        return noise, strength, np.minimum(character, 7)


def draw_telling(kind: Kind, shape: Shape, troubled: NDArray[np.bool_], rng: np.random.Generator) -> Telling:
    """Return the habits of the players of a cohort; at `troubled` places (players, places) its kind tells."""
    players = (shape[0], 1)
    zeros = rng.choice([0.4, 0.6, 0.7, 0.8, 0.85, 0.9], size=shape, p=[0.05, 0.15, 0.2, 0.25, 0.2, 0.15])
    return Telling(
        above=special.ndtri(zeros),
        sd=rng.uniform(0.7, 1.2, players) * np.ones(shape),
        likeness=rng.uniform(0.2, 0.5, players) * np.ones(shape),
        silent=rng.uniform(*kind.silent, players) * np.ones(shape),
        scale=np.where(troubled, kind.scale, 1.0),
        more=np.full(shape, kind.more),
        nerve=troubled & kind.nerve,
    )


def late_share(excess: Floats) -> Floats:
    """Return the share of marks that come late and tell more: waking, at night, as pain."""
    return excess / (excess + LATE_HALF)


def characters(excess: Floats, nerve: NDArray[np.bool_]) -> Floats:
    """Return the chances (..., 8) of each character of a mark at such an excess; a nerve always tells."""
    late = late_share(excess)[..., None]
    timings = (1 - late) * np.array(USUAL_TIMINGS) + late * np.array(LATE_TIMINGS)
    telling = np.where(nerve[..., None], 1.0, TELLING_USUAL + (TELLING_LATE - TELLING_USUAL) * late)
    chances = np.zeros((*excess.shape, 8))
    for timing, weight in enumerate(WEIGHTY):
        chances[..., 2 * weight] += timings[..., timing] * (1 - telling[..., 0])
        chances[..., 2 * weight + 1] += timings[..., timing] * telling[..., 0]
    return chances
