"""Her own threshold: what the statistic must pass to speak, from the most it reached in her own earlier record.

She is compared with herself, so no model of noise is needed: who marks much has a high threshold, who marks little a
low one (ours, tuned on simulated players). At a place whose signs she often calls "not so" it lies higher.
"""

import math
from collections.abc import Collection
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from chirotend.core.judge.signs.chain import Floats, sign_rules
from chirotend.core.tables import rows


@dataclass(frozen=True)
class WatchThreshold:
    """Where the threshold of a watch lies, in ln odds: its first value while there is no record of hers, its lowest
    and highest, and how far it stands above her record."""

    first: float
    low: float
    high: float
    above_record: float


@cache
def watch_threshold(watch: str) -> WatchThreshold:
    """Return the threshold of a watch (calmer, usual, earlier), from `sign_watches.csv`."""
    found = next(row for row in rows("sign_watches") if row["watch"] == watch)
    return WatchThreshold(*(float(found[name]) for name in ("first", "low", "high", "above_record")))


def own_thresholds(tallest: Floats, asked: NDArray[np.bool_], watch: str) -> Floats:
    """Return the threshold of each day (days, players), from the tallest statistic of all places on each day.

    The record runs from the 14th asked day until three weeks ago, so that a rise does not lift its own threshold. In
    the first 60 days, and where there is no record yet, it is one number.
    """
    r, here = sign_rules(), watch_threshold(watch)
    counted = np.where(np.cumsum(asked, axis=0) >= r.first_days, tallest, -math.inf)
    reached = np.maximum.accumulate(counted, axis=0)
    record = np.full_like(reached, -math.inf)
    record[r.record_ends_days :] = reached[: -r.record_ends_days]
    # the upper end is low, or a second place would speak a week later after a trouble at one (decision 186)
    thresholds = np.clip(record + here.above_record, here.low, here.high)
    thresholds[np.isneginf(record)] = here.first
    thresholds[: r.own_threshold_from_days] = here.first
    return np.asarray(thresholds)


def raised_by_answers(not_so: Collection[int], days: int) -> Floats:
    """Return by how much (ln odds) the threshold of a place is raised on each of `days` days.

    `not_so` are the numbers of the days on which its sign was answered with "not so"; below 0 = before the first day.
    """
    r = sign_rules()
    day = np.arange(days)[:, None]
    answered = np.array(sorted(not_so), dtype=np.int64)[None, :]
    count = ((answered <= day) & (answered > day - r.not_so_within_days)).sum(axis=1)
    return np.asarray(np.clip((count - r.not_so_from + 1) * r.not_so_step, 0.0, r.not_so_most))


def answered_enough(asked: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Return on which days (days, players) enough was asked for a sign to speak: 14 days in all, 3 of the last 14."""
    r = sign_rules()
    total = np.cumsum(asked, axis=0)
    before = np.zeros_like(total)
    before[r.lately_days :] = total[: -r.lately_days]
    return np.asarray((total >= r.first_days) & (total - before >= r.lately_asked))
