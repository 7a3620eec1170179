"""The even beat a figure is played against: where its steps lie, how long a part lasts, how late each note is."""

from collections.abc import Sequence

import numpy as np


def beat_of(place: int, parts: Sequence[float]) -> float:
    """Return where a place of the endless figure lies, in parts."""
    return float(sum(parts) * (place // len(parts)) + sum(parts[: place % len(parts)]))


def part_length(times: np.ndarray, parts: Sequence[float]) -> float:
    """Return the length of one part in seconds: from whole rounds, whose length no single finger moves."""
    size = len(parts)
    whole = times[size:] - times[:-size]
    return (
        float(np.median(whole)) / sum(parts) if len(whole) else float(np.median(np.diff(times))) / (sum(parts) / size)
    )


def late_s(times: np.ndarray, places: np.ndarray, parts: Sequence[float], unit_s: float) -> np.ndarray:
    """Return how late each note of a run is (s) against the even beat of its round, the mean of a round being on time.

    The tempo is told by the same finger a round before and after, so a finger that is always early moves it nowhere. A
    round that is not half there is held against the beat of the one beside it.
    """
    beats = np.array([beat_of(int(p), parts) for p in places])
    rounds, steps = np.divmod(places, len(parts))
    at = {(int(r), int(s)): n for n, (r, s) in enumerate(zip(rounds, steps, strict=True))}
    here = {int(r): np.flatnonzero(rounds == r) for r in np.unique(rounds)}
    late = np.zeros(len(times))
    for r, notes in here.items():
        slope = _tempo(times, beats, at, r, range(len(parts)), unit_s)
        beside = [near for near in (r + 1, r - 1) if near in here and len(here[near]) > len(notes)]
        level_of = here[beside[0]] if beside and 2 * len(notes) <= len(parts) else notes
        level = times[level_of] - slope * beats[level_of]
        late[notes] = times[notes] - slope * beats[notes] - level.mean()
    return late


def _tempo(
    times: np.ndarray, beats: np.ndarray, at: dict[tuple[int, int], int], r: int, steps: range, unit_s: float
) -> float:
    """Seconds a part around round `r`: by the same steps a round before and after, else before or after alone."""
    for first, last in ((r - 1, r + 1), (r, r + 1), (r - 1, r)):
        pairs = [(at[first, s], at[last, s]) for s in steps if (first, s) in at and (last, s) in at]
        if pairs:
            return float(np.median([(times[b] - times[a]) / (beats[b] - beats[a]) for a, b in pairs]))
    return unit_s
