"""How evenly notes follow one another: coefficient of variation and nPVI. Seconds in, ms out."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from chirotend.core.errors import Inconsistent, TooFew, check_number


@dataclass(frozen=True)
class Evenness:
    """Mean distance of notes (ms), its spread over its mean, and the nPVI: 0 = even, below 200."""

    mean_ms: float
    cv: float
    npvi: float


def ioi_evenness(onsets_s: Sequence[float]) -> Evenness:
    """Return how even a run of equal notes is; at least 3 onsets, rising (else `Inconsistent`).

    A change of tempo raises the spread, hardly the nPVI. Patel & Daniele 2003, Cognition 87:B35-45, from memory.
    """
    return evenness_of([[check_number("onsets_s", t) for t in onsets_s]])


def evenness_of(runs_s: Sequence[Sequence[float]]) -> Evenness:
    """Return how even several runs of equal notes are together; between two runs nothing is compared. As
    `ioi_evenness`; `TooFew` when no run has 3 notes."""
    between = [np.diff(np.asarray(run, dtype=float)) for run in runs_s if len(run) >= 3]
    if not between:
        raise TooFew("onsets_s", f"{max(map(len, runs_s), default=0)} notes, 3 are needed")
    gaps = np.concatenate(between)
    if (gaps <= 0).any():
        raise Inconsistent("onsets_s", "the notes do not follow one another in time")
    mean = float(gaps.mean())
    pairs = np.concatenate([np.abs(np.diff(run)) / ((run[:-1] + run[1:]) / 2) for run in between])
    return Evenness(1000 * mean, float(gaps.std(ddof=1)) / mean, float(100 * pairs.mean()))
