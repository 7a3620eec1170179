"""How evenly notes follow one another: coefficient of variation and nPVI, and finger by finger. Seconds in, ms out."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from chirotend.core.errors import Inconsistent, TooFew, check_number, check_range

#: a note this far from its beat (share of a beat) is no note of it: one was missed, or one too many was heard
NEAREST = 0.4


@dataclass(frozen=True)
class Evenness:
    """Mean distance of notes (ms), its spread over its mean, and the nPVI: 0 = even, below 200."""

    mean_ms: float
    cv: float
    npvi: float


def ioi_evenness(onsets_s: Sequence[float]) -> Evenness:
    """Return how even a run of equal notes is; at least 3 onsets, rising (else `Inconsistent`).

    A change of tempo raises the spread, hardly the nPVI. Patel & Daniele 2003, Cognition 87:B35-45, from memory.
    """
    onsets = np.array([check_number("onsets_s", t) for t in onsets_s])
    if len(onsets) < 3:
        raise TooFew("onsets_s", f"{len(onsets)} notes, 3 are needed")
    between = np.diff(onsets)
    if (between <= 0).any():
        raise Inconsistent("onsets_s", "the notes do not follow one another in time")
    mean = float(between.mean())
    pairs = np.abs(np.diff(between)) / ((between[:-1] + between[1:]) / 2)
    return Evenness(1000 * mean, float(between.std(ddof=1)) / mean, float(100 * pairs.mean()))


@dataclass(frozen=True)
class Note:
    """A note of a cycle: its place in it, its round, when it came, how far from the even beat (ms, + = late).

    `level_db` against the middle of the recording; None where loudness was not heard.
    """

    step: int
    round: int
    at_s: float
    off_ms: float
    level_db: float | None = None


@dataclass(frozen=True)
class Step:
    """A finger or stroke over all rounds: the middle of how late it comes (ms, − = early), the middle half of its
    rounds, how loud it is against the others (dB), and how many rounds lean the way the middle does."""

    middle_ms: float
    low_ms: float
    high_ms: float
    level_db: float | None
    same_way: int
    rounds: int


@dataclass(frozen=True)
class Cycle:
    """A run of rounds: every note beside its beat, each finger over all rounds, notes that were missed, tempo drift.

    `beat_ms` = the middle distance of two equal notes; `drift_pct_min` = how much faster (+) it gets in a minute.
    """

    notes: tuple[Note, ...]
    steps: tuple[Step, ...]
    rounds: int
    missed: int
    extra: int
    beat_ms: float
    drift_pct_min: float


def cycle(onsets_s: Sequence[float], lengths: Sequence[float], levels_db: Sequence[float] = ()) -> Cycle:
    """Return a repeated figure finger by finger.

    Parameters
    ----------
    onsets_s : rising times of its notes, the first one on its first finger; at least two rounds (else `TooFew`).
    lengths : how long each step of the figure is, in equal parts (1, 1, 1 = equal notes; 3, 1 = dotted); at least 2.
    levels_db : loudness of each note; none = not heard.

    The even beat follows the tempo from round to round, so that a change of it is not counted against any finger, and
    is set so that the middle finger is on time. A note that is missing or one too many is
    counted, and moves no other.
    """
    parts = [check_range("lengths", p, 0.01, 100) for p in lengths]
    if len(parts) < 2:
        raise TooFew("lengths", "a figure has at least 2 notes")
    times = np.array([check_number("onsets_s", t) for t in onsets_s])
    if (np.diff(times) <= 0).any():
        raise Inconsistent("onsets_s", "the notes do not follow one another in time")
    if len(times) < 2 * len(parts):
        raise TooFew("onsets_s", f"{len(times)} notes, two rounds of {len(parts)} are needed")
    places, beats, unit, extra = _placed(times, parts)
    off = _beside_beat(times[places >= 0], beats[places >= 0], sum(parts), unit)
    kept = np.flatnonzero(places >= 0)
    steps_at = places[kept] % len(parts)
    off -= np.median([np.median(off[steps_at == s]) for s in range(len(parts)) if (steps_at == s).any()])
    loud = _levels(levels_db, kept)
    notes = tuple(
        Note(int(p % len(parts)), int(p // len(parts)), float(times[k]), float(o), loud[n] if loud else None)
        for n, (k, p, o) in enumerate(zip(kept, places[kept], 1000 * off, strict=True))
    )
    rounds = int(places[kept][-1]) // len(parts) + 1
    expected = int(places[kept][-1]) + 1
    return Cycle(
        notes,
        tuple(_step([n for n in notes if n.step == s]) for s in range(len(parts))),
        rounds,
        expected - len(kept),
        extra,
        1000 * unit,
        _drift(times[kept], beats[kept]),
    )


def _placed(times: np.ndarray, parts: Sequence[float]) -> tuple[np.ndarray, np.ndarray, float, int]:
    """Give each onset its place in the endless figure (−1 = one too many) and its beat, with the length of a part."""
    ends = np.cumsum([0.0, *parts])

    def beat_of(place: int) -> float:
        return float(ends[-1] * (place // len(parts)) + ends[place % len(parts)])

    unit = _unit(times, parts)
    places, beats = np.full(len(times), -1), np.zeros(len(times))
    places[0] = 0
    last, place, extra = 0, 0, 0
    for n in range(1, len(times)):
        gap = (times[n] - times[last]) / unit
        nearest, step = place, math.inf
        for ahead in range(place + 1, place + 1 + 3 * len(parts)):
            away = abs(beat_of(ahead) - beat_of(place) - gap)
            if away >= step:
                break
            nearest, step = ahead, away
        if beat_of(nearest) - beat_of(place) - gap > NEAREST * min(parts):
            extra += 1
            continue
        new = (times[n] - times[last]) / (beat_of(nearest) - beat_of(place))
        if nearest == place + 1 and 0.6 < new / unit < 1.67:
            unit += 0.1 * (new - unit)
        last, place = n, nearest
        places[n], beats[n] = place, beat_of(place)
    return places, beats, _unit(times[places >= 0], parts), extra


def _unit(times: np.ndarray, parts: Sequence[float]) -> float:
    """The length of one part in seconds: from whole rounds, whose length no single finger moves."""
    n = len(parts)
    whole = times[n:] - times[:-n]
    return float(np.median(whole)) / sum(parts) if len(whole) else float(np.median(np.diff(times))) / (sum(parts) / n)


def _beside_beat(times: np.ndarray, beats: np.ndarray, round_length: float, unit: float) -> np.ndarray:
    """How late each note is (s) against the even beat of its round.

    The tempo is told by the same finger a round before and after, so a finger that is always early moves it nowhere;
    the line lies in the middle of the round's notes.
    """
    rounds = np.floor(beats / round_length + 1e-9).astype(int)
    within = np.round(beats - rounds * round_length, 6)
    at = {(int(r), float(w)): n for n, (r, w) in enumerate(zip(rounds, within, strict=True))}
    steps = sorted(set(within.tolist()))
    off = np.zeros(len(times))
    for r in sorted(set(rounds.tolist())):
        here = np.flatnonzero(rounds == r)
        first, last = (r - 1, r + 1) if r > 0 else (r, r + 1)
        pairs = [(at.get((first, w)), at.get((last, w))) for w in steps]
        pairs = pairs if any(None not in p for p in pairs) else [(at.get((r - 1, w)), at.get((r, w))) for w in steps]
        tempo = [(times[b] - times[a]) / (beats[b] - beats[a]) for a, b in pairs if a is not None and b is not None]
        slope = float(np.median(tempo)) if tempo else unit
        level = times[here] - slope * beats[here]
        off[here] = level - level.mean()
    return off


def _levels(levels_db: Sequence[float], kept: np.ndarray) -> list[float]:
    if not len(levels_db):
        return []
    heard = np.array([check_number("levels_db", v) for v in levels_db])[kept]
    return [float(v) for v in heard - np.median(heard)]


def _step(notes: Sequence[Note]) -> Step:
    if not notes:
        return Step(0.0, 0.0, 0.0, None, 0, 0)
    off = np.array([n.off_ms for n in notes])
    low, middle, high = (float(v) for v in np.percentile(off, (25, 50, 75)))
    levels = [n.level_db for n in notes if n.level_db is not None]
    way = off * (1 if middle >= 0 else -1) > 0
    return Step(middle, low, high, float(np.median(levels)) if levels else None, int(way.sum()), len(notes))


def _drift(times: np.ndarray, beats: np.ndarray) -> float:
    """How much faster (+) it gets in a minute, %: the slope of the logarithm of local tempo, by rank (Theil-Sen)."""
    if len(times) < 8 or times[-1] - times[0] < 4:
        return 0.0
    third = max(2, len(times) // 12)
    at = (times[third:] + times[:-third]) / 2
    tempo = np.log((beats[third:] - beats[:-third]) / (times[third:] - times[:-third]))
    pick = np.linspace(0, len(at) - 1, min(len(at), 60)).astype(int)
    x, y = at[pick], tempo[pick]
    i, j = np.triu_indices(len(x), 1)
    return float(100 * 60 * np.median((y[j] - y[i]) / (x[j] - x[i])))
