"""Which of the sounds that were heard are notes of a figure, and with which of its steps each run of them begins.

Sounds at the edge of a recording and single ones a pause away from the playing are set aside. A pause splits the
playing into runs; each is anchored by itself: by its rhythm where steps differ in length, else by who is early and who
is loud in it, as in the leading run. A run that fits with no step clearly best is set aside, and moves nothing.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from chirotend.core.errors import TooFew
from chirotend.core.measure.even_beat import beat_of, late_s, part_length

#: what begins so soon (s) in a recording is the button that was pressed, or a sound that was cut
EDGE_S = 0.05
#: a note this far from its beat (share of a beat) is no note of it: one was missed, or one too many was heard
NEAREST = 0.4
#: a gap longer than so many of the longest step is a missed note or a pause; after missed ones, two at most, the next
#: lies so near its beat (parts). All ours
PAUSE, ON_BEAT, MISSED_MOST = 1.6, 0.25, 3.3
#: a piece of fewer notes, a pause away from the others, was no playing
SINGLE = 2
#: the longest piece leads, or the first that is at least this share of it: where it begins is known more often
LEADS = 0.5
#: rhythms whose costs differ by less (notes) fit alike; profiles are told apart from so much difference of their χ² on
ALIKE, CLEAR = 0.5, 9.0
#: how much the habit of a finger differs between runs, beside chance: ms, dB (ours)
HABITS = (3.0, 0.5)


@dataclass(frozen=True)
class Run:
    """Notes between two pauses: their numbers among the onsets and their places in the endless figure, rising."""

    notes: np.ndarray
    places: np.ndarray


@dataclass(frozen=True)
class Anchored:
    """The runs of a figure, with the length of a part (s); notes missed and too many inside them; sounds set aside.

    `first` = the step of the first note as it was taken, `firsts` = the steps it may be as well (one = the rhythm tells
    it), `is_told` = by the rhythm, by her word, or because nothing was played before it.
    """

    runs: tuple[Run, ...]
    unit_s: float
    missed: int
    extra: int
    aside: int
    first: int
    firsts: tuple[int, ...]
    is_told: bool


@dataclass(frozen=True)
class _Fit:
    """A piece placed: the numbers of its notes, their places from its own first note on, notes too many, and
    its cost: how far notes lie from their beats (parts, one at most each), and one for each missed or too many."""

    notes: np.ndarray
    places: np.ndarray
    extra: int
    cost: float


def anchored(
    times: np.ndarray,
    parts: Sequence[float],
    levels_db: np.ndarray | None = None,
    said_first: int | None = None,
    edge_s: float = EDGE_S,
) -> Anchored:
    """Anchor rising onsets (s) to a figure of steps of `parts` length; `levels_db` = how loud each is.

    `said_first`: the step of the first note by her word; None = not said. What begins before `edge_s` is no note.
    `TooFew` below two rounds of notes.
    """
    return _Anchoring(times, parts, levels_db, edge_s).anchored(said_first)


class _Anchoring:
    def __init__(self, times: np.ndarray, parts: Sequence[float], levels_db: np.ndarray | None, edge_s: float) -> None:
        self.times, self.parts, self.size = times, parts, len(parts)
        #: what tells fingers apart: when they come (ms), how loud they are (dB)
        self.levels_db = levels_db
        self.unit = part_length(times, parts)
        inside = np.flatnonzero(times >= edge_s)
        far = np.diff(times[inside]) > PAUSE * self.unit * max(parts)
        self.pieces = [p for p in np.split(inside, np.flatnonzero(far) + 1) if len(p)]
        self.fits = [self._fits(piece) for piece in self.pieces]
        most = max((len(piece) for piece in self.pieces), default=0)
        self.lead = next((k for k, piece in enumerate(self.pieces) if len(piece) >= LEADS * most), 0)

    def anchored(self, said_first: int | None) -> Anchored:
        begins = self._begins() if self.pieces else {}
        fitted = [self.fits[k][step] for k, step in begins.items()]
        kept = sum(len(fit.notes) for fit in fitted)
        if kept < 2 * self.size:
            raise TooFew("onsets_s", f"{kept} notes, two rounds of {self.size} are needed")
        turn, firsts, is_told = self._turn(begins, said_first)
        runs: list[Run] = []
        for step, fit in zip(begins.values(), fitted, strict=True):
            begin = (step + turn) % self.size
            follows = self._follows(runs[-1], fit, begin) if runs else None
            if follows is not None:
                last = runs.pop()
                run = Run(np.concatenate((last.notes, fit.notes)), np.concatenate((last.places, fit.places + follows)))
            else:
                run = Run(fit.notes, fit.places + begin + (self._round_after(runs[-1]) if runs else 0))
            runs.append(run)
        extra = sum(fit.extra for fit in fitted)
        return Anchored(
            runs=tuple(runs),
            unit_s=self.unit,
            missed=sum(int(run.places[-1] - run.places[0]) + 1 for run in runs) - kept,
            extra=extra,
            aside=len(self.times) - kept - extra,
            first=int(runs[0].places[0]),
            firsts=firsts,
            is_told=is_told,
        )

    def _fits(self, piece: np.ndarray) -> dict[int, _Fit]:
        """The steps with which a piece may begin, and where its notes lie then: all of them where steps are equal."""
        if len(set(self.parts)) == 1:
            return dict.fromkeys(range(self.size), self._placed(piece, self.parts))
        every = {s: self._placed(piece, [*self.parts[s:], *self.parts[:s]]) for s in range(self.size)}
        least = min(fit.cost for fit in every.values())
        return {s: fit for s, fit in every.items() if fit.cost <= least + ALIKE}

    def _placed(self, piece: np.ndarray, parts: Sequence[float]) -> _Fit:
        """Place the notes of a piece that begins with the first of `parts`; the length of a part follows the tempo."""
        at, unit = self.times[piece], self.unit
        kept, places, away = [0], [0], [0.0]
        for n in range(1, len(at)):
            gap = (at[n] - at[kept[-1]]) / unit
            nearest, between, off = _nearest(places[-1], gap, parts)
            if between - gap > NEAREST * min(parts):
                continue
            new = gap * unit / between
            if nearest == places[-1] + 1 and 0.6 < new / unit < 1.67:
                unit += 0.1 * (new - unit)
            kept.append(n)
            places.append(nearest)
            away.append(min(1.0, off))
        extra = len(at) - len(kept)
        return _Fit(piece[kept], np.array(places), extra, sum(away) + places[-1] + 1 - len(kept) + extra)

    def _begins(self) -> dict[int, int]:
        """The step with which each piece begins that can be anchored to the leading one, outward from it."""
        begins = {self.lead: next(iter(self.fits[self.lead]))}
        for way in (range(self.lead + 1, len(self.pieces)), range(self.lead - 1, -1, -1)):
            beside = self.lead
            for k in way:
                step = self._step_by_profile(begins, k)
                if step is None and not self._is_single_before(k):
                    step = self._step_by_beat(begins, beside, k)
                if step is not None:
                    begins[k], beside = step, k
        return dict(sorted(begins.items()))

    def _is_single_before(self, k: int) -> bool:
        """Whether nothing but single sounds was heard up to and with piece `k`."""
        return all(len(piece) < SINGLE for piece in self.pieces[: k + 1])

    def _step_by_profile(self, begins: dict[int, int], k: int) -> int | None:
        """The step with which a piece begins by its rhythm, or by who is early and loud in it; None = none is clear."""
        fits = self.fits[k]
        if len(fits) == 1 and len(self.pieces[k]) >= SINGLE:
            return next(iter(fits))
        if min(len(fit.notes) for fit in fits.values()) < self.size:
            return None
        known = [(self.fits[j][step], step) for j, step in begins.items() if len(self.fits[j][step].notes) >= self.size]
        costs = dict.fromkeys(fits, 0.0)
        for what, habit in enumerate(HABITS if self.levels_db is not None else HABITS[:1]):
            theirs = self._profile(known, what)
            for step, fit in fits.items():
                costs[step] += _apart(theirs, self._profile([(fit, step)], what), habit)
        best, *others = sorted(costs, key=lambda step: costs[step])
        return best if not others or costs[others[0]] - costs[best] > CLEAR else None

    def _profile(self, fits: Sequence[tuple[_Fit, int]], what: int) -> tuple[np.ndarray, float, np.ndarray]:
        """The mean of each step (ms late, or dB) over pieces and the steps they begin with, how much single notes
        scatter, and how many there are."""
        steps = np.concatenate([(fit.places + step) % self.size for fit, step in fits])
        values = np.concatenate([self._values(fit, step, what) for fit, step in fits])
        count = np.bincount(steps, minlength=self.size)
        mean = np.bincount(steps, values, self.size) / np.maximum(1, count)
        return mean, 1.4826 * float(np.median(np.abs(values - mean[steps]))), count

    def _values(self, fit: _Fit, step: int, what: int) -> np.ndarray:
        if what == 0 or self.levels_db is None:
            return 1000 * late_s(self.times[fit.notes], fit.places + step, self.parts, self.unit)
        loud = self.levels_db[fit.notes]
        centred: np.ndarray = loud - loud.mean()
        return centred

    def _step_by_beat(self, begins: dict[int, int], beside: int, k: int) -> int | None:
        """The step with which a piece begins when notes alone were missed between it and the one beside it."""
        for step, fit in self.fits[k].items():
            known = self.fits[beside][begins[beside]]
            first, second = (known, fit) if beside < k else (fit, known)
            at = (begins[beside], step) if beside < k else (step, begins[beside])
            if self._follows(Run(first.notes, first.places + at[0]), second, at[1]) is not None:
                return step
        return None

    def _follows(self, run: Run, fit: _Fit, begin: int) -> int | None:
        """The place of a piece's first note when it follows a run on a beat, with its own step; None = it does not."""
        gap = float(self.times[fit.notes[0]] - self.times[run.notes[-1]]) / self.unit
        place, _, off = _nearest(int(run.places[-1]), gap, self.parts)
        if gap > MISSED_MOST * max(self.parts) or off > ON_BEAT * min(self.parts) or place % self.size != begin:
            return None
        return place

    def _round_after(self, run: Run) -> int:
        return self.size * (int(run.places[-1]) // self.size + 1)

    def _turn(self, begins: dict[int, int], said_first: int | None) -> tuple[int, tuple[int, ...], bool]:
        """By how many steps all runs are turned so that the first note is on its step; the steps it may be on; whether
        that is known."""
        earliest = next(iter(begins))
        turns = [(step - begins[self.lead]) % self.size for step in self.fits[self.lead]]
        firsts = tuple(sorted((begins[earliest] + turn) % self.size for turn in turns))
        gap = self.times[self.pieces[earliest][0]] - self.times[self.pieces[earliest - 1][-1]] if earliest else math.inf
        played_before = not self._is_single_before(earliest - 1) or gap <= MISSED_MOST * self.unit * max(self.parts)
        wanted = said_first if said_first in firsts else 0 if 0 in firsts else firsts[0]
        is_told = len(firsts) == 1 or said_first in firsts or (wanted == 0 and not played_before)
        return (wanted - begins[earliest]) % self.size, firsts, is_told


def _nearest(place: int, gap: float, parts: Sequence[float]) -> tuple[int, float, float]:
    """The place `gap` parts after `place`, how far that place is (parts), and how far `gap` is from it."""
    nearest, between, away = place, 0.0, math.inf
    for ahead in range(place + 1, place + 1 + 3 * len(parts)):
        far = beat_of(ahead, parts) - beat_of(place, parts)
        if abs(far - gap) >= away:
            break
        nearest, between, away = ahead, far, abs(far - gap)
    return nearest, between, away


def _apart(
    one: tuple[np.ndarray, float, np.ndarray], other: tuple[np.ndarray, float, np.ndarray], habit: float
) -> float:
    """How far two profiles (mean, scatter, count) lie apart, as χ², their levels aside."""
    (mean, scatter, count), (my_mean, my_scatter, my_count) = one, other
    both = (count > 0) & (my_count > 0)
    noise = max(scatter, my_scatter) ** 2 * (1 / count[both] + 1 / my_count[both]) + habit**2
    apart = mean[both] - my_mean[both]
    return float(((apart - np.average(apart, weights=1 / noise)) ** 2 / noise).sum())


def follow_one_another(run: Run) -> list[np.ndarray]:
    """Return the notes of a run as stretches in which none is missing."""
    breaks = [n + 1 for n, (a, b) in enumerate(pairwise(run.places)) if b != a + 1]
    return np.split(run.notes, breaks)
