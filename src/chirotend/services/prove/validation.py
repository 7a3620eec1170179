"""Run the proof: cohorts simulated, scores worked out, thresholds set on one mechanics, outcomes on all others."""

import math
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import Future, ProcessPoolExecutor, as_completed
from dataclasses import dataclass
from typing import Any

from chirotend.core.judge.evidence import WATCHES
from chirotend.core.judge.signs.chain import Floats, sign_rules
from chirotend.core.prove.calls import live_with_calls
from chirotend.core.prove.measuring import Gain, gain
from chirotend.core.prove.oracle import oracle_score
from chirotend.core.prove.outcomes import (
    Found,
    Share,
    false_signs,
    found_of,
    found_on,
    misses,
    player_years,
    rate,
    share,
    threshold_for,
)
from chirotend.core.prove.scores import (
    above_own_threshold,
    days_marked_score,
    load_ratio_score,
    rank_score,
    rank_score_without_nerve_signs,
    signs_over_own_threshold,
    signs_score,
    strongest_score,
)
from chirotend.core.prove.trials import PLAYERS, told_better
from chirotend.core.simulate.cohort import Cohort, live
from chirotend.core.simulate.kinds import kinds
from chirotend.core.simulate.measures import Measure, measures
from chirotend.core.simulate.mechanics import MECHANICS
from chirotend.core.trial.order import ORDERS

#: thresholds are set on this mechanics, with seeds of their own; they are proved on the others alone
TUNED_ON = "irritation"
BUDGETS = (0.25, 0.5, 1.0, 2.0, 4.0)
BUDGET = 1.0
DAYS = 180
SCORES: dict[str, Callable[[Cohort], Floats]] = {
    "signs": signs_over_own_threshold,
    "ranks": rank_score,
    "ranks, blind to tingling": rank_score_without_nerve_signs,
    "strongest mark of 3 days": strongest_score,
    "days marked of 7": days_marked_score,
    "load of 7 days to 28": load_ratio_score,
    "oracle": oracle_score,
}
SETS_SEED, PROVES_SEED = 31, 47
#: who measures, and how many days lie between two measurings
MEASURED_KINDS, MEASURED_EVERY = ("steady", "grower", "nerve", "stoic"), (7, 2)


@dataclass(frozen=True)
class Size:
    """How many players: of each cohort, of those the oracle reads, who live with their calls; and how many trials."""

    players: int
    oracle: int
    called: int
    mechanics: tuple[str, ...]
    trials: int


FULL = Size(200, 24, 6, tuple(m for m in MECHANICS if m != TUNED_ON), 2000)
QUICK = Size(60, 12, 1, ("repair",), 200)
#: whose trials are proved: players for whom the change does nothing, and one for whom it takes off 1 and 2 spreads
TRIED = (*((player, 0.0) for player in PLAYERS), ("resembling by .3", 1.0), ("resembling by .3", 2.0))


@dataclass(frozen=True)
class Called:
    """How the call went, in shares of mornings.

    `muted`: Muted or Tacet. `most`: the same of the player with most of them. `rows`: by the row that decided a Muted
    morning. `led`: by the code of the finding that led ("" = none). `visit_advised`: with the advice to see someone.
    `named`: what the whole call named in time (None = nothing was the matter).
    """

    muted: Share
    most: float
    rows: dict[int, float]
    led: dict[str, float]
    visit_advised: float
    named: Found | None


@dataclass(frozen=True)
class Outcome:
    """What became of one kind of player under one mechanics, at the shipped thresholds and at those of `BUDGETS`.

    A `Share` is false signs a year of those nothing is the matter with, a `Found` is of the others. `called` is how the
    call went; `misses` counts what signs missed at the usual watch, by reason.
    """

    kind: str
    mechanics: str
    own: dict[str, Share | Found]  # by watch
    by_budget: dict[tuple[str, float], Share | Found]
    called: Called
    misses: dict[str, int]


@dataclass(frozen=True)
class Proof:
    """All outcomes, the thresholds of each score by budget, set on `TUNED_ON`, and what measuring adds: by kind,
    mechanics, measure ("" = the diary alone) and days between. `trials`: how often a change is called better, by order,
    player and how much it does (0 = nothing)."""

    size: Size
    thresholds: dict[tuple[str, float], float]
    outcomes: tuple[Outcome, ...]
    gains: dict[tuple[str, str, str, int], Gain]
    trials: dict[tuple[str, str, float], tuple[float, float]]


def _steady(mechanics: str, players: int, seed: int) -> list[Cohort]:
    return [live(kinds()[kind], mechanics, players, DAYS, seed) for kind in ("steady", "exaggerator")]


def thresholds_of(name: str, size: Size) -> dict[tuple[str, float], float]:
    """Return the thresholds of a score at each budget, set on the steady players of `TUNED_ON`."""
    players = size.oracle * 2 if name == "oracle" else size.players * 2
    scores = [SCORES[name](cohort) for cohort in _steady(TUNED_ON, players, SETS_SEED)]
    return {(name, budget): threshold_for(scores, budget) for budget in BUDGETS}


def outcome(kind: str, mechanics: str, size: Size, thresholds: dict[tuple[str, float], float]) -> Outcome:
    """Return what became of a kind of player under a mechanics, with seeds no threshold was set on."""
    cohort = live(kinds()[kind], mechanics, size.players, DAYS, PROVES_SEED)
    few = live(kinds()[kind], mechanics, size.oracle, DAYS, PROVES_SEED)
    missed: dict[str, int] = {}
    by_budget: dict[tuple[str, float], Share | Found] = {}
    for name, score_of in SCORES.items():
        here = few if name == "oracle" else cohort
        score = score_of(here)
        for budget in BUDGETS:
            by_budget[name, budget] = _at(here, score, thresholds[name, budget])
        if name == "signs":
            missed = misses(here, score, 0.0) if here.kind.troubled else {}
    statistic = signs_score(cohort)
    own = {watch: _at(cohort, above_own_threshold(statistic, cohort, watch), 0.0) for watch in WATCHES}
    return Outcome(kind, mechanics, own, by_budget, _called(kind, mechanics, size.called), missed)


def gains(kind: str, mechanics: str, size: Size) -> dict[tuple[str, str, str, int], Gain]:
    """Return how a kind of player fares with each measure, taken as often as each of `MEASURED_EVERY`."""
    cohort = live(kinds()[kind], mechanics, size.players // 2, DAYS, PROVES_SEED)
    tried: list[tuple[Measure | None, int]] = [(None, 0)]
    tried += [(measure, every) for measure in measures().values() for every in MEASURED_EVERY]
    return {
        (kind, mechanics, measure.name if measure else "", every): gain(cohort, measure, every, PROVES_SEED)
        for measure, every in tried
    }


def _called(kind: str, mechanics: str, players: int) -> Called:
    called = live_with_calls(kinds()[kind], mechanics, players, DAYS, PROVES_SEED)
    judged_days = DAYS - sign_rules().first_days
    days = players * judged_days
    muted = share(round(sum(called.muted) * judged_days), days)
    named = found_of(called.cohort, list(called.named_on)) if kinds()[kind].troubled else None
    rows = {row: n / days for row, n in sorted(called.rows.items()) if n}
    led = {code: n / days for code, n in called.led.items()}
    return Called(muted, max(called.muted), rows, led, called.visit_advised / days, named)


def _at(cohort: Cohort, score: Floats, threshold: float) -> Share | Found:
    if cohort.kind.troubled:
        return found_of(cohort, found_on(cohort, score, threshold))
    return rate(false_signs(score, threshold), player_years(score), score.shape[1])


def validate(size: Size, workers: int, say: Callable[[str], None]) -> Proof:
    """Run the proof in `workers` processes; `say` hears each step done. Stopped by KeyboardInterrupt."""
    with ProcessPoolExecutor(workers) as pool:
        thresholds: dict[tuple[str, float], float] = {}
        setting = {pool.submit(thresholds_of, name, size): name for name in SCORES}
        for done in as_completed(setting):
            thresholds |= done.result()
            say(f"thresholds set: {setting[done]}")
        proving = {
            pool.submit(outcome, kind, mechanics, size, thresholds): f"{kind}, {mechanics}"
            for mechanics in size.mechanics
            for kind in kinds()
        }
        measuring = {
            pool.submit(gains, kind, mechanics, size): f"measured: {kind}, {mechanics}"
            for mechanics in size.mechanics
            for kind in MEASURED_KINDS
        }
        trying = {
            pool.submit(told_better, order, player, size.trials, gain): (order, player, gain)
            for order in ORDERS
            for player, gain in TRIED
        }
        tried = {future: f"trials: {order}, {player}" for future, (order, player, _) in trying.items()}
        steps: dict[Future[Any], str] = {**proving, **measuring, **tried}
        for number, done_step in enumerate(as_completed(steps), start=1):
            say(f"{number} of {len(steps)}: {steps[done_step]}")
        gained = {key: value for each in measuring for key, value in each.result().items()}
        trials = {of: future.result() for future, of in trying.items()}
        return Proof(size, thresholds, tuple(each.result() for each in proving), gained, trials)


def mean_of(found: Iterable[Share | Found]) -> tuple[float, float]:
    """Return the mean share found, and the mean lead in days of those cohorts of which some were."""
    told = [f for f in found if isinstance(f, Found)]
    leads = [f.lead_mean for f in told if not math.isnan(f.lead_mean)]
    return sum(f.share.value for f in told) / len(told), sum(leads) / max(1, len(leads))


def mean_found(proof: Proof, score: str, budget: float) -> tuple[float, float]:
    """Return the share found and the mean lead in days over all kinds with a trouble."""
    return mean_of(o.by_budget[score, budget] for o in troubled(proof))


def troubled(proof: Proof) -> Iterator[Outcome]:
    return (o for o in proof.outcomes if kinds()[o.kind].troubled)


def untroubled(proof: Proof) -> Iterator[Outcome]:
    return (o for o in proof.outcomes if not kinds()[o.kind].troubled)
