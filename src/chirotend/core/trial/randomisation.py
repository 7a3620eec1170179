"""Randomisation tests: the share of all orders that could have been drawn with a difference at least as large."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from chirotend.core.errors import check_word
from chirotend.core.trial.effect import BETTER
from chirotend.core.trial.order import LEAST, every_order

#: differences are equal when they differ by less
TIE = 1e-12


@dataclass(frozen=True)
class RandomisationTest:
    """The difference of the means in the better direction, the size of the lot, and the share at least as large."""

    T: float
    n_arr: int
    p: float


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
    return tested_among(np.array([np.nan if v is None else v for v in y]), rows, 0, better)


def tested_among(values: NDArray[np.float64], rows: NDArray[np.bool_], drawn: int, better: str) -> RandomisationTest:
    """Return the test of `values` by the orders `rows` (order, day: True = with it), of which `drawn` was the one."""
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
