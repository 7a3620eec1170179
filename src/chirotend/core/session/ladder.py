"""A tempo ladder within a block: up when clean, down when most runs fail. Beats per minute; steps in per cent.

Two schools (domain rules, common practice): soft and slow needs several clean runs before it goes up; at the edge goes
up at once and falls less. The numbers are ours.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

from chirotend.core.errors import check_range, check_word
from chirotend.core.tables import typed

MANNERS = ("soft", "edge")


@dataclass(frozen=True)
class Manner:
    """How a manner climbs: clean runs before it goes up, the step up and the step down in per cent."""

    runs: int
    up: float
    down: float


@dataclass(frozen=True)
class LadderRules:
    """The numbers of `ladder.csv` that both schools share."""

    #: runs, when most of the last this many fail the tempo drops
    look_back: int
    #: clean runs in a row, that make a tempo one that never folds
    top_runs: int
    #: beats per minute
    lowest: float
    #: beats per minute
    highest: float


@cache
def ladder_rules() -> LadderRules:
    return typed(LadderRules, "ladder")


@cache
def manner_rules(manner: str) -> Manner:
    return typed(Manner, "ladder", f"{manner}_")


@dataclass(frozen=True)
class Ladder:
    """A ladder as it stands: the tempo to play now, the runs so far as (tempo, clean), the top tempo that held.

    `top_clean` is the fastest tempo that held for three clean runs in a row; None = not yet.
    """

    tempo: float
    manner: str
    runs: tuple[tuple[float, bool], ...] = ()
    ceiling: float | None = None

    @property
    def top_clean(self) -> float | None:
        return top_clean(self.runs)


def begin(tempo: float, manner: str, ceiling: float | None = None) -> Ladder:
    """Return a ladder that starts at `tempo` (20-400), never above `ceiling` (a Muted day's; None = none)."""
    r = ladder_rules()
    check_range("tempo", tempo, r.lowest, r.highest, "beats per minute")
    check_word("manner", manner, MANNERS)
    return Ladder(tempo if ceiling is None else min(tempo, ceiling), manner, (), ceiling)


def after(ladder: Ladder, clean: bool) -> Ladder:
    """Return the ladder after one more run: the next tempo by its manner."""
    r, manner = ladder_rules(), manner_rules(ladder.manner)
    runs = (*ladder.runs, (ladder.tempo, clean))
    here = _at_this_tempo(runs)
    tempo = ladder.tempo
    failed = sum(1 for ok in here[-r.look_back :] if not ok)
    if failed * 2 > r.look_back:
        tempo *= 1 - manner.down / 100
    elif len(here) >= manner.runs and all(here[-manner.runs :]):
        tempo *= 1 + manner.up / 100
    high = r.highest if ladder.ceiling is None else min(r.highest, ladder.ceiling)
    return Ladder(float(round(min(max(tempo, r.lowest), high))), ladder.manner, runs, ladder.ceiling)


def _at_this_tempo(runs: Sequence[tuple[float, bool]]) -> list[bool]:
    """The runs since the tempo last changed."""
    found: list[bool] = []
    for tempo, clean in reversed(runs):
        if tempo != runs[-1][0]:
            break
        found.append(clean)
    return found[::-1]


def top_clean(runs: Sequence[tuple[float, bool]]) -> float | None:
    """Return the fastest tempo that held: the slowest of three clean runs in a row; None without three."""
    needed = ladder_rules().top_runs
    best: float | None = None
    streak: list[float] = []
    for tempo, clean in runs:
        streak = [*streak, tempo] if clean else []
        if len(streak) >= needed:
            held = min(streak[-needed:])
            best = held if best is None else max(best, held)
    return best
