"""How loud a recording is, against itself or against her own soft playing: never a sound level.

A microphone that nobody calibrated (its gain, its distance) tells louder from softer within one recording, no more.
Samples from −1 to 1; dB relative to full scale, where a full square wave is 0 and a full sine −3.01.
"""

from dataclasses import dataclass

import numpy as np

from chirotend.core.errors import Degenerate, TooFew
from chirotend.core.measure.stretch import Stretch

#: steps of the envelope
STEP_S = 0.01
#: quieter than this below the loud parts (95th percentile): nothing is played
SILENT_BELOW_DB = 30.0
#: a gap at least this long is a let-go (ours, common practice)
LET_GO_S = 0.5
FLOOR_DB = -120.0
CURVES = ("A", "C")


@dataclass(frozen=True)
class Played:
    """What of a recording was played: its stretches between let-gos, their share of the whole (%), the longest."""

    stretches: tuple[Stretch, ...]
    share_pct: float
    longest: Stretch


def as_db(rms: np.ndarray) -> np.ndarray:
    """Return levels of an envelope, dB of full scale; nothing is below the floor."""
    level: np.ndarray = np.maximum(FLOOR_DB, 20 * np.log10(np.maximum(rms, 1e-12)))
    return level


def played(rms: np.ndarray, step_s: float = STEP_S) -> Played:
    """Return where something is played in an envelope of `step_s`: gaps shorter than a let-go belong to the playing.

    `TooFew` for an empty envelope, `Degenerate` where all of it is silent.
    """
    if not len(rms):
        raise TooFew("samples", "no sound")
    level = as_db(rms)
    loud = float(np.percentile(level, 95))
    if loud <= FLOOR_DB + SILENT_BELOW_DB:
        raise Degenerate("samples", "nothing is heard")
    sounding = np.flatnonzero(level > loud - SILENT_BELOW_DB)
    breaks = np.flatnonzero(np.diff(sounding) * step_s >= LET_GO_S)
    starts = sounding[np.concatenate(([0], breaks + 1))]
    ends = sounding[np.concatenate((breaks, [len(sounding) - 1]))] + 1
    found = tuple(Stretch(float(a * step_s), float(b * step_s)) for a, b in zip(starts, ends, strict=True))
    total = sum(s.seconds for s in found)
    return Played(found, 100 * total / (len(rms) * step_s), max(found, key=lambda s: s.seconds))
