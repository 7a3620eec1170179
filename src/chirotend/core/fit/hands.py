"""Measured hands, and what a reach asks of them. Lengths in millimetres; a gap that was not measured is not judged."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, field

from chirotend.core.errors import Inconsistent, OutOfRange, check_range, check_word
from chirotend.core.late import late
from chirotend.core.record.measures import measure_of
from chirotend.core.tables import rows

special = late("scipy.special")

#: 1 is the index finger, 4 the little one, T the thumb
FINGERS = ("T", "1", "2", "3", "4")
PAIRS = ("T-1", "T-2", "T-3", "T-4", "1-2", "2-3", "3-4", "1-3", "2-4", "1-4")
GAP, SPAN = measure_of("hand.gap.1-2.ease"), measure_of("hand.span")
COMFORTABLE, STRETCHED, OUT_OF_REACH, NOT_MEASURED = "comfortable", "stretched", "out of reach", "not measured"
VERDICTS = (NOT_MEASURED, COMFORTABLE, STRETCHED, OUT_OF_REACH)


@dataclass(frozen=True)
class Gap:
    """How far two fingertips part: held for a slow breath without effort, and at most. Millimetres."""

    ease_mm: float
    most_mm: float

    def __post_init__(self) -> None:
        check_range("ease_mm", self.ease_mm, GAP.low, GAP.high, "mm")
        check_range("most_mm", self.most_mm, GAP.low, GAP.high, "mm")
        if self.ease_mm > self.most_mm:
            raise Inconsistent("ease_mm", "a gap at ease cannot be wider than the same gap at most")


@dataclass(frozen=True)
class Hand:
    """One hand as measured: gaps by pair of fingers, whole span and length; None or absent = not measured."""

    side: str
    gaps: Mapping[str, Gap] = field(default_factory=dict)
    span_mm: float | None = None
    length_mm: float | None = None

    def __post_init__(self) -> None:
        check_word("side", self.side, ("left", "right"))
        for pair in self.gaps:
            check_word("gaps", pair, PAIRS)
        if self.span_mm is not None:
            check_range("span_mm", self.span_mm, SPAN.low, SPAN.high, "mm")


@dataclass(frozen=True)
class Asked:
    """What one pair of fingers is asked for, beside what it has."""

    pair: str
    asked_mm: float
    ease_mm: float | None
    most_mm: float | None
    verdict: str


def asked_of(hand: Hand, pair: str, asked_mm: float) -> Asked:
    """Return the verdict on one pair: comfortable up to the gap at ease, stretched up to the gap at most."""
    gap = hand.gaps.get(pair)
    if gap is None:
        return Asked(pair, asked_mm, None, None, NOT_MEASURED)
    verdict = COMFORTABLE if asked_mm <= gap.ease_mm else STRETCHED if asked_mm <= gap.most_mm else OUT_OF_REACH
    return Asked(pair, asked_mm, gap.ease_mm, gap.most_mm, verdict)


def worst(asked: tuple[Asked, ...]) -> str:
    """Return the hardest verdict among `asked`; nothing is "comfortable" while a pair of them was not measured."""
    hardest = max((a.verdict for a in asked), key=VERDICTS.index, default=NOT_MEASURED)
    if hardest == COMFORTABLE and any(a.verdict == NOT_MEASURED for a in asked):
        return NOT_MEASURED
    return hardest


def normal_percentile(x: float, mean: float, sd: float) -> float:
    """Return 100·Φ((x−mean)/sd): the share of a normal population below `x`. `sd` must be above 0."""
    check_range("sd", sd, low=math.nextafter(0, 1))
    return float(100 * special.ndtr((x - mean) / sd))


@dataclass(frozen=True)
class Norm:
    """A published mean and spread, millimetres, with where it comes from and how sure that is."""

    key: str
    who: str
    mean_mm: float
    sd_mm: float
    source: str
    status: str


def hand_norms(measure: str) -> tuple[Norm, ...]:
    """Return the norms of `measure` (span or length); `OutOfRange` for another word."""
    found = tuple(
        Norm(r["measure"], r["who"], float(r["mean_mm"]), float(r["sd_mm"]), r["source"], r["status"])
        for r in rows("hand_norms")
        if r["measure"] == measure
    )
    if not found:
        raise OutOfRange("measure", measure, words=("span", "length"))
    return found
