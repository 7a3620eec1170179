"""A figure played round after round, finger by finger: who comes early or late, who is loud. Seconds in, ms out."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from chirotend.core.errors import Inconsistent, TooFew, check_number, check_range
from chirotend.core.measure.anchor import EDGE_S, Anchored, anchored, follow_one_another
from chirotend.core.measure.even_beat import beat_of, late_s
from chirotend.core.measure.standing_out import chance

#: a shorter recording (s) tells no drift of the tempo: chance alone moves it by tens of per cent a minute (ours)
DRIFT_FROM_S = 20.0


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
    """A run of rounds: every note beside its beat, each finger over all rounds, how it was anchored, tempo drift.

    `beat_ms` = the middle distance of two equal notes; `drift_pct_min` = how much faster (+) it gets in a minute, None
    below 20 s. `chance_late`, `chance_loud` = how often chance alone would set a finger as far apart (0-1; None =
    loudness was not heard). `runs_s` = the times of notes that follow one another, none missing between them.
    """

    notes: tuple[Note, ...]
    steps: tuple[Step, ...]
    rounds: int
    anchor: Anchored
    beat_ms: float
    drift_pct_min: float | None
    chance_late: float
    chance_loud: float | None
    runs_s: tuple[tuple[float, ...], ...]


def cycle(
    onsets_s: Sequence[float],
    lengths: Sequence[float],
    levels_db: Sequence[float] = (),
    said_first: int | None = None,
    edge_s: float = EDGE_S,
) -> Cycle:
    """Return a repeated figure finger by finger.

    Parameters
    ----------
    onsets_s : rising times of all that was heard; at least two rounds of notes (else `TooFew`).
    lengths : how long each step of the figure is, in equal parts (1, 1, 1 = equal notes; 3, 1 = dotted); at least 2.
    levels_db : loudness of each onset; none = not heard.
    said_first : the step of the first note by her word; None = not said.
    edge_s : what begins sooner is no note; 0 for what no microphone heard.

    The even beat follows the tempo from round to round, so that a change of it is not counted against any finger, and
    is set so that the middle finger is on time. A note that is missing or one too many is counted, and moves no other;
    a pause splits the rounds (`anchor`).
    """
    parts = [check_range("lengths", p, 0.01, 100) for p in lengths]
    if len(parts) < 2:
        raise TooFew("lengths", "a figure has at least 2 notes")
    times = np.array([check_number("onsets_s", t) for t in onsets_s])
    if (np.diff(times) <= 0).any():
        raise Inconsistent("onsets_s", "the notes do not follow one another in time")
    if len(times) < 2 * len(parts):
        raise TooFew("onsets_s", f"{len(times)} notes, two rounds of {len(parts)} are needed")
    levels = np.array([check_number("levels_db", v) for v in levels_db]) if len(levels_db) else None
    anchor = anchored(times, parts, levels, said_first, edge_s)
    kept, places = (np.concatenate([getattr(run, what) for run in anchor.runs]) for what in ("notes", "places"))
    late = np.concatenate([late_s(times[run.notes], run.places, parts, anchor.unit_s) for run in anchor.runs])
    rounds, steps = np.divmod(places, len(parts))
    late -= np.median([np.median(late[steps == s]) for s in np.unique(steps)])
    loud = None if levels is None else levels[kept] - np.median(levels[kept])
    notes = tuple(
        Note(int(s), int(r), float(times[k]), 1000 * float(o), None if loud is None else float(loud[n]))
        for n, (k, r, s, o) in enumerate(zip(kept, rounds, steps, late, strict=True))
    )
    return Cycle(
        notes,
        tuple(_step([n for n in notes if n.step == s]) for s in range(len(parts))),
        int(rounds[-1]) + 1,
        anchor,
        1000 * anchor.unit_s,
        _drift(times, anchor, parts),
        chance(_table(rounds, steps, 1000 * late, len(parts))),
        None if loud is None else chance(_table(rounds, steps, loud, len(parts))),
        tuple(tuple(times[notes].tolist()) for run in anchor.runs for notes in follow_one_another(run)),
    )


def _table(rounds: np.ndarray, steps: np.ndarray, values: np.ndarray, size: int) -> np.ndarray:
    """Values as rounds × steps; NaN = missed."""
    table = np.full((int(rounds[-1]) + 1, size), np.nan)
    table[rounds, steps] = values
    return table


def _step(notes: Sequence[Note]) -> Step:
    if not notes:
        return Step(0.0, 0.0, 0.0, None, 0, 0)
    off = np.array([n.off_ms for n in notes])
    low, middle, high = (float(v) for v in np.percentile(off, (25, 50, 75)))
    levels = [n.level_db for n in notes if n.level_db is not None]
    way = off * (1 if middle >= 0 else -1) > 0
    return Step(middle, low, high, float(np.median(levels)) if levels else None, int(way.sum()), len(notes))


def _drift(times: np.ndarray, anchor: Anchored, parts: Sequence[float]) -> float | None:
    """How much faster (+) it gets in a minute, %: the slope of the logarithm of local tempo, by rank (Theil-Sen)."""
    at, tempo = [], []
    for run in anchor.runs:
        here, beats = times[run.notes], np.array([beat_of(int(p), parts) for p in run.places])
        apart = max(2, len(here) // 12)
        if len(here) >= 8:
            at.append((here[apart:] + here[:-apart]) / 2)
            tempo.append(np.log((beats[apart:] - beats[:-apart]) / (here[apart:] - here[:-apart])))
    if not at or sum(times[run.notes[-1]] - times[run.notes[0]] for run in anchor.runs) < DRIFT_FROM_S:
        return None
    x, y = np.concatenate(at), np.concatenate(tempo)
    pick = np.linspace(0, len(x) - 1, min(len(x), 60)).astype(int)
    x, y = x[pick], y[pick]
    i, j = np.triu_indices(len(x), 1)
    return float(100 * 60 * np.median((y[j] - y[i]) / (x[j] - x[i])))
