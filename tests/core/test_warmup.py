"""Composing warm-ups from the library: order, minutes, what a mark or the call leaves out, and a new one each day."""

import itertools
import re
from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chirotend.core.body.zones import zone as zone_named
from chirotend.core.body.zones import zones
from chirotend.core.errors import OutOfRange
from chirotend.core.plan import suits
from chirotend.core.plan.suits import NEEDS, STATES, Condition
from chirotend.core.plan.warmup import (
    BEFORE_SOUND,
    CRUMBS,
    MIN_MINUTES,
    SILENT,
    STAGES,
    STRETCH,
    Exercise,
    WarmupInputs,
    compose,
    minutes_within,
    offered_today,
    why_not,
)
from chirotend.library.loader import exercises, families, instruments
from tests.shipped import shipped_exercises

DAY = date(2026, 11, 12)
ALL = shipped_exercises("bassoon")


def region_of(name: str) -> str:
    return zone_named(name).region


def wish(**changes) -> WarmupInputs:
    return WarmupInputs(**{"minutes": 15, "family": "thumb_winds", "day": DAY, **changes})


def test_the_stages_come_in_the_order_of_the_trade_and_fill_the_minutes():
    found = compose(wish(tags=("low notes", "slurs")), ALL)
    order = [STAGES.index(s.exercise.stage) for s in found.steps]
    assert order == sorted(order)
    assert order[0] == 0 and max(order) >= 4
    assert found.minutes == pytest.approx(15)
    before = compose(wish(tags=("low notes", "slurs"), day=DAY - timedelta(days=1)), ALL)
    assert {s.exercise.id for s in found.steps if s.turned} == set(found.ids) - set(before.ids)


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
    found = compose(wish(condition=Condition(frozenset({sore}))), ALL)
    assert all(
        not any(z == "thumb_base_joint" and side in ("both", "left") for z, side in s.exercise.zones)
        for s in found.steps
    )
    assert any(out.why == "marked:wrist & thumb:left" for out in found.left_out)


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
@settings(max_examples=40)
def test_familiar_yet_never_the_same_twice_in_a_fortnight(family, minutes, first):
    days = [DAY + timedelta(days=first + i) for i in range(14)]
    lists = [compose(wish(family=family, minutes=minutes, day=d), ALL).ids for d in days]
    assert len(set(lists)) == 14
    for one, other in itertools.pairwise(lists):
        assert len(set(one) & set(other)) >= len(one) // 3


SORE = st.frozensets(
    st.tuples(st.sampled_from(sorted(zones())), st.sampled_from(["left", "right"])), max_size=3
) | st.just(frozenset({("upper_lip", "none"), ("lower_lip", "none")}))


@given(st.sampled_from(sorted(instruments())), st.sampled_from([5, 8, 12, 30, 60]), SORE, st.booleans())
@settings(max_examples=60)
def test_sound_comes_within_the_first_third_and_no_step_is_stretched(instrument, minutes, sore, cold):
    family = instruments()[instrument].family
    asked = wish(minutes=minutes, family=family, instrument=instrument, condition=Condition(sore), cold=cold)
    steps = compose(asked, shipped_exercises(instrument)).steps
    silent = sum(s.minutes for s in steps if s.exercise.stage in SILENT)
    if any(s.exercise.stage not in SILENT for s in steps):
        assert silent <= minutes * BEFORE_SOUND + 0.5 * len(steps), "halves of a minute are the smallest there are"
    assert sum(s.minutes for s in steps) <= minutes
    for s in steps:
        assert s.minutes <= STRETCH * max(s.exercise.minutes, minutes / CRUMBS) + 0.5
        assert not s.exercise.only_on or instrument in s.exercise.only_on
        assert instrument not in s.exercise.not_on


def test_an_exercise_can_be_for_some_instruments_only():
    plain = Exercise("a", "a", "easy and soft", 2, ("all",), "both", (), False, "muted_pp")
    never, only = replace(plain, id="n", not_on=("piccolo",)), replace(plain, id="o", only_on=("piccolo",))
    for instrument, left in (("piccolo", "o"), ("flute", "n"), ("", "n")):
        offered = offered_today(wish(instrument=instrument), [never, only])
        assert [e.id for e in offered["easy and soft"]] == [left]


def test_a_tired_lip_gets_breath_and_fingers_and_a_rested_one_buzzes_before_notes():
    brass = shipped_exercises("trumpet")
    asked = wish(family="brass", instrument="trumpet")
    steps = compose(asked, brass).steps
    names = [s.exercise.id for s in steps]
    assert names.index("soft_buzz") < next(n for n, s in enumerate(steps) if s.exercise.stage not in SILENT)
    for n in range(40):
        later = compose(replace(asked, day=DAY + timedelta(days=n)), brass)
        assert not any(s.exercise.spare for s in later.steps), "a rested lip plays"
    lips = Condition(frozenset({("upper_lip", "none"), ("lower_lip", "none")}))
    tired = compose(replace(asked, condition=lips), brass).ids
    assert {"silent_valves", "sing_and_finger", "breath_phrase"} <= set(tired)
    assert not {"soft_buzz", "long_notes_p", "lip_flutter"} & set(tired)


def test_a_step_can_be_swapped_for_one_of_its_stage_or_skipped():
    found = compose(wish(), ALL)
    old = found.ids[1]
    stage = found.steps[1].exercise.stage
    new = next(e.id for e in offered_today(wish(), ALL)[stage] if e.id not in found.ids)
    assert new in compose(wish(swaps={old: new}), ALL).ids
    assert old not in compose(wish(skipped=frozenset({old})), ALL).ids


def test_work_of_the_weak_hand_needs_a_weak_hand_and_the_strong_one_gets_half():
    weak = Exercise("w", "weak alone", "one hand alone", 2, ("all",), "weak", (), False, "muted_pp")
    left, right = (replace(weak, id=h, name=h, hands=h) for h in ("left", "right"))
    assert [s.exercise.id for s in compose(wish(), [weak]).steps] == []
    assert [(s.exercise.id, s.hand) for s in compose(wish(weak_hand="left"), [weak]).steps] == [("w", "left")]
    steps = {s.exercise.id: s.minutes for s in compose(wish(weak_hand="left"), [left, right]).steps}
    assert steps.get("left", 0) >= 2 * steps.get("right", 0)


def test_elsewhere_both_hands_get_the_same_whichever_is_weak():
    drills = [Exercise(h, h, "easy and soft", 4, ("all",), h, (), False, "muted_pp") for h in ("left", "right")]
    minutes = {s.exercise.id: s.minutes for s in compose(wish(weak_hand="left"), drills).steps}
    assert set(minutes) == {"left", "right"} and minutes["left"] == minutes["right"]


@pytest.mark.parametrize("bad", [{"minutes": 3}, {"school": "none"}, {"manner": "loud"}, {"weak_hand": "third"}])
def test_a_wish_out_of_range_is_refused(bad):
    with pytest.raises(OutOfRange):
        wish(**bad)


# --- cautions that are rules ---------------------------------------------------------------------------------

SHIPPED = exercises()


def everyone(instrument: str = "piano") -> list[Exercise]:
    """Every exercise as if every family played it, so that only the cautions decide."""
    return [replace(e, families=("all",), school="") for e in shipped_exercises(instrument)]


@pytest.mark.parametrize("state", STATES)
def test_no_exercise_is_offered_to_whom_it_is_not_for(state):
    """Every exercise × state: offered exactly when its own fields allow it, whatever the day."""
    now = Condition(states=frozenset({state}))
    barred = {
        k for k, e in SHIPPED.items() if state in e.not_with or (state == "recent_operation" and not e.after_operation)
    }
    for each in everyone():
        assert (why_not(wish(condition=now), each) == f"state:{state}") == (each.id in barred), each.id
    for back in range(14):
        asked = wish(minutes=90, day=DAY - timedelta(days=back), condition=now, weak_hand="left", long_sticks=True)
        assert not barred & set(compose(asked, everyone()).ids)
    assert state == "cold_intolerance" or barred


#: what a caution says in words, and the field that must then hold: read from the words, not from the fields
SAID = [
    (r"loose joints", lambda e: "loose_joints" in e.not_with),
    (r"late pregnancy", lambda e: "pregnant" in e.not_with),
    (r"not on numb|finger is numb|white or numb", lambda e: "feeling" in e.needs or _covers(e, "lip")),
    (r"arm tingles|tingling arm", lambda e: "no arm tingling" in e.needs),
    (r"not with pain, tingling", lambda e: "nothing marked" in e.needs),
    (r"nothing in (that hand|hand, wrist)", lambda e: "unmarked hand" in e.needs),
    (r"little finger tingles", lambda e: "little_tip_palm" in e.clear_zones),
    (r"leave it out if the thumb side of your wrist", lambda e: _covers(e, "wrist_thumb_side")),
    (r"your shoulder is sore", lambda e: _covers(e, "shoulder_")),
    (r"leave it out if your thumb base is sore", lambda e: _covers(e, "thumb_base_joint")),
    (r"leave it out if your forearm is sore", lambda e: _covers(e, "forearm_")),
    (r"your neck is sore", lambda e: _covers(e, "neck_")),
    (r"lip is sore", lambda e: _covers(e, "lip")),
]


def _covers(entry, part: str) -> bool:
    return any(part in zone for zone in (*entry.zones_loaded, *entry.clear_zones))


@pytest.mark.parametrize("words", [w for w, _ in SAID])
def test_a_caution_that_can_be_a_rule_is_one(words):
    holds = dict(SAID)[words]
    meant = [e for e in SHIPPED.values() if re.search(words, e.caution)]
    assert meant
    assert [e.id for e in meant if not holds(e)] == []


@pytest.mark.parametrize("need", NEEDS)
def test_what_an_exercise_needs_is_asked_for(need):
    tingling = Condition(frozenset({("index_tip_palm", "left")}), frozenset({("index_tip_palm", "left")}))
    now = {"straight neck": Condition(turns_neck=True)}.get(need, tingling)
    needing = [e for e in everyone() if need in e.terms.needs]
    assert needing and all(why_not(wish(condition=now), e) for e in needing)
    assert all(why_not(wish(), e) == "" for e in needing)


def test_one_numb_hand_leaves_the_other_hand_its_own():
    numb = Condition(frozenset({("index_tip_palm", "left")}), frozenset({("index_tip_palm", "left")}))
    assert suits.unsuitable((), suits.Terms(needs=("feeling",)), numb, "right") == ""
    assert suits.unsuitable((), suits.Terms(needs=("feeling",)), numb, "left") == "needs:feeling"


def test_the_neck_turns_little_and_never_where_the_instrument_turns_it():
    turning = {k for k, i in instruments().items() if i.posture.turns_neck}
    assert {"violin", "viola", "flute", "bassoon", "double_bass", "pedal_harp"} <= turning
    said = re.compile(r"turn the head|head .*move|look .*over", re.I)
    turns = {k for k, e in SHIPPED.items() if said.search(e.how)}
    assert {"head_turns", "head_no_no"} <= turns
    for key in turns:
        assert "straight neck" in SHIPPED[key].needs and re.search("width", SHIPPED[key].how), key
    assert not re.search("shoulder", SHIPPED["head_turns"].how)


def test_a_let_go_test_hovers_where_the_instrument_would_fall():
    for key in ("bassoon", "contrabassoon", "double_bass"):
        cues = [f.cue for f in instruments()[key].first_faults]
        assert not [c for c in cues if re.search(r"let go|hands off|take .* away", c)], key
    for entry in SHIPPED.values():
        heavy = {"harp", "double_bass"} & set(entry.families)
        if heavy and re.search(r"off the neck|off the instrument and|be drawn out", entry.how):
            assert "hover" in entry.how, entry.id


def test_what_needs_warm_hands_follows_something_that_warms_them():
    for school, minutes in itertools.product(("warm first", "open first"), (5, 12, 30, 90)):
        steps = compose(wish(school=school, minutes=minutes), everyone()).steps
        warmed = False
        for step in steps:
            assert warmed or not step.exercise.needs_warm, step.exercise.id
            warmed = warmed or step.exercise.stage == "warmth and mobility"
    none_warm = [e for e in everyone() if e.stage != "warmth and mobility"]
    assert not [s for s in compose(wish(minutes=30), none_warm).steps if s.exercise.needs_warm]


def test_a_mark_beside_what_it_loads_leaves_an_exercise_out_too():
    named = [(e, zone) for e in everyone() for zone in e.terms.clear_zones]
    assert len(named) > 60
    for each, zone in named:
        side = each.hands if each.hands in ("left", "right") else "left"
        assert (
            why_not(wish(condition=Condition(frozenset({(zone, side)}))), each) == f"marked:{region_of(zone)}:{side}"
        ), each.id


@pytest.mark.parametrize(
    ("asked", "left", "minutes"), [(20, None, 20), (20, 60, 20), (20, 30, 15), (20, 11, 5), (20, 3, 5), (8, 40, 8)]
)
def test_a_warm_up_takes_half_of_what_the_limit_leaves_at_most(asked, left, minutes):
    """Ours, no source."""
    assert minutes_within(asked, left) == minutes


def test_there_is_no_warm_up_where_the_limit_leaves_less_than_the_shortest():
    assert compose(wish(left_min=MIN_MINUTES), ALL).steps
    assert not compose(wish(left_min=MIN_MINUTES - 1), ALL).steps
