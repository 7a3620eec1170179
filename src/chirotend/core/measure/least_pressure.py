"""The least pressure that still speaks: an adaptive staircase by ear, then a psychometric function of all its answers.

Levels are shares of her usual press (%): she is asked for "a little lighter", so a level is a step of her own feel and
no measured force; with a force pad the same search runs on newtons. A run goes down in wide steps until the note dies,
then up and down in narrow ones. Everything answered is then read by one curve (threshold and slope, all pairs of them
weighed by how well they explain the answers; King-Smith et al. 1994, Vision Res 34:885-912, from memory).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from chirotend.core.errors import TooFew, check_range

USUAL = 100.0
WIDE, NARROW, LOWEST = 10.0, 5.0, 10.0
RUNS, RUN_MOST = 3, 14
#: a later run begins this much above what the last one found
BEGIN_ABOVE = 15.0
#: a run ends when the note spoke this often at one level after it first died
SPOKE_TO_END = 2
LEAST_ANSWERS = 6
#: levels a press may have its threshold at, and slopes (%: from rarely to nearly always) it may have
_THRESHOLDS = np.arange(2.0, 104.5, 0.5)
_SLOPES = np.array([1.0, 2.0, 3.0, 4.0, 6.0, 8.0, 12.0, 16.0, 24.0, 32.0, 48.0])
#: before an answer a slope counts the less the shallower it is (ours: two searches of one shallow ear, slope 30, then
#: differ by chance in one of twenty, and a steep one is not made to look shallow)
_SLOPE_WEIGHT = _SLOPES**-0.4
#: shares of answers that are slips, either way
_SLIPS = (0.02, 0.10)
#: smallest change that is not chance: 1.96 · √2 · the uncertainty of one search
CHANGE_BY_SD = 1.96 * math.sqrt(2)


@dataclass(frozen=True)
class Answer:
    """One try: how hard (% of her usual, 0-130) and whether the note spoke."""

    level: float
    spoke: bool

    def __post_init__(self) -> None:
        check_range("level", self.level, 0, 130, "%")


@dataclass(frozen=True)
class Run:
    """The answers of one run, and the level it ended on; None while it goes on, or where it found none."""

    answers: tuple[Answer, ...]
    result: float | None
    ended: bool


@dataclass(frozen=True)
class Search:
    """The runs so far and the level to try next; None = the search is over."""

    runs: tuple[Run, ...]
    asked: float | None

    @property
    def number(self) -> int:
        """The run at hand, from 1."""
        return len(self.runs)


def search(answers: Sequence[Answer]) -> Search:
    """Return where the search stands after `answers`, in their order: it is a fold, nothing else is kept."""
    runs: list[Run] = []
    left = list(answers)
    for _ in range(RUNS):
        run = _run(left)
        runs.append(run)
        left = left[len(run.answers) :]
        if not run.ended:
            return Search(tuple(runs), _next(run.answers, _begin(runs[:-1])))
    return Search(tuple(runs), None)


def _begin(before: Sequence[Run]) -> float:
    found = [r.result for r in before if r.result is not None]
    return min(USUAL, found[-1] + BEGIN_ABOVE) if found else USUAL


def _run(answers: Sequence[Answer]) -> Run:
    """Take from `answers` what belongs to one run."""
    spoke: dict[float, int] = {}
    died = False
    for n, answer in enumerate(answers, start=1):
        if not answer.spoke:
            died = True
        elif died:
            spoke[answer.level] = spoke.get(answer.level, 0) + 1
            if spoke[answer.level] == SPOKE_TO_END:
                return Run(tuple(answers[:n]), answer.level, True)
        elif answer.level <= LOWEST:
            return Run(tuple(answers[:n]), answer.level, True)
        if n == RUN_MOST:
            return Run(tuple(answers[:n]), min((a.level for a in answers[:n] if a.spoke), default=None), True)
    return Run(tuple(answers), None, False)


def _next(answers: Sequence[Answer], begin: float) -> float:
    if not answers:
        return begin
    last = answers[-1]
    narrow = any(not a.spoke for a in answers)
    step = NARROW if narrow else WIDE
    return max(LOWEST, min(USUAL, last.level - step if last.spoke else last.level + NARROW))


def about_left(found: Search) -> int:
    """Return about how many answers are still to come in the run at hand: a guess for the screen."""
    if found.asked is None:
        return 0
    here = found.runs[-1].answers
    ended = [len(r.answers) for r in found.runs if r.ended]
    usual = round(sum(ended) / len(ended)) if ended else 8
    return max(1, usual - len(here))


@dataclass(frozen=True)
class LeastPressure:
    """The least share of her usual press that speaks (%), what is not needed, how sure that is.

    `spread` is how far its runs lie apart, `sd` the uncertainty of all answers together, `smallest_change` what another
    search must differ by to be more than chance: all in % of her usual.
    """

    least: float
    wasted: float
    spread: float
    sd: float
    smallest_change: float
    answers: int
    runs: int


def least_pressure(answers: Sequence[Answer]) -> LeastPressure:
    """Return what all answers of a search say together; `TooFew` below 6, or while the note always spoke or never.

    The least press is the level at which the note speaks in half of the tries; the mean over all curves that could have
    given these answers, so one slip moves it little.
    """
    if len(answers) < LEAST_ANSWERS:
        raise TooFew("answers", f"{len(answers)} answers, {LEAST_ANSWERS} are needed")
    if len({a.spoke for a in answers}) == 1:
        raise TooFew("answers", "the note always spoke, or never: there is nothing to tell the two apart by")
    weight = _weights(answers)
    by_threshold = weight.sum(axis=1)
    least = float((_THRESHOLDS * by_threshold).sum())
    sd = math.sqrt(float(((_THRESHOLDS - least) ** 2 * by_threshold).sum()))
    results = [r.result for r in search(answers).runs if r.result is not None]
    return LeastPressure(
        least,
        max(0.0, USUAL - least),
        max(results) - min(results) if results else 0.0,
        sd,
        max(CHANGE_BY_SD * sd, NARROW),
        len(answers),
        len(results),
    )


def _weights(answers: Sequence[Answer]) -> np.ndarray:
    """How well each pair of threshold and slope explains the answers, over all shares of slips; they sum to 1."""
    levels = np.array([a.level for a in answers])
    spoke = np.array([a.spoke for a in answers])
    x = (levels[None, None, :] - _THRESHOLDS[:, None, None]) / _SLOPES[None, :, None]
    heard = 1 / (1 + np.exp(-np.clip(x, -60, 60)))
    by_slips = []
    for slip in _SLIPS:
        p = slip / 2 + (1 - slip) * heard
        by_slips.append(np.where(spoke, np.log(p), np.log1p(-p)).sum(axis=2))
    log = np.logaddexp.reduce(by_slips) + np.log(_SLOPE_WEIGHT)
    weight: np.ndarray = np.exp(log - log.max())
    share: np.ndarray = weight / weight.sum()
    return share
