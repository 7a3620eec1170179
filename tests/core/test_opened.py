"""A place opened: its days, what passed, its trend, when and where it is felt."""

from datetime import timedelta

from chirotend.core.judge.signs.course import DAYS
from chirotend.core.judge.signs.opened import opened
from chirotend.core.record import DayNote
from tests.core.diary import TODAY, Diary, mark

THUMB = ("wrist & thumb", "left")


def rising() -> Diary:
    """Four quiet weeks more than it shows, two sore days that pass, then a rise over eight weeks, at last on waking."""
    diary = Diary().steady(days=110, until=1)
    for back in (70, 69):
        diary.checks_in(back, "playing", mark("tension", 2))
    for back in range(55, -1, -1):
        if back % 3:
            timing = "waking" if back < 8 else "playing"
            diary.checks_in(back, timing, mark("tension", 1 + (55 - back) // 13))
    return diary.checks_in(0, "waking")


def test_the_days_are_hers_and_what_was_not_asked_is_not_a_zero():
    diary = rising()
    del diary.checks[TODAY - timedelta(days=42), "waking"]
    found = opened(diary.evidence(), THUMB)
    assert len(found.course.strengths) == DAYS and found.course.first == TODAY - timedelta(days=DAYS - 1)
    assert found.course.strengths[DAYS - 1 - 42] is None and found.course.strengths[DAYS - 1 - 70] == 2
    assert found.course.strengths[-2] == 5 and found.course.usual == 0
    assert found.passed[0] == 2


def test_a_rise_goes_up_is_felt_later_and_stays_where_it_is():
    found = opened(rising().evidence(), THUMB)
    assert found.course.sign is not None and found.course.sign.speaks
    trend = found.course.trend
    assert trend.slope_a_week > 0 and trend.test.p < 0.05 and len(trend.weeks) == 12
    assert found.timings["waking"][0] == 0 < found.timings["waking"][1] and found.timings["playing"][0] > 0
    assert found.spread == ()


def test_a_spread_is_a_neighbour_or_the_other_side_above_its_usual():
    diary = rising()
    for back in (1, 2, 3):
        diary.checks_in(back, "waking", mark("tension", 2, "forearm_outer_high"), mark("pain", 1, side="right"))
        diary.checks_in(back, "after", mark("pain", 1, "neck_back"))
    assert set(opened(diary.evidence(), THUMB).spread) == {("forearm", "left"), ("wrist & thumb", "right")}


def test_a_quiet_place_says_nothing():
    found = opened(Diary().steady(days=90, until=0).evidence(), ("fingers", "right"))
    assert found.course.sign is None and found.passed == () and found.course.trend.test is None and found.spread == ()
    assert {b.said for b in found.before.values()} == {"cannot_tell"}


def test_what_went_before_knows_sleep_performances_and_new_instruments():
    diary = Diary().steady(days=110, until=1)
    short = range(80, 0, -8)
    for back in short:
        diary.notes.append(DayNote(TODAY - timedelta(days=back), sleep="short"))
        diary.checks_in(back, "after", mark("tension", 3))
    found = opened(diary.checks_in(0, "waking").evidence(), THUMB)
    assert found.before["sleep"].with_it > found.before["sleep"].without and found.before["sleep"].p < 0.2
    assert found.before["cold"].p is None and found.before["new_instrument"].p is None
