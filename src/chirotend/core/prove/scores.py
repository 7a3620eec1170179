"""What could be watched: scores (days, players, places) of a cohort, to compare with a threshold. Not asked = kept
as on the day before."""

import math
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from chirotend.core.judge.evidence import USUAL_WATCH
from chirotend.core.judge.signs.chain import Floats, sign_rules
from chirotend.core.judge.signs.filter import Day, Filter
from chirotend.core.judge.signs.own_threshold import answered_enough, own_thresholds
from chirotend.core.judge.signs.raised import rank_sums, statistic
from chirotend.core.simulate.cohort import Cohort

RATIO_DAYS = 28


def signs_score(cohort: Cohort) -> Floats:
    """The statistic of early signs, as the call works it out."""
    filtered = Filter(cohort.strength[0].size)
    return signs_statistic(cohort, np.array([filtered.step(day) for day in filter_days(cohort)]))


def filter_days(cohort: Cohort) -> Iterator[Day]:
    """Yield the days of a cohort as the filter reads them, the places of all players side by side."""
    strength = _strongest(cohort)
    days, _, places = strength.shape
    flat, known = strength.reshape(days, -1), np.repeat(cohort.asked, places, axis=1)
    character = np.where(flat > 0, cohort.character.reshape(days, -1), 0)
    nerve = cohort.nerve.reshape(days, -1)
    for s, c, n, k in zip(flat, character, nerve, known, strict=True):
        yield Day(np.where(k, s, 0), c, n & k, k)


def signs_statistic(cohort: Cohort, odds: Floats) -> Floats:
    """Return the statistic (days, players, places) of the ln odds of the filter, with the rank sums of the marks."""
    return statistic(odds.reshape(cohort.strength.shape), _rank_sums(_strongest(cohort), cohort))


def signs_over_own_threshold(cohort: Cohort) -> Floats:
    """How far early signs are above her own threshold at the usual watch."""
    return above_own_threshold(signs_score(cohort), cohort, USUAL_WATCH)


def above_own_threshold(score: Floats, cohort: Cohort, watch: str) -> Floats:
    """How far the statistic of early signs is above her own threshold, worked out and silent as in the call."""
    over = score - own_thresholds(score.max(axis=2), cohort.asked, watch)[:, :, None]
    return np.where(answered_enough(cohort.asked)[:, :, None], over, -math.inf)


def rank_score(cohort: Cohort) -> Floats:
    """The rank sum alone."""
    return from_the_first_days(_rank_sums(_strongest(cohort), cohort), cohort)


def rank_score_without_nerve_signs(cohort: Cohort) -> Floats:
    """The rank sum of tightness and pain alone, as in version 2 of the rules; it does not use tingling or numbness."""
    return from_the_first_days(_rank_sums(np.where(cohort.nerve, 0, _strongest(cohort)), cohort), cohort)


def strongest_score(cohort: Cohort) -> Floats:
    """ "Any pain": the strongest mark of the last three asked days."""
    return _over_asked(cohort, 3, np.max)


def days_marked_score(cohort: Cohort) -> Floats:
    """ "Marked every day": days with a mark among the last seven asked; their mean strength breaks ties."""
    return _over_asked(cohort, 7, lambda observed, axis: (observed > 0).sum(axis=axis) + observed.mean(axis=axis) / 100)


def load_ratio_score(cohort: Cohort) -> Floats:
    """The load of 7 days against that of 28, by week (methods 1: shown here to be compared, never scored)."""
    load = cohort.minutes * cohort.effort  # `srpe_load` of every day and player at once
    total = np.cumsum(np.vstack([np.zeros(load.shape[1]), load]), axis=0)
    ratio = np.zeros_like(load)
    now = np.arange(RATIO_DAYS, len(load) + 1)
    ratio[now - 1] = 4 * (total[now] - total[now - 7]) / np.maximum(total[now] - total[now - RATIO_DAYS], 1e-9)
    return np.repeat(ratio[:, :, None], cohort.strength.shape[2], axis=2)


def _strongest(cohort: Cohort) -> NDArray[np.int64]:
    return np.minimum(cohort.strength, sign_rules().strongest)


def _rank_sums(strength: NDArray[np.int64], cohort: Cohort) -> Floats:
    observed = np.where(cohort.asked[:, :, None], strength.astype(float), np.nan).reshape(len(strength), -1)
    columns = [[None if v != v else v for v in column.tolist()] for column in observed.T]
    return np.column_stack([rank_sums(column) for column in columns]).reshape(strength.shape)


def from_the_first_days(score: Floats, cohort: Cohort) -> Floats:
    """Silent until so many days were asked."""
    enough = cohort.asked.cumsum(axis=0) > sign_rules().first_days
    return np.where(enough[:, :, None], score, -math.inf)


def _over_asked(cohort: Cohort, last: int, of) -> Floats:  # type: ignore[no-untyped-def]
    days, players, places = cohort.strength.shape
    score = np.zeros((days, players, places))
    for player in range(players):
        asked = np.flatnonzero(cohort.asked[:, player])
        observed = cohort.strength[asked, player].astype(float)
        padded = np.vstack([np.zeros((last - 1, places)), observed])
        rolled = np.lib.stride_tricks.sliding_window_view(padded, last, axis=0)
        here = of(rolled, axis=2)
        before = np.searchsorted(asked, np.arange(days), side="right") - 1
        score[:, player] = np.where((before >= 0)[:, None], here[np.maximum(before, 0)], 0.0)
    return from_the_first_days(score, cohort)
