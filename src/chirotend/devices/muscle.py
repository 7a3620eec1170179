"""A muscle band and a force pad: traces with known bursts and rests, and strokes of a known force."""

from collections.abc import Iterator, Sequence

import numpy as np

from chirotend.core.measure.readings import Reading

RATE_HZ = 1000.0


def muscle(bursts_s: Sequence[tuple[float, float]], seconds: float, strength: float = 1.0, seed: int = 7) -> np.ndarray:
    """Return a surface EMG (mV) with noise-like bursts (begin, end) of `strength` over a rest near nothing."""
    rng = np.random.default_rng(seed)
    t = np.arange(int(seconds * RATE_HZ)) / RATE_HZ
    size = np.full(len(t), 0.002 * strength)
    for begin, end in bursts_s:
        size[(t >= begin) & (t < end)] = strength
    found: np.ndarray = size * rng.normal(size=len(t))
    return found


def press(levels_N: Sequence[float], each_s: float, seed: int = 8) -> np.ndarray:
    """Return what a pad shows (N) while each of `levels_N` is held for `each_s`, with a tremble of 2 %."""
    rng = np.random.default_rng(seed)
    found: np.ndarray = np.concatenate([np.full(int(each_s * RATE_HZ), level) for level in levels_N])
    return found * (1 + 0.02 * rng.normal(size=len(found)))


def struck(
    peaks_N: Sequence[float], apart_s: float = 0.25, contact_ms: float = 4.0, rate_hz: float = 2000.0
) -> np.ndarray:
    """Return what a stroke scale shows: half-sines of known peaks on a hand that rests at 1 N."""
    force = np.full(int(rate_hz * (len(peaks_N) * apart_s + 1)), 1.0)
    size = round(rate_hz * contact_ms / 1000)
    for n, peak in enumerate(peaks_N):
        start = int(rate_hz * (0.5 + n * apart_s))
        force[start : start + size] += peak * np.sin(np.pi * np.arange(size) / size)
    return force


def readings(channel: str, unit: str, samples: np.ndarray, rate_hz: float = RATE_HZ) -> Iterator[Reading]:
    """Yield samples as a device sends them."""
    for n, value in enumerate(samples):
        yield Reading(1000 * n / rate_hz, channel, float(value), unit)
