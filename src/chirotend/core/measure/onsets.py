"""Where notes begin in sound: the growth of its spectrum from moment to moment, in bounded memory.

Spectral flux on a logarithmic scale with a maximum filter over neighbouring bands, so that vibrato is no note (Böck &
Widmer 2013, DAFx-13; peak picking as in Böck, Krebs & Schedl 2012, ISMIR; from memory). Plucked and struck notes are
found to a few ms; a bowed or blown one swells, and where it "begins" is a matter of taste: tens of ms.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from chirotend.core.errors import Degenerate, TooFew, check_range
from chirotend.core.late import late

fft = late("scipy.fft")
ndimage = late("scipy.ndimage")

STEP_S, WINDOW_S = 0.005, 0.04
#: levels are brought to this before the logarithm: a soft recording is heard as a loud one
LEVEL = 0.1
_COMPRESS = 200.0
#: the growth is taken against the spectrum so many steps before
_LAG = 4
_BANDS_OCTAVE, _LOWEST_HZ, _HIGHEST_HZ = 24, 40.0, 12_000.0
#: a peak is the largest within this of it, and above the mean around it by so much; two are never closer
_AROUND_S, _MEAN_S, _ABOVE, _APART_S = 0.03, 0.1, 0.007, 0.03
#: the peak of the growth lies this far after the beginning of a plucked note (measured on synthesised ones)
_LATE_S = 0.004
RATES_HZ = (8_000, 192_000)
#: notes that begin less clearly than this are not timed: just below it a finger is named wrongly in one of five
#: recordings of even playing, from it on in none (our simulation: attacks of 5 to 130 ms, five rooms, noise)
CLEAR_LEAST = 1.75


@dataclass(frozen=True)
class Onset:
    """The beginning of a note, seconds, and how clearly it stands out: 1 = as much as a note must have at least.

    `strength` is how far the growth of the spectrum lies above that around it, divided by the least a note must have.
    """

    at_s: float
    strength: float


class OnsetFinder:
    """Takes mono sound in blocks of any length, and tells at the end where notes began.

    Parameters
    ----------
    rate_hz : samples a second, 8,000 to 192,000.
    level : the loudness of the whole recording, as the 95th percentile of its RMS (0-1); above 0.
    """

    def __init__(self, rate_hz: int, level: float) -> None:
        check_range("rate_hz", rate_hz, *RATES_HZ, "Hz")
        if not level > 0:
            raise Degenerate("samples", "nothing is heard")
        self.rate, self.gain = rate_hz, LEVEL / level
        self.step = round(rate_hz * STEP_S)
        self.step_s = self.step / rate_hz
        self.size = 1 << (round(rate_hz * WINDOW_S) - 1).bit_length() if rate_hz < 16_000 else round(rate_hz * WINDOW_S)
        self.window = np.hanning(self.size).astype(np.float32) * np.float32(2 / self.size)
        self.bands = _bands(rate_hz, self.size)
        self._left = np.zeros(self.size // 2, np.float32)  # the first window lies in the middle of its first sample
        self._before: list[np.ndarray] = []
        self._flux: list[np.ndarray] = []

    def feed(self, block: np.ndarray) -> None:
        """Take the next samples."""
        sound = np.concatenate((self._left, np.asarray(block, np.float32)))
        count = (len(sound) - self.size) // self.step + 1 if len(sound) >= self.size else 0
        if count:
            frames = np.lib.stride_tricks.sliding_window_view(sound, self.size)[:: self.step][:count]
            self._flux.append(self._growth(self._spectra(frames)))
        self._left = sound[count * self.step :]

    def _spectra(self, frames: np.ndarray) -> np.ndarray:
        """Return the compressed bands of frames (frames × bands)."""
        found = np.abs(fft.rfft(frames * self.window, axis=1))
        spectra: np.ndarray = np.log10(1 + _COMPRESS * self.gain * np.maximum.reduceat(found, self.bands, axis=1))
        return spectra

    def _growth(self, spectra: np.ndarray) -> np.ndarray:
        before = self._before[0] if self._before else np.repeat(spectra[:1], _LAG, axis=0)
        all_of_it = np.concatenate((before, spectra))
        self._before = [all_of_it[-_LAG:]]
        wide = ndimage.maximum_filter1d(all_of_it[:-_LAG], 3, axis=1)
        growth: np.ndarray = np.maximum(0, spectra - wide).mean(axis=1)
        return growth

    def onsets(self) -> tuple[Onset, ...]:
        """Return where notes began in all that was fed."""
        self.feed(np.zeros(self.size, np.float32))
        flux = np.concatenate(self._flux) if self._flux else np.zeros(0)
        return tuple(_peaks(flux, self.step_s))


def _bands(rate_hz: int, size: int) -> np.ndarray:
    """The first bin of each band: by quarter tone, never narrower than a bin."""
    highest = min(_HIGHEST_HZ, rate_hz / 2.1)
    edges = _LOWEST_HZ * 2 ** (np.arange(0, np.log2(highest / _LOWEST_HZ), 1 / _BANDS_OCTAVE))
    return np.unique(np.round(edges * size / rate_hz).astype(int))


def _peaks(flux: np.ndarray, step_s: float) -> Iterator[Onset]:
    if len(flux) < 3:
        return
    around = 2 * round(_AROUND_S / step_s) + 1
    mean = ndimage.uniform_filter1d(flux, 2 * round(_MEAN_S / step_s) + 1, mode="nearest")
    top = (flux == ndimage.maximum_filter1d(flux, around, mode="nearest")) & (flux > mean + _ABOVE)
    last = -np.inf
    for n in np.flatnonzero(top):
        at = float(n + _vertex(flux, int(n))) * step_s - _LATE_S
        if at - last >= _APART_S:
            last = at
            yield Onset(max(0.0, at), float(flux[n] - mean[n]) / _ABOVE)


def clearness(onsets: Sequence[Onset]) -> float:
    """Return how clearly the notes of a recording begin: the median strength of its onsets (1 = just heard).

    A swelling beginning, a hall, a far microphone and noise all lower it. `TooFew` without an onset.
    """
    if not onsets:
        raise TooFew("onsets", "no beginning of a note is heard")
    return float(np.median([o.strength for o in onsets]))


def _vertex(flux: np.ndarray, n: int) -> float:
    """Where between steps a peak lies: the top of a parabola through it and its neighbours, −0.5 to 0.5."""
    if not 0 < n < len(flux) - 1:
        return 0.0
    a, b, c = (float(v) for v in flux[n - 1 : n + 2])
    bend = a - 2 * b + c
    return max(-0.5, min(0.5, (a - c) / (2 * bend))) if bend else 0.0
