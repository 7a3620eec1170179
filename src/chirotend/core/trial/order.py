"""In which order the days without (A) and with (B) a change come: phases, pairs by lot, days in turn."""

import itertools
import math
import random
from functools import cache

import numpy as np
from numpy.typing import NDArray

from chirotend.core.errors import TooFew, check_range, check_word

#: phases: A then B, the first day of B by lot; pairs: each two days in an order by lot; turn: A, B in turn, no lot
ORDERS = ("phases", "pairs", "turn")
DAYS_MIN, DAYS_MAX = 6, 120
LEAST = 3
#: more orders than these are not listed but drawn, with one seed: the answer is the same each time
LISTED = 4096
SEED = 20261127


def check_order(order: str, days: int, least: int = LEAST) -> None:
    """Raise `OutOfRange` or `TooFew` when `days` (6-120, `least` of each kind) cannot be put in this order."""
    check_word("order", order, ORDERS)
    check_range("days", days, DAYS_MIN, DAYS_MAX, "days")
    check_range("least", least, LEAST, DAYS_MAX, "days")
    if days < 2 * least:
        raise TooFew("days", f"{days} days, {2 * least} are needed for {least} of each")


def lot_size(order: str, days: int, least: int = LEAST) -> int:
    """Return among how many orders the lot chooses; 1 = there is none."""
    check_order(order, days, least)
    if order == "phases":
        return days - 2 * least + 1
    return int(2 ** (days // 2)) if order == "pairs" else 1


def drawn(order: str, days: int, least: int, chance: random.Random) -> str:
    """Return the letters of the days in an order drawn by `chance`; a last odd day of pairs takes either letter."""
    check_order(order, days, least)
    if order == "phases":
        first = chance.randint(least, days - least)
        return "A" * first + "B" * (days - first)
    if order == "turn":
        return ("AB" * days)[:days]
    letters = "".join(chance.choice(("AB", "BA")) for _ in range(days // 2))
    return letters + (chance.choice("AB") if days % 2 else "")


def every_order(letters: str, order: str, least: int = LEAST, lot_days: int | None = None) -> NDArray[np.bool_]:
    """Return the orders the lot could have drawn, the drawn one first: a row each, True = a day with the change.

    Above `LISTED` so many are drawn instead of listed. `lot_days`: days there were when the lot was drawn, where days
    were added since: phases could only have begun within them (None = all).
    """
    check_order(order, len(letters), least)
    here = np.array([c == "B" for c in letters])
    if order == "turn":
        return here[None, :]
    if order == "phases":
        found = phase_rows(len(letters), least)[: (lot_days or len(letters)) - 2 * least + 1]
    else:
        found = np.repeat(pair_choices(len(letters) // 2), 2, axis=1)
        found[:, 1::2] = ~found[:, 1::2]
        if len(letters) % 2:
            found = np.column_stack([found, np.full(len(found), here[-1])])
    return np.vstack([here, found[~(found == here).all(axis=1)]])


@cache
def phase_rows(days: int, least: int) -> NDArray[np.bool_]:
    """Return every A then B of so many days, B as early as it can begin first."""
    return np.array([[n >= first for n in range(days)] for first in range(least, days - least + 1)])


@cache
def pair_choices(pairs: int) -> NDArray[np.bool_]:
    """Return the ways of putting the change first or second in each pair, all of them or `LISTED` drawn."""
    if 2**pairs <= LISTED:
        return np.array(list(itertools.product((False, True), repeat=pairs)))
    return np.random.default_rng(SEED).random((LISTED, pairs)) < 0.5


def abab_arrangements(N: int, min_len: int) -> int:
    """Return in how many ways N days split into A, B, A, B of at least `min_len` each: C(N - 4m + 3, 3).

    Onghena 1992, Behav Assess 14:153-171, from memory. `TooFew` below 4 m.
    """
    days, least = int(check_range("N", N, 1)), int(check_range("min_len", min_len, 1))
    if days < 4 * least:
        raise TooFew("N", f"{days} days, {4 * least} are needed")
    return math.comb(days - 4 * least + 3, 3)
