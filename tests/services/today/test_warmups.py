"""The day’s warm-up: composed, changed, kept, played, counted out."""

from dataclasses import replace
from datetime import timedelta

import pytest

from chirotend.services.body.checks import TypedMarks, write_marks
from chirotend.services.context import FieldError
from chirotend.services.kit import own_library
from chirotend.services.kit.profile import profile
from chirotend.services.play import running_session, wrapup
from chirotend.services.play.stand import stand_now
from chirotend.services.today import warmup_inputs, warmups
from chirotend.store.models import WarmupRow


def test_the_warm_up_leaves_out_a_sore_place_and_says_so(context):
    write_marks(context, TypedMarks(("thumb_base_joint.left",), "pain", 4.0, ("waking",)), context.today)
    page = warmups.warmup_page(context)
    assert any("because of your left wrist and thumb" in line for line in page.left_out)
    assert all(("thumb_base_joint", "both") not in s.step.exercise.zones for s in page.steps)


def test_a_mark_at_a_whisper_keeps_nothing_out(context):
    write_marks(context, TypedMarks(("lower_lip.none",), "tension", 1.0, ("waking",)), context.today)
    assert not any("lower lip" in line for line in warmups.warmup_page(context).left_out)


def test_changes_are_kept_for_the_day_and_for_the_memory(context):
    page = warmups.warmup_page(context)
    assert not page.kept and page.minutes == 12
    warmups.change(context, minutes=20, tags=["scales"])
    first = warmups.warmup_page(context).steps[0]
    warmups.change(context, swap=(first.step.exercise.id, first.instead[0][0]))
    warmups.change(context, skip=warmups.warmup_page(context).steps[1].step.exercise.id)
    page = warmups.warmup_page(context)
    assert page.kept and page.warmup.minutes == 20 and page.steps[0].step.exercise.id == first.instead[0][0]
    tomorrow = replace(context, now=context.now + timedelta(days=1))
    assert warmup_inputs.done_before(tomorrow) == {s.step.exercise.id for s in page.steps}
    warmups.compose_afresh(context)
    assert context.store.repository(WarmupRow).all() == []
    with pytest.raises(FieldError):
        warmups.change(context, minutes=2)
    with pytest.raises(FieldError):
        warmups.change(context, instrument="kazoo")


def test_a_kept_step_stays_every_day_and_a_mirrored_player_has_her_own_sides(context):
    lists = [warmups.warmup_page(replace(context, now=context.now + timedelta(days=n))).warmup for n in range(8)]
    turning = next(s.exercise.id for w in lists for s in w.steps if s.turned)
    warmups.keep_step(context, turning)
    later = [warmups.warmup_page(replace(context, now=context.now + timedelta(days=n))) for n in range(8)]
    assert all(turning in p.warmup.ids for p in later)
    assert not any(s.step.turned and s.kept for p in later for s in p.steps)
    warmups.keep_step(context, turning)
    assert profile(context).kept_steps == ()
    played = own_library.instruments(context)["bassoon"]
    entry = next(e for e in own_library.exercises(context).values() if e.zones_from_instrument and e.hands == "both")
    usual, mirrored = (dict(warmup_inputs.as_exercise(entry, played, m).zones) for m in (False, True))
    assert (usual["web_thumb"], mirrored["web_thumb"]) == ("right", "left")


def test_the_stand_runs_through_the_steps_then_rests(context):
    session = running_session.start_warmup(context)
    steps = warmups.kept_steps(context, context.today)
    stand = stand_now(context)
    assert (stand.title, stand.bar_min, stand.next_title) == (steps[0].name, steps[0].minutes, steps[1].name)
    for n in range(1, len(steps)):
        at = replace(context, now=context.now + timedelta(minutes=n))
        running_session.append(at, [{"uid": f"b{n}", "session": session, "kind": "block", "seq": n}])
    stand = stand_now(at)
    assert (stand.title, stand.next_kind, stand.next_title) == (steps[-1].name, "rest", "")
    after = replace(context, now=context.now + timedelta(minutes=len(steps)))
    running_session.append(after, [{"uid": "r", "session": session, "kind": "rest", "seq": 99}])
    assert stand_now(after).title == ""
    running_session.append(after, [{"uid": "s", "session": session, "kind": "stop", "seq": 100}])
    written = wrapup.write_in(after, wrapup.WrapUp(3, "nothing", []))
    assert [b.kind for b in written.blocks] == ["warm-up"]


def test_the_steps_on_the_instrument_are_held_as_she_said(context):
    """Arms that hang hold nothing; what is played lands in the record with its grip and seat."""
    warmups.change(context, grip="rest_on", posture="seat_strap")
    page = warmups.warmup_page(context)
    assert (page.grip, page.posture) == ("rest_on", "seat_strap")
    session, on = running_session.start_warmup(context), [s.entry.zones_from_instrument for s in page.steps]
    assert True in on and False in on
    assert [bool(s.grip and s.posture) for s in warmups.kept_steps(context, context.today)] == on
    for n in range(1, len(on)):
        at = replace(context, now=context.now + timedelta(minutes=n))
        running_session.append(at, [{"uid": f"b{n}", "session": session, "kind": "block", "seq": n}])
    at = replace(context, now=context.now + timedelta(minutes=len(on)))
    running_session.append(at, [{"uid": "s", "session": session, "kind": "stop", "seq": 100}])
    blocks = wrapup.write_in(at, wrapup.WrapUp(3, "nothing", [])).blocks
    held = sum(b.minutes for b in blocks if (b.grip, b.posture) == ("rest_on", "seat_strap"))
    assert held == sum(on) and sum(b.minutes for b in blocks) == len(on)
    warmups.change(context, instrument="contrabassoon")
    assert warmups.warmup_page(context).grip == "", "a grip of one instrument is none of another"
    with pytest.raises(FieldError):
        warmups.change(context, grip="bare hands")


@pytest.mark.parametrize(
    ("typed", "last"), [({"cycle": "i m a m", "octaves": "3"}, "a"), ({"cycle": "1-2-3", "notes": "8"}, "2")]
)
def test_a_cycle_is_counted_out(typed, last):
    usual = {"cycle": "i m", "octaves": "1", "notes": "", "group": "3"}
    assert warmups.counted_out({**usual, **typed}).last == last
    for bad in ({"cycle": ""}, {"octaves": "x"}, {"octaves": "20"}, {"notes": "0"}, {"group": "99"}):
        with pytest.raises(FieldError):
            warmups.counted_out({**usual, **bad})
