"""Did it help? Check values of the published statistics; the lot against enumeration; lengths against brute force."""

import itertools
import random

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import mannwhitneyu

from chirotend.core.errors import OutOfRange, TooFew
from chirotend.core.prove.trials import PLAYERS, resembling, told_better
from chirotend.core.trial import answer
from chirotend.core.trial.answer import BETTER, CANNOT_TELL, WORSE, answered, chance_to_show, detectable
from chirotend.core.trial.effect import alike, half_width, nap, nap_interval, tau_u
from chirotend.core.trial.order import ORDERS, STRETCHES, drawn, every_order
from chirotend.core.trial.randomisation import randomisation_test
from tests.reference.designs import abab_arrangements, lot_size, randtest_ab, randtest_abab

VALUES = st.lists(st.integers(0, 10).map(float), min_size=3, max_size=12)


@pytest.mark.parametrize(
    ("a", "b", "better", "u", "share"),
    [([5, 6, 5, 7, 6], [4, 3, 5, 2, 3], "lower", 24, 0.96), ([2, 3, 4], [3, 5, 4, 6], "higher", 10, 0.833333)],
)
def test_the_share_of_pairs(a, b, better, u, share):
    found = nap(a, b, better)
    assert (found.U, found.nap) == (u, pytest.approx(share, abs=1e-6))
    with pytest.raises(TooFew):
        nap(a[:2], b, better)
    with pytest.raises(OutOfRange):
        nap(a, b, "nicer")


@given(VALUES, VALUES)
def test_the_share_of_pairs_is_the_one_of_mann_and_whitney(a, b):
    """Reference: scipy.stats.mannwhitneyu."""
    assert nap(a, b, "higher").U == pytest.approx(mannwhitneyu(b, a).statistic)
    assert nap(a, b, "higher").nap + nap(a, b, "lower").nap == pytest.approx(1)


@pytest.mark.parametrize(
    ("a", "b", "better", "tau_ab", "trend", "tau"),
    [
        ([5, 6, 5, 7, 6], [4, 3, 5, 2, 3], "lower", 0.92, -4, 1.08),
        ([1, 2, 3, 4], [4, 5, 6, 5], "higher", 0.9375, 6, 0.5625),
        ([6, 5, 4, 3, 2, 1], [7, 8, 9], "higher", 1.0, -15, 1.833333),
    ],
)
def test_tau_u_takes_the_trend_off(a, b, better, tau_ab, trend, tau):
    found = tau_u(a, b, better)
    assert (found.tau_ab, found.S_A, found.tau_u) == (pytest.approx(tau_ab), trend, pytest.approx(tau, abs=1e-6))


def test_the_lot_of_two_phases_and_of_four():
    found = randtest_ab([6, 5, 6, 7, 5, 6, 3, 4, 3, 2, 4, 3], 7, 3, "lower")
    assert (found.T, found.n_arr, found.p) == (pytest.approx(2.66667, abs=1e-5), 7, pytest.approx(1 / 7))
    four = randtest_abab([6, 5, 6, 6, 3, 4, 3, 3, 6, 5, 5, 6, 3, 2, 3, 4], [4, 8, 12], 3, "lower")
    assert (four.T, four.n_arr, four.p) == (pytest.approx(2.5), 35, pytest.approx(0.0285714, abs=1e-6))
    assert (abab_arrangements(24, 3), abab_arrangements(28, 5)) == (455, 165)
    with pytest.raises(TooFew):
        abab_arrangements(15, 4)
    with pytest.raises(OutOfRange):
        randtest_ab([1.0] * 12, 11, 3, "lower")


@given(st.lists(st.integers(0, 10), min_size=8, max_size=8), st.integers(0, 15))
def test_the_lot_of_pairs_is_exact(y, number):
    """Against enumeration by itertools of every order of four pairs of days."""
    orders = ["".join(p) for p in itertools.product(("AB", "BA"), repeat=4)]
    letters = orders[number]

    def difference(order):
        a, b = ([v for v, c in zip(y, order, strict=True) if c == letter] for letter in "AB")
        return sum(a) / 4 - sum(b) / 4

    expected = sum(difference(o) >= difference(letters) - 1e-9 for o in orders) / 16
    assert randomisation_test(y, letters, "pairs", "lower").p == pytest.approx(expected)


@given(st.sampled_from(["phases", "again", "pairs", "turn"]), st.integers(12, 40), st.integers(0, 10**6))
def test_what_is_drawn_is_in_its_lot(order, days, seed):
    letters = drawn(order, days, 3, random.Random(seed))
    assert len(letters) == days
    assert min(letters.count("A"), letters.count("B")) >= 3
    if lot_size(order, days, 3) <= 4096:
        rows = every_order(letters, order, 3)
        assert len({r.tobytes() for r in rows}) == len(rows) == lot_size(order, days, 3)
        assert "".join("B" if b else "A" for b in rows[0]) == letters


def test_days_added_later_do_not_make_the_lot_larger():
    letters = "A" * 6 + "B" * 18
    assert len(every_order(letters, "phases", 3, lot_days=14)) == 9
    assert randomisation_test([5.0] * 6 + [3.0] * 18, letters, "phases", "lower", 3, 14).n_arr == 9
    again = every_order("AAAABBBBAAAABBBB" + "B" * 10, "again", 3, lot_days=16)
    assert len(again) == abab_arrangements(16, 3) and again[:, 16:].all()


def test_days_in_pairs_are_drawn_and_days_in_turn_are_not():
    pairs = {drawn("pairs", 6, 3, random.Random(n)) for n in range(200)}
    assert len(pairs) == 8 and all(each[2 * n : 2 * n + 2] in ("AB", "BA") for each in pairs for n in range(3))
    assert {drawn("turn", 7, 3, random.Random(n)) for n in range(20)} == {"ABABABA"}


def test_a_change_given_taken_away_and_given_again():
    letters = "AAAABBBBAAAABBBB"
    assert answered((6, 5, 6, 6, 3, 4, 3, 3, 6, 5, 5, 6, 3, 2, 3, 4), letters, "again", "lower").verdict == BETTER
    fell = answered((9, 8, 8, 7, 7, 6, 6, 5, 5, 4, 4, 3, 3, 2, 2, 1), letters, "again", "lower")
    assert fell.verdict == CANNOT_TELL, "what falls all the time falls also while it is taken away"
    with pytest.raises(TooFew):
        drawn("again", 11, 3, random.Random(1))
    lengths = {drawn("again", 14, 3, random.Random(n)) for n in range(400)}
    assert len(lengths) == lot_size("again", 14, 3) == 10
    assert len(every_order(drawn("again", 60, 3, random.Random(1)), "again", 3)) in (4096, 4097)


def test_an_order_without_any_value_is_never_evidence():
    y = [None, None, None, 5, 5, 5, 2, 2, 2, 2, 2, 2]
    found = randomisation_test(y, "A" * 6 + "B" * 6, "phases", "lower")
    assert (found.n_arr, found.p) == (7, pytest.approx(2 / 7))  # its own, and the one whose days without have no value


def test_the_interval_of_a_share():
    """Newcombe 2006, method 5, from memory: by its own definition at both ends, and coverage by simulation."""
    low, high = nap_interval(0.94, 11, 13)
    assert low < 0.94 < high < 1
    assert nap_interval(1.0, 10, 10)[1] == 1.0
    assert (0.5 + half_width(11, 13) > 0.75) == (nap_interval(0.75, 11, 13)[0] < 0.5)
    chance, inside = np.random.default_rng(1), 0
    for _ in range(600):
        a, b = chance.normal(0, 1, 12), chance.normal(-0.7, 1, 12)
        edges = nap_interval(nap(list(a), list(b), "lower").nap, 12, 12)
        inside += edges[0] <= 0.6897 <= edges[1]  # Phi(.7 / sqrt 2)
    assert 0.87 <= inside / 600 <= 0.95


def test_days_that_resemble_each_other_widen_it():
    slow = [1, 1, 2, 2, 3, 3, 4, 4, 5, 5]
    assert alike(slow, slow) == pytest.approx(0.7), "no more is believed of so few days"
    assert alike([3, 1, 2, 2, 3, 4, 4, 5, 2, 1], [1] * 10) == pytest.approx((10 * (5.61 / 18) / (16.1 / 20) + 1) / 7)
    assert alike([1, 5] * 5, [1, 5] * 5) == 0
    assert nap_interval(0.8, 10, 10, 0.5)[0] < nap_interval(0.8, 10, 10)[0]


BEFORE, AFTER = (4, 4, 5, 3, 5, 4, None, 5, 4, 3, 4, 5), (2, 3, 1, 2, 2, None, 1, 2, 3, 2, 1, 2, 3, 2)


def test_a_change_that_helped_one_that_did_harm_and_one_that_cannot_be_told():
    letters = "A" * 12 + "B" * 14
    helped = answered(BEFORE + AFTER, letters, "phases", "lower")
    assert (helped.verdict, helped.n_a, helped.n_b, helped.middle_a, helped.middle_b) == (BETTER, 11, 13, 4, 2)
    assert helped.randomisation.p == pytest.approx(1 / 21)
    assert answered(BEFORE + AFTER, letters, "phases", "higher").verdict == WORSE
    short = answered((*BEFORE, 4, 3, 4, 3, 5), letters, "phases", "lower")
    assert short.verdict == CANNOT_TELL
    few = answered((4, 3), "AABBBBBB", "phases", "lower")
    assert (few.verdict, few.few, few.middle_b) == (CANNOT_TELL, True, None)


def test_days_already_on_their_way_are_no_evidence():
    falling = (9, 9, 8, 8, 7, 7, 6, 6, 5, 5, 4, 4)
    found = answered((*falling, *[3] * 12), "A" * 12 + "B" * 12, "phases", "lower")
    assert found.trend is not None
    assert found.share == 1.0
    assert found.trend.tau_u < found.trend.tau_ab
    assert found.verdict == CANNOT_TELL, "the lot shows as large a gap wherever the change is put"


def test_the_length_that_shows_a_change_agrees_with_brute_force():
    """An independent simulation: plain loops, scipy's U, the same runs of three days; two in a hundred apart at most
    from chance alone at 1,500 trials, five are allowed."""
    noise = tuple(float(v) for v in (0, 1, -1, 0, 2, 1, 0, -1, 0, 1, 1, -1, 0, 0, -1, 1, 2, 0, -1, 0))
    chance, gain, days = random.Random(5), 2.0, 24
    shown = 0
    for _ in range(1500):
        series: list[float] = []
        while len(series) < days:
            at = chance.randrange(len(noise))
            series += [noise[(at + n) % len(noise)] for n in range(3)]
        y = [max(-1.0, v - gain) if n % 2 else v for n, v in enumerate(series[:days])]
        a, b = y[0::2], y[1::2]
        share = mannwhitneyu(a, b).statistic / (len(a) * len(b))
        shown += share - 0.5 > half_width(len(a), len(b), alike(a, b))
    assert chance_to_show(noise, "turn", days, 3, gain, -1.0) == pytest.approx(shown / 1500, abs=0.05)
    steps = (0.5, 1, 1.5, 2, 2.5, 3)
    found = detectable(noise, "turn", days, 3, steps, -1.0)
    assert found is not None
    shows, less = (chance_to_show(noise, "turn", days, 3, gain, -1.0) for gain in (found, found - 0.5))
    assert shows >= 0.8 > less
    assert detectable(noise, "phases", 8, 3, steps) is None


def test_a_change_that_does_nothing_is_seldom_called_better():
    """Common practice: one in twenty; days that resemble each other are why the interval is widened."""
    noise = tuple(float(v) for v in (0, 1, -1, 0, 2, 1, 0, -1, 0, 1, 1, -1, 0, 0, -1, 1, 2, 0, -1, 0))
    for order in ORDERS:
        assert chance_to_show(noise, order, 28, 3, 1e-9) <= 0.08


@pytest.mark.parametrize("order", ORDERS)
def test_two_looks_together_say_better_of_nothing_once_in_twenty(order):
    """Truth: the change does nothing; looked at on the planned end and ten days later. 400 trials of each player: 5 %
    and two standard errors. Stretches do not tell a recovery from the change, and the page says so."""
    for player in PLAYERS:
        if order not in STRETCHES or player != "recovers anyway":
            assert told_better(order, player, 400)[1] <= 0.05 + 2 * np.sqrt(0.05 * 0.95 / 400), player
    assert told_better(order, "resembling by .3", 100, gain=3.0)[0] >= 0.6


def test_before_its_last_day_nothing_is_better_or_worse():
    letters = "A" * 12 + "B" * 14
    for better in ("lower", "higher"):
        going = answered(BEFORE + AFTER, letters, "phases", better, is_over=False)
        assert (going.verdict, going.more_days, going.share) == (
            CANNOT_TELL,
            None,
            answered(BEFORE + AFTER, letters, "phases", better).share,
        )


@pytest.mark.parametrize("order", ORDERS)
def test_the_power_that_is_announced_is_reached(order, monkeypatch):
    """The same drawing of her own days in runs of three, each trial answered as the page does it. From chance alone two
    standard errors are .07."""
    noise = tuple(float(v) for v in (0, 1, -1, 0, 2, 1, 0, -1, 0, 1, 1, -1, 0, 0, -1, 1, 2, 0, -1, 0))
    monkeypatch.setattr(answer, "more_days", lambda *asked: None)  # takes all the time, and is not asked here
    chance, reached, runs = random.Random(17), 0, 400
    for _ in range(runs):
        starts = [chance.randrange(len(noise)) for _ in range(10)]
        series = [noise[(at + n) % len(noise)] for at in starts for n in range(3)][:28]
        letters = drawn(order, 28, 3, chance)
        y = tuple(v - 1.0 if c == "B" else v for v, c in zip(series, letters, strict=True))
        reached += answered(y, letters, order, "lower").verdict == BETTER
    assert chance_to_show(noise, order, 28, 3, 1.0) == pytest.approx(reached / runs, abs=0.07)


def test_the_interval_holds_the_share_in_nine_of_ten_where_days_resemble_each_other():
    """Truth: autoregressive days of .5, no change and one of .7 spreads. 500 trials each; 90 ± 2 and chance."""
    for gain, true in ((0.0, 0.5), (0.7, 0.6897)):
        rng, inside = np.random.default_rng(6), 0
        for _ in range(500):
            y = resembling(0.5)(rng, 28)
            a, b = y[:14].tolist(), (y[14:] - gain).tolist()
            low, high = nap_interval(nap(a, b, "lower").nap, 14, 14, alike(a, b))
            inside += low <= true <= high
        assert 0.86 <= inside / 500 <= 0.95
