"""Whether one finger stands out, or chance alone would do it: a randomisation test of a figure's rounds."""

import numpy as np

#: orders drawn, rounds looked at (evenly over all), and the seed, so that a page shows the same number twice
ORDERS, ROUNDS_MOST, SEED = 499, 120, 28
#: a single note counts no further from the middle than so many spreads
FAR = 3.0


def chance(values: np.ndarray) -> float:
    """Return how often the furthest step would lie as far from the others if the steps of each round were exchanged.

    Parameters
    ----------
    values : rounds × steps, how late (or loud) each note is; NaN = missed.

    Returns a share, 1/500 to 1: what is at most .05 is no chance. 1.0 below three rounds. Randomisation test within
    blocks: Edgington & Onghena 2007.
    """
    some = np.linspace(0, len(values) - 1, min(len(values), ROUNDS_MOST)).astype(int)
    table = values[some]
    table = table[np.isfinite(table).sum(axis=1) >= 2]
    if len(table) < 3:
        return 1.0
    table = table - np.nanmean(table, axis=1, keepdims=True)
    scatter = 1.4826 * float(np.nanmedian(np.abs(table))) or np.inf
    table = np.clip(table, -FAR * scatter, FAR * scatter)
    rng = np.random.default_rng(SEED)
    orders = rng.random((ORDERS, *table.shape)).argsort(axis=2)
    shuffled = np.take_along_axis(table[None], orders, axis=2)
    seen = _furthest(table[None])[0]
    return float(((_furthest(shuffled) >= seen - 1e-9).sum() + 1) / (ORDERS + 1))


def _furthest(tables: np.ndarray) -> np.ndarray:
    """How far the furthest step lies from the middle one, of each table."""
    known = np.isfinite(tables)
    means = np.where(known, tables, 0.0).sum(axis=1) / np.maximum(1, known.sum(axis=1))
    furthest: np.ndarray = np.abs(means - np.median(means, axis=1, keepdims=True)).max(axis=1)
    return furthest
