"""Randomisation tests of single-case designs as the literature has them: to hold a trial's own test against."""

import math
from collections.abc import Sequence

import numpy as np

from chirotend.core.errors import OutOfRange, TooFew, check_number, check_range
from chirotend.core.trial.order import LEAST, again_changes, again_rows, check_order
from chirotend.core.trial.randomisation import RandomisationTest, tested_among


def randtest_ab(y: Sequence[float], b_start: int, min_len: int, better: str) -> RandomisationTest:
    """Return the test of A then B whose first day of B, `b_start` (from 1), was drawn by lot. Every day has a value.

    Edgington & Onghena 2007; Onghena 1992, Behav Assess 14:153-171, from memory. `TooFew` when the lot has no day,
    `OutOfRange` for a start outside it.
    """
    values = [check_number("y", v) for v in y]
    least = int(check_range("min_len", min_len, 1))
    k = len(values) - 2 * least + 1
    if k < 1:
        raise TooFew("y", f"{len(values)} days, {2 * least} are needed")
    start = int(check_range("b_start", b_start, least + 1, len(values) - least + 1))
    rows = np.array([[n >= first - 1 for n in range(len(values))] for first in range(least + 1, least + k + 1)])
    return tested_among(np.array(values), rows, start - least - 1, better)


def randtest_abab(y: Sequence[float], changes: Sequence[int], min_len: int, better: str) -> RandomisationTest:
    """Return the test of A, B, A, B whose changes (the last days of A1, B1, A2) were drawn by lot; pooled means.

    Onghena 1992, from memory; the pooled means are ours. `OutOfRange` when a phase is under `min_len`.
    """
    values, least = [check_number("y", v) for v in y], int(check_range("min_len", min_len, 1))
    n = len(values)
    abab_arrangements(n, least)
    found = again_changes(n, least)
    if tuple(changes) not in found:
        raise OutOfRange("changes", tuple(changes))
    rows = again_rows(np.array(found), n)
    return tested_among(np.array(values), rows, found.index(tuple(changes)), better)


def lot_size(order: str, days: int, least: int = LEAST) -> int:
    """Return among how many orders the lot chooses; 1 = there is none."""
    check_order(order, days, least)
    if order == "phases":
        return days - 2 * least + 1
    if order == "again":
        return abab_arrangements(days, least)
    return int(2 ** (days // 2)) if order == "pairs" else 1


def abab_arrangements(N: int, min_len: int) -> int:
    """Return in how many ways N days split into A, B, A, B of at least `min_len` each: C(N - 4m + 3, 3).

    Onghena 1992, Behav Assess 14:153-171, from memory. `TooFew` below 4 m.
    """
    days, least = int(check_range("N", N, 1)), int(check_range("min_len", min_len, 1))
    if days < 4 * least:
        raise TooFew("N", f"{days} days, {4 * least} are needed")
    return math.comb(days - 4 * least + 3, 3)
