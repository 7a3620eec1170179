"""In which order the days without (A) and with (B) a change come: phases, phases again, pairs by lot, days in turn."""

import itertools
import random
from functools import cache

import numpy as np
from numpy.typing import NDArray

from chirotend.core.errors import TooFew, check_range, check_word

#: phases: A then B, the first day of B by lot; again: A, B, A, B, the days of the changes by lot; pairs: each two days
#: in an order by lot; turn: A, B in turn, no lot
ORDERS = ("phases", "again", "pairs", "turn")
#: stretches of days of an order, each of so many days at least
STRETCHES = {"phases": 2, "again": 4}
DAYS_MIN, DAYS_MAX = 6, 120
LEAST = 3
#: a trial is made longer by so many days, once
ADDED = 10
#: more orders than these are not listed but drawn, with one seed: the answer is the same each time
LISTED = 4096
SEED = 20261127


def check_order(order: str, days: int, least: int = LEAST) -> None:
    """Raise `OutOfRange` or `TooFew` when `days` (6-120, `least` of each kind) cannot be put in this order."""
    check_word("order", order, ORDERS)
    check_range("days", days, DAYS_MIN, DAYS_MAX, "days")
    check_range("least", least, LEAST, DAYS_MAX, "days")
    needed = least_days(order, least)
    if days < needed:
        raise TooFew("days", f"{days} days, {needed} are needed for {least} of each")


def least_days(order: str, least: int) -> int:
    """Return the fewest days an order fits into, with `least` in each stretch (or of each kind)."""
    return STRETCHES.get(order, 2) * least


def drawn(order: str, days: int, least: int, chance: random.Random) -> str:
    """Return the letters of the days in an order drawn by `chance`; a last odd day of pairs takes either letter."""
    check_order(order, days, least)
    if order == "phases":
        first = chance.randint(least, days - least)
        return "A" * first + "B" * (days - first)
    if order == "again":
        spare = days - 4 * least
        a, b, c = sorted(chance.sample(range(spare + 3), 3))
        lengths = (a, b - a - 1, c - b - 1, spare + 2 - c)
        return "".join(letter * (least + more) for letter, more in zip("ABAB", lengths, strict=True))
    if order == "turn":
        return ("AB" * days)[:days]
    letters = "".join(chance.choice(("AB", "BA")) for _ in range(days // 2))
    return letters + (chance.choice("AB") if days % 2 else "")


def lengthened(letters: str, order: str, chance: random.Random) -> str:
    """Return the letters of a trial with ten days added: with the change where it came in stretches, else drawn by
    `chance` or in turn as before."""
    if order in STRETCHES:
        return letters + "B" * ADDED
    if order == "turn":
        return ("AB" * (len(letters) + ADDED))[: len(letters) + ADDED]
    return letters + drawn(order, ADDED, LEAST, chance)


def every_order(letters: str, order: str, least: int = LEAST, lot_days: int | None = None) -> NDArray[np.bool_]:
    """Return the orders the lot could have drawn, the drawn one first: a row each, True = a day with the change.

    Above `LISTED` so many are drawn instead of listed. `lot_days`: days there were when the lot was drawn, where days
    were added since: phases could only have begun within them (None = all).
    """
    check_order(order, len(letters), least)
    here = np.array([c == "B" for c in letters])
    if order == "turn":
        return here[None, :]
    if order in STRETCHES:
        added = len(letters) - (lot_days or len(letters))
        found = np.pad(phase_rows(order, len(letters) - added, least), ((0, 0), (0, added)), constant_values=True)
    else:
        found = np.repeat(pair_choices(len(letters) // 2), 2, axis=1)
        found[:, 1::2] = ~found[:, 1::2]
        if len(letters) % 2:
            found = np.column_stack([found, np.full(len(found), here[-1])])
    return np.vstack([here, found[~(found == here).all(axis=1)]])


@cache
def phase_rows(order: str, days: int, least: int) -> NDArray[np.bool_]:
    """Return every A then B (or A, B, A, B) of so many days, the earliest changes first; `LISTED` drawn of more."""
    if order == "phases":
        return np.array([[n >= first for n in range(days)] for first in range(least, days - least + 1)])
    changes = np.array(again_changes(days, least))
    if len(changes) > LISTED:
        changes = changes[np.sort(np.random.default_rng(SEED).choice(len(changes), LISTED, replace=False))]
    return again_rows(changes, days)


def again_rows(changes: NDArray[np.int_], days: int) -> NDArray[np.bool_]:
    """Return the days with the change of each A, B, A, B, a row each, from its `again_changes`."""
    a, b, c = (changes[:, [n]] for n in range(3))
    day = np.arange(days)
    rows: NDArray[np.bool_] = ((a <= day) & (day < b)) | (day >= c)
    return rows


@cache
def again_changes(days: int, least: int) -> tuple[tuple[int, int, int], ...]:
    """Return the last days (from 1) of the first three stretches, for every A, B, A, B of `least` days each."""
    return tuple(
        (a, b, c)
        for a in range(least, days - 3 * least + 1)
        for b in range(a + least, days - 2 * least + 1)
        for c in range(b + least, days - least + 1)
    )


@cache
def pair_choices(pairs: int) -> NDArray[np.bool_]:
    """Return the ways of putting the change first or second in each pair, all of them or `LISTED` drawn."""
    if 2**pairs <= LISTED:
        return np.array(list(itertools.product((False, True), repeat=pairs)))
    return np.random.default_rng(SEED).random((LISTED, pairs)) < 0.5
