"""One invented player with a plan, and the demo diary made from her: seeded, and as committed."""

import numpy as np
import pytest
from tools import make_demo_csv

from chirotend.core.simulate.mechanics import MECHANICS
from chirotend.core.simulate.one import Spot, live_plan
from chirotend.demo import diary, schedule


@pytest.mark.parametrize("mechanics", MECHANICS)
def test_a_weak_place_is_told_of_more_a_well_one_stays_and_the_same_seed_is_the_same_life(mechanics):
    dose, well = np.full((120, 2), 0.75), np.zeros((120, 2))
    weak = well.copy()
    weak[40:, 0] = np.minimum(1.0, np.arange(80) / 30)
    tells = schedule.telling(schedule.STEADY)
    plain, worse, again = (live_plan(mechanics, tells, dose, w, seed=3) for w in (well, weak, weak))
    assert np.array_equal(worse.strength, again.strength) and np.array_equal(worse.character, again.character)
    assert worse.strength[60:, 0].sum() > plain.strength[60:, 0].sum() + 60
    assert np.array_equal(worse.excess[:, 1], plain.excess[:, 1])


def test_a_mark_says_what_its_character_is():
    spot = Spot("neck_back", "right", "stiffness")
    assert spot.entry(3, 2, 0).kind == "stiffness" and spot.entry(3, 3, 0).kind == "pain"
    assert (spot.entry(3, 3, 5, nerve=True).kind, spot.entry(3, 3, 5, nerve=True).lasting) == ("tingling", "longer")
    assert spot.entry(3, 3, 2, nerve=True).lasting == "brief"


def test_the_committed_demo_files_are_the_simulated_players(tmp_path):
    make_demo_csv.main(tmp_path)
    for made in tmp_path.rglob("*.csv"):
        committed = make_demo_csv.DATA / made.relative_to(tmp_path)
        assert committed.read_bytes() == made.read_bytes(), made.name


def test_the_demo_is_the_life_it_should_be():
    record = diary.bassoonist()
    assert (schedule.LAST - schedule.FIRST).days // 7 + 1 == 26
    assert min(record.logged_days).year == 2022
    contra = min(s.day for s in record.sessions for b in s.blocks if b.instrument == "contrabassoon")
    assert schedule.week_of(contra) == 15
    assert not any(schedule.FLU[0] <= d <= schedule.FLU[1] for d in record.logged_days)
    assert not any(schedule.LAID_OFF[0] <= s.day <= schedule.LAID_OFF[1] for s in record.sessions)
    assert any(b.kind == "performance" for s in record.sessions for b in s.blocks)
    assert record.checks[-1].timing == "waking" and record.checks[-1].day == schedule.LAST
    hurt = [
        e
        for c in record.checks
        for e in c.entries
        if c.day.year == 2025 and c.day.month in (3, 4) and e.side == "right"
    ]
    well = [
        e
        for c in record.checks
        for e in c.entries
        if c.day.year == 2024 and c.day.month in (3, 4) and e.side == "right"
    ]
    assert sum(e.intensity for e in hurt) > 1.5 * sum(e.intensity for e in well)
