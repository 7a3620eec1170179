"""What invented players measure beside their diary: least pressure, evenness, tempo, strength … with noise and drift.

A measure tells of the sorest place of the day, whichever it is; its unit is the spread of one measuring, more is worse.
How much an excess shows in it is assumed (`simulated_measures.csv`).
"""

from dataclasses import dataclass
from functools import cache

import numpy as np

from chirotend.core.judge.signs.chain import Floats
from chirotend.core.simulate.cohort import Cohort
from chirotend.core.simulate.telling import Whole
from chirotend.core.tables import rows

#: how long a drift lasts: its likeness falls to a third in so many days
DRIFT_DAYS = 30.0


@dataclass(frozen=True)
class Measure:
    """A row of `simulated_measures.csv`: by how many of its own spreads it rises a unit of excess, the spread of its
    drift beside that of one measuring, and how many touches one measuring costs."""

    name: str
    per_excess: float
    drift: float
    touches: float

    @property
    def spread(self) -> float:
        """The spread of measuring and drift together."""
        return float(np.hypot(1.0, self.drift))


@cache
def measures() -> dict[str, Measure]:
    """Return the measures of the table, by name."""
    return {
        row["measure"]: Measure(row["measure"], *(float(row[name]) for name in ("per_excess", "drift", "touches")))
        for row in rows("simulated_measures")
    }


def sorest_elsewhere(excess: Floats) -> Floats:
    """Return, for each place (players x places, one after another), the largest of `excess` (players, places) at the
    others."""
    places = excess.shape[1]
    return np.stack([np.delete(excess, place, axis=1).max(axis=1) for place in range(places)], axis=1).reshape(-1)


def measured(cohort: Cohort, measure: Measure, every: int, seed: int) -> Floats:
    """Return what was measured (days, players), each asked day that comes `every` days after the last; nan = not."""
    days, players = cohort.minutes.shape
    rng = np.random.default_rng([seed, *map(ord, measure.name)])
    likeness = np.exp(-1 / DRIFT_DAYS)
    drift = measure.drift * rng.normal(size=players)
    found = np.full((days, players), np.nan)
    last: Whole = np.asarray(rng.integers(-every, 0, size=players))
    for day in range(days):
        drift = likeness * drift + measure.drift * np.sqrt(1 - likeness**2) * rng.normal(size=players)
        value = measure.per_excess * cohort.excess[day].max(axis=1) + drift + rng.normal(size=players)
        due = cohort.asked[day] & (day - last >= every)
        found[day, due], last[due] = value[due], day
    return found
