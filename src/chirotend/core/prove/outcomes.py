"""How a threshold performed: false alarms in healthy players, detections and their delay in the rest."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from chirotend.core.judge.signs.chain import Floats, sign_rules
from chirotend.core.late import late
from chirotend.core.simulate.cohort import Cohort

stats = late("scipy.stats")

YEAR = 364


@dataclass(frozen=True)
class Share:
    """A share or rate with its 95 % interval, and how many players it rests on."""

    value: float
    low: float
    high: float
    of: int


def share(hits: int, of: int) -> Share:
    """Return hits/of with the exact interval of Clopper and Pearson 1934, Biometrika 26:404 (from memory)."""
    low = float(stats.beta.ppf(0.025, hits, of - hits + 1)) if hits else 0.0
    high = float(stats.beta.ppf(0.975, hits + 1, of - hits)) if hits < of else 1.0
    return Share(hits / of, low, high, of)


def rate(events: int, years: float, of: int) -> Share:
    """Return events a year with the exact interval of Garwood 1936, Biometrika 28:437 (from memory).

    Events of one player resemble each other: the interval is somewhat too narrow.
    """
    low = float(stats.chi2.ppf(0.025, 2 * events)) / 2 if events else 0.0
    return Share(events / years, low / years, float(stats.chi2.ppf(0.975, 2 * events + 2)) / 2 / years, of)


def episodes(over: NDArray[np.bool_]) -> list[int]:
    """Return the days on which an episode began: as many quiet days lie before each as the rules ask."""
    began: list[int] = []
    last = -math.inf
    for day in map(int, np.flatnonzero(over)):
        if day - last > sign_rules().quiet_days:
            began.append(day)
        last = day
    return began


def false_signs(score: Floats, threshold: float) -> int:
    """Return how many episodes began for all players of a cohort with whom nothing was the matter."""
    tallest = score.max(axis=2)
    return sum(len(episodes(tallest[:, player] > threshold)) for player in range(tallest.shape[1]))


def player_years(score: Floats) -> float:
    years: float = float(score.shape[1]) * (score.shape[0] - sign_rules().first_days) / YEAR
    return years


def found_on(cohort: Cohort, score: Floats, threshold: float) -> list[int | None]:
    """Return, for each player, the day on which a troubled place rose over the threshold in time; None = not in time.

    In time: from the day the trouble began and before the day she would have had to stop.
    """
    over = np.where(cohort.troubled, score, -math.inf).max(axis=2) > threshold
    return [rose_in_time(cohort, player, over[:, player]) for player in range(score.shape[1])]


def rose_in_time(cohort: Cohort, player: int, over: NDArray[np.bool_]) -> int | None:
    """Return the first day in time on which `over` (days) holds and did not the day before; None = there is none."""
    rose = over & ~np.concatenate([[False], over[:-1]])
    window = cohort.in_time(player)
    days = np.flatnonzero(rose[window])
    return window.start + int(days[0]) if len(days) else None


@dataclass(frozen=True)
class Found:
    """How many were found in time, and the days between that and the stop: median and mean of those found."""

    share: Share
    lead_median: float
    lead_mean: float


def found_of(cohort: Cohort, days: list[int | None]) -> Found:
    leads = [float(stop - day) for day, stop in zip(days, cohort.stop, strict=True) if day is not None and stop >= 0]
    hits = sum(day is not None for day in days)
    return Found(share(hits, len(days)), float(np.median(leads or [math.nan])), float(np.mean(leads or [math.nan])))


#: reasons of a miss, in the order in which they are asked
MISSES = {
    "stood": "a sign stood there already on the day it began, and had not fallen since",
    "unasked": "she answered on fewer than half of the days before the stop",
    "few": "fewer than four days with a mark there before the stop",
    "short": "a week or less from its beginning to the stop",
    "faint": "what she told stayed near her usual",
}


def misses(cohort: Cohort, score: Floats, threshold: float) -> dict[str, int]:
    """Return how many troubles were not found in time, by the first reason of `MISSES` that holds."""
    counts = dict.fromkeys(MISSES, 0)
    for player, day in enumerate(found_on(cohort, score, threshold)):
        if day is None:
            counts[_why_missed(cohort, score > threshold, player)] += 1
    return counts


def _why_missed(cohort: Cohort, over: NDArray[np.bool_], player: int) -> str:
    days, here = cohort.in_time(player), cohort.troubled[player]
    if days.stop > days.start and over[days, player][:, here].any(axis=1).all():
        return "stood"
    if cohort.asked[days, player].mean() < 0.5:
        return "unasked"
    if (cohort.asked[days, player] & (cohort.strength[days, player][:, here] > 0).any(axis=1)).sum() < 4:
        return "few"
    return "short" if days.stop - days.start <= 7 else "faint"


#: above this share of days a lower threshold no longer means more episodes, only longer ones
MOST_DAYS_OVER = 0.15


def threshold_for(scores: list[Floats], budget: float) -> float:
    """Return the lowest threshold at which no score of a steady cohort has more than `budget` false signs a year."""
    return max(_line(score, budget) for score in scores)


def _line(score: Floats, budget: float) -> float:
    """By halving between the scores seen; a threshold is one of them, so that equal scores stay on one side."""
    tallest = score.max(axis=2)
    seen = np.unique(tallest[np.isfinite(tallest)].round(4))
    lowest = np.quantile(tallest, 1 - MOST_DAYS_OVER)
    low, high = int(np.searchsorted(seen, lowest)), len(seen) - 1
    allowed = budget * player_years(score)
    while low < high:
        middle = (low + high) // 2
        if false_signs(score, seen[middle]) <= allowed:
            high = middle
        else:
            low = middle + 1
    return float(seen[low])
