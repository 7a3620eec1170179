"""A cohort of invented players of one kind, simulated day by day: what they played, felt and marked."""

from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from chirotend.core.judge.signs.chain import Floats
from chirotend.core.simulate.kinds import Kind
from chirotend.core.simulate.mechanics import MECHANICS
from chirotend.core.simulate.telling import Telling, Whole, draw_telling

PLACES = 4
#: days simulated before the diary begins, so that every place stands in balance
BURN_IN = 90
#: an excess of this, over three days, is a stop: she could not have played on
STOPS_AT = 5.0
#: of those who never have to stop, a sign counts as in time within so many days
WITHIN = 28
MINUTES, MINUTES_SPREAD, EFFORT_SPREAD = 105.0, 0.35, 0.6
SEASON_DAYS = 35
#: passing soreness at a place: days between, for most players and for some; its chances a day to end; its levels
SELDOM_DAYS, OFTEN_DAYS, OFTEN_SHARE, ENDS = 300.0, 60.0, 0.25, 0.25
PASSING_LEVELS, PASSING_CHANCES = (1.0, 2.0, 3.5), (0.5, 0.35, 0.15)
HEAVY_DAY, AFTER_HEAVY = 1.6, 3.0
#: two places of one hand: what a second instrument takes, and where a trouble at two places is
ONE_HAND = (0, 3)
#: until then the minutes of a beginner grow
GROWN_DAYS = 150
#: the chance of a week to be a bad one, and of a place to be sore in it
BAD_WEEKS, BAD_PLACES = 0.35, 0.6


@dataclass
class Cohort:
    """Days first: arrays (days, players) or (days, players, places).

    `excess` is what was the matter; `strength` (0-10), `character` (0-7) and `asked` what was marked. `onset` and
    `stop` (players) are days of the diary; -1 = it never came.
    """

    kind: Kind
    mechanics: str
    minutes: Floats
    effort: Floats
    excess: Floats
    strength: Whole
    character: Whole
    #: which marks were a nerve's
    nerve: NDArray[np.bool_]
    asked: NDArray[np.bool_]
    onset: Whole
    #: (players, places): where each player's trouble is, or would be
    troubled: NDArray[np.bool_]
    telling: Telling
    stop: Whole = field(init=False)

    def __post_init__(self) -> None:
        days, players = self.minutes.shape
        self.stop = np.full(players, -1, dtype=np.int64)
        for player in np.flatnonzero(self.onset >= 0):
            felt = self.excess[:, player, self.troubled[player]].max(axis=1)
            three = np.convolve(felt, np.ones(3) / 3)[:days]
            after = np.flatnonzero(three[self.onset[player] :] >= STOPS_AT)
            if len(after):
                self.stop[player] = self.onset[player] + after[0]

    def in_time(self, player: int) -> slice:
        """The days from the beginning of her trouble to the stop, or `WITHIN` where she never has to stop."""
        onset, stop = int(self.onset[player]), int(self.stop[player])
        return slice(onset, stop if stop >= 0 else onset + WITHIN)


class Life:
    """The cohort while it is simulated, a day at a time; the diary begins when it stands in balance."""

    def __init__(self, kind: Kind, mechanics: str, players: int, seed: int) -> None:
        self.rng = np.random.default_rng([seed, *map(ord, kind.name + mechanics)])
        self.kind, self.name, self.now = kind, mechanics, -BURN_IN
        shape = players, PLACES
        self.shape = shape
        self.body = MECHANICS[mechanics](shape)
        rng = self.rng
        self.troubled = rng.integers(0, PLACES, players)[:, None] == np.arange(PLACES)
        if kind.beside:
            self.troubled[:] = np.isin(np.arange(PLACES), ONE_HAND)
        self.at_trouble = self.troubled & (kind.troubled or kind.nerve)
        self.onset = rng.integers(*kind.onset, size=players) if kind.onset else np.full(players, -1)
        self.weakens = rng.integers(*kind.weakens, size=players) if kind.weakens else np.ones(players, dtype=int)
        self.telling = draw_telling(kind, shape, self.at_trouble, rng)
        self.noise = rng.normal(size=shape)
        self.passing = np.zeros(shape)
        self.often = np.where(rng.random(players) < OFTEN_SHARE, OFTEN_DAYS, SELDOM_DAYS)[:, None]
        self.effort_usual = rng.uniform(3.5, 5.5, players)
        self.rest_day = rng.integers(0, 7, players)
        self.bad_days = rng.uniform(0.7, 1.3, players)  # her answers on bad days, against good ones
        self.season_from = np.where(self.onset >= 0, self.onset, rng.integers(80, 120, players))
        self.dose_yesterday = np.zeros(players)
        self.bad_week = np.zeros(shape)
        self.days_done: list[tuple[NDArray[Any], ...]] = []
        for _ in range(BURN_IN):
            self.day()

    def day(self, most_min: Floats | float = np.inf) -> None:
        """Simulate one day, playing at most `most_min` minutes: one number, or one a player."""
        rng, players = self.rng, self.shape[0]
        rests = (self.now + self.rest_day) % 7 == 0
        minutes = MINUTES * np.exp(rng.normal(-(MINUTES_SPREAD**2) / 2, MINUTES_SPREAD, players))
        in_season = (self.now >= self.season_from) & (self.now < self.season_from + SEASON_DAYS)
        minutes = np.where(rests, 0.0, minutes * np.where(in_season, self.kind.season, 1.0)) * self._grown()
        minutes = np.minimum(minutes, most_min)
        effort = np.clip(self.effort_usual + rng.normal(0, EFFORT_SPREAD, players), 1, 10)
        cold = np.where((self.now >= self.season_from) & (rng.random(players) < 0.5), self.kind.cold, 1.0)
        dose = minutes / MINUTES * (effort / self.effort_usual) ** 2 * cold
        excess = self.body.step(dose[:, None] * self._taken_by_second(), self._weakness(), rng)
        excess = np.maximum(excess, np.maximum(self._passing(), self._of_the_week()))
        marked = self._marked(excess)
        if self.now >= 0:
            self.days_done.append((minutes, effort, excess, *marked))
        self.dose_yesterday = dose
        self.now += 1

    def _grown(self) -> float:
        """The share of her usual minutes that is played by now."""
        share = min(1.0, max(0.0, self.now / GROWN_DAYS))
        return self.kind.begins_at + (1 - self.kind.begins_at) * share

    def _taken_by_second(self) -> Floats:
        """(players, places): the dose at each place against one without the second instrument."""
        here = np.isin(np.arange(PLACES), ONE_HAND)[None, :] & (self.now >= self.season_from)[:, None]
        return np.where(here, self.kind.second, 1.0)

    def _of_the_week(self) -> Floats:
        """(players, places): the excess of a bad week, drawn anew every seventh day."""
        if self.kind.bad_week and self.now % 7 == 0:
            bad = self.rng.random(self.shape[0]) < BAD_WEEKS
            sore = self.rng.random(self.shape) < BAD_PLACES
            self.bad_week = bad[:, None] * sore * self.kind.bad_week * self.rng.uniform(0.5, 1.5, self.shape)
        return self.bad_week

    def _weakness(self) -> Floats:
        since = np.where(self.onset >= 0, self.now - self.onset, -1)
        return np.where(self.at_trouble, np.clip(since / self.weakens, 0.0, 1.0)[:, None], 0.0)

    def _passing(self) -> Floats:
        heavy = np.where(self.dose_yesterday > HEAVY_DAY, AFTER_HEAVY, 1.0)[:, None]
        comes = self.rng.random(self.shape) < heavy / self.often
        level = self.rng.choice(PASSING_LEVELS, size=self.shape, p=PASSING_CHANCES)
        ends = self.rng.random(self.shape) < ENDS
        self.passing = np.where(comes & (self.passing == 0), level, np.where(ends, 0.0, self.passing))
        return self.passing

    def _marked(self, excess: Floats) -> tuple[Floats, Whole, NDArray[np.bool_], NDArray[np.bool_]]:
        t, rng = self.telling, self.rng
        tingles = t.nerve & (excess > 0) & (self.now >= self.onset)[:, None]
        self.noise, strength, character = t.tell(self.noise, excess, tingles, rng)
        later = min(1.0, max(0.0, self.now / 56))
        logs = self.kind.logs + (self.kind.logs_later - self.kind.logs) * later
        bad = strength.max(axis=1) >= 3
        asked = rng.random(self.shape[0]) < np.minimum(1.0, logs * np.where(bad, self.bad_days, 1.0))
        nerve = t.nerve & (character % 2 == 1)
        if self.kind.tingles:
            nerve |= rng.random(self.shape) < self.kind.tingles
            character = np.where(nerve, character | 1, character)
        return strength, character, nerve & (strength > 0), asked

    def cohort(self) -> Cohort:
        minutes, effort, excess, strength, character, nerve, asked = (
            np.array(column) for column in zip(*self.days_done, strict=True)
        )
        return Cohort(
            self.kind,
            self.name,
            minutes,
            effort,
            excess,
            strength.astype(np.int64),
            character.astype(np.int64),
            nerve.astype(bool),
            asked.astype(bool),
            self.onset,
            self.troubled,
            self.telling,
        )


def live(kind: Kind, mechanics: str, players: int, days: int, seed: int) -> Cohort:
    """Return `players` of a kind after `days` of their lives; the same seed gives the same lives."""
    life = Life(kind, mechanics, players, seed)
    for _ in range(days):
        life.day()
    return life.cohort()
