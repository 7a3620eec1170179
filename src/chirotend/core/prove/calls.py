"""The whole call in simulated lives: each morning's call is said, and she keeps to six Muted days of ten."""

from collections import Counter
from dataclasses import dataclass
from datetime import UTC, datetime

import numpy as np
from numpy.typing import NDArray

from chirotend.core.body.zones import zone
from chirotend.core.judge.call import Call, compute_call
from chirotend.core.judge.evidence import USUAL_WATCH, Evidence
from chirotend.core.judge.recovery import Recovery
from chirotend.core.judge.rules import rules, rules_of_version
from chirotend.core.judge.signs.chain import sign_rules
from chirotend.core.prove.outcomes import rose_in_time
from chirotend.core.record import Place
from chirotend.core.simulate.cohort import Cohort, Life
from chirotend.core.simulate.diary import SPOTS, Diary, day_of
from chirotend.core.simulate.kinds import Kind

KEEPS = 0.6


@dataclass(frozen=True)
class CohortCalls:
    """The cohort, the share of mornings Muted or Tacet (players), the day a troubled place was first named in time
    (None = it was not). `rows`: how many of those mornings each row decided (0 = the way back). `led`: how many
    mornings each finding led, by its code ("" = none); `visit_advised`: how many advised to see someone."""

    cohort: Cohort
    muted: tuple[float, ...]
    named_on: tuple[int | None, ...]
    rows: dict[int, int]
    led: dict[str, int]
    visit_advised: int


def live_with_calls(
    kind: Kind, mechanics: str, players: int, days: int, seed: int, keeps: float = KEEPS, version: int = 0
) -> CohortCalls:
    """Return a small simulated cohort with its calls, by the rules of `version` (0 = the present ones).

    Two milliseconds a player and day.
    """
    with rules_of_version(version or rules().version):
        return _with_calls(kind, mechanics, players, days, seed, keeps)


def _with_calls(kind: Kind, mechanics: str, players: int, days: int, seed: int, keeps: float) -> CohortCalls:
    life = Life(kind, mechanics, players, seed)
    follows = np.random.default_rng([seed, 9]).random((days, players)) < keeps
    diaries = [Diary(life, player) for player in range(players)]
    recovery = [Recovery() for _ in range(players)]
    muted = np.zeros((days, players), dtype=bool)
    named = np.zeros((days, players), dtype=bool)
    first, decided, led, visit_advised = sign_rules().first_days, Counter[int](), Counter[str](), 0
    for number in range(days):
        day, most = day_of(number), np.full(players, np.inf)
        for player, diary in enumerate(diaries):
            call = _call(diary, number, recovery[player])
            recovery[player] = call.recovery
            muted[number, player] = call.call in ("muted_mp", "muted_pp", "tacet")
            if number >= first:
                decided[call.row] += bool(muted[number, player])
                led[call.findings[0].code if call.findings else ""] += 1
                visit_advised += any(f.book for f in call.findings)
            if muted[number, player] and follows[number, player] and call.dose.minutes is not None:
                most[player] = call.dose.minutes
            named[number, player] = any(_names(call, place) for place in _places(life.troubled[player]))
        life.day(most)
        for diary in diaries:
            diary.evening(day)
    cohort = life.cohort()
    named_on = (rose_in_time(cohort, p, named[:, p]) if kind.troubled else None for p in range(players))
    return CohortCalls(
        cohort, tuple(muted[first:].mean(axis=0).tolist()), tuple(named_on), dict(decided), dict(led), visit_advised
    )


def _call(diary: Diary, number: int, recovery: Recovery) -> Call:
    day = day_of(number)
    now = datetime(day.year, day.month, day.day, 8, tzinfo=UTC)
    return compute_call(Evidence(diary.morning(day), day, now, recovery.settled_until, watch=USUAL_WATCH), recovery)


def _places(troubled: NDArray[np.bool_]) -> list[Place]:
    return [(zone(SPOTS[n].zone).region, SPOTS[n].side) for n in np.flatnonzero(troubled)]


def _names(call: Call, place: Place) -> bool:
    """A row of symptoms, or a sign that caps the day first, speaks of the place."""
    said = (f for f in call.findings if 3 <= f.row <= 6 or f.code == "risen_after_load")
    return any(f.place == place or (f.place is None and f.nerve) for f in said)
