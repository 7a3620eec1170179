"""A hidden Markov filter (forward algorithm) over the places of one player or of many: how likely each state is.

Sequential Bayesian detection (Shiryaev 1963; from memory) with a tempered likelihood (Grünwald 2012; from memory):
days resemble each other, so one counts for half, and for more after days that were not asked. Tingling and numbness
where they were rare speak for a lasting excess. Her usual is learnt from days a week old that were likely usual.
"""

import copy
from collections import deque
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from chirotend.core.judge.signs.chain import Floats, chain, sign_rules

Whole = NDArray[np.int64]


@dataclass(frozen=True)
class Day:
    """What was marked at each place on a day: its strength 0-8 and character 0-7, whether a mark of it was a nerve's
    (tingling or numbness); `asked` False = not known."""

    strength: Whole
    character: Whole
    nerve: NDArray[np.bool_]
    asked: NDArray[np.bool_]


@dataclass
class Filter:
    """The filter of `places` places after the days it was shown; all are at their usual before the first.

    `likely` (kinds of player, places, states) sums to 1 over kinds and states.
    """

    places: int
    likely: Floats = field(init=False)
    days_asked: Whole = field(init=False)
    strengths: Floats = field(init=False)
    characters: Floats = field(init=False)
    #: days with a nerve's mark, by the weights of her usual
    nerve_days: Floats = field(init=False)
    #: days since a place was asked, less one; many before the first
    gaps: Whole = field(init=False)
    #: days that do not count for her usual yet, each with which of them count whole
    waiting: deque[tuple[Day, NDArray[np.bool_]]] = field(default_factory=deque)

    def __post_init__(self) -> None:
        c = chain()
        self.likely = np.zeros((len(c.kinds), self.places, len(c.levels)))
        self.likely[:, :, 0] = c.kinds[:, None]
        self.days_asked = np.zeros(self.places, dtype=np.int64)
        self.strengths = np.zeros((self.places, len(c.usual)))
        self.characters = np.zeros((self.places, len(c.characters)))
        self.nerve_days = np.zeros(self.places)
        self.gaps = np.full(self.places, len(sign_rules().guards))

    def copy(self) -> "Filter":
        """Copy with its own state; the days that wait are shared because none is changed."""
        other = copy.copy(self)
        other.strengths, other.characters = self.strengths.copy(), self.characters.copy()
        other.nerve_days, other.waiting = self.nerve_days.copy(), deque(self.waiting)
        return other

    def step(self, day: Day) -> Floats:
        """Take in one more day; returns the log odds (places,) of a lasting excess of 1.5 or more."""
        c, r = chain(), sign_rules()
        self.likely = self.likely @ c.moves
        if day.asked.any():
            guard = np.array(r.guards)[np.minimum(self.gaps, len(r.guards) - 1)]
            told = self._likelihood(day) ** guard[:, None] * self._nerve_factor(day)
            self.weigh(np.where(day.asked[:, None], told, 1.0))
        first = day.asked & (self.days_asked < r.first_days)
        self.days_asked = self.days_asked + day.asked
        self.gaps = np.where(day.asked, 0, self.gaps + 1)
        self.waiting.append((day, first))
        if len(self.waiting) > r.joins_after:
            self._add_to_baseline(*self.waiting.popleft())
        return self.log_odds()

    def weigh(self, chances: Floats) -> None:
        """Take in evidence of the day: the chance (places, states) of what was seen if a place is in each state."""
        self.likely = self.likely * chances
        self.likely /= self.likely.sum(axis=(0, 2), keepdims=True)

    def log_odds(self) -> Floats:
        """Return ln odds (places,) of a lasting excess of 1.5 or more; far below 0 before the first day."""
        c = chain()
        high = self.likely[:, :, c.lasting & (c.levels >= sign_rules().speaks_level)].sum(axis=(0, 2))
        high = np.clip(high, 1e-12, 1 - 1e-12)
        return np.asarray(np.log(high / (1 - high)))

    def settle(self, places: NDArray[np.bool_]) -> None:
        """Take `places` to be at their usual again: what was there was answered. Her usual stays."""
        kinds = self.likely.sum(axis=2)[:, places]
        self.likely = self.likely.copy()
        self.likely[:, places] = 0.0
        self.likely[:, places, 0] = kinds

    def _likelihood(self, day: Day) -> Floats:
        """(places, states): how well each state tells what was marked, beside her usual."""
        c, r = chain(), sign_rules()
        usual = r.baseline_weight * c.usual + self.strengths
        usual /= r.baseline_weight + self.strengths.sum(axis=1, keepdims=True)
        observed: Floats = (usual[:, :, None] * c.seen[day.strength]).sum(axis=1)
        character = r.character_weight * c.characters + self.characters
        character /= r.character_weight + self.characters.sum(axis=1, keepdims=True)
        shifted = c.shifts.T[day.character] / (character @ c.shifts.T)
        return np.where((day.strength > 0)[:, None], observed * shifted, observed)

    def _nerve_factor(self, day: Day) -> Floats:
        """(places, states): how much more a nerve's mark speaks for a lasting excess where such marks were rare."""
        c, r = chain(), sign_rules()
        rare = (r.nerve_prior + self.nerve_days) / (r.character_weight + self.characters.sum(axis=1))
        more = r.nerve_share * (1 - np.exp(-c.levels / r.nerve_scale)) * c.lasting
        factor = ((rare[:, None] + (1 - rare[:, None]) * more) / rare[:, None]) ** r.nerve_power
        return np.where(day.nerve[:, None], factor, 1.0)

    def _add_to_baseline(self, day: Day, first: NDArray[np.bool_]) -> None:
        """Add a day to the baseline: weight 1 for the first days, later the probability that all places were at
        baseline."""
        if not day.asked.any():
            return
        c = chain()
        now = self.likely.sum(axis=0)
        usual = now[:, 0] + sign_rules().half_lasting * now[:, list(c.first_lasting)].sum(axis=1)
        weight = np.where(first, 1.0, usual) * day.asked
        here = np.arange(self.places)
        self.strengths[here, day.strength] += weight
        self.characters[here, day.character] += weight * (day.strength > 0)
        self.nerve_days += weight * day.nerve
