"""A deed is undone as a whole, and nothing that was played is lost by it."""

from dataclasses import replace
from datetime import timedelta

from chirotend.core.plan.week_problem import monday
from chirotend.services.body import checks, self_checks
from chirotend.services.kit.profile import profile, say
from chirotend.services.plan import days_ahead, engagements, own_blocks, scheduling, week_aims
from chirotend.services.play import running_session, wrapup
from chirotend.services.record import corrections
from chirotend.store.models import ChangeRow, MeasurementRow


def undo_the_last(context) -> None:
    offered = corrections.offered(context)
    assert offered is not None
    corrections.undo(context, offered.number)


def test_an_engagement_whose_writing_in_is_undone_waits_again(context):
    start = context.now.astimezone(context.zone) - timedelta(hours=3)
    typed = engagements.Typed(context.today, start.time(), (start + timedelta(hours=2)).time(), "Rehearsal")
    made = engagements.write(context, typed)
    engagements.as_planned(context, made.uid)
    assert (
        engagements.waiting(context) == []
        and days_ahead.ahead(context, context.today, context.today).loads[context.today] > 0
    )
    undo_the_last(context)
    assert [row.uid for row in engagements.waiting(context)] == [made.uid]
    assert days_ahead.ahead(context, context.today, context.today).loads[context.today] > 0


def test_a_session_written_in_as_planned_and_brought_back_is_still_its_engagement(context):
    start = context.now.astimezone(context.zone) - timedelta(hours=3)
    typed = engagements.Typed(context.today, start.time(), (start + timedelta(hours=2)).time(), "Rehearsal")
    made = engagements.write(context, typed)
    session = engagements.as_planned(context, made.uid)
    assert corrections.offered(context).action == "new"
    corrections.delete(context, "session", session.uid)
    assert corrections.offered(context).action == "delete"
    assert [row.uid for row in engagements.waiting(context)] == [made.uid]
    undo_the_last(context)
    assert context.store.session(session.uid) == session and engagements.waiting(context) == []


def test_a_week_that_was_laid_is_taken_back_as_it_stood(context):
    week = monday(context.today) + timedelta(days=7)
    week_aims.write_aim(context, week, week_aims.TypedAim("Thirds", 60, 3, "bassoon"))
    scheduling.schedule(context, week)
    before = own_blocks.blocks_between(context, week, week + timedelta(days=6))
    week_aims.write_aim(context, week, week_aims.TypedAim("Low F", 900, 3, "bassoon"))
    scheduling.schedule(context, week)
    assert own_blocks.blocks_between(context, week, week + timedelta(days=6)) != before
    assert any(aim.unlaid for aim in week_aims.aims(context, week))
    undo_the_last(context)
    assert own_blocks.blocks_between(context, week, week + timedelta(days=6)) == before
    assert not any(aim.unlaid for aim in week_aims.aims(context, week))


def test_an_aim_comes_back_with_what_was_laid_for_it(context):
    week = monday(context.today) + timedelta(days=7)
    uid = week_aims.write_aim(context, week, week_aims.TypedAim("Thirds", 60, 3, "bassoon"))
    scheduling.schedule(context, week)
    before = own_blocks.blocks_between(context, week, week + timedelta(days=6))
    week_aims.drop_aim(context, uid)
    assert before and own_blocks.blocks_between(context, week, week + timedelta(days=6)) == []
    undo_the_last(context)
    assert own_blocks.blocks_between(context, week, week + timedelta(days=6)) == before
    assert [aim.uid for aim in week_aims.aims(context, week)] == [uid]


def test_a_wrap_up_that_is_undone_waits_to_be_written_in_again(context):
    checks.as_usual(context)
    week = monday(context.today)
    aim = week_aims.write_aim(context, week, week_aims.TypedAim("Thirds", 60, 3, "bassoon"))
    uid = running_session.start(context, "bassoon", "repertoire")
    later = replace(context, now=context.now + timedelta(minutes=30))
    wrapup.write_in(later, wrapup.WrapUp(4, "nothing", (), aims_done=(aim,)))
    assert context.store.session(uid) is not None and week_aims.aims(context, week)[0].done
    undo_the_last(later)
    assert context.store.session(uid) is None and not week_aims.aims(context, week)[0].done
    assert context.store.check(context.today, "after") is None
    waiting = running_session.running_session(later)
    assert (waiting.uid, waiting.state.phase, round(waiting.state.played_minutes)) == (uid, "stopped", 30)
    written = wrapup.write_in(later, wrapup.WrapUp(5, "nothing", ()))
    assert (written.uid, written.minutes, written.effort) == (uid, 30, 5)


def test_a_session_written_by_hand_and_undone_leaves_no_session(context):
    session = wrapup.Session("typed", context.today, (wrapup.Block(30),), 4)
    corrections.put(context, session)
    undo_the_last(context)
    assert context.store.running_sessions() == []


def test_what_she_says_of_herself_and_a_self_check_can_be_taken_back(context):
    say(context, warm_minutes=20)
    say(context, warm_minutes=40)
    undo_the_last(context)
    assert profile(context).warm_minutes == 20
    self_checks.answer(context, "palm_flat", "differs")
    undo_the_last(context)
    assert context.store.repository(MeasurementRow).all() == []


def test_a_deed_within_a_deed_is_one(context):
    with corrections.as_one(context):
        say(context, warm_minutes=20)
        with corrections.as_one(context):
            say(context, warm_minutes=30)
        say(context, warm_minutes=40)
    say(context, warm_minutes=50)
    acts = [row.act for row in context.store.repository(ChangeRow).all()]
    assert len(set(acts[:3])) == 1 and acts[3] not in acts[:3]
