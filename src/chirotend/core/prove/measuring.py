"""What measuring would add to a diary: early signs that also read a measure, on the same invented players.

Of no part of the call: how much a trouble shows in a measure is assumed, so it shows only which measure could be worth
its touches.
"""

import math
from dataclasses import dataclass

import numpy as np

from chirotend.core.judge.evidence import USUAL_WATCH
from chirotend.core.judge.signs.chain import Floats, chain
from chirotend.core.judge.signs.filter import Filter
from chirotend.core.prove.outcomes import false_signs, found_on, player_years
from chirotend.core.prove.scores import above_own_threshold, filter_days, signs_statistic
from chirotend.core.simulate.cohort import Cohort
from chirotend.core.simulate.measures import Measure, measured, sorest_elsewhere

#: what the reader takes for granted of every measure: how many of her own spreads it rises a unit of excess
RISES = 0.3
#: the power of its likelihood, as for marks; values of hers from three weeks ago back, and how many are needed
GUARD, LEAST, OLD_DAYS = 0.5, 6, 21
#: her spread is pulled to 1 as by so many values
PRIOR_VALUES = 3.0


@dataclass(frozen=True)
class Gain:
    """How a cohort fares with a measure: the share found and the mean days of lead, missed ones 0; of those nothing is
    the matter with the false signs a year."""

    found: float
    lead: float
    false: float


def gain(cohort: Cohort, measure: Measure | None, every: int, seed: int) -> Gain:
    """Return how signs fare that read a measure taken every so many days; None = the diary alone."""
    values = None if measure is None else measured(cohort, measure, every, seed)
    over = above_own_threshold(score_with(cohort, values), cohort, USUAL_WATCH)
    if not cohort.kind.troubled:
        return Gain(math.nan, math.nan, false_signs(over, 0.0) / player_years(over))
    days = found_on(cohort, over, 0.0)
    leads = [stop - day if day is not None and stop >= 0 else 0 for day, stop in zip(days, cohort.stop, strict=True)]
    return Gain(sum(day is not None for day in days) / len(days), float(np.mean(leads)), math.nan)


def score_with(cohort: Cohort, values: Floats | None) -> Floats:
    """Return the statistic of early signs that also read `values` (days, players; nan = not measured, None = none)."""
    places = cohort.strength.shape[2]
    filtered, odds = Filter(cohort.strength.shape[1] * places), []
    for number, day in enumerate(filter_days(cohort)):
        filtered.step(day)
        if values is not None:
            away = _from_her_own(values, number)
            if not np.isnan(away).all():
                filtered.weigh(_tells(filtered, away, places))
        odds.append(filtered.log_odds())
    return signs_statistic(cohort, np.array(odds))


def _from_her_own(values: Floats, day: int) -> Floats:
    """How many of her own spreads (players) each value of a day lies above her own mean; nan = cannot tell."""
    past = values[: max(0, day - OLD_DAYS + 1)]
    known = ~np.isnan(past)
    count = known.sum(axis=0)
    mean = np.where(known, past, 0.0).sum(axis=0) / np.maximum(count, 1)
    squares = np.where(known, (past - mean) ** 2, 0.0).sum(axis=0)
    spread = np.sqrt((squares + PRIOR_VALUES) / (np.maximum(count - 1, 0) + PRIOR_VALUES))
    return np.where(count >= LEAST, (values[day] - mean) / spread, np.nan)


def _tells(filtered: Filter, away: Floats, places: int) -> Floats:
    """(places of all players, states): how well each state tells the value, beside what is expected of other places."""
    levels = chain().levels
    expected = (filtered.likely.sum(axis=0) @ levels).reshape(-1, places)
    sorest = np.maximum(levels[None, :], sorest_elsewhere(expected)[:, None])
    here = np.repeat(away, places)[:, None]
    return np.where(np.isnan(here), 1.0, np.exp(-0.5 * GUARD * (here - RISES * sorest) ** 2))
