"""Randomisation tests: the share of all orders that could have been drawn with a difference at least as large."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from chirotend.core.errors import OutOfRange, TooFew, check_number, check_range, check_word
from chirotend.core.trial.effect import BETTER
from chirotend.core.trial.order import LEAST, abab_arrangements, again_changes, again_rows, every_order

#: differences are equal when they differ by less
TIE = 1e-12


@dataclass(frozen=True)
class RandomisationTest:
    """The difference of the means in the better direction, the size of the lot, and the share at least as large."""

    T: float
    n_arr: int
    p: float


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
    return _tested(np.array(values), rows, start - least - 1, better)


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
    return _tested(np.array(values), rows, found.index(tuple(changes)), better)


def randomisation_test(
    y: Sequence[float | None],
    letters: str,
    order: str,
    better: str,
    least: int = LEAST,
    lot_days: int | None = None,
) -> RandomisationTest | None:
    """Return the test of a trial by its own lot; None where nothing was drawn. Days without a value are passed over.

    `y` may have fewer days than `letters`: those still to come.

    An order that would leave one kind of day without any value counts as at least as large: it is never evidence.
    """
    rows = every_order(letters, order, least, lot_days)[:, : len(y)]
    if len(rows) < 2:
        return None
    return _tested(np.array([np.nan if v is None else v for v in y]), rows, 0, better)


def _tested(values: NDArray[np.float64], rows: NDArray[np.bool_], drawn: int, better: str) -> RandomisationTest:
    way = 1.0 if check_word("better", better, BETTER) == "higher" else -1.0
    differences = way * differences_of(values, rows)
    observed = differences[drawn]
    as_large = np.isnan(differences) | (differences >= observed - TIE)
    return RandomisationTest(float(observed), len(rows), float(np.mean(as_large)))


def differences_of(values: NDArray[np.float64], rows: NDArray[np.bool_]) -> NDArray[np.float64]:
    """Return mean of B less mean of A for each order of the days; nan where one has no value."""
    known, with_it = (~np.isnan(values)).astype(float), rows.astype(float)
    filled = np.where(known > 0, values, 0.0)
    of_b, n_b = with_it @ filled, with_it @ known
    of_a, n_a = (1 - with_it) @ filled, (1 - with_it) @ known
    with np.errstate(invalid="ignore", divide="ignore"):
        found: NDArray[np.float64] = of_b / n_b - of_a / n_a
    return found
