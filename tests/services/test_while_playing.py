"""The stand by its plan, its questions and its ladder; the wrap-up's credit; the curtain card; the lists."""

from dataclasses import replace
from datetime import date, time, timedelta
from uuid import uuid4

import pytest

from chirotend.library.loader import curtain_problems, grips
from chirotend.services import (
    corrections,
    curtain,
    engagements,
    kit,
    lists,
    log,
    own_library,
    plan,
    playing,
    score,
    today,
)
from chirotend.services.checks import TypedMarks, as_usual, write_marks
from chirotend.services.desk import Desk, NotThere, Refused
from chirotend.services.plan import TypedAim
from chirotend.store.models import MeasurementRow, PlannedRow


def at(desk: Desk, **step: float) -> Desk:
    return replace(desk, now=desk.now + timedelta(**step))


def send(desk: Desk, session: str, kind: str, **payload: str) -> None:
    seq = int(desk.now.timestamp())
    playing.append(desk, [{"uid": uuid4().hex, "session": session, "kind": kind, "seq": seq, "payload": payload}])


def lay(desk: Desk, minutes: float, hour: float, title: str, instrument: str = "tin whistle") -> None:
    start = desk.now.replace(minute=0) + timedelta(hours=hour)
    values = {"uid": title, "day": desk.today, "start_utc": start, "minutes": minutes, "title": title}
    desk.store.shelf(PlannedRow).put({**values, "instrument": instrument, "effort": 4, "laid_by": "planner"})


def test_the_session_runs_by_what_was_laid_with_its_rests(desk):
    with pytest.raises(Refused):
        playing.start_plan(desk)
    lay(desk, 40, 1, "Thirds")
    lay(desk, 20, 2, "Low F")
    session = playing.start_plan(desk)
    stand = playing.stand(desk)
    assert [(b.kind, b.title, b.minutes) for b in stand.bars] == [
        ("play", "Thirds", 30),
        ("rest", "", 5),
        ("play", "Thirds", 10),
        ("rest", "", 5),
        ("play", "Low F", 20),
    ]
    assert (stand.title, stand.bar_min, stand.next_kind) == ("Thirds", 30, "rest")
    send(at(desk, minutes=10), session, "stretch", minutes="5")
    assert playing.stand(at(desk, minutes=10)).left_s == 25 * 60
    send(at(desk, minutes=35), session, "rest")
    resting = playing.stand(at(desk, minutes=35))
    assert (resting.bar_min, resting.next_title) == (5, "Thirds") and resting.guide is not None
    send(at(desk, minutes=36), session, "block", bar="4")
    assert playing.stand(at(desk, minutes=36)).title == "Low F"
    strips = score.stand_strips(playing.stand(at(desk, minutes=36)))
    assert strips is not None and strips[0].width > strips[1].width
    send(at(desk, minutes=50), session, "rest")
    assert playing.stand(at(desk, minutes=50)).next_kind == "play"  # past its plan it goes on by the preset


def test_a_mark_while_playing_moves_her_to_no_other_bar(desk):
    """The list was once worked out anew at each look: a mark of pain cut it shorter and she stood in another aim."""
    as_usual(desk)
    lay(desk, 60, 1, "Thirds")
    lay(desk, 30, 2.5, "Low F")
    session = playing.start_plan(desk)
    titles = [b.title for b in playing.stand(desk).bars]
    send(at(desk, minutes=30), session, "rest")
    send(at(desk, minutes=35), session, "block")
    before = playing.stand(at(desk, minutes=36))
    write_marks(at(desk, minutes=36), TypedMarks(("thumb_ball.left",), "pain", 3.0, ("playing",)), desk.today)
    after = playing.stand(at(desk, minutes=36))
    assert after.call == "muted_mp" and before.call != after.call
    assert (after.title, after.bar, [b.title for b in after.bars]) == (before.title, before.bar, titles)
    assert after.bar_min == 20 and after.next_min >= 5
    desk.store.shelf(PlannedRow).drop("Low F")
    assert [b.title for b in playing.stand(at(desk, minutes=36)).bars] == titles


def test_an_aim_with_a_grip_says_how_to_hold_it_on_the_stand(desk):
    desk.player.instruments = ["snare"]
    (first, *_) = plan.grips_for(desk)
    aim = plan.write_aim(desk, desk.today, TypedAim("Rolls", 40, grip=first))
    lay(desk, 20, 1, "Rolls", "snare")
    desk.store.shelf(PlannedRow).get("Rolls").aim_uid = aim
    playing.start_plan(desk)
    assert grips()[first].check in playing.stand(desk).how
    with pytest.raises(Refused):
        plan.write_aim(desk, desk.today, TypedAim("Rolls", 40, grip="upside_down"))


def test_the_card_knows_the_instrument_of_the_night(desk):
    kit.write(desk, None, {"kind": "harness", "name": "Harness", "instrument": "bassoon"})
    kit.write(desk, None, {"kind": "peg", "name": "Peg", "instrument": "contrabassoon"})
    texts = offered(desk, "thumb", "contrabassoon")
    assert "Set the height of your peg." in texts and not any("harness" in o for o in texts)


def test_a_muted_day_cuts_what_was_laid_into_its_bars(desk):
    write_marks(desk, TypedMarks(("thumb_ball.left",), "pain", 3.0, ("waking",)), desk.today)
    lay(desk, 40, 1, "Thirds")
    playing.start_plan(desk)
    assert [b.minutes for b in playing.stand(desk).bars if b.kind == "play"] == [
        10
    ] * 4  # a morning worse than usual: bars of 10


def test_a_long_rest_offers_to_lie_down_and_a_short_one_never(desk):
    session = playing.start(desk, "tin whistle", "repertoire")
    send(at(desk, minutes=30), session, "rest")
    assert playing.stand(at(desk, minutes=30)).guide.id != "lie_down"
    send(at(desk, minutes=35), session, "block")
    send(at(desk, minutes=55), session, "rest")
    stand = playing.stand(at(desk, minutes=55))
    assert stand.guide.id == "lie_down" and "head last" in " ".join(stand.guide.text)


def test_the_stand_asks_about_her_own_weak_spot_and_tight_is_a_mark(desk):
    for back in range(1, 5):
        write_marks(
            desk, TypedMarks(("jaw_joint.left",), "tension", 2.0, ("playing",)), desk.today - timedelta(days=back)
        )
    as_usual(desk)
    session = playing.start(desk, "bassoon", "repertoire")
    assert playing.stand(at(desk, minutes=5)).prompt is None
    later = at(desk, minutes=9)
    prompt = playing.stand(later).prompt
    assert prompt is not None and prompt.id == "jaw"
    send(later, session, "answer", prompt="jaw", said="tight", place=prompt.place)
    assert playing.stand(later).prompt is None
    assert [m.place for m in playing.stand(later).state.marks] == ["jaw"]


def test_a_player_without_marks_is_asked_nothing(desk):
    playing.start(desk, "bassoon", "repertoire")
    assert all(playing.stand(at(desk, minutes=m)).prompt is None for m in range(0, 90, 3))


def test_the_top_tempo_is_kept_and_an_aim_gets_its_credit(desk):
    aim = plan.write_aim(desk, desk.today, TypedAim("Thirds", 40))
    session = playing.start(desk, "bassoon", "technique")
    send(at(desk, seconds=1), session, "ladder", tempo="80", school="soft")
    for n in range(4):
        send(at(desk, seconds=10 + n), session, "run", clean="yes")
    done = at(desk, minutes=20)
    with pytest.raises(NotThere):
        playing.write_in(done, playing.WrapUp(4, "nothing", [], aims_done=["nobody"]))
    playing.write_in(done, playing.WrapUp(4, "nothing", [], aims_done=[aim]))
    (kept,) = desk.store.shelf(MeasurementRow).all(MeasurementRow.method == "tempo.top_clean")
    assert (kept.value, kept.unit, kept.instrument) == (80, "bpm", "bassoon")
    assert plan.aims(desk, plan.monday(desk.today))[0].done


def test_muted_never_shortens_a_rest(desk):
    as_usual(desk)
    write_marks(desk, TypedMarks(("thumb_ball.left",), "pain", 3.0, ("playing",)), desk.today)
    session = playing.start(desk, "tin whistle", "repertoire")
    assert playing.stand(desk).call == "muted_mp"
    for minute in (20, 45):
        send(at(desk, minutes=minute), session, "rest")
        send(at(desk, minutes=minute + 5), session, "block")
    send(at(desk, minutes=70), session, "rest")
    plain = 15.0  # the fixed preset: 30, rest 5, 20, then a longer rest of 15
    assert playing.stand(at(desk, minutes=45)).bar_min >= 5.0
    assert max(playing.stand(at(desk, minutes=m)).bar_min for m in (20, 45, 70)) == plain


@pytest.mark.parametrize(("kept", "highest"), [(None, 120), (100.0, 80), (200.0, 160)])
def test_under_muted_a_ladder_never_passes_the_ceiling(desk, kept, highest):
    as_usual(desk)
    write_marks(desk, TypedMarks(("thumb_ball.left",), "pain", 3.0, ("playing",)), desk.today)
    if kept is not None:
        top = {"uid": "t", "day": desk.today, "at_utc": desk.now, "method": "tempo.top_clean", "version": 1}
        desk.store.shelf(MeasurementRow).put({**top, "instrument": "bassoon", "value": kept, "unit": "bpm"})
    session = playing.start(desk, "bassoon", "technique")
    assert playing.stand(desk).call == "muted_mp"
    send(at(desk, seconds=1), session, "ladder", tempo="120", school="edge", ceiling="400")
    tempos = []
    for n in range(40):
        now = at(desk, seconds=10 + n)
        send(now, session, "run", clean="yes")
        tempos.append(playing.stand(now).state.ladder.tempo)
    assert max(tempos) <= highest


def test_jaw_and_breath_is_marked_at_the_jaw(desk):
    session = playing.start(desk, "bassoon", "technique")
    send(at(desk, minutes=1), session, "mark", place="jaw")
    (mark,) = playing.stand(at(desk, minutes=1)).state.marks
    playing.write_in(at(desk, minutes=9), playing.WrapUp(3, "nothing", [(mark.uid, "left", 2.0)]))
    (entry,) = desk.store.check(desk.today, "playing").entries
    assert (entry.zone, entry.region) == ("jaw_joint", "jaw & lips")


def test_an_engagement_whose_writing_in_is_undone_waits_again(desk):
    start = desk.now.astimezone(desk.zone) - timedelta(hours=3)
    typed = engagements.Typed(desk.today, start.time(), (start + timedelta(hours=2)).time(), "Rehearsal")
    made = engagements.write(desk, typed)
    engagements.as_planned(desk, made.uid)
    assert engagements.waiting(desk) == [] and plan.ahead(desk, desk.today, desk.today).loads[desk.today] > 0
    offered_now = corrections.offered(desk)
    corrections.undo(desk, offered_now.number)
    assert [row.uid for row in engagements.waiting(desk)] == [made.uid]
    assert plan.ahead(desk, desk.today, desk.today).loads[desk.today] > 0


# --- the curtain card --------------------------------------------------------------------------------------


def offered(desk: Desk, problem: str, instrument: str = "", side: str = "") -> list[str]:
    card = next(c for c in curtain.cards(desk, instrument) if c.problem.id == problem)
    return [o.text for o in card.options if o.side in ("", side)]


def use(desk: Desk, grip: str) -> None:
    plan.write_aim(desk, desk.today, TypedAim("Rolls", 20, grip=grip))


def answered(**changes) -> curtain.Typed:
    usual = {"problem": "thumb", "place": "thumb_ball", "side": "left", "strength": "clearly", "still": "no"}
    return curtain.Typed(**{**usual, **changes})


def test_options_come_from_her_own_kit(desk):
    desk.player.instruments = ["bassoon", "snare"]
    kit.write(desk, None, {"kind": "harness", "name": "Harness, borrowed"})
    kit.write(desk, None, {"kind": "stick", "name": "Light pair", "mass_g": "42", "length_mm": "400"})
    kit.write(desk, None, {"kind": "stick", "name": "Heavy pair", "mass_g": "61", "length_mm": "410"})
    assert "Hang it on your harness, borrowed." in offered(desk, "thumb")
    assert "Take the lighter pair you own: Light pair, 42 g." in offered(desk, "thumb")
    assert "Take the heavier pair you own: Heavy pair, 61 g." in offered(desk, "tremor")
    assert all(c.options and c.problem.hand_over for c in curtain.cards(desk))


def test_nothing_new_is_tried_tonight(desk):
    """Never another mouthpiece or reed, never a rest taken off: in no option of any problem."""
    kit.write(desk, None, {"kind": "rest", "name": "Shoulder rest"})
    texts = [o.text.lower() for c in curtain.cards(desk) for o in c.options]
    assert any("shoulder rest sits where it always sits" in t for t in texts)
    assert not [t for t in texts if "mouthpiece" in t or "reed" in t or "take off" in t or "move or" in t]


def test_only_a_grip_she_uses_is_offered_for_the_same_hand_and_none_for_a_numb_one(desk):
    desk.player.instruments = ["snare"]
    sore = set(curtain_problems()["thumb"].places)
    fitting = [
        g
        for g in grips().values()
        if "sticks_mallets" in g.families and g.kind != "support" and sore & set(g.relieves) and not sore & set(g.costs)
    ]
    either = next(g for g in fitting if g.hand in ("either", "both"))
    assert not [o for o in offered(desk, "thumb", side="left") if "a hold you use" in o]
    use(desk, either.id)
    for side in ("left", "right"):
        (found,) = [o for o in offered(desk, "thumb", side=side) if "a hold you use" in o]
        assert found.startswith(side.capitalize()) and either.name.lower() in found.lower()
    assert not [o for o in offered(desk, "numb", side="left") if "hold you use" in o]
    write_marks(desk, TypedMarks(("index_tip_palm.left",), "numbness", 2.0, ("playing",), "brief"), desk.today)
    assert not [o for o in offered(desk, "thumb", side="left") if "a hold you use" in o]
    assert [o for o in offered(desk, "thumb", side="right") if "a hold you use" in o]


def test_even_a_hold_of_her_own_is_not_offered_for_what_is_numb(desk):
    desk.player.instruments = ["snare"]
    hold = {"name": "Mine", "families": ["sticks_mallets"], "kind": "hold", "hand": "either", "motion": ["fingers"]}
    own_library.add(desk, "grip", {**hold, "relieves": ["index_tip_palm", "thumb_tip_palm"]})
    assert [o for o in offered(desk, "thumb", side="left") if "mine" in o]
    assert not [o for o in offered(desk, "numb", side="left") if "mine" in o]


def test_a_grip_is_offered_only_where_it_costs_no_sore_place(desk):
    desk.player.instruments = ["snare", "bassoon"]
    for grip in plan.grips_for(desk):
        use(desk, grip)
    checked = 0
    for card in curtain.cards(desk):
        for option in (o for o in card.options if "a hold you use" in o.text):
            grip = next(g for g in grips().values() if g.name.lower() in option.text.lower())
            assert not set(grip.costs) & set(card.problem.places) and grip.hand in (option.side, "either", "both")
            checked += 1
    assert checked


def test_the_card_writes_the_place_that_was_touched_changes_the_call_and_books_once(desk):
    typed = answered(problem="numb", place="ring_tip_palm_littlehalf", still="not ten minutes yet", handed_over=True)
    assert curtain.write(desk, typed)
    curtain.write(desk, typed)
    (entry,) = desk.store.check(desk.today, "playing").entries
    assert (entry.zone, entry.side, entry.lasting) == ("ring_tip_palm_littlehalf", "left", None)
    note = desk.store.note(desk.today)
    assert note is not None and note.note.count("Handed the part over.") == 1
    assert "left ring finger tip" in note.note and "numb or tingling" in note.note
    row = today.issue(desk)[0]
    assert (row.call, row.row) == ("muted_pp", 4)  # how long it lasted is not known: row 4, not to be overruled
    booked = engagements.between(desk, desk.today, desk.today + timedelta(days=2))
    assert [e.title for e in booked] == ["Book someone: numb or tingling"]


def test_still_numb_after_ten_minutes_is_handed_over_whatever_was_pressed(desk):
    assert curtain.write(desk, answered(problem="numb", place="index_tip_palm", still="yes"))
    assert "Told to hand it over." in desk.store.note(desk.today).note
    assert today.issue(desk)[0].row == 2
    assert curtain.write(desk, answered(problem="shoulder", place="neck_back"))  # what stands open rules the next card


def test_a_card_adds_to_the_note_and_cuts_nothing(desk):
    long = "x" * 1990
    log.write_day(desk, desk.today, False, long)
    assert not curtain.write(desk, answered(done=("Rest the thumb in every bar that is free.",)))
    note = desk.store.note(desk.today).note
    assert note.startswith(long) and "Rest the thumb" in note and len(note) > 2000


def test_a_card_that_waited_on_a_device_belongs_to_its_own_evening(desk):
    curtain.write(desk, answered(at=desk.now - timedelta(hours=14)))
    assert desk.store.check(desk.today - timedelta(days=1), "playing") is not None
    assert desk.store.note(desk.today) is None


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"problem": "hunger"}, "problem"),
        ({"place": ""}, "place"),
        ({"place": "hip_seat"}, "place"),
        ({"side": ""}, "side"),
        ({"strength": ""}, "strength"),
        ({"still": ""}, "still"),
        ({"done": ("x",) * 21}, "done"),
    ],
)
def test_a_card_that_says_too_little_is_refused(desk, change, field):
    with pytest.raises(Refused) as refused:
        curtain.write(desk, answered(**change))
    assert refused.value.field == field


def test_no_option_puts_anything_on_numb_skin_or_promises(desk):
    texts = [t.lower() for p in curtain_problems().values() for t in (*(o.text for o in p.options), p.hand_over)]
    assert any("no tape and no padding on skin that is numb" in t for t in texts)
    assert not [t for t in texts for word in ("safe", "cleared", "play through", "medicine", "tablet") if word in t]


# --- lists -------------------------------------------------------------------------------------------------


def test_lists_are_newest_first_and_can_be_searched(desk):
    for day, question, well in (
        (1, "Why does low F crack?", ""),
        (2, "", "Thirds were even"),
        (3, "How high the chair?", "Slow and even"),
    ):
        typed = log.TypedSession(date(2026, 11, day), 30, time(10), 4, "bassoon", question=question, went_well=well)
        log.write_session(desk, typed)
    assert [w.text for w in lists.written(desk, "question")] == ["How high the chair?", "Why does low F crack?"]
    assert [w.text for w in lists.written(desk, search="EVEN")] == ["Slow and even", "Thirds were even"]
    assert lists.written(desk, "was_hard") == [] and lists.written(desk, search="cello") == []
    with pytest.raises(Refused):
        lists.written(desk, "secrets")
