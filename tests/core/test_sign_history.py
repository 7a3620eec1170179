"""Signs as they were said: which days are one sign, whether it was right, when she eased off."""

from datetime import timedelta
from itertools import pairwise

from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.judge.signs.history import eased_off_after, followed, middle, said_signs, was_right
from chirotend.core.load.series import load_series
from chirotend.core.record import Record
from tests.core.diary import TODAY, Diary

HAND, NECK = ("fingers", "left"), ("neck & shoulder", "right")


def day(back):
    return TODAY - timedelta(days=back)


def test_two_weeks_without_begin_a_new_sign():
    said = [(HAND, day(back)) for back in (60, 59, 46, 45, 30)] + [(NECK, day(59))]
    found = [(s.place, s.first, s.last) for s in said_signs(said)]
    assert found == [(HAND, day(60), day(45)), (NECK, day(59), day(59)), (HAND, day(30), day(30))]


@given(st.lists(st.tuples(st.sampled_from([HAND, NECK]), st.integers(0, 300).map(day)), max_size=40))
def test_every_day_said_lies_in_one_sign_of_its_place_and_signs_lie_apart(said):
    found = said_signs(said)
    for place, when in said:
        assert sum(s.place == place and s.first <= when <= s.last for s in found) == 1
    for place in (HAND, NECK):
        here = [s for s in found if s.place == place]
        assert all((b.first - a.last).days > 14 for a, b in pairwise(here))


def test_what_came_is_heard_before_what_she_said():
    (sign,) = said_signs([(HAND, day(60)), (HAND, day(55))])
    assert was_right(sign, [], [], []) is None
    assert was_right(sign, [], [day(58)], []) is False and was_right(sign, [day(58)], [], []) is True
    assert was_right(sign, [day(50)], [day(58)], []) is True, "her last answer counts"
    assert was_right(sign, [], [day(58)], [day(32)]) is True, "strong symptoms followed"
    assert was_right(sign, [], [day(58)], [day(31), day(61)]) is False, "29 days later, and before it"
    assert was_right(sign, [day(40)], [day(61)], []) is None, "answers to other signs"
    assert followed(day(10), {day(10)}) and not followed(day(10), {day(11)})


def test_she_eased_off_when_three_days_together_were_half_of_her_usual():
    told = Diary()
    for back in range(60, 30, -1):
        told.plays(back, 60)
    for back in range(30, 0, -1):
        told.plays(back, 60 if back > 21 else 30)
    (sign,) = said_signs([(HAND, day(30))])
    assert eased_off_after(sign, _load(told)) == 9
    assert eased_off_after(sign, _load(Diary().steady(days=60))) is None
    stopped = Diary()
    for back in range(60, 30, -1):
        stopped.plays(back, 60)
    assert eased_off_after(sign, _load(stopped)) is None, "what is not written is not a rest"
    for back in (30, 29, 28):
        stopped.off(back)
    assert eased_off_after(sign, _load(stopped)) == 0
    assert (middle([9, 2, 30]), middle([3, 8]), middle([])) == (9, 5, None)


def _load(told):
    record = told.evidence().record
    assert isinstance(record, Record)
    return load_series(record, day(90), TODAY)
