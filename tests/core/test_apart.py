"""What is marked on days with a new instrument is counted apart, and is no part of her usual for six weeks."""

from datetime import timedelta

import pytest

from chirotend.core.judge.apart import CountedApart, counted_apart
from chirotend.core.judge.happened import Happening
from chirotend.core.record import Block, Entry, Session
from tests.core.diary import TODAY, Diary

NEW = 30
CAME = Happening("new", "instrument", TODAY - timedelta(days=NEW), instrument="contrabassoon")
TIGHT = ("tension",)


@pytest.fixture
def diary() -> Diary:
    """Quiet weeks, then thirty days: nine of ten on a new instrument leave a 4, the tenth on the old one none."""
    diary = Diary().steady(days=80, until=NEW + 1)
    for back in range(NEW, 0, -1):
        diary.checks_in(back, "after", *([] if back % 10 == 0 else [Entry("thumb_base_joint", "left", "tension", 4)]))
        what = "bassoon" if back % 10 == 0 else "contrabassoon"
        diary.sessions.append(Session(f"n{back}", TODAY - timedelta(days=back), (Block(40, what),), 4))
    return diary


def usual(diary: Diary, *happened: Happening, later: int = 0) -> float:
    evidence = diary.evidence(-later, happened=happened)
    ((place, by_day),) = evidence.daily_worst(TIGHT).items()
    return evidence.baseline(by_day, place, TIGHT)


def test_its_marks_become_no_usual_while_it_is_new(diary):
    assert usual(diary) == 4
    assert usual(diary, CAME) == 0
    assert usual(diary, CAME, later=41 - NEW) == 0 and usual(diary, CAME, later=42 - NEW) == 4


def test_days_before_it_came_and_another_instrument_stay_what_they_were(diary):
    later = Happening("new", "instrument", TODAY - timedelta(days=2), instrument="contrabassoon")
    other = Happening("new", "instrument", CAME.day, instrument="flute")
    assert usual(diary, later) == 4 and usual(diary, other) == 4


def test_the_count_has_both_halves(diary):
    assert counted_apart(diary.record, CAME, TODAY) == CountedApart(27, 27, 3, 0)
