"""Strokes on a force trace: how hard each one is, what a session of them adds up to, which stick spares the hand.

Newtons, seconds; loudness in dB against anything, as long as it is the same for all that are compared.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from chirotend.core.errors import TooFew, check_range
from chirotend.core.late import late

signal = late("scipy.signal")

#: a stroke stands out by so many spreads of the noise, and by this share of the strong ones (ours); it follows another
#: one no sooner (s)
ABOVE_NOISE, STANDS_OUT, APART_S = 8.0, 0.2, 0.045
LEAST_STROKES = 3


@dataclass(frozen=True)
class Stroke:
    """One stroke: when, its peak force (N), how long it lasts at half of it (ms)."""

    at_s: float
    peak_N: float
    width_ms: float


def strokes(force_N: np.ndarray, rate_hz: float) -> tuple[Stroke, ...]:
    """Return the strokes of a force trace, unfiltered: a peak is lower after any filter. `TooFew` below 3.

    The noise is told from what lies below the middle of the trace, where no stroke is: neither few strokes nor many
    move it.
    """
    rate = check_range("rate_hz", rate_hz, 100, 50_000, "Hz")
    quiet = np.nan_to_num(force_N - np.nanmedian(force_N), nan=0.0)
    noise = 1.4826 * float(np.median(-quiet[quiet <= 0]))
    least, apart = max(ABOVE_NOISE * noise, 1e-9), max(1, round(APART_S * rate))
    peaks, found = signal.find_peaks(quiet, height=least, prominence=least, distance=apart)
    if len(peaks):
        strong = float(np.percentile(found["prominences"], 90))
        peaks = peaks[found["prominences"] >= STANDS_OUT * strong]
    if len(peaks) < LEAST_STROKES:
        raise TooFew("force_N", f"{len(peaks)} strokes, {LEAST_STROKES} are needed")
    widths = signal.peak_widths(quiet, peaks, rel_height=0.5)[0]
    return tuple(
        Stroke(float(p / rate), float(quiet[p]), float(1000 * w / rate)) for p, w in zip(peaks, widths, strict=True)
    )


@dataclass(frozen=True)
class StrokeSet:
    """What one stick, or one way to strike, asks: strokes, middle and top of their peaks (N), their sum (N)."""

    count: int
    middle_N: float
    top_N: float
    dose_N: float


def stroke_set(peaks_N: Sequence[float]) -> StrokeSet:
    """Return what strokes add up to: dose = strokes × peak, summed. `TooFew` below 3."""
    peaks = [check_range("peaks_N", p, low=0, unit="N") for p in peaks_N]
    if len(peaks) < LEAST_STROKES:
        raise TooFew("peaks_N", f"{len(peaks)} strokes, {LEAST_STROKES} are needed")
    return StrokeSet(len(peaks), float(np.median(peaks)), float(np.percentile(peaks, 90)), float(sum(peaks)))


def at_equal_loudness(sets: Mapping[str, Sequence[tuple[float, float]]]) -> dict[str, float]:
    """Return the peak force (N) each of `sets` (name → peak N, loudness dB of every stroke) needs at one loudness.

    The loudness is the middle of all strokes; within a set force grows with loudness along a line that all sets share
    on a logarithmic scale, so a stick that was only played softer gains nothing. `TooFew` with fewer than two sets, or
    with fewer than 3 strokes in one.
    """
    if len(sets) < 2:
        raise TooFew("sets", "two sticks or ways to strike are needed")
    names, logs, loud = [], [], []
    for name, pairs in sets.items():
        if len(pairs) < LEAST_STROKES:
            raise TooFew("sets", f"{name}: {len(pairs)} strokes, {LEAST_STROKES} are needed")
        names += [name] * len(pairs)
        logs += [float(np.log(check_range("peak_N", p, low=1e-6))) for p, _ in pairs]
        loud += [check_range("loudness_db", d) for _, d in pairs]
    which = np.array([[float(n == name) for name in sets] for n in names])
    middle = float(np.median(loud))
    known = np.column_stack((which, np.array(loud) - middle))
    found, *_ = np.linalg.lstsq(known, np.array(logs), rcond=None)
    return {name: float(np.exp(v)) for name, v in zip(sets, found[: len(sets)], strict=True)}
