"""Synthesised notes with known beginnings, for tests of what is heard."""

import numpy as np

RATE = 44_100
PITCHES = (98, 110, 123.5, 131, 147, 165, 175, 196, 220, 247, 294, 330)


def note(kind, hz, seconds, rng):
    """Return a plucked, struck, blown (30 ms to speak) or bowed (60 ms, with vibrato) note."""
    t = np.arange(int(seconds * RATE)) / RATE
    if kind == "struck":
        return rng.normal(size=len(t)) * np.exp(-t * 80)
    if kind == "plucked":
        partials = [
            np.exp(-t * (3 + 2 * k)) * np.sin(2 * np.pi * hz * k * t + 6 * rng.random()) / k for k in range(1, 10)
        ]
        return np.minimum(1, t / 0.001) * sum(partials)
    rise, fall = (0.03, 0.02) if kind == "blown" else (0.06, 0.04)
    shape = np.minimum(1, t / rise) * np.clip((seconds - t) / fall, 0, 1)
    turn = 2 * np.pi * hz * (t + (0.004 * np.sin(2 * np.pi * 5.5 * t) / 5.5 if kind == "bowed" else 0))
    return shape * sum(np.sin(k * turn + 6 * rng.random()) / k**0.9 for k in range(1, 14))


def played(kind, onsets, level=0.3, noise=0.001, seed=3, ring=1.2):
    """Return sound with a note of `kind` at each of `onsets` (s)."""
    rng = np.random.default_rng(seed)
    found = noise * rng.normal(size=int((onsets[-1] + 2) * RATE))
    gaps = np.append(np.diff(onsets), 0.5)
    for at, gap in zip(onsets, gaps, strict=True):
        made = level * rng.uniform(0.6, 1) * note(kind, rng.choice(PITCHES), ring if kind == "plucked" else gap, rng)
        start = round(at * RATE)
        end = min(len(found), start + len(made))
        found[start:end] += made[: end - start]
    return (found / max(1, np.abs(found).max())).astype(np.float32)


def heard(sound, rate=RATE, block_s=3.0):
    """Return the onsets (s) found in `sound`, fed block by block."""
    from chirotend.core.measure.onsets import OnsetFinder

    size = rate // 100
    rms = np.sqrt(np.mean(sound[: len(sound) // size * size].reshape(-1, size) ** 2, axis=1))
    finder = OnsetFinder(rate, float(np.percentile(rms, 95)))
    step = int(block_s * rate)
    for start in range(0, len(sound), step):
        finder.feed(sound[start : start + step])
    return [o.at_s for o in finder.onsets()]
