"""The zero of a force trace: what the pad reads with the hands off it. Without one, a press that never lets go and no
press at all are the same trace, so nothing is told of it."""

from collections.abc import Sequence

import numpy as np

from chirotend.core.errors import Degenerate, OutOfRange, TooFew, check_range
from chirotend.core.measure.stretch import Stretch

#: hands off for so long (s); within it nine in ten of the values lie closer together than this share of all the trace
TARE_S, STILL_SHARE = 3.0, 0.2
#: a let-go so close (s) to the beginning or the end is none of the playing when she says that her hands were off in it
AT_THE_END_S = 1.0
#: a reading that stays at its highest or lowest for so long (s), often enough (share of the time), has met its end
CLIPPED_S, CLIPPED_SHARE = 0.05, 0.01


def tare(samples: np.ndarray, rate_hz: float, from_s: float) -> float:
    """Return what a trace reads in the three seconds from `from_s` on, in its own unit: their middle value.

    `OutOfRange` where they are not inside the trace, `TooFew` where most of them is missing, `Degenerate` where the
    trace moves meanwhile: hands that are off do not.
    """
    seconds = len(samples) / rate_hz
    check_range("hands_off", from_s, 0, None, "s")
    if from_s + TARE_S > seconds:
        raise OutOfRange("hands_off", from_s, 0, max(0.0, seconds - TARE_S), "s")
    here = samples[int(from_s * rate_hz) : int((from_s + TARE_S) * rate_hz)]
    known = here[~np.isnan(here)]
    if len(known) < len(here) / 2:
        raise TooFew("hands_off", "more than half of these three seconds is missing")
    low, high = np.percentile(known, [5, 95])
    whole_low, whole_high = np.nanpercentile(samples, [1, 99])
    if high - low > STILL_SHARE * (whole_high - whole_low):
        raise Degenerate("hands_off", "the trace moves in these three seconds: the hands were not off")
    return float(np.median(known))


def zero_line(zeros: Sequence[tuple[float, float]], count: int, rate_hz: float, first: int = 0) -> np.ndarray:
    """Return the zero of each of `count` samples from sample `first` on: straight between the tares (second, value),
    level outside them."""
    at = np.arange(first, first + count) / rate_hz
    line: np.ndarray = np.interp(at, [second for second, _ in zeros], [value for _, value in zeros])
    return line


def played(gaps: Sequence[Stretch], hands_off_s: Sequence[float], seconds: float) -> tuple[float, float]:
    """Return from when to when (s) a trace is of playing: without the let-go it begins or ends with, where the hands
    were said to be off in it (`hands_off_s`)."""
    first, last = 0.0, seconds
    for gap in gaps:
        if any(gap.start_s <= second < gap.end_s for second in hands_off_s):
            first = gap.end_s if gap.start_s <= AT_THE_END_S else first
            last = gap.start_s if gap.end_s >= seconds - AT_THE_END_S else last
    return first, last


def is_upside_down(above_zero: np.ndarray) -> bool:
    """Return whether pressing makes a trace go down: it lies further below its zero than above it, at the ends of the
    middle nine in ten."""
    low, high = np.nanpercentile(above_zero, [5, 95])
    return bool(-low > 2 * max(0.0, high))


def is_clipped(samples: np.ndarray, rate_hz: float) -> bool:
    """Return whether a trace stays at its very highest again and again: what was stronger is not in it."""
    known = np.nan_to_num(samples, nan=-np.inf)
    most = known.max()
    if not np.isfinite(most) or np.nanmin(samples) == most:
        return False
    edges = np.diff(np.concatenate(([0], (known == most).astype(np.int8), [0])))
    runs = np.flatnonzero(edges == -1) - np.flatnonzero(edges == 1)
    long = runs[runs >= max(3, CLIPPED_S * rate_hz)]
    return bool(long.sum() >= CLIPPED_SHARE * len(samples))
