"""An oracle: a Bayes filter on the same diary that knows what no filter can, to see what a diary could tell at best.

It knows her mechanics, her load day by day, her habits (zeros, spread, likeness, what she keeps silent) and how often
soreness comes in passing; not whether, when, where and how fast a trouble begins, and not her noise. A hypothesis is
"nothing", or a trouble that began on a day and weakens its place within so many; each gives a course of excess, beside
it stand passing soreness and a binned noise. Onsets lie four days apart and speeds are three: exact but for that, and
for the cold and what is drawn by chance in `Threshold` and `Queue`, which it takes at their mean.
"""

import numpy as np

from chirotend.core.judge.signs.chain import Floats
from chirotend.core.late import late
from chirotend.core.prove.scores import from_the_first_days
from chirotend.core.simulate import cohort as simulated
from chirotend.core.simulate.cohort import Cohort
from chirotend.core.simulate.measures import Measure, sorest_elsewhere
from chirotend.core.simulate.mechanics import EXCESS_MAX, MECHANICS
from chirotend.core.simulate.telling import Telling, characters

special = late("scipy.special")

BINS, PARTS = 15, 4
STEP = 0.25
SPEEDS = (9, 25, 47)
EVERY = 4
#: a trouble begins at a place about once in so many days: the prior
BEGINS_DAYS = 700.0
#: the dose of a day before the diary began
USUAL_DOSE = 0.85


def courses(cohort: Cohort) -> tuple[Floats, Floats]:
    """Return the excess (days, players, hypotheses) of each hypothesis, the first of them "nothing", and the days
    (hypotheses) on which they begin."""
    days, players = cohort.minutes.shape
    onsets = np.arange(0, days, EVERY)
    begins = np.concatenate([[np.inf], np.repeat(onsets, len(SPEEDS))])
    speeds = np.concatenate([[1.0], np.tile(SPEEDS, len(onsets))])
    shape = players, len(begins)
    body = MECHANICS[cohort.mechanics](shape)
    usual = cohort.effort.mean(axis=0)
    excess = np.empty((days, *shape))
    for day in range(-simulated.BURN_IN, days):
        dose = np.full(players, USUAL_DOSE)
        if day >= 0:
            dose = cohort.minutes[day] / simulated.MINUTES * (cohort.effort[day] / usual) ** 2
        weakness = np.clip((day - begins) / speeds, 0.0, 1.0) * np.ones(shape)
        felt = body.step(dose[:, None] * np.ones(shape), weakness, None)
        if day >= 0:
            excess[day] = felt
    return excess, begins


def oracle_score(cohort: Cohort, measure: Measure | None = None, values: Floats | None = None) -> Floats:
    """Return the log odds (days, players, places) that a trouble has begun.

    With `values` (days, players) it reads a `measure` too: the sorest place shows in it, which may be another one; of
    the others it takes what it expects of them.
    """
    excess, begins = courses(cohort)
    t = _flat(cohort.telling)
    grid = np.arange(0, EXCESS_MAX + STEP / 2, STEP)
    observed = _chances(t, grid).astype(np.float32)
    noise_moves = _noise_moves(t.likeness).astype(np.float32)
    passing = np.array([0.0, *simulated.PASSING_LEVELS])
    passing_moves = _passing_moves().astype(np.float32)
    days, players, places = cohort.strength.shape
    n = players * places
    prior = np.full(len(begins), EVERY / BEGINS_DAYS / len(SPEEDS))
    prior[0] = 1 - prior[1:].sum()
    likely = np.zeros((n, len(begins), len(passing), BINS), dtype=np.float32)
    likely[:, :, 0] = prior[:, None] / BINS
    rows = np.arange(n)
    nerve = t.nerve[:, 0][:, None, None]
    characters_of = np.stack([characters(grid, np.full(len(grid), tingles)) for tingles in (False, True)])
    characters_of = characters_of.astype(np.float32)
    score = np.empty((days, n))
    strength, character = cohort.strength.reshape(days, n), cohort.character.reshape(days, n)
    for day in range(days):
        likely = np.einsum("nhpb,pq->nhqb", likely, passing_moves, optimize=True)
        likely = np.matmul(likely.reshape(n, -1, BINS), noise_moves).reshape(likely.shape)
        felt = np.repeat(np.maximum(excess[day][:, :, None], passing), places, axis=0)
        at = np.rint(felt / STEP).astype(int)
        chances = observed[rows[:, None, None], at, :, strength[day][:, None, None]]
        tingles = (nerve & (begins <= day)[None, :, None] & (at > 0)).astype(int)
        shown = characters_of[tingles, at, character[day][:, None, None]]
        shown[strength[day] == 0] = 1.0
        asked = np.repeat(cohort.asked[day], places)
        likely[asked] *= (chances * shown[..., None])[asked]
        if measure is not None and values is not None:
            likely *= _measure_chances(measure, values[day], felt, likely)
        likely /= np.maximum(likely.sum(axis=(1, 2, 3), keepdims=True), 1e-30)
        high = np.clip(likely[:, begins <= day].sum(axis=(1, 2, 3), dtype=float), 1e-9, 1 - 1e-9)
        score[day] = np.log(high / (1 - high))
    return from_the_first_days(score.reshape(cohort.strength.shape), cohort)


def _measure_chances(measure: Measure, values: Floats, felt: Floats, likely: Floats) -> Floats:
    """(places of all players, hypotheses, passing levels, 1): how well each tells what was measured; 1 without it."""
    places = len(felt) // len(values)
    here = likely.sum(axis=3)
    expected = ((here * felt).sum(axis=(1, 2)) / np.maximum(here.sum(axis=(1, 2)), 1e-30)).reshape(-1, places)
    sorest = np.maximum(felt, sorest_elsewhere(expected)[:, None, None])
    away = (np.repeat(values, places)[:, None, None] - measure.per_excess * sorest) / measure.spread
    chances = np.where(np.isnan(away), 1.0, np.exp(-0.5 * np.minimum(away**2, 60.0)))
    return chances[..., None].astype(likely.dtype)


def _passing_moves() -> Floats:
    """(levels, levels): passing soreness comes and goes; 0 = none."""
    comes = (1 - simulated.OFTEN_SHARE) / simulated.SELDOM_DAYS + simulated.OFTEN_SHARE / simulated.OFTEN_DAYS
    moves = np.eye(1 + len(simulated.PASSING_LEVELS)) * (1 - simulated.ENDS)
    moves[1:, 0] = simulated.ENDS
    moves[0] = [1 - comes, *(comes * np.array(simulated.PASSING_CHANCES))]
    return moves


def _flat(t: Telling) -> Telling:
    return Telling(*(getattr(t, name).reshape(-1, 1) for name in t.__dataclass_fields__))


def _noise_bins() -> Floats:
    """(bins, parts): noise values, each bin as likely as another."""
    return np.asarray(special.ndtri((np.arange(BINS * PARTS) + 0.5) / (BINS * PARTS)).reshape(BINS, PARTS))


def _chances(t: Telling, grid: Floats) -> Floats:
    """(places, grid, bins, strengths): the chance of each strength observed at an excess, in a bin of noise."""
    noise = _noise_bins()
    places = len(t.above)
    chances = np.zeros((places, len(grid), BINS, 11))
    rows = np.arange(places)[:, None]
    bins = np.arange(BINS)[None, :]
    for number, excess in enumerate(grid):
        silent = t.kept_silent(np.full((places, 1), excess))
        for part in range(PARTS):
            observed = t.strength(noise[:, part][None, :], np.full((places, 1), excess)).astype(int)
            chances[rows, number, bins, observed] += (1 - silent) / PARTS  # each cell is named once
            chances[:, number, :, 0] += silent / PARTS
    return chances


def _noise_moves(likeness: Floats) -> Floats:
    """(places, bins, bins): where the noise goes within a day."""
    centre = _noise_bins().mean(axis=1)
    edges = special.ndtri(np.arange(1, BINS) / BINS)
    spread = np.sqrt(1 - likeness**2)[:, :, None]
    below = special.ndtr((edges[None, None, :] - likeness[:, :, None] * centre[None, :, None]) / spread)
    ends = np.concatenate([np.zeros((*below.shape[:2], 1)), below, np.ones((*below.shape[:2], 1))], axis=2)
    return np.asarray(np.diff(ends, axis=2))
