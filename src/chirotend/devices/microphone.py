"""A microphone before a player: synthesised notes with known beginnings, plucked, struck, blown or bowed."""

from collections.abc import Mapping, Sequence

import numpy as np

from chirotend.core.late import late

signal = late("scipy.signal")

RATE_HZ = 44_100
PITCHES_HZ = (98, 110, 123.5, 131, 147, 165, 175, 196, 220, 247, 294, 330)


def note(kind: str, hz: float, seconds: float, rng: np.random.Generator) -> np.ndarray:
    """Return a note: struck and plucked ones begin at once, a blown one in 30 ms, a bowed one in 60, with vibrato."""
    t = np.arange(int(seconds * RATE_HZ)) / RATE_HZ
    found: np.ndarray
    if kind == "struck":
        found = rng.normal(size=len(t)) * np.exp(-t * 80)
    elif kind == "plucked":
        parts = [np.exp(-t * (3 + 2 * k)) * np.sin(2 * np.pi * hz * k * t + 6 * rng.random()) / k for k in range(1, 10)]
        found = np.minimum(1, t / 0.001) * np.sum(parts, axis=0)
    else:
        rise, fall = (0.03, 0.02) if kind == "blown" else (0.06, 0.04)
        shape = np.minimum(1, t / rise) * np.clip((seconds - t) / fall, 0, 1)
        sway = 0.004 * np.sin(2 * np.pi * 5.5 * t) / 5.5 if kind == "bowed" else 0.0
        turn = 2 * np.pi * hz * (t + sway)
        found = shape * np.sum([np.sin(k * turn + 6 * rng.random()) / k**0.9 for k in range(1, 14)], axis=0)
    return found


def played(
    kind: str, onsets_s: Sequence[float], level: float = 0.3, noise: float = 0.001, seed: int = 3, ring_s: float = 1.2
) -> np.ndarray:
    """Return sound (mono, −1 to 1) with a note of `kind` at each of `onsets_s`, over a hiss of `noise`."""
    rng = np.random.default_rng(seed)
    found = noise * rng.normal(size=int((onsets_s[-1] + 2) * RATE_HZ))
    gaps = np.append(np.diff(onsets_s), 0.5)
    for at, gap in zip(onsets_s, gaps, strict=True):
        lasts = ring_s if kind == "plucked" else float(gap)
        made = level * rng.uniform(0.6, 1) * note(kind, float(rng.choice(PITCHES_HZ)), lasts, rng)
        start = round(at * RATE_HZ)
        end = min(len(found), start + len(made))
        found[start:end] += made[: end - start]
    sound: np.ndarray = (found / max(1.0, float(np.abs(found).max()))).astype(np.float32)
    return sound


def in_a_room(sound: np.ndarray, seconds: float, far: float, seed: int = 9) -> np.ndarray:
    """Return sound as it is in a room that rings for so many seconds (to −60 dB); `far` = how much stronger than the
    direct sound what the walls send back is (0 = no walls, 1 = as strong, 2 = at the far end)."""
    rng = np.random.default_rng(seed)
    t = np.arange(round(seconds * RATE_HZ)) / RATE_HZ
    walls = rng.normal(size=len(t)) * np.exp(-6.9 * t / seconds)
    answer = far * walls / np.sqrt((walls**2).sum())
    answer[0] += 1
    found = signal.fftconvolve(sound, answer)[: len(sound)]
    rung: np.ndarray = (found / max(1.0, float(np.abs(found).max()))).astype(np.float32)
    return rung


def figure(
    rounds: int, steps: int, beat_s: float, early_s: Mapping[int, float], jitter_s: float = 0.0, seed: int = 5
) -> list[float]:
    """Return the beginnings of a figure of equal notes played round and round: `early_s` = step → how much too soon."""
    rng = np.random.default_rng(seed)
    return [
        0.5 + n * beat_s - early_s.get(n % steps, 0.0) + jitter_s * float(rng.normal()) for n in range(rounds * steps)
    ]
