"""What a trial can say: better, worse, or "cannot tell yet", and how many days more it would take."""

import math
import random
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from chirotend.core.errors import Degenerate, TooFew
from chirotend.core.judge.baseline import median
from chirotend.core.judge.trend import daily_trend
from chirotend.core.memos import by_value
from chirotend.core.trial.effect import LEAST, TauU, alike, half_width, nap, nap_interval, tau_u
from chirotend.core.trial.order import STRETCHES, drawn, least_days, pair_choices, phase_rows
from chirotend.core.trial.randomisation import TIE, RandomisationTest, differences_of, randomisation_test

BETTER, WORSE, CANNOT_TELL = "better", "worse", "cannot_tell"
#: how far the pairs must lie from even, in standard errors, so that two looks, at the planned end and ten days later,
#: say better of nothing once in twenty trials at most (docs/validation.md)
LINE_Z = 1.8
#: at most such a share of the lot may look as large: one of fewer than ten orders can show nothing by itself
RANDOMISATION_SHARE, RANDOMISATION_LEAST = 0.10, 10
#: a trend of the days without, from here on it is said
TREND_P = 0.10
#: shown in so many of 100 simulated trials = "would have been seen"
SURE = 0.80
SIMULATED = 240
BLOCK = 3
#: days more that are looked at, before "not by waiting"
MORE = (2, 4, 6, 8, 10, 14, 20, 28)

Days = tuple[float | None, ...]


@dataclass(frozen=True)
class Answer:
    """What the days say. Shares of pairs 0-1; `middle_a`, `middle_b`: the middle day of either, in the measure's unit.

    `few`: under three days of either kind, and nothing below is known. `lot` None = nothing was drawn; `trend`: Tau-U
    where the days without were on their way already (None = they were not); `more_days`: about so many more would
    settle it (None = not within four weeks, or settled). `is_over`: all planned days are over; else `CANNOT_TELL`.
    """

    verdict: str
    n_a: int
    n_b: int
    middle_a: float | None
    middle_b: float | None
    few: bool = False
    share: float = 0.5
    low: float = 0.0
    high: float = 1.0
    randomisation: RandomisationTest | None = None
    trend: TauU | None = None
    more_days: int | None = None
    is_over: bool = True


# both the pairs and the order that was drawn must say so: decision 126
def answered(
    y: Days,
    letters: str,
    order: str,
    better: str,
    least: int = LEAST,
    lot_days: int | None = None,
    lowest: float | None = None,
    is_over: bool = True,
) -> Answer:
    """Return what the days so far say; `y` one value a day (None = missing), `letters` A or B for each day planned.

    `lot_days` as for `every_order`; `lowest`: the lowest value there can be (None = no such). `is_over`: all planned
    days are over. Before that there is no verdict: who looks every day would be told better of nothing sooner or later.
    """
    a, b = _phase(y, letters, "A"), _phase(y, letters, "B")
    known_a, known_b = [v for v in a if v is not None], [v for v in b if v is not None]
    if min(len(known_a), len(known_b)) < LEAST:
        middle = [median(k) if k else None for k in (known_a, known_b)]
        return Answer(CANNOT_TELL, len(known_a), len(known_b), middle[0], middle[1], few=True, is_over=is_over)
    middle_a, middle_b = median(known_a), median(known_b)
    share = nap(known_a, known_b, better).nap
    low, high = nap_interval(share, len(known_a), len(known_b), alike(a, b))
    randomisation = randomisation_test(y, letters, order, better, least, lot_days)
    trend = _trend(known_a, known_b, better)
    verdict = CANNOT_TELL
    # both must show it: days that were getting better before fool the pairs, not the lot
    line = half_width(len(known_a), len(known_b), alike(a, b), LINE_Z)
    if is_over and abs(share - 0.5) > line:
        helped = share > 0.5
        lot = randomisation if helped else randomisation_test(y, letters, order, _other(better), least, lot_days)
        if _rare(lot):
            verdict = BETTER if helped else WORSE
    more = None
    if is_over and verdict == CANNOT_TELL:
        noise = tuple([v - middle_a for v in known_a] + [v - middle_b for v in known_b])
        gain = (middle_a - middle_b) * (1 if better == "lower" else -1)
        floor = -math.inf if lowest is None or better == "higher" else lowest - middle_a
        more = more_days(noise, order, len(y), least, abs(gain), floor)
    return Answer(
        verdict,
        len(known_a),
        len(known_b),
        middle_a,
        middle_b,
        share=share,
        low=low,
        high=high,
        randomisation=randomisation,
        trend=trend,
        more_days=more,
        is_over=is_over,
    )


def _phase(y: Days, letters: str, letter: str) -> Days:
    return tuple(v for v, c in zip(y, letters, strict=False) if c == letter)


def _other(better: str) -> str:
    return "higher" if better == "lower" else "lower"


def _trend(a: Sequence[float], b: Sequence[float], better: str) -> TauU | None:
    try:
        if daily_trend(a).p > TREND_P:
            return None
    except (TooFew, Degenerate):
        return None
    return tau_u(a, b, better)


def _rare(randomisation: RandomisationTest | None) -> bool:
    return randomisation is None or randomisation.p <= RANDOMISATION_SHARE


# --- what a trial of this length can show, simulated from her own days


@by_value(256)
def chance_to_show(
    noise: tuple[float, ...], order: str, days: int, least: int, gain: float, floor: float = -math.inf
) -> float:
    """Return in which share of simulated trials a gain (in the measure's unit, above 0) is shown as `BETTER`.

    `noise`: her own values about their middle, oldest first; days are drawn from it in runs of three, so that they
    resemble their neighbours as hers do. A gain comes in the steps she writes in, more of them or fewer by chance, and
    no day falls below `floor` (the lowest there can be, about the same middle): who marks 0 mostly has little to gain.
    """
    pool, chance = np.array(noise, dtype=float), random.Random(f"{order} {days} {least}")
    grid, shown = _grid(noise), 0
    for _ in range(SIMULATED):
        starts = [chance.randrange(len(pool)) for _ in range(-(-days // BLOCK))]
        series = np.array([pool[(s + n) % len(pool)] for s in starts for n in range(BLOCK)][:days])
        letters = drawn(order, days, least, chance)
        with_it = np.array([c == "B" for c in letters])
        between = np.array([chance.random() for _ in range(days)])
        series -= with_it * grid * np.floor(gain / grid + between)
        shown += shows(np.maximum(series, floor), with_it, order, least)
    return shown / SIMULATED


def _grid(noise: tuple[float, ...]) -> float:
    """The step she writes in: the least difference between two of her values (whole numbers for marks)."""
    values = sorted(set(noise))
    return max(1e-6, min((b - a for a, b in pairwise(values)), default=1.0))


def shows(
    y: NDArray[np.float64], with_it: NDArray[np.bool_], order: str, least: int, lot_days: int | None = None
) -> bool:
    """Return whether days without a gap are `BETTER` by the test of `answered` once all are over; lower is better."""
    a, b = y[~with_it], y[with_it]
    if min(len(a), len(b)) < LEAST:
        return False
    share = (b[:, None] < a[None, :]).mean() + 0.5 * (b[:, None] == a[None, :]).mean()
    if share - 0.5 <= half_width(len(a), len(b), alike(a.tolist(), b.tolist()), LINE_Z):
        return False
    if order == "turn":
        return True
    if order in STRETCHES:
        lot = phase_rows(order, lot_days or len(y), least)
        added = ((0, 0), (0, len(y) - lot.shape[1]))
        found = -differences_of(y, np.pad(lot, added, constant_values=True))
        observed = float(a.mean() - b.mean())
    else:
        pairs = len(y) // 2
        signs = np.where(with_it[0 : 2 * pairs : 2], 1.0, -1.0)
        gains = signs * (y[1 : 2 * pairs : 2] - y[0 : 2 * pairs : 2])
        found = np.where(pair_choices(pairs), 1.0, -1.0) @ gains
        observed = gains.sum()
    return float((found >= observed - TIE).mean()) <= RANDOMISATION_SHARE


def detectable(
    noise: tuple[float, ...], order: str, days: int, least: int, steps: Sequence[float], floor: float = -math.inf
) -> float | None:
    """Return the smallest of `steps` (rising) that four in five such trials would show; None = none of them."""
    low, high = 0, len(steps)
    while low < high:
        middle = (low + high) // 2
        if chance_to_show(noise, order, days, least, steps[middle], floor) >= SURE:
            high = middle
        else:
            low = middle + 1
    return steps[low] if low < len(steps) else None


def more_days(
    noise: tuple[float, ...], order: str, days: int, least: int, gain: float, floor: float = -math.inf
) -> int | None:
    """Return about how many days more would show a gain as large as seen so far; None = not within four weeks."""
    if gain <= 0 or len(noise) < 2 * LEAST:
        return None
    for more in MORE:
        if chance_to_show(noise, order, max(least_days(order, least), days + more), least, gain, floor) >= SURE:
            return more
    return None
