"""Invented players: steady ones stay as they are, troubled ones come to a stop, load and keeping to a dose matter."""

import numpy as np
import pytest

from chirotend.core.simulate.cohort import STOPS_AT, Life, live
from chirotend.core.simulate.diary import SPOTS, Diary, day_of
from chirotend.core.simulate.kinds import kinds
from chirotend.core.simulate.mechanics import MECHANICS
from chirotend.core.simulate.one import TIMINGS
from chirotend.core.simulate.telling import characters

TROUBLED = [name for name, kind in kinds().items() if kind.troubled]


@pytest.mark.parametrize("mechanics", MECHANICS)
@pytest.mark.parametrize("kind", ["steady", "exaggerator"])
def test_a_steady_player_is_steady(kind, mechanics):
    """No drift over 180 days: the last sixty days are as the first, within four standard errors of the players."""
    found = live(kinds()[kind], mechanics, 250, 180, 3)
    for told in (found.excess, found.strength, (found.strength == 0)):
        change = told[120:].mean(axis=(0, 2)) - told[:60].mean(axis=(0, 2))
        assert abs(change.mean()) < 4 * change.std() / np.sqrt(len(change)), told.mean()
    assert (found.onset == -1).all() and (found.stop == -1).all()
    assert 0.6 < (found.strength == 0).mean() < 0.9 and 0.83 < found.asked.mean() < 0.87


@pytest.mark.parametrize("mechanics", MECHANICS)
@pytest.mark.parametrize("kind", TROUBLED)
def test_a_trouble_grows_at_one_place_until_a_stop(kind, mechanics):
    found = live(kinds()[kind], mechanics, 60, 180, 4)
    low, high = kinds()[kind].onset
    assert ((found.onset >= low) & (found.onset < high)).all() and (found.stop > 0).mean() > 0.9
    at = found.troubled
    assert (at.sum(axis=1) == (2 if kind == "two_places" else 1)).all()
    late, early = found.excess[150:], found.excess[:60]
    assert late[:, at].mean() > 4 > 3 * early[:, at].mean() and late[:, ~at].mean() < 1.5
    for player in np.flatnonzero(found.stop >= 0)[:10]:
        felt = found.excess[: found.stop[player] + 1, player, found.troubled[player]].max(axis=1)
        assert felt[-3:].mean() >= STOPS_AT


def test_the_same_seed_gives_the_same_lives_and_another_others():
    first, again, other = (live(kinds()["grower"], "repair", 5, 40, seed) for seed in (1, 1, 2))
    assert (first.strength == again.strength).all() and (first.minutes == again.minutes).all()
    assert not (first.minutes == other.minutes).all()


@pytest.mark.parametrize("mechanics", ["irritation", "repair"])
def test_who_plays_less_is_less_sore(mechanics):
    lives = [Life(kinds()["grower"], mechanics, 40, 5) for _ in range(2)]
    for _ in range(150):
        lives[0].day()
        lives[1].day(45.0)
    full, spared = (life.cohort() for life in lives)
    assert spared.minutes.max() <= 45 and (spared.minutes == np.minimum(full.minutes, 45)).all()
    assert spared.excess[120:].mean() < 0.6 * full.excess[120:].mean()


def test_kinds_tell_as_they_are():
    def found(kind):
        return live(kinds()[kind], "irritation", 150, 180, 6)

    steady, poor, stoic, loud, season = map(found, ("steady", "poor_logger", "stoic", "exaggerator", "season"))
    assert poor.asked[:7].mean() > 0.75 and poor.asked[90:].mean() < 0.5
    assert stoic.strength[:60].mean() < 0.7 * steady.strength[:60].mean() < steady.strength[:60].mean()
    marked = [cohort.strength[cohort.strength > 0].mean() for cohort in (steady, loud)]
    assert marked[1] > marked[0] + 1
    assert season.minutes[80:155].mean() > 1.15 * season.minutes[:80].mean()


def test_players_who_change_without_a_trouble_change_as_their_kind_says():
    def found(kind):
        return live(kinds()[kind], "repair", 120, 180, 6)

    steady, second, beginner, sixty = map(found, ("steady", "second_instrument", "beginner", "sixty"))
    taken, left = second.excess[130:, :, [0, 3]].mean(), second.excess[130:, :, [1, 2]].mean()
    assert taken > 1.3 * left and second.minutes[130:].mean() < 1.1 * steady.minutes[130:].mean()
    months = [beginner.minutes[first : first + 30].mean() for first in range(0, 150, 30)]
    assert months == sorted(months) and months[-1] > 2 * months[0]
    sore = (sixty.excess.max(axis=2)[:175] > 0.75).reshape(25, 7, 120)
    assert 0.25 < sore.all(axis=1).mean() < 0.45  # whole weeks are bad, one of three
    assert all((c.stop == -1).all() for c in (second, beginner, sixty))


def test_who_tingles_at_times_tells_it_of_one_mark_in_seven_at_any_place():
    found = live(kinds()["tingles_at_times"], "threshold", 60, 180, 6)
    marked = found.strength > 0
    shares = [found.nerve[:, :, place][marked[:, :, place]].mean() for place in range(4)]
    assert all(0.11 < share < 0.19 for share in shares) and not found.nerve[~marked].any()
    assert (found.character[found.nerve] % 2 == 1).all() and (found.stop == -1).all()
    always = live(kinds()["tingler"], "irritation", 60, 180, 6)
    assert not always.nerve[:, ~always.troubled].any() and always.nerve[:, always.troubled].any()


def test_a_crew_that_mends_less_than_is_torn_falls_behind_and_chance_can_stand_at_its_mean():
    body, shape = MECHANICS["queue"], (1, 2)
    weak, dose = np.array([[0.0, 1.0]]), np.full(shape, 0.75)
    felt, chance = [], []
    for rng, days in ((None, felt), (np.random.default_rng(3), chance)):
        place = body(shape)
        days += [place.step(dose, weak, rng)[0] for _ in range(90)]
    assert felt[-1][0] == 0 < 5 < felt[-1][1] and chance[-1][1] == pytest.approx(felt[-1][1], abs=2.5)


def test_a_stronger_excess_is_told_later_in_the_day_and_a_nerve_tingles_at_any_strength():
    usual, strong = characters(np.array([0.0, 6.0]), np.array([False, False]))
    assert usual.sum() == pytest.approx(1) and strong.sum() == pytest.approx(1)
    weighty = np.arange(8) // 2
    assert strong @ weighty > 1.5 * (usual @ weighty) and usual[1::2].sum() == 0 < strong[1::2].sum()
    assert characters(np.array([0.0]), np.array([True]))[0, 1::2].sum() == pytest.approx(1)


def test_a_diary_holds_what_was_told_and_nothing_else():
    life = Life(kinds()["nerve"], "threshold", 2, 7)
    diary = Diary(life, 1)
    for number in range(120):
        diary.morning(day_of(number))
        life.day()
        diary.evening(day_of(number))
    found, record = life.cohort(), diary.morning(day_of(120))
    assert sum(s.minutes for s in record.sessions) == pytest.approx(found.minutes[:, 1].sum())
    asked = {day_of(int(n)) for n in np.flatnonzero(found.asked[:, 1])}
    assert {c.day for c in record.checks if c.timing == "after"} == asked
    told = sorted((e.zone, e.intensity) for c in record.checks for e in c.entries)
    meant = np.argwhere((found.strength[:, 1] > 0) & found.asked[:, 1][:, None])
    assert told == sorted((SPOTS[place].zone, float(found.strength[day, 1, place])) for day, place in meant)
    tingling = [c.day for c in record.checks for e in c.entries if e.kind == "tingling"]
    assert tingling and min(tingling) >= day_of(int(found.onset[1]))
    assert {c.timing for c in record.checks} <= set(TIMINGS)
