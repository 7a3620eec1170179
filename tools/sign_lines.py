"""How often early signs speak of players who stay as they are, and how soon of those who do not: `make signs`.

Steady diaries come from other mechanics (`core/simulate/steady.py`) than those the numbers of the filter were tuned on.
Prints false signs a player and year for each line, with 95 % intervals, and the share found of a rise that begins
in the middle, with the days it took. Asserts nothing.
"""

import math
import sys

import numpy as np

from chirotend.core.judge.evidence import WATCHES
from chirotend.core.judge.signs.chain import sign_rules
from chirotend.core.judge.signs.filter import Day, Filter
from chirotend.core.judge.signs.raised import rank_sums, statistic
from chirotend.core.simulate.steady import steady_levels

DAYS, PLACES, LOGGED = 364, 3, 0.85
RISES_ON, WITHIN, RISES_SD = 182, 28, 1.5
#: share of days without a symptom, likeness to the day before: assumed, between what diaries of players are said to be
HABITS = [(zeros, r) for zeros in (0.9, 0.8, 0.6, 0.4) for r in (0.2, 0.4)]


def diaries(players: int, seed: int, rise: bool) -> tuple[np.ndarray, np.ndarray]:
    """Return strengths (days, players, places) and which days were asked (days, players)."""
    rng = np.random.default_rng(seed)
    strengths = np.zeros((DAYS, players, PLACES), dtype=np.int64)
    for player in range(players):
        zeros, r = HABITS[player % len(HABITS)]
        for place in range(PLACES):
            shift = {"shift_from": RISES_ON, "shift_sd": RISES_SD} if rise and place == 0 else {}
            strengths[:, player, place] = np.minimum(steady_levels(DAYS, zeros, r, rng, **shift), 8)
    return strengths, rng.random((DAYS, players)) < LOGGED


def heights(strengths: np.ndarray, asked: np.ndarray) -> np.ndarray:
    """Return the statistic of each player's tallest place on each day: (days, players)."""
    days, players, places = strengths.shape
    flat, known = strengths.reshape(days, -1), np.repeat(asked, places, axis=1)
    filtered = Filter(players * places)
    height = np.empty((days, players * places))
    for n in range(days):
        told = np.where(known[n], flat[n], 0)
        height[n] = filtered.step(Day(told, (told > 0).astype(np.int64), known[n]))
    for place in range(players * places):
        told_here = [int(v) if k else None for v, k in zip(flat[:, place], known[:, place], strict=True)]
        height[:, place] = statistic(height[:, place], rank_sums(told_here))
    height[: sign_rules().first_days] = -math.inf
    return height.reshape(days, players, places).max(axis=2)


def episodes(over: np.ndarray) -> list[int]:
    """Return the days on which an episode began: as many quiet days lie before each as the rules ask."""
    began, last = [], -math.inf
    for day in np.flatnonzero(over):
        if day - last > sign_rules().quiet_days:
            began.append(int(day))
        last = day
    return began


def main() -> None:
    players = int(sys.argv[1]) if len(sys.argv) > 1 else 400
    steady = heights(*diaries(players, 3, rise=False))  # the lines were set on those of seed 1
    risen = heights(*diaries(players, 4, rise=True))
    years = players * (DAYS - sign_rules().first_days) / 365
    print(f"{players} players, {PLACES} places, {LOGGED:.0%} of days answered; a rise of {RISES_SD} SD at one place")
    for line in map(sign_rules().line, WATCHES):
        false = sum(len(episodes(steady[:, p] > line)) for p in range(players))
        low, high = ((math.sqrt(false) + s * 0.98) ** 2 / years for s in (-1, 1))
        took = []
        for p in range(players):
            began = episodes(risen[:, p] > line)
            first = next((d for d in began if RISES_ON <= d < RISES_ON + WITHIN), None)
            if first is not None:
                took.append(first - RISES_ON)
        found = len(took) / players
        share, half = found, 1.96 * math.sqrt(found * (1 - found) / players)
        print(f"line {line:5.2f}: {false / years:4.2f} false a year ({low:.2f} to {high:.2f}); ", end="")
        print(f"a rise found within {WITHIN} days {share:.2f} (± {half:.2f}), after {np.median(took):.0f} days")


if __name__ == "__main__":
    main()
