"""How she holds it: said on the stand or after, carried by the record, counted by the book, alternated, looked at."""

from dataclasses import replace
from datetime import date, timedelta

import pytest

from chirotend.core.record import Block, Session
from chirotend.core.session.events import Event, read_event
from chirotend.core.session.fold import state_at, state_of
from chirotend.formats import csv_log
from chirotend.services.context import Context, FieldError
from chirotend.services.kit import holds
from chirotend.services.plan import week_aims
from chirotend.services.play import running_session, stand, wrapup
from chirotend.services.record import corrections
from chirotend.services.technique import awareness, grip_book
from chirotend.services.technique.awareness_line import line as awareness_line

AFTER = {"effort": 4.0, "anything": "nothing", "settled": []}


def touch(context: Context, kind: str, after_min: float, **payload: str) -> None:
    uid = running_session.running_session(context).uid
    at = context.now + timedelta(minutes=after_min)
    made = {"uid": f"{kind}{after_min}", "session": uid, "kind": kind, "payload": payload}
    running_session.append(replace(context, now=at), [made])


def test_a_hold_changes_within_a_bar_and_its_minutes_add_up(context: Context):
    running_session.start(context, "bassoon", "repertoire")
    touch(context, "hold", 5, grip="rest_on", posture="seat_strap")
    touch(context, "hold", 15, grip="rest_off")
    touch(context, "rest", 20)
    touch(context, "block", 25)
    touch(context, "stop", 30)
    later = replace(context, now=context.now + timedelta(minutes=31))
    written = wrapup.write_in(later, wrapup.WrapUp(**AFTER, grip="fingers_only"))
    assert [(b.minutes, b.grip, b.posture) for b in written.blocks] == [
        (5.0, "fingers_only", ""),
        (10.0, "rest_on", "seat_strap"),
        (10.0, "rest_off", "seat_strap"),
    ]
    assert context.store.session(written.uid) == written
    found = holds.minutes_in(later, "bassoon", context.today, context.today)
    assert {hold: m for (hold, _), m in found.items()} == {
        "fingers_only": 5.0,
        "rest_on": 10.0,
        "rest_off": 10.0,
        "seat_strap": 20.0,
    }


def test_the_fold_keeps_holds_whatever_the_order(context: Context):
    made = [
        ("a", "start", 0, {"instrument": "bassoon"}),
        ("b", "hold", 2, {"grip": "rest_on"}),
        ("c", "pause", 3, {}),
        ("d", "resume", 8, {}),
        ("e", "hold", 9, {"posture": "standing"}),
    ]
    events = [
        Event(uid, "s", "d", n + 1, context.now + timedelta(minutes=at), kind, payload)
        for n, (uid, kind, at, payload) in enumerate(made)
    ]
    state = state_at([*reversed(events), events[1]], context.now + timedelta(minutes=10))
    assert [(h.grip, h.posture, h.seconds) for h in state.spans[0].holds] == [
        ("", "", 120.0),
        ("rest_on", "", 120.0),
        ("rest_on", "standing", 60.0),
    ]
    assert state.spans[0].seconds == sum(h.seconds for h in state.spans[0].holds)
    assert state_of(events[1:]).phase == "idle" and read_event("hold", {"grip": 3}).grip == ""


def test_an_aim_says_how_and_the_stand_offers_her_own(context: Context):
    week_aims.write_aim(
        context, context.today, week_aims.TypedAim("Low F", 40, 3, "bassoon", grip="rest_off", posture="standing")
    )
    offered = holds.usual(context, "bassoon")
    assert offered.grips[0].id == "rest_off" and offered.postures[0].id == "standing"
    assert 2 <= len(offered.grips) <= 4 and all(not g.is_posture for g in offered.grips)
    running_session.start(context, "bassoon", "repertoire")
    assert stand.stand_now(context).usual == offered
    with pytest.raises(FieldError, match="grip or seat"):
        week_aims.write_aim(context, context.today, week_aims.TypedAim("Low F", 40, posture="on the moon"))
    with pytest.raises(FieldError) as refused:
        wrapup.write_in(context, wrapup.WrapUp(**AFTER, posture="on the moon"))
    assert refused.value.field == "posture"


def test_the_diary_carries_holds(context: Context):
    blocks = (Block(30, "bassoon", grip="rest_on", posture="seat_strap"), Block(10, "bassoon"))
    corrections.put(context, Session("s1", context.today, blocks, 4.0))
    texts = csv_log.write_tables(context.store.record(), context.zone)
    assert ",grip,posture" in texts["sessions.csv"].splitlines()[0]
    draft = csv_log.Draft()
    csv_log.read_table(draft, "sessions", texts["sessions.csv"].encode(), "sessions.csv", context.zone, context.today)
    assert draft.sessions[0].blocks == blocks


def test_turns_follow_the_minutes_played(context: Context):
    typed = {"hold-1": "rest_on", "minutes-1": "15", "hold-2": "rest_off", "minutes-2": "2,5"}
    holds.alternate(context, "bassoon", typed)
    turns = holds.alternation(context, "bassoon")
    now = [holds.turn_now(turns, m) for m in (0, 14.9, 15, 17.4, 17.5, 36)]
    assert [(t.hold, round(left, 1), after.hold) for t, left, after in now] == [
        ("rest_on", 15, "rest_off"),
        ("rest_on", 0.1, "rest_off"),
        ("rest_off", 2.5, "rest_on"),
        ("rest_off", 0.1, "rest_on"),
        ("rest_on", 15, "rest_off"),
        ("rest_on", 14, "rest_off"),
    ]
    for bad, field in (
        ({"hold-1": "luck", "minutes-1": "5"}, "hold-1"),
        ({"hold-1": "rest_on", "minutes-1": "90"}, "minutes-1"),
        ({"hold-1": "rest_on", "minutes-1": "5"}, "hold-2"),
    ):
        with pytest.raises(FieldError) as refused:
            holds.alternate(context, "bassoon", bad)
        assert refused.value.field == field
    assert holds.alternation(context, "bassoon") == turns
    holds.alternate(context, "bassoon", {})
    assert holds.turn_now(holds.alternation(context, "bassoon"), 5) is None


def test_the_book_draws_counts_and_looks(context: Context):
    corrections.put(context, Session("s1", context.today, (Block(62, "bassoon", grip="rest_on"),), 4.0))
    book = grip_book.grip_book_page(context, "bassoon")
    assert book.hers[0].grip.id == "rest_on" and book.hers[0].picture is not None
    assert [use for use, good in book.hers[0].uses if good] == ["power", "a long day"]
    texts = [s.text for s in book.strip.shapes]
    assert "1 h 02" in texts and "On the rest" in texts
    grip_book.answer(context, "bassoon", {"left_carries": "no"})
    grip_book.answer(context, "bassoon", {"right_wrist_leans": "yes"})
    asked = {f.look.id: f for f in grip_book.grip_book_page(context, "bassoon").faults}
    assert (asked["left_carries"].today, asked["right_wrist_leans"].today) == ("no", "yes")
    assert asked["jaw_set"].today == "" and asked["jaw_set"].seen is None
    for bad in ({}, {"left_carries": "perhaps"}):
        with pytest.raises(FieldError):
            grip_book.answer(context, "bassoon", bad)


def test_looks_are_counted_by_the_week(context: Context):
    for back, said in ((2, "touching"), (1, "apart"), (0, "not sure"), (9, "touching")):
        at = replace(context, now=context.now - timedelta(days=back))
        awareness.answer(at, "jaw_rests", {"answer": said, "instrument": "bassoon"})
    jaw = next(s for s in awareness.shown(context) if s.look.id == "jaw_rests")
    assert (jaw.set, jaw.asked) == (1, 2), "not sure counts neither way"
    assert awareness_line(context).value == "1 of 2" and awareness_line(context).day == date(2026, 11, 12)
    awareness.answer(context, "lie_down", {"answer": "done", "minutes": "12"})
    assert next(s for s in awareness.shown(context) if s.look.id == "lie_down").minutes == 12
    assert awareness.next_look(awareness.shown(context)).id not in ("jaw_rests", "lie_down")
    for typed, field in (({"answer": "perhaps"}, "answer"), ({"answer": "done", "minutes": "x"}, "minutes")):
        with pytest.raises(FieldError) as refused:
            awareness.answer(context, "lie_down", typed)
        assert refused.value.field == field
