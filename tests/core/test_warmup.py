"""Composing warm-ups from the library: order, minutes, what a mark or the call leaves out, and a new one each day."""

import itertools
from datetime import date, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chirotend.core.errors import OutOfRange
from chirotend.core.plan.warmup import STAGES, Exercise, Wish, compose, offered_today, why_not
from chirotend.library.loader import families
from chirotend.services.warmups import shipped_exercises

DAY = date(2026, 11, 12)
ALL = shipped_exercises("bassoon")


def wish(**changes) -> Wish:
    return Wish(**{"minutes": 15, "family": "thumb_winds", "day": DAY, **changes})


def test_the_stages_come_in_the_order_of_the_trade_and_fill_the_minutes():
    found = compose(wish(tags=("low notes", "slurs")), ALL)
    order = [STAGES.index(s.exercise.stage) for s in found.steps]
    assert order == sorted(order)
    assert order[0] == 0 and max(order) >= 4
    assert found.minutes == pytest.approx(15)
    assert sum(s.turned for s in found.steps) == 1


def test_five_minutes_hold_release_warmth_and_easy_notes_only():
    stages = {s.exercise.stage for s in compose(wish(minutes=5), ALL).steps}
    assert stages == set(STAGES[:3])


def test_opening_first_and_warm_first_are_both_there():
    warm, opened = (compose(wish(school=s), ALL) for s in ("warm first", "open first"))
    assert "opening" not in {s.exercise.stage for s in warm.steps}
    stages = [s.exercise.stage for s in opened.steps]
    assert stages.index("opening") < stages.index("warmth and mobility")


def test_what_loads_a_marked_place_is_left_out_and_named():
    sore = ("thumb_base_joint", "left")
    found = compose(wish(marked=frozenset({sore})), ALL)
    assert all(
        not any(z == "thumb_base_joint" and side in ("both", "left") for z, side in s.exercise.zones)
        for s in found.steps
    )
    assert any(out.why == "marked:thumb_base_joint:left" for out in found.left_out)


def test_the_call_holds_back_and_under_muted_nothing_is_new():
    assert compose(wish(call="tacet"), ALL).steps == ()
    muted = compose(wish(call="muted_pp", done_before=frozenset({"arm_hang", "shoulder_rolls"})), ALL)
    assert {s.exercise.id for s in muted.steps} <= {"arm_hang", "shoulder_rolls"}
    hard = next(e for e in ALL if e.lowest_call == "open")
    assert why_not(wish(call="muted_mp"), hard) == "call"


def test_the_weak_hand_gets_twice_the_time_of_the_strong_one():
    alone = Exercise("a", "one hand", "one hand alone", 2, ("all",), "both", (), False, "muted_pp")
    first, second = compose(wish(weak_hand="left"), [alone]).steps
    assert (first.hand, second.hand) == ("right", "left")
    assert second.minutes == pytest.approx(2 * first.minutes)


def test_cold_hands_get_more_warmth():
    def warmth(cold: bool) -> float:
        return sum(s.minutes for s in compose(wish(cold=cold), ALL).steps if s.exercise.stage == "warmth and mobility")

    assert warmth(True) > warmth(False)


@given(st.sampled_from(sorted(families())), st.sampled_from([8, 12, 15, 30, 60]), st.integers(0, 400))
@settings(max_examples=40, deadline=None)
def test_familiar_yet_never_the_same_twice_in_a_fortnight(family, minutes, first):
    days = [DAY + timedelta(days=first + i) for i in range(14)]
    lists = [compose(wish(family=family, minutes=minutes, day=d), ALL).ids for d in days]
    assert len(set(lists)) == 14
    for one, other in itertools.pairwise(lists):
        assert len(set(one) ^ set(other)) <= 4  # one item went back, one came


def test_a_step_can_be_swapped_for_one_of_its_stage_or_skipped():
    found = compose(wish(), ALL)
    old = found.ids[1]
    stage = found.steps[1].exercise.stage
    new = next(e.id for e in offered_today(wish(), ALL)[stage] if e.id not in found.ids)
    assert new in compose(wish(swaps={old: new}), ALL).ids
    assert old not in compose(wish(skipped=frozenset({old})), ALL).ids


@pytest.mark.parametrize("bad", [{"minutes": 3}, {"school": "none"}, {"manner": "loud"}, {"weak_hand": "third"}])
def test_a_wish_out_of_range_is_refused(bad):
    with pytest.raises(OutOfRange):
        wish(**bad)
