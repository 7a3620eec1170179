"""How well found onsets meet those that are meant."""

from collections.abc import Sequence
from dataclasses import dataclass

from chirotend.core.errors import TooFew


@dataclass(frozen=True)
class OnsetScore:
    """How well found onsets meet those that are meant."""

    hits: int
    precision: float
    recall: float
    f: float


def onset_f(ref_s: Sequence[float], est_s: Sequence[float], window_s: float = 0.05) -> OnsetScore:
    """Return precision, recall and F of `est_s` against `ref_s`: one to one, within ± `window_s` inclusive.

    `TooFew` where either is empty. Raffel et al. 2014 (mir_eval), whose largest matching equals this one on sorted
    times.
    """
    ref, est = sorted(ref_s), sorted(est_s)
    if not ref or not est:
        raise TooFew("ref_s" if not ref else "est_s", "no onsets")
    hits, i, j = 0, 0, 0
    while i < len(ref) and j < len(est):
        gap = est[j] - ref[i]
        if abs(gap) <= window_s + 1e-12:
            hits, i, j = hits + 1, i + 1, j + 1
        elif gap < 0:
            j += 1
        else:
            i += 1
    precision, recall = hits / len(est), hits / len(ref)
    return OnsetScore(hits, precision, recall, 2 * precision * recall / (precision + recall) if hits else 0.0)
