"""Traces of a sensor: force pads, muscle (EMG), accelerometers, scales. Samples at equal steps, gaps as NaN.

A muscle's trace is filtered, rectified and smoothed into an envelope; a force's is smoothed. Both are then told as a
share of her own strongest effort (%MVC) or, without one, of the recording's own loud part, which compares with nothing.
"""

from dataclasses import dataclass

import numpy as np

from chirotend.core.errors import Degenerate, TooFew, check_range
from chirotend.core.late import late
from chirotend.core.measure.stretch import Stretch

signal = late("scipy.signal")

#: band of a surface EMG, and of its envelope; usual choices (SENIAM, from memory)
EMG_BAND_HZ, ENVELOPE_HZ, FORCE_HZ = (10.0, 450.0), 6.0, 20.0
RATES_HZ = (5.0, 50_000.0)
#: hum of the mains, how narrow its notch is, and how much stronger than beside it it must be (ours)
HUMS_HZ, HUM_Q, HUM_STANDS_OUT = (50.0, 60.0), 30.0, 10.0
#: of an envelope less than this share moves faster than 20 Hz (ours)
ENVELOPE_SHARE = 0.2
#: a rest gap: this quiet (%MVC), at least this long. Veiersted, Westgaard & Andersen 1990, from memory
REST_PCT, REST_S = 0.5, 0.2
#: a burst begins above the first share of the loud part (95th percentile) and ends below the second; at least so long
BURST_UP, BURST_DOWN, BURST_S = 0.3, 0.2, 0.1
CHANNEL_KINDS = ("emg", "force", "acceleration", "scale")


def band_pass(samples: np.ndarray, rate_hz: float, low_hz: float, high_hz: float) -> np.ndarray:
    """Return `samples` without what is below and above the band: Butterworth, order 4 over both ways, no delay."""
    rate = check_range("rate_hz", rate_hz, *RATES_HZ, "Hz")
    highest = min(high_hz, 0.45 * rate)
    if highest <= low_hz:
        raise Degenerate("rate_hz", f"{rate:g} samples a second hold nothing above {low_hz:g} Hz")
    return _filtered(samples, signal.butter(2, (low_hz, highest), "bandpass", fs=rate, output="sos"))


def low_pass(samples: np.ndarray, rate_hz: float, high_hz: float) -> np.ndarray:
    """Return `samples` smoothed: Butterworth, order 4 over both ways, no delay. Below twice the band: as they are."""
    rate = check_range("rate_hz", rate_hz, *RATES_HZ, "Hz")
    if rate <= 2.2 * high_hz:
        return samples
    return _filtered(samples, signal.butter(2, high_hz, "lowpass", fs=rate, output="sos"))


def _filtered(samples: np.ndarray, sos: np.ndarray) -> np.ndarray:
    if len(samples) < 64:
        raise TooFew("samples", f"{len(samples)} samples, 64 are needed")
    found: np.ndarray = signal.sosfiltfilt(sos, samples)
    return found


def filled(samples: np.ndarray) -> np.ndarray:
    """Return `samples` with gaps (NaN) bridged by straight lines, for a filter; `TooFew` when most of it is gaps."""
    gaps = np.isnan(samples)
    if gaps.mean() > 0.5:
        raise TooFew("samples", "more than half of the trace is missing")
    if not gaps.any():
        return samples
    at = np.arange(len(samples))
    bridged: np.ndarray = np.interp(at, at[~gaps], samples[~gaps])
    return bridged


def envelope(samples: np.ndarray, rate_hz: float, kind: str, zero: np.ndarray | float = 0.0) -> np.ndarray:
    """Return how strong a trace is from sample to sample, 0 and more, in its own unit; gaps stay gaps.

    EMG: without hum, band, rectified, 6 Hz; one that is an envelope already: 6 Hz. Force and scale: 20 Hz, above
    `zero`, what it reads with the hands off. Acceleration: its change, 6 Hz.
    """
    whole, gaps = filled(np.asarray(samples, dtype=float)), np.isnan(samples)
    if kind == "emg":
        found = low_pass(_rectified(whole, rate_hz), rate_hz, ENVELOPE_HZ)
    elif kind == "acceleration":
        found = low_pass(np.abs(whole - np.median(whole)), rate_hz, ENVELOPE_HZ)
    else:
        found = low_pass(whole - zero, rate_hz, FORCE_HZ)
    strength: np.ndarray = np.maximum(0, found)
    return np.where(gaps, np.nan, strength) if gaps.any() else strength


def _rectified(muscle: np.ndarray, rate_hz: float) -> np.ndarray:
    if is_envelope(muscle, rate_hz):
        return muscle
    for hum in hums(muscle, rate_hz):
        for harmonic in np.arange(hum, min(EMG_BAND_HZ[1], 0.45 * rate_hz), hum):
            muscle = signal.filtfilt(*signal.iirnotch(harmonic, HUM_Q, rate_hz), muscle)
    muscle = band_pass(muscle, rate_hz, *EMG_BAND_HZ)
    rectified: np.ndarray = np.abs(muscle, out=muscle)
    return rectified


def is_envelope(muscle: np.ndarray, rate_hz: float) -> bool:
    """Return whether a muscle's trace (without gaps) was rectified and smoothed already: it is nowhere below 0, and
    hardly any of it moves faster than 20 times a second. A raw one that was shifted above 0 moves faster."""
    if muscle.min() < 0 or rate_hz < 3 * FORCE_HZ:
        return False
    moves = float(muscle.var())
    return moves > 0 and float((muscle - low_pass(muscle, rate_hz, FORCE_HZ)).var()) < ENVELOPE_SHARE * moves


def hums(muscle: np.ndarray, rate_hz: float) -> tuple[float, ...]:
    """Return the mains frequencies (50, 60 Hz) that stand out of a muscle's trace (without gaps): ten times as strong
    as what lies beside them."""
    if len(muscle) < 2 * rate_hz or rate_hz < 2.5 * max(HUMS_HZ):
        return ()
    at, power = signal.welch(muscle, rate_hz, nperseg=int(2 * rate_hz))
    found = []
    for hum in HUMS_HZ:
        beside = (np.abs(at - hum) >= 3) & (np.abs(at - hum) <= 8)
        if power[np.abs(at - hum) <= 1].max() > HUM_STANDS_OUT * np.median(power[beside]):
            found.append(hum)
    return tuple(found)


def share_of_maximum(strength: np.ndarray, maximum: float, rest: float = 0.0) -> np.ndarray:
    """Return an envelope as % of her own strongest effort, what it shows at rest taken off both.

    `Degenerate` where the strongest is no more than the rest.
    """
    check_range("maximum", maximum, 0)
    check_range("rest", rest, 0)
    if maximum <= rest:
        raise Degenerate("maximum", "the strongest effort is no stronger than rest")
    share: np.ndarray = np.maximum(0, 100 * (strength - rest) / (maximum - rest))
    return share


def stretches(on: np.ndarray, rate_hz: float, least_s: float) -> tuple[Stretch, ...]:
    """Return the stretches where `on` holds for at least `least_s`."""
    edges = np.diff(np.concatenate(([0], on.astype(np.int8), [0])))
    starts, ends = np.flatnonzero(edges == 1), np.flatnonzero(edges == -1)
    long = (ends - starts) / rate_hz >= least_s
    return tuple(Stretch(float(a / rate_hz), float(b / rate_hz)) for a, b in zip(starts[long], ends[long], strict=True))


def bursts(strength: np.ndarray, rate_hz: float) -> tuple[Stretch, ...]:
    """Return the bursts of an envelope: up past one line, down past a lower one. `Degenerate` where nothing moves."""
    loud = float(np.nanpercentile(strength, 95))
    quiet = float(np.nanpercentile(strength, 5))
    if loud <= quiet:
        raise Degenerate("samples", "nothing moves in this trace")
    level = (strength - quiet) / (loud - quiet)
    state = np.where(level >= BURST_UP, 1, np.where(level <= BURST_DOWN, 0, -1))  # between, and in a gap: as before
    known = np.maximum.accumulate(np.where(state >= 0, np.arange(len(state)), 0))
    on = state[known] == 1
    return stretches(on, rate_hz, BURST_S)


@dataclass(frozen=True)
class Rests:
    """Where a muscle or hand let go: gaps a minute, their share of the time (%), the longest time without one (s)."""

    gaps: tuple[Stretch, ...]
    a_minute: float
    share_pct: float
    longest_without_s: float


def rests(pct: np.ndarray, rate_hz: float, below_pct: float = REST_PCT, least_s: float = REST_S) -> Rests:
    """Return the rest gaps of a trace in % of her strongest effort. `TooFew` below a second."""
    seconds = len(pct) / rate_hz
    if seconds < 1:
        raise TooFew("samples", "less than a second")
    found = stretches(np.nan_to_num(pct, nan=np.inf) < below_pct, rate_hz, least_s)
    edges = [0.0, *(t for g in found for t in (g.start_s, g.end_s)), seconds]
    without = max(b - a for a, b in zip(edges[::2], edges[1::2], strict=True))
    return Rests(found, 60 * len(found) / seconds, 100 * sum(g.seconds for g in found) / seconds, without)


def overview(samples: np.ndarray, steps: int) -> tuple[np.ndarray, np.ndarray]:
    """Return the lowest and the highest of `samples` in `steps` equal parts (fewer samples: each by itself)."""
    edges = np.linspace(0, len(samples), min(steps, len(samples)) + 1).astype(int)[:-1]
    return np.minimum.reduceat(samples, edges), np.maximum.reduceat(samples, edges)
