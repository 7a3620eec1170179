"""The search against simulated listeners whose threshold and slope are known (our own simulation)."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.errors import OutOfRange, TooFew
from chirotend.core.measure.least_pressure import LOWEST, RUNS, USUAL, Answer, about_left, least_pressure, search
from chirotend.devices.listener import answers as listened


def sure(threshold):
    answers = []
    while (asked := search(answers).asked) is not None:
        answers.append(Answer(asked, asked >= threshold))
    return answers


def test_three_runs_in_steps():
    """By hand: down in tens from 100 to the first that dies, then in fives until a level spoke twice."""
    answers = sure(68)
    assert [(a.level, a.spoke) for a in answers[:8]] == [
        (100, True),
        (90, True),
        (80, True),
        (70, True),
        (60, False),
        (65, False),
        (70, True),
        (65, False),
    ]
    found = search(answers)
    assert [r.result for r in found.runs] == [70, 70, 70]
    assert found.runs[1].answers[0].level == 85
    assert found.asked is None and about_left(found) == 0
    assert 1 <= about_left(search(answers[:12])) <= 9


@given(st.lists(st.booleans(), max_size=80))
def test_it_always_ends_and_never_asks_outside(said):
    answers = []
    for spoke in said:
        asked = search(answers).asked
        if asked is None:
            break
        assert LOWEST <= asked <= USUAL
        answers.append(Answer(asked, spoke))
    assert len(answers) <= RUNS * 14
    assert sum(len(r.answers) for r in search(answers).runs) == len(answers)


@pytest.mark.parametrize(("threshold", "slope"), [(70, 1), (70, 5), (45, 3), (90, 3), (25, 4)])
def test_bias_and_spread_on_known_listeners(threshold, slope):
    found = [least_pressure(listened(threshold, slope, seed)) for seed in range(60)]
    least = np.array([f.least for f in found])
    assert abs(least.mean() - threshold) < 1.5
    said = np.mean([f.sd for f in found])
    assert 0.7 * least.std() < said < 2.2 * least.std()
    # two searches of one listener differ by more than the smallest change only by chance, at most 1 time in 20
    pairs = np.abs(least[:30] - least[30:])
    assert (pairs > np.array([f.smallest_change for f in found[:30]])).mean() <= 0.1
    assert found[0].wasted == pytest.approx(100 - found[0].least)


@pytest.mark.parametrize(
    ("shape", "slope", "slips"),
    [("logistic", 5, 0.02), ("Weibull", 12, 0.02), ("normal", 20, 0.10), ("logistic", 30, 0.10), ("Weibull", 30, 0.02)],
)
def test_two_searches_of_a_shallow_ear_differ_by_chance_alone_in_one_of_twenty(shape, slope, slips):
    found = [
        least_pressure(listened(55 + n % 25, slope, 1000 * s + n, shape, slips)) for n in range(60) for s in (1, 2)
    ]
    told = sum(
        abs(a.wasted - b.wasted) >= max(a.smallest_change, b.smallest_change)
        for a, b in zip(found[::2], found[1::2], strict=True)
    )
    assert told <= 6, "one of twenty of 60, and what chance allows"
    assert np.median([f.smallest_change for f in found]) < (20 if slope == 5 else 45), "it still tells something"


def test_one_slip_moves_it_little():
    clean = sure(68)
    slipped = [*clean[:2], Answer(90, False), *clean[2:]]
    assert abs(least_pressure(slipped).least - least_pressure(clean).least) < 3


def test_what_tells_nothing():
    with pytest.raises(TooFew, match="6 are needed"):
        least_pressure(sure(68)[:5])
    with pytest.raises(TooFew, match="always spoke"):
        least_pressure(sure(0))
    with pytest.raises(OutOfRange):
        Answer(140, True)
