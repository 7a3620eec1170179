"""The wrap-up: credit, tempo, marks."""

from datetime import timedelta

import pytest

from chirotend.core.plan.week_problem import monday
from chirotend.core.record.words import SYMPTOM_KINDS
from chirotend.services.context import FieldError, NotThere
from chirotend.services.plan import credit, days_ahead, own_blocks, plan_page, week_aims
from chirotend.services.plan.week_aims import TypedAim
from chirotend.services.play import bars, running_session, wrapup
from chirotend.services.play.made_marks import ALL_PLACES, Answered, made_marks
from chirotend.services.play.stand import stand_now
from chirotend.store.models import MeasurementRow, PlannedRow
from tests.services.play.steps import at, schedule, send


def test_the_top_tempo_is_kept_and_an_aim_gets_its_credit(context):
    aim = week_aims.write_aim(context, context.today, TypedAim("Thirds", 40))
    session = running_session.start(context, "bassoon", "technique")
    send(at(context, seconds=1), session, "ladder", tempo="80", school="soft")
    for n in range(4):
        send(at(context, seconds=10 + n), session, "run", clean="yes")
    done = at(context, minutes=20)
    with pytest.raises(NotThere):
        wrapup.write_in(done, wrapup.WrapUp(4, "nothing", [], aims_done=["nobody"]))
    wrapup.write_in(done, wrapup.WrapUp(4, "nothing", [], aims_done=[aim]))
    (kept,) = context.store.repository(MeasurementRow).all(MeasurementRow.method == "tempo.top_clean")
    assert (kept.value, kept.unit, kept.instrument) == (80, "bpm", "bassoon")
    assert week_aims.aims(context, monday(context.today))[0].done


@pytest.mark.parametrize("anything", ["nothing", "pain"])
def test_nothing_there_afterwards_is_an_answer_and_something_is_asked_for_where(context, anything):
    running_session.start(context, "bassoon", "technique")
    wrapup.write_in(at(context, minutes=9), wrapup.WrapUp(3, anything, ()))
    after = context.store.check(context.today, "after")
    assert (after is not None and after.entries == ()) if anything == "nothing" else after is None


def test_jaw_and_breath_is_marked_at_the_jaw(context):
    session = running_session.start(context, "bassoon", "technique")
    send(at(context, minutes=1), session, "mark", place="jaw")
    wrapup.write_in(at(context, minutes=9), wrapup.WrapUp(3, "nothing", [Answered("jaw-tension", ("left",), 2.0)]))
    (entry,) = context.store.check(context.today, "playing").entries
    assert (entry.zone, entry.region) == ("jaw_joint", "jaw & lips")


@pytest.mark.parametrize("feeling", SYMPTOM_KINDS)
def test_every_kind_at_every_place_can_be_marked_while_playing(context, feeling):
    session = running_session.start(context, "bassoon", "technique")
    for place in ALL_PLACES:
        send(at(context, minutes=1), session, "mark", place=place, feeling=feeling)
    made = made_marks(stand_now(at(context, minutes=1)).state)
    wrapup.write_in(at(context, minutes=9), wrapup.WrapUp(3, "nothing", [Answered(m.key, ("right",), 2) for m in made]))
    written = context.store.check(context.today, "playing").entries
    assert {(e.zone, e.kind) for e in written} == {(zone, feeling) for _, zone, _ in ALL_PLACES.values()}


@pytest.mark.parametrize("feeling", SYMPTOM_KINDS)
def test_no_mark_but_tightness_is_lost_because_nobody_said_how_strong_it_was(context, feeling):
    session = running_session.start(context, "bassoon", "technique")
    for minute in (1, 2):
        send(at(context, minutes=minute), session, "mark", place="index", feeling=feeling)
    done = at(context, minutes=9)
    (made,) = made_marks(stand_now(done).state)
    assert len(made.times) == 2
    if feeling == "tension":
        wrapup.write_in(done, wrapup.WrapUp(3, "nothing", []))
        assert context.store.check(context.today, "playing") is None
        return
    for said, sentence in (([], "how strong"), ([Answered(made.key, (), 2.0)], "left or right")):
        with pytest.raises(FieldError, match=sentence) as refused:
            wrapup.write_in(done, wrapup.WrapUp(3, "nothing", said))
        assert refused.value.field == f"mark-index-{feeling}"
    assert not context.store.sessions(), "nothing is half saved"
    wrapup.write_in(done, wrapup.WrapUp(3, "nothing", [Answered(made.key, ("left", "right"), 2.0)]))
    assert {(e.side, e.kind) for e in context.store.check(context.today, "playing").entries} == {
        ("left", feeling),
        ("right", feeling),
    }


def test_a_mark_that_was_nothing_is_written_as_nothing(context):
    session = running_session.start(context, "bassoon", "technique")
    send(at(context, minutes=1), session, "mark", place="index", feeling="tingling")
    with pytest.raises(NotThere):
        wrapup.write_in(at(context, minutes=9), wrapup.WrapUp(3, "nothing", [Answered("ring-pain", ("left",), 2.0)]))
    wrapup.write_in(at(context, minutes=9), wrapup.WrapUp(3, "nothing", [Answered("index-tingling", (), 0.0)]))
    assert context.store.check(context.today, "playing") is None


def test_what_was_felt_is_a_kind_of_symptom(context):
    session = running_session.start(context, "bassoon", "technique")
    taken = send(at(context, minutes=1), session, "mark", place="thumb", feeling="luck")
    assert [sentence for _, sentence in taken.refused] == ["Choose what kind it is: one of those shown."]


def test_what_is_played_by_the_plan_is_linked_to_what_was_laid_and_counts_for_its_aim(context):
    week = monday(context.today)
    aim = week_aims.write_aim(context, week, TypedAim("Thirds", 40, 3, "tin whistle"))
    schedule(context, 40, 1, "Thirds")
    context.store.repository(PlannedRow).get("Thirds").aim_uid = aim
    schedule(context, 20, 2, "Low F")
    session = running_session.start_plan(context)
    send(at(context, minutes=25), session, "rest")
    send(at(context, minutes=30), session, "block", bar="4")
    written = wrapup.write_in(at(context, minutes=40), wrapup.WrapUp(3, "nothing", ()))
    assert [(b.minutes, b.planned) for b in written.blocks] == [(25, "Thirds"), (10, "Low F")]
    assert context.store.session(session).blocks == written.blocks
    played = credit.played_by_block(context, week, week + timedelta(days=6))
    scheduled = own_blocks.blocks_between(context, week, week + timedelta(days=6))
    assert played == {"Thirds": 25, "Low F": 10}
    left = credit.still_to_play(at(context, minutes=40), scheduled)
    assert left == {"Thirds": 15, "Low F": 10}, "what was played before its hour waits no more"
    assert credit.taken_care_of(scheduled, played, left) == {aim: 40}
    evening = credit.still_to_play(at(context, hours=9), scheduled)
    assert evening == {"Thirds": 0, "Low F": 0}
    assert credit.taken_care_of(scheduled, played, evening) == {aim: 25}  # fifteen of the forty still want a place
    (shown,) = plan_page.planned_week_page(context, week).aims
    assert (shown.scheduled, shown.played) == (40, 25)


def test_what_is_played_before_its_hour_counts_once_in_the_days_load_and_is_not_offered_again(context):
    schedule(context, 40, 1, "Thirds")
    today = context.today
    before = days_ahead.ahead(context, today, today)
    send(context, running_session.start_plan(context), "block", bar="0")
    done = at(context, minutes=40)
    wrapup.write_in(done, wrapup.WrapUp(before.blocks[0].effort, "nothing", ()))
    assert days_ahead.ahead(done, today, today).loads[today] == pytest.approx(before.loads[today])
    assert bars.todays_blocks(done) == []
    assert [line.uid for line in plan_page.ahead_lines(done)] == []


def test_what_is_played_without_the_plan_is_linked_to_nothing(context):
    schedule(context, 40, 1, "Thirds")
    running_session.start(context, "tin whistle", "repertoire")
    written = wrapup.write_in(at(context, minutes=40), wrapup.WrapUp(3, "nothing", ()))
    assert [b.planned for b in written.blocks] == [""]


def test_what_is_played_past_the_plan_is_written_in_and_linked_to_nothing(context):
    schedule(context, 20, 1, "Thirds")
    session = running_session.start_plan(context)
    send(at(context, minutes=20), session, "block")
    send(at(context, minutes=25), session, "rest")
    send(at(context, minutes=30), session, "block")
    written = wrapup.write_in(at(context, minutes=35), wrapup.WrapUp(3, "nothing", ()))
    assert [(b.minutes, b.planned) for b in written.blocks] == [(20, "Thirds"), (10, "")]
