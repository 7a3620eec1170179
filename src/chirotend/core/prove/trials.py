"""How often a trial of a change that does nothing says “better”, looked at on its last day and ten days later."""

import random
from collections.abc import Callable

import numpy as np

from chirotend.core.judge.signs.chain import Floats
from chirotend.core.trial.answer import shows
from chirotend.core.trial.order import ADDED, LEAST, drawn, lengthened

DAYS, SEED = 28, 28


def resembling(r: float) -> Callable[[np.random.Generator, int], Floats]:
    """Return a maker of days that resemble the day before by `r` (an autoregressive series of spread 1)."""

    def made(rng: np.random.Generator, days: int) -> Floats:
        noise = rng.normal(size=days + 30)
        found = np.zeros(days + 30)
        for n in range(1, len(noise)):
            found[n] = r * found[n - 1] + noise[n]
        return np.asarray(found[30:] * np.sqrt(1 - r * r))

    return made


def marks(rng: np.random.Generator, days: int) -> Floats:
    """Return marks of 0-10, a third of them 0, that resemble the day before by half."""
    return np.asarray(np.clip(np.round(1 + 1.5 * resembling(0.5)(rng, days)), 0, 10))


def recovering(rng: np.random.Generator, days: int) -> Floats:
    """Return marks of a player who recovers anyway: from about 5 down to 1."""
    return np.asarray(np.clip(np.round(5 * np.exp(-2 * np.arange(days) / days) + resembling(0.3)(rng, days)), 0, 10))


#: whom nothing is done for, by name
PLAYERS: dict[str, Callable[[np.random.Generator, int], Floats]] = {
    "days by themselves": resembling(0.0),
    "resembling by .3": resembling(0.3),
    "resembling by .5": resembling(0.5),
    "resembling by .7": resembling(0.7),
    "marks of 0–10": marks,
    "recovers anyway": recovering,
}


def told_better(order: str, player: str, runs: int, gain: float = 0.0, days: int = DAYS) -> tuple[float, float]:
    """Return in which shares of `runs` trials a change of `gain` (0 = it does nothing) is called better: at the
    planned end, and there or ten days later."""
    rng, lot = np.random.default_rng(SEED), random.Random(SEED)
    at_end = either = 0
    for _ in range(runs):
        letters = lengthened(drawn(order, days, LEAST, lot), order, lot)
        with_it = np.array([letter == "B" for letter in letters])
        y = PLAYERS[player](rng, days + ADDED) - gain * with_it
        first = shows(y[:days], with_it[:days], order, LEAST)
        at_end += first
        either += first or shows(y, with_it, order, LEAST, days)
    return at_end / runs, either / runs
