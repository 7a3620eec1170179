"""Calls as they are said, corrections and their undo, a session from start to wrap-up."""

from dataclasses import replace
from datetime import UTC, date, datetime, time, timedelta

import pytest

from chirotend.core.record import Block, Check, Entry, Session
from chirotend.demo.scenario import bring_diary
from chirotend.services.body import checks
from chirotend.services.call import clearances, overrules
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.play import running_session, wrapup
from chirotend.services.play.made_marks import Answered
from chirotend.services.play.stand import Stand, stand_now
from chirotend.services.record import corrections, log
from chirotend.services.record.log import TypedSession
from chirotend.services.today.today_page import todays_page
from chirotend.store import accounts, jobs
from chirotend.store.models import CallRow, ChangeRow
from chirotend.store.repository import as_document


def at(context: Context, **step: float) -> Context:
    return replace(context, now=context.now + timedelta(**step))


@pytest.fixture
def steady(context) -> Context:
    """A player with 120 steady days behind her, this morning answered."""
    bring_diary(context, "steady")
    checks.as_usual(context)
    return context


def mute(context: Context) -> None:
    checks.write_marks(context, checks.TypedMarks(["thumb_base_joint.left"], "pain", 4, ["after"]))
    todays_call(context)


def test_a_call_is_stored_once_and_a_new_one_stands_beside_it(steady):
    first = todays_call(steady).row
    assert (first.call, todays_call(steady).row.number) == ("open", first.number)
    mute(steady)
    row = steady.store.latest_call(steady.today)
    assert (row.call, row.number) == ("muted_mp", first.number + 1)
    assert len(steady.store.calls(steady.today, steady.today)) == 1


def test_a_clear_morning_after_playing_leads_back(steady):
    mute(steady)
    said = []
    for day in (1, 2, 3):
        tomorrow = at(steady, days=day)
        log.write_session(tomorrow, TypedSession(tomorrow.today - timedelta(days=1), 40, time(18, 0), 3))
        checks.as_usual(tomorrow)
        said.append(todays_call(tomorrow).row.call)
    assert said == ["muted_mp", "open", "open"]  # the first evening still held the mark


def test_overruling_needs_rows_5_or_6_and_a_reason(steady):
    mute(steady)
    with pytest.raises(FieldError, match="reason"):
        overrules.overrule(steady, "open", "  ")
    overrules.overrule(steady, "open", "a bruise from the door")
    assert todays_page(steady).issued.effective == "open"
    overrules.take_back(steady)
    assert todays_page(steady).issued.effective == "muted_mp"
    checks.write_marks(steady, checks.TypedMarks(["thumb_ball.left"], "weakness", 2, ["after"]))
    with pytest.raises(FieldError, match="cannot be overruled"):
        overrules.overrule(steady, "open", "no")
    overrules.overrule(steady, "tacet", "")


def test_an_overrule_falls_when_the_call_becomes_stricter(steady):
    mute(steady)
    overrules.overrule(steady, "open", "a bruise")
    checks.write_marks(steady, checks.TypedMarks(["thumb_ball.left"], "pain", 7, ["daily"]))
    assert todays_page(steady).issued.effective == "tacet"


def test_an_urgent_sign_holds_until_a_clinician_has_answered(steady):
    clearances.clear_by_clinician(steady, 20)
    assert steady.store.latest_clearance() is None  # nothing waits for the answer: it changes nothing
    assert checks.morning(steady, None, None, ["sudden_weakness"]) == "emergency"
    assert todays_page(steady).issued.urgent
    later = at(steady, days=3)
    checks.as_usual(later)
    assert todays_page(later).issued.call == "tacet"
    for wrong in (None, 0, 500):
        with pytest.raises(FieldError, match="minutes a day"):
            clearances.clear_by_clinician(later, wrong)
    clearances.clear_by_clinician(later, 20)
    said = todays_page(at(later, minutes=5)).issued
    assert (said.call, said.dose.minutes) == ("muted_pp", 20)
    assert todays_page(at(later, days=1)).issued.call == "muted_pp"


def test_a_slip_is_rubbed_out(steady):
    checks.morning(steady, "short", "cold", ["chest_pain", "fever"])
    checks.rub_out_flags(steady)
    assert steady.store.check(steady.today, "waking").red_flags == ("fever",)
    assert not todays_page(steady).issued.urgent


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        ({"day": date(2026, 11, 13)}, "day"),
        ({"day": date(1826, 1, 1)}, "day"),
        ({"minutes": 1620}, "minutes"),
        ({"minutes": -5}, "minutes"),
        ({"minutes": 0}, "minutes"),
        ({"effort": 11}, "effort"),
        ({"kind": "sleep"}, "kind"),
        ({"start": time(23, 0)}, "start"),
        ({"start": time(9, 0), "minutes": 120}, "minutes"),
    ],
)
def test_a_session_that_cannot_be_is_refused_at_its_field(context, typed, field):
    with pytest.raises(FieldError) as refused:
        log.write_session(context, TypedSession(**{"day": context.today, "minutes": 30, **typed}))
    assert refused.value.field == field and context.store.first_day() is None


def test_sessions_do_not_overlap_and_a_late_one_belongs_to_its_evening(context):
    yesterday = context.today - timedelta(days=1)
    late = log.write_session(context, TypedSession(yesterday, 60, time(23, 30)))
    night = log.write_session(context, TypedSession(yesterday, 20, time(1, 0)))
    assert night.start_utc == datetime(2026, 11, 12, 0, 0, tzinfo=UTC) and night.day == yesterday
    with pytest.raises(FieldError, match=r"overlaps the session of 23\.30"):
        log.write_session(context, TypedSession(yesterday, 60, time(23, 45)))
    log.write_session(context, TypedSession(yesterday, 50, time(23, 30)), late.uid)  # itself is no clash
    with pytest.raises(NotThere):
        log.write_session(context, TypedSession(yesterday, 50), "nobody")
    with pytest.raises(FieldError, match="Sessions are written"):
        log.write_day(context, yesterday, True)


def test_mending_a_session_keeps_its_parts(context):
    parts = (Block(30, "bassoon", effort=3), Block(60, "contrabassoon", effort=6))
    corrections.put(context, Session("s", context.today, parts, 5))
    log.write_session(context, TypedSession(context.today, 45, effort=5, instrument="bassoon", kind="lesson"), "s")
    mended = context.store.session("s")
    assert [(b.minutes, b.effort, b.kind) for b in mended.blocks] == [(15, 3, "lesson"), (30, 6, "repertoire")]
    log.write_session(context, TypedSession(context.today, 60, effort=5), "s")
    assert [b.minutes for b in context.store.session("s").blocks] == [20, 40]
    log.write_session(context, TypedSession(context.today, 45, effort=8), "s")
    assert {b.effort for b in context.store.session("s").blocks} == {None}


def test_every_change_can_be_undone_for_ten_minutes_and_a_delete_is_complete(context):
    session = log.write_session(context, TypedSession(context.today, 30, effort=4))
    edited = corrections.put(context, replace(session, effort=9.0))
    assert corrections.put(context, replace(session, effort=9.0)) is None
    corrections.undo(context, edited)
    assert context.store.session(session.uid).effort == 4
    corrections.put(context, replace(session, effort=8.0))
    deleted = corrections.delete(context, "session", session.uid)
    changes = context.store.repository(ChangeRow).all()
    assert [c.action for c in changes] == ["delete"]  # the older versions went with it
    corrections.undo(context, deleted)
    assert context.store.session(session.uid).effort == 8
    deleted = corrections.delete(context, "session", session.uid)
    late = at(context, minutes=11)
    with pytest.raises(NotThere):
        corrections.undo(late, deleted)
    assert corrections.offered(late) is None
    assert (
        jobs.forget_deleted(late.db, late.now - corrections.UNDO_FOR)
        and context.store.repository(ChangeRow).all() == []
    )
    with pytest.raises(NotThere):
        corrections.delete(context, "session", session.uid)


@pytest.mark.parametrize(
    ("marks", "field"),
    [
        ({"places": []}, "places"),
        ({"timings": []}, "timings"),
        ({"timings": ["noon"]}, "timings"),
        ({"places": ["left_ear.left"]}, "zone"),
        ({"places": ["thumb_ball"]}, "side"),
        ({"kind": "ache"}, "kind"),
        ({"intensity": 11}, "intensity"),
        ({"lasting": "ever"}, "lasting"),
        ({"flags": ["x"]}, "flags"),
    ],
)
def test_a_mark_that_cannot_be_is_refused_at_its_field(context, marks, field):
    typed = {"places": ["thumb_ball.left"], "kind": "pain", "intensity": 3, "timings": ["after"], **marks}
    with pytest.raises(FieldError) as refused:
        checks.write_marks(context, checks.TypedMarks(**typed))
    assert refused.value.field == field and context.store.first_day() is None


def test_a_mark_is_replaced_listed_and_rubbed_out(context):
    for strength in (3, 5):
        checks.write_marks(context, checks.TypedMarks(["thumb_ball.left"], "pain", strength, ["after", "night"]))
    assert [(m.timing, m.entry.intensity) for m in checks.marked_on(context, context.today)] == [
        ("after", 5),
        ("night", 5),
    ]
    checks.rub_out(context, context.today, "night", "thumb_ball", "left", "pain")
    assert [m.name for m in checks.history(context, "thumb_ball", "left")] == ["left thumb ball"]
    assert context.store.check(context.today, "night").entries == ()  # asked, nothing there
    with pytest.raises(NotThere):
        checks.rub_out(context, context.today, "night", "thumb_ball", "left", "pain")


def send(context: Context, uid: str, session: str, kind: str, **payload: str) -> dict:
    return {"uid": uid, "session": session, "kind": kind, "payload": payload, "at_utc": context.now.isoformat()}


def test_a_session_from_start_to_wrap_up(steady):
    session = running_session.start(steady, "bassoon", "warm-up")
    with pytest.raises(FieldError, match="open already"):
        running_session.start(steady, "bassoon", "warm-up")
    mark = send(at(steady, minutes=10), "m1", session, "mark", place="thumb")
    rest = send(at(steady, minutes=30), "r", session, "rest")
    assert running_session.append(at(steady, minutes=31), [rest, mark, mark]).new == 2
    assert running_session.append(at(steady, minutes=31), [rest]).new == 0
    stand = stand_now(at(steady, minutes=31))
    assert (stand.state.phase, stand.bar_min, stand.next_kind, round(stand.left_s)) == ("resting", 5, "play", 240)
    later = at(steady, minutes=50)
    running_session.append(
        later,
        [
            send(at(steady, minutes=35), "b", session, "block", instrument="contrabassoon"),
            send(later, "e", session, "stop"),
        ],
    )
    with pytest.raises(FieldError, match="how hard"):
        wrapup.write_in(later, wrapup.WrapUp(None, "nothing", []))
    with pytest.raises(FieldError, match="left or right"):
        wrapup.write_in(later, wrapup.WrapUp(4, "nothing", [Answered("thumb-tension", (), 3)]))
    written = wrapup.write_in(
        later, wrapup.WrapUp(4, "nothing", [Answered("thumb-tension", ("left",), 3)], {"went_well": "low F"})
    )
    assert [(b.instrument, b.minutes) for b in written.blocks] == [("bassoon", 30), ("contrabassoon", 15)]
    assert steady.store.session(session).effort == 4
    assert steady.store.check(steady.today, "playing").entries[0].intensity == 3
    assert steady.store.check(steady.today, "after").entries == ()
    assert running_session.append(later, [send(later, "late", session, "mark", place="thumb")]).stored == ("late",)
    assert steady.store.session(session) == written  # a late touch is kept beside it, and changes nothing of it
    assert stand_now(later).state.phase == "idle"


BAD_EVENTS = [
    {"kind": "applaud"},
    {"kind": "close"},
    {"kind": "start"},
    {"uid": ""},
    {"uid": 3},
    {"payload": 3},
    {"seq": "x"},
    {"seq": 1e30},
    {"seq": float("nan")},
    {"monotonic_ms": 10**400},
    {"session": "another"},
    {"session": "\ud800"},
    {"uid": "\ud800"},
]


@pytest.mark.parametrize("bad", [*BAD_EVENTS, 7, None])
def test_an_event_that_cannot_be_read_is_named_and_holds_no_other_back(steady, bad):
    session = running_session.start(steady, "bassoon", "warm-up")
    good = send(steady, "good", session, "mark", place="thumb")
    wrong = {**send(steady, "u", session, "mark", place="thumb"), **bad} if isinstance(bad, dict) else bad
    taken = running_session.append(steady, [wrong, good])
    assert taken.stored == ("good",) and taken.new == 1
    assert [sentence for _, sentence in taken.refused if sentence]


def test_half_a_character_in_an_event_becomes_a_mark(steady):
    session = running_session.start(steady, "bassoon", "warm-up")
    event = {**send(steady, "m", session, "mark", place="thu\ud800mb", **{"k\x00\udfff": "v"}), "device": "\ud801"}
    assert running_session.append(steady, [event]).new == 1
    steady.db.flush()
    assert [m.place for m in stand_now(steady).state.marks] == ["thu?mb"]


@pytest.mark.parametrize("text", ["noon", "0001-01-01T00:00:00+23:59", "9999-12-31T23:59:59-23:59", 5, "2026-11-12"])
def test_an_instant_that_cannot_be_is_now(steady, text):
    session = running_session.start(steady, "bassoon", "warm-up")
    later = at(steady, minutes=3)
    event = {**send(steady, "m", session, "mark", place="thumb"), "at_utc": text}
    assert running_session.append(later, [event]).new == 1
    assert [m.at_utc for m in stand_now(later).state.marks] == [later.now]


def test_the_same_touch_on_start_is_one_session(steady):
    touch = "a" * 32
    assert running_session.start(steady, "bassoon", "warm-up", touch) == running_session.start(
        steady, "bassoon", "warm-up", touch
    )
    assert len(steady.store.running_sessions()) == 1


def test_a_stand_that_turns_its_own_pages_is_still_forgotten(steady):
    session = running_session.start(steady, "bassoon", "warm-up")
    for minute in range(30, 240, 30):
        now = at(steady, minutes=minute)
        running_session.append(now, [send(now, f"b{minute}", session, "block", by="clock")])
    assert stand_now(at(steady, minutes=179)).forgotten is False
    assert stand_now(at(steady, minutes=210)).forgotten
    now = at(steady, minutes=200)
    running_session.append(now, [send(now, "touch", session, "mark", place="thumb")])
    assert stand_now(at(steady, minutes=210)).forgotten is False


def test_stopping_after_a_day_asks_and_never_fails(steady):
    session = running_session.start(steady, "bassoon", "repertoire")
    late = at(steady, hours=25)
    running_session.append(late, [send(late, "s", session, "stop")])
    assert stand_now(late).forgotten
    with pytest.raises(FieldError, match="when you stopped"):
        wrapup.write_in(late, wrapup.WrapUp(3, "nothing", []))
    running_session.close_forgotten(late, 45)
    assert not stand_now(late).forgotten
    assert wrapup.write_in(late, wrapup.WrapUp(3, "nothing", [])).minutes == 45


def test_a_forgotten_session_is_asked_about_never_closed_silently(steady):
    running_session.start(steady, "bassoon", "repertoire")
    night = at(steady, hours=9)
    assert stand_now(night).forgotten
    for wrong in (None, 0, 9 * 60 + 5):
        with pytest.raises(FieldError, match="Type the minutes"):
            running_session.close_forgotten(night, wrong)
    running_session.close_forgotten(night, 50)
    assert wrapup.write_in(night, wrapup.WrapUp(3, "nothing", [])).minutes == 50
    with pytest.raises(NotThere):
        running_session.close_forgotten(night, 50)
    with pytest.raises(NotThere):
        running_session.discard(night)
    running_session.start(night, "bassoon", "repertoire")
    running_session.discard(night)
    assert stand_now(night).uid is None


def test_a_page_clock_set_wrong_cannot_write_the_future(steady):
    session = running_session.start(steady, "bassoon", "warm-up")
    ahead = {**send(steady, "r", session, "rest"), "at_utc": (steady.now + timedelta(days=1)).isoformat()}
    running_session.append(at(steady, minutes=5), [ahead])
    assert stand_now(at(steady, minutes=5)).state.played_minutes == 5


def test_an_old_sign_outside_the_window_still_holds_while_it_waits_for_an_answer(steady):
    old = steady.today - timedelta(days=200)
    checks.write_marks(steady, checks.TypedMarks(["thumb_ball.left"], "weakness", 2, ["after"]), old)
    assert [c.day for c in steady.store.record(steady.today, steady.today, older_signs=True).checks] == [
        old,
        steady.today,
    ]
    assert [c.day for c in steady.store.record(steady.today, steady.today).checks] == [steady.today]


def test_played_days_before_are_summed_by_day_and_limited(steady):
    first = steady.store.first_day()
    days = steady.store.played_days_before(first + timedelta(days=30), 10)
    assert len(days) == 10 and list(days) == sorted(days) and days[-1][0] < first + timedelta(days=30)
    by_day = {s.day: s.minutes for s in steady.store.sessions()}
    assert all(by_day[day] == minutes for day, minutes in days)


def test_bars_follow_the_preset_and_a_switch_of_instrument_does_not_begin_a_new_one(steady):
    session = running_session.start(steady, "tin whistle", "warm-up")

    def then(minute: float, kind: str, **payload: str) -> Stand:
        now = at(steady, minutes=minute)
        running_session.append(now, [send(now, f"{kind}{minute}", session, kind, **payload)])
        return stand_now(now)

    switched = then(20, "block", instrument="nose flute")
    assert (switched.bar_min, switched.left_s, switched.next_kind, switched.next_min) == (30, 600, "rest", 5)
    assert (then(30, "rest").bar_min, then(35, "block").bar_min, then(55, "rest").bar_min) == (5, 20, 15)
    assert stand_now(at(steady, minutes=55)).state.played_minutes == 50


def test_an_overrule_is_a_later_call_and_what_was_said_stays(steady):
    checks.write_marks(steady, checks.TypedMarks(["thumb_ball.left"], "pain", 3, ["playing"]), steady.today)
    todays_call(steady)
    repository = steady.store.repository(CallRow)
    said = {row.number: as_document(row) for row in repository.all(CallRow.day == steady.today)}
    overrules.overrule(at(steady, minutes=5), "open", "the strap is mended")
    overrules.take_back(at(steady, minutes=9))
    rows = {row.number: as_document(row) for row in repository.all(CallRow.day == steady.today)}
    assert {n: rows[n] for n in said} == said
    later = [rows[n] for n in sorted(set(rows) - set(said))]
    assert [(r["overrule"], r["reason"]) for r in later] == [("open", "the strap is mended"), (None, "")]
    assert todays_page(at(steady, minutes=9)).issued.effective == "muted_mp"


def test_a_call_is_stored_as_it_is_where_nobody_else_writes(played, monkeypatch):
    """What another writer commits while a call is worked out is in the call that is stored."""
    hold = accounts.hold

    def while_another_writes(db, player_id):
        late = Check("late", played.today, "after", (Entry("thumb_ball", "left", "pain", 6.0),), at_utc=played.now)
        played.store.put_check(late)
        hold(db, player_id)

    log.write_day(played, played.today - timedelta(days=70), True)
    checks.write_marks(played, checks.TypedMarks(("thumb_ball.left",), "pain", 3, ("playing",)))
    corrections.put(played, replace(played.store.check(played.today, "playing"), entries=()))
    monkeypatch.setattr("chirotend.services.call.todays_call.hold", while_another_writes)
    today = todays_call(played)
    assert (today.row.call, today.row.row) == ("tacet", 3) and len(today.evidence.record.checks_on(played.today)) == 3
    assert played.store.latest_call(played.today).call == "tacet"
