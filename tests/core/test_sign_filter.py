"""The filter of early signs: worked values, exact Bayes by trying every path, places that do not meddle."""

import itertools
import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chirotend.core.judge.signs import chain as chain_module
from chirotend.core.judge.signs import filter as filter_module
from chirotend.core.judge.signs.chain import chain, observed_excess, sign_rules
from chirotend.core.judge.signs.filter import Day, Filter

WEEKS_OF_ONES = (0, 1, 0, 0, 2, 0, 1) * 3
WEEKS_OF_THREES = (3, 2, 3, 4, 3, 2, 3) * 3


def odds(days, places: int = 1) -> list[float]:
    """Log odds after each day; a day is a strength, (strength, character), the same and True for a nerve's mark, or
    None = not asked."""
    filtered = Filter(places)
    found = []
    for day in days:
        values = () if day is None else day if isinstance(day, tuple) else (day,)
        strength, character, nerve = (*values, *(0, 0, False)[len(values) :])
        told = Day(*(np.full(places, value) for value in (strength, character, nerve, day is not None)))
        found.append(float(filtered.step(told)[-1]))
    return found


@pytest.fixture
def as_worked(monkeypatch):
    """These worked values were made with passing soreness that ends one day in twenty, one guard for all gaps, and no
    ear for nerves: version 4 of the rules ends it in four, version 8 has the others."""
    rules = replace(sign_rules(), passes=0.05, guard_gap_1=0.5, guard_gap_2=0.5, guard_gap_3=0.5, nerve_power=0.0)
    for module in (chain_module, filter_module):
        monkeypatch.setattr(module, "sign_rules", lambda: rules)
    chain.cache_clear()
    yield
    chain.cache_clear()


@pytest.mark.usefixtures("as_worked")
def test_an_excess_as_it_is_told():
    """Worked beforehand in another program: the chances of 0 to 4 more where the excess is 1."""
    assert observed_excess(1)[:5] == pytest.approx((0.6786, 0.1481, 0.1118, 0.0480, 0.0117), abs=5e-5)
    assert all(observed_excess(x).sum() == pytest.approx(1) for x in (0.5, 3.5, 7))


@pytest.mark.usefixtures("as_worked")
@pytest.mark.parametrize(
    ("days", "expected"),
    [
        (
            ((0,) * 14 + (1, 0, 1, 2, 1, (2, 2), 2, 3, (2, 4), (3, 1))),
            dict(
                zip(
                    range(14, 25),
                    (-4.963, -4.089, -4.034, -3.176, -2.204, -1.799, -1.197, -0.966, -0.586, -0.359, -0.042),
                    strict=True,
                )
            ),
        ),
        (
            (*WEEKS_OF_ONES, None, None, 2, 1, None, (2, 2), (3, 1), (3, 3), (4, 5)),
            {14: -2.838, 21: -3.147, 27: -2.299, 28: -1.228, 30: 0.183},
        ),
        (
            (*WEEKS_OF_THREES, 3, 4, 3, 4, (5, 1), (5, 3), (5, 1)),
            {14: -2.246, 25: -2.758, 26: -1.748, 28: -1.056},
        ),
    ],
)
def test_worked_diaries(days, expected):
    """Worked beforehand in another program, to five in the fourth place."""
    found = odds(days)
    assert {day: found[day - 1] for day in expected} == pytest.approx(expected, abs=5e-4)


@pytest.mark.parametrize(
    ("days", "expected"),
    [
        (
            (*(0,) * 20, (1, 1, True), 0, (1, 1, True), 0, 0, (2, 1, True), (2, 3, True)),
            (-4.940, -2.575, -2.587, -0.765, -0.810, -0.933, 0.483, 1.384),
        ),
        (
            (*WEEKS_OF_ONES, None, None, 2, 1, None, (2, 2), (3, 1), (3, 3), (4, 5)),
            (-3.134, -3.154, -2.994, -2.857, -2.601, -2.687, -2.558, -2.069, -0.721, 0.280, 1.217),
        ),
    ],
)
def test_tingling_and_days_that_were_not_asked_as_worked(days, expected):
    """From the twentieth day on, worked beforehand in another program, to five in the fourth place."""
    assert odds(days)[19:] == pytest.approx(expected, abs=6e-4)


def test_the_chain_is_a_chain():
    c = chain()
    assert c.moves.shape == (2, 20, 20) and c.moves.min() >= 0
    assert np.allclose(c.moves.sum(axis=2), 1) and np.allclose(c.seen.sum(axis=0), 1)
    assert c.usual.sum() == pytest.approx(1) and c.characters.sum() == pytest.approx(1)
    assert [c.levels[s] for s in c.first_lasting] == [0.5, 0.5] and c.lasting.sum() == 16


def first_chances(strength: int, character: int) -> np.ndarray:
    """The chance (states) of a mark while nothing was learnt of her usual, written by hand."""
    c = chain()
    shifted = c.shifts[:, character] / (c.shifts @ c.characters)
    return (c.usual[:, None] * c.seen[strength]).sum(axis=0) * shifted


def by_every_path(chances: list[np.ndarray]) -> float:
    """Log odds after three days of such chances: moves and chances multiplied along each of 20 x 20 x 20 paths."""
    c, total = chain(), np.zeros(20)
    for kind, path in itertools.product(range(2), itertools.product(range(20), repeat=3)):
        chance, state = c.kinds[kind], 0
        for day, after in enumerate(path):
            chance *= c.moves[kind, state, after] * chances[day][after]
            state = after
        total[state] += chance
    high = total[c.lasting & (c.levels >= 1.5)].sum() / total.sum()
    return math.log(high / (1 - high))


def test_a_short_diary_against_every_path_of_states():
    """Exact Bayes by enumeration: prior, moves and tempered likelihoods multiplied along each of 20 x 20 x 20 paths and
    each kind of player. Three days: nothing was learnt of her usual yet, the likelihood is written by hand."""
    guards, days = sign_rules().guards, [(2, 3), (3, 2), (4, 5)]
    told = []
    for guard, (strength, character) in zip((guards[-1], guards[0], guards[0]), days, strict=True):
        told.append(first_chances(strength, character) ** guard)
    assert odds(days)[-1] == pytest.approx(by_every_path(told), rel=1e-9)


def test_a_gap_and_a_nerve_mark_against_every_path_of_states():
    """The same with a day that was not asked, which moves and tells nothing, and tingling after it: its guard is that
    of a gap of one day, its factor stands outside the guard."""
    c, r = chain(), sign_rules()
    rare = r.nerve_prior / r.character_weight
    more = r.nerve_share * (1 - np.exp(-c.levels / r.nerve_scale)) * c.lasting
    nerve = ((rare + (1 - rare) * more) / rare) ** r.nerve_power
    days = [first_chances(2, 3) ** r.guard_gap_3, np.ones(20), first_chances(1, 1) ** r.guard_gap_1 * nerve]
    assert odds([(2, 3), None, (1, 1, True)])[-1] == pytest.approx(by_every_path(days), rel=1e-9)


def test_the_chain_without_guards_against_the_forward_pass_of_hmmlearn(monkeypatch):
    """Values of `forward_log` of hmmlearn 0.3.3 (BSD) on the same start, moves and chances of each day; its two kinds
    of player are run apart and weighed."""
    plain = replace(sign_rules(), guard=1.0, guard_gap_1=1.0, guard_gap_2=1.0, guard_gap_3=1.0)
    monkeypatch.setattr(filter_module, "sign_rules", lambda: plain)
    found = odds([(1, 0), (0, 0), (2, 2), (3, 3), (2, 1), (4, 5)])
    assert found[2:] == pytest.approx([-4.869182, -2.66583, -1.687521, -0.692166], abs=2e-6)


diaries = st.lists(st.none() | st.tuples(st.integers(0, 8), st.integers(0, 7)), min_size=1, max_size=40)


@settings(max_examples=40)
@given(diaries)
def test_places_do_not_look_at_each_other_and_odds_stay_numbers(days):
    alone, among = odds(days), odds(days, places=3)
    assert alone == pytest.approx(among, rel=1e-9) and all(math.isfinite(x) for x in alone)


@settings(max_examples=40)
@given(diaries, st.integers(1, 6))
def test_days_without_an_answer_move_it_towards_its_rest_and_teach_nothing(days, silent):
    filtered = Filter(1)
    for day in days:
        strength, character = day or (0, 0)
        values = strength, character, False, day is not None
        filtered.step(Day(*(np.array([value]) for value in values)))
    asked, learnt = int(filtered.days_asked[0]), filtered.strengths.sum()
    for _ in range(silent):
        filtered.step(Day(np.array([8]), np.array([7]), np.array([True]), np.array([False])))
    assert int(filtered.days_asked[0]) == asked == sum(day is not None for day in days)
    assert filtered.strengths.sum() <= learnt + min(silent, sign_rules().joins_after) + 1e-9
    assert filtered.likely.sum() == pytest.approx(1)


def test_a_rise_tells_more_than_a_level_that_came_at_once_and_goes_again():
    rising = odds([0] * 30 + [1, 1, 2, 2, 3, 3, 4, 4, 5, 5])
    passing = odds([0] * 30 + [3, 3, 3, 3, 3, 2, 1, 0, 0, 0])
    assert rising[-1] > 0 > passing[-1] and max(passing) < rising[-1]


def test_what_was_settled_is_at_rest_and_its_usual_stays():
    filtered = Filter(1)
    for strength in [0] * 30 + [4] * 10:
        filtered.step(Day(*(np.array([value]) for value in (strength, 1, False, True))))
    learnt = filtered.strengths.copy()
    assert filtered.log_odds()[0] > -2
    filtered.settle(np.array([True]))
    assert filtered.log_odds()[0] < -20 and np.array_equal(filtered.strengths, learnt)
    assert filtered.likely.sum() == pytest.approx(1)
