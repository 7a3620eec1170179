"""What invented players measure, and signs and an oracle that read it."""

from dataclasses import replace

import numpy as np
import pytest

from chirotend.core.prove.measuring import gain, score_with
from chirotend.core.prove.oracle import oracle_score
from chirotend.core.prove.scores import signs_score
from chirotend.core.simulate.cohort import live
from chirotend.core.simulate.kinds import kinds
from chirotend.core.simulate.measures import measured, measures

STRENGTH = measures()["strength"]
TELLS_NOTHING = replace(STRENGTH, per_excess=0.0)


@pytest.fixture(scope="module")
def stoics():
    return live(kinds()["stoic"], "threshold", 40, 180, 7)


def test_a_measure_is_taken_on_asked_days_as_far_apart_as_said_and_rises_with_the_sorest_place(stoics):
    values = measured(stoics, STRENGTH, 7, 1)
    taken = ~np.isnan(values)
    assert not taken[~stoics.asked].any()
    gaps = np.concatenate([np.diff(np.flatnonzero(column)) for column in taken.T])
    assert gaps.min() == 7 and np.median(gaps) <= 8 and taken[:14].any(axis=0).mean() > 0.9
    sorest = stoics.excess.max(axis=2)
    slope, rest = np.polyfit(sorest[taken], values[taken], 1)
    assert slope == pytest.approx(STRENGTH.per_excess, abs=0.06) and abs(rest) < 0.15
    assert (values[taken] - STRENGTH.per_excess * sorest[taken]).std() == pytest.approx(STRENGTH.spread, rel=0.1)
    assert np.array_equal(values, measured(stoics, STRENGTH, 7, 1), equal_nan=True)


def test_without_a_value_signs_are_those_of_the_diary(stoics):
    nothing = np.full(stoics.minutes.shape, np.nan)
    assert np.array_equal(score_with(stoics, None), signs_score(stoics))
    assert np.array_equal(score_with(stoics, nothing), signs_score(stoics))


def test_a_measure_that_tells_finds_stoics_sooner_and_one_that_tells_nothing_does_not(stoics):
    alone, told, empty = (gain(stoics, measure, 2, 1) for measure in (None, STRENGTH, TELLS_NOTHING))
    assert told.lead > alone.lead + 1 and told.found >= alone.found
    assert empty.lead < alone.lead + 0.6
    steady = live(kinds()["steady"], "threshold", 40, 180, 7)
    assert gain(steady, STRENGTH, 2, 1).false < 2.5 and np.isnan(gain(steady, None, 0, 1).lead)


def test_an_oracle_that_reads_what_tells_nothing_says_the_same_and_one_that_reads_what_tells_is_surer():
    few = live(kinds()["stoic"], "threshold", 3, 150, 7)
    values = measured(few, STRENGTH, 2, 1)
    alone, empty = oracle_score(few), oracle_score(few, TELLS_NOTHING, values)
    sure = np.abs(alone) > 8  # nothing is said yet, or so near to certain that single floats end
    assert np.allclose(alone[~sure], empty[~sure], atol=1e-3)
    tells_all = replace(STRENGTH, per_excess=3.0, drift=0.0)
    told, at = oracle_score(few, tells_all, measured(few, tells_all, 2, 1)), few.troubled
    late = [slice(int(onset) + 20, 150) for onset in few.onset]
    surer = [(told[days, p][:, at[p]] - alone[days, p][:, at[p]]).mean() for p, days in enumerate(late)]
    assert min(surer) > 0.5
