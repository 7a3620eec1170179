"""The course of a place: up, down or level, and what is not known is not level."""

from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest

from chirotend.core.judge.signs.course import DAYS, Direction, course, marked_courses
from chirotend.core.judge.trend import mann_kendall
from tests.core.diary import TODAY, Diary, mark

THUMB = ("wrist & thumb", "left")


def weekly(strengths, zone="thumb_base_joint", diary=None):
    """Twelve weeks asked each day, with one mark of each week's strength on its Wednesday."""
    diary = diary or Diary().steady(days=DAYS, until=0)
    for week, strength in enumerate(strengths):
        if strength:
            diary.checks_in(DAYS - 1 - 7 * week - 2, "after", mark("tension", strength, zone))
    return diary


def test_weeks_that_rise_slowly_go_up_and_the_same_backwards_go_down():
    up = (0, 0, 1, 1, 1, 2, 2, 2, 2, 3, 3, 3)
    assert course(weekly(up[::-1]).evidence(), THUMB).direction == Direction.DOWN
    rising = course(weekly(up).evidence(), THUMB)
    assert replace(rising, sign=None).direction == Direction.UP
    assert rising.direction in (Direction.UP, Direction.RISEN)


def test_the_chance_of_a_false_trend_is_shared_by_all_marked_places():
    found = course(weekly((1, 1, 2, 1, 2, 1, 3, 2, 2, 3, 2, 3)).evidence(), THUMB)
    alone = replace(found, sign=None)
    assert 0.05 / 4 < alone.trend.test.p < 0.05
    assert alone.direction == Direction.UP and replace(alone, places=4).direction == Direction.LEVEL


def test_few_weeks_cannot_tell_and_a_sign_comes_before_all():
    short = Diary().steady(days=40, until=0).checks_in(3, "after", mark("tension", 2))
    assert course(short.evidence(), THUMB).direction == Direction.CANNOT_TELL
    risen = weekly((0,) * 12)
    for back in range(12, -1, -1):
        risen.checks_in(back, "waking", mark("tension", 4, "neck_back"))
    risen.checks_in(60, "waking", mark("tension", 1))
    found = marked_courses(risen.evidence())
    assert [c.place[0] for c in found] == ["neck & shoulder", "wrist & thumb"]
    assert found[0].direction == Direction.RISEN and {c.places for c in found} == {2}


def test_a_mark_before_the_twelve_weeks_is_not_of_them():
    diary = Diary().steady(days=DAYS + 20, until=0).checks_in(DAYS, "after", mark("pain", 3))
    assert marked_courses(diary.evidence()) == ()
    assert course(diary.evidence(), THUMB).first == TODAY - timedelta(days=DAYS - 1)


@pytest.mark.parametrize("places", [1, 4])
def test_noise_is_told_as_a_trend_in_one_of_twenty_players_at_most(places):
    """The exact level of the test for 12 weeks, from shuffled weeks: common reference, no source needed."""
    random = np.random.default_rng(places)
    flat = course(weekly((1, 1, 2, 1, 2, 1, 3, 2, 2, 3, 2, 3)).evidence(), THUMB)
    told = 0
    for _ in range(200):
        found = (shuffled(flat, random, places) for _ in range(places))
        told += any(c.direction in (Direction.UP, Direction.DOWN) for c in found)
    assert told <= 0.05 * 200 + 2 * (0.05 * 0.95 * 200) ** 0.5


def shuffled(flat, random, places):
    test = mann_kendall(list(random.permutation(flat.trend.weeks)))
    return replace(flat, sign=None, places=places, trend=replace(flat.trend, test=test))
