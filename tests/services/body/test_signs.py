"""The page of a place, in words: what stands out, what passed, what cannot be told."""

from dataclasses import replace
from datetime import timedelta

import pytest

from chirotend.core.record import Block, Session
from chirotend.services.body import changed, checks, sign_plan, signs
from chirotend.services.body.checks import TypedMarks
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import FieldError, NotThere
from chirotend.services.kit import things
from chirotend.services.record import corrections
from chirotend.services.report import contents, reports
from chirotend.services.review import week
from chirotend.services.today import missing
from chirotend.store.models import SignAnswerRow


def test_an_empty_record_says_what_cannot_be_told(context):
    page = signs.place_page(context, "fingers", "left")
    assert "Nothing is written" in page.lead and "Too few weeks" in page.trend and page.asked == 0
    assert {b.said for b in page.before} == {signs.BEFORE_SAYS["cannot_tell"]} and page.place == "left fingers"
    assert page.timing == "You marked nothing here."


def test_a_mark_is_a_stroke_of_its_day(context):
    checks.write_marks(context, TypedMarks(("thumb_base_joint.left",), "tension", 3, ("after",)))
    page = signs.place_page(context, "wrist & thumb", "left")
    strokes = [s for s in page.wide.shapes if s.tag == "rect" and s.attrs["class"] == "ink-fill"]
    assert len(strokes) == 1 and page.weeks[-1].days.endswith("3")
    assert [len(week.days.split()) for week in page.weeks] == [7] * 12
    assert strokes[0].attrs["height"] == pytest.approx(130 * 0.3)


@pytest.mark.parametrize(("region", "side"), [("knee", "left"), ("fingers", "upper")])
def test_no_such_place_is_not_there(context, region, side):
    with pytest.raises(NotThere):
        signs.place_page(context, region, side)


@pytest.fixture
def risen(context):
    """Nothing for six weeks, then tingling at the fingertips that grows, and stays within ten minutes."""
    for back in range(60, -1, -1):
        day = context.today - timedelta(days=back)
        checks.nothing(context, "waking", day)
        if back < 14 and (back < 9 or back % 2):
            strength = 1 + (14 - back) // 5
            checks.write_marks(
                context, TypedMarks(("index_tip_palm.left",), "tingling", strength, ("after",), "brief"), day
            )
    return context


def test_an_answer_settles_the_sign_and_is_kept(risen):
    page = signs.place_page(risen, "fingers", "left")
    assert page.lead.startswith("You have marked more here than usual since") and page.answers == ()
    assert "risen" in {f["code"] for f in todays_call(risen).row.findings}
    assert [a.place for a in missing.missing_answers(risen)] == [("fingers", "left")]
    for field, typed in (("answer", ("perhaps", "")), ("note", ("not_so", "x" * 501))):
        with pytest.raises(FieldError) as refused:
            signs.answer(risen, "fingers", "left", *typed)
        assert refused.value.field == field
    signs.answer(risen, "fingers", "left", "not_so", "")
    page = signs.place_page(risen, "fingers", "left")
    assert page.lead.startswith("You answered this sign on")
    assert page.past_signs == ("You were told of an early sign once within a year.", "You answered “not so” once.")
    assert "risen" not in {f["code"] for f in todays_call(risen).row.findings}
    assert missing.missing_answers(risen) == ()
    with pytest.raises(NotThere):
        signs.answer(risen, "fingers", "left", "not_so", "")
    corrections.undo(risen, corrections.offered(risen).number)
    assert signs.place_page(risen, "fingers", "left").answers == ()


def test_a_cause_she_knows_is_watched_until_it_has_ended(risen):
    signs.answer(risen, "fingers", "left", "known_cause", "The cold hall.")
    page = signs.place_page(risen, "fingers", "left")
    (said,) = page.answers
    assert (said.answer, said.note, said.lasts) == ("a cause I know", "The cold hall.", True)
    assert "is watched until that has ended" in page.lead and page.past_signs[1].startswith("Once, the sign was right:")
    codes = {f["code"] for f in todays_call(risen).row.findings}
    assert "watched" in codes and "risen" not in codes
    with pytest.raises(FieldError, match="when it has ended"):
        signs.answer(risen, "fingers", "left", "not_so", "")
    signs.end_cause(risen, said.uid)
    assert not signs.place_page(risen, "fingers", "left").answers[0].lasts
    assert {"watched", "risen"} & {f["code"] for f in todays_call(risen).row.findings} == set()
    for unknown in (said.uid, "nothing"):
        with pytest.raises(NotThere):
            signs.end_cause(risen, unknown)


def test_what_she_changed_is_looked_at_again_after_two_weeks(risen):
    signs.answer(risen, "fingers", "left", "acted_on", "No barrés.")
    codes = {f["code"] for f in todays_call(risen).row.findings}
    assert "watched" in codes and "risen" not in codes
    assert signs.place_page(risen, "fingers", "left").answers[0].became.endswith("what became of it.")
    later = replace(risen, now=risen.now + timedelta(days=14), worked_out={})
    for back in range(14):
        checks.nothing(later, "waking", later.today - timedelta(days=back))
    became = signs.place_page(later, "fingers", "left").answers[0].became
    assert "before it you marked it on 11 of 14 days asked" in became and "after it: on 1 of 14" in became


def test_a_place_often_called_not_so_is_told_later_unless_strong_symptoms_followed(risen):
    place = {"region": "fingers", "side": "left"}
    rows = risen.store.repository(SignAnswerRow)
    for back in (90, 40, 400):
        day = risen.today - timedelta(days=back)
        rows.put({"uid": f"a{back}", "day": day, "answer": "not_so", "note": "", "ended": None, **place})
    raised = todays_call(risen).evidence.not_so
    assert sorted(day for _, day in raised) == [risen.today - timedelta(days=back) for back in (90, 40)]
    (line,) = [line for line in signs.place_page(risen, "fingers", "left").past_signs if "stand out further" in line]
    assert line.startswith("You said “not so” here 2 times")
    strong = TypedMarks(("index_tip_palm.left",), "pain", 6, ("after",))
    checks.write_marks(risen, strong, risen.today - timedelta(days=30))
    assert [day for _, day in todays_call(risen).evidence.not_so] == [risen.today - timedelta(days=90)]
    assert not any("stand out further" in line for line in signs.place_page(risen, "fingers", "left").past_signs)


def test_a_plan_is_taken_in_one_touch_and_what_became_of_it_is_said_in_the_review_and_on_a_report(risen):
    plan = signs.place_page(risen, "fingers", "left").plan
    assert plan.until == risen.today + timedelta(days=14)
    assert plan.leave_out == ("Play the contrabassoon where you can: the bassoon asks more of this place.",)
    assert plan.attempt == ("Let go for five minutes after every 25 minutes of playing.",)
    signs.take_plan(risen, "fingers", "left")
    page = signs.place_page(risen, "fingers", "left")
    assert (
        page.plan is None and page.answers[0].note == " ".join(plan.lines) and "is watched for two weeks" in page.lead
    )
    assert "watched" in {f["code"] for f in todays_call(risen).row.findings}
    corrections.undo(risen, corrections.offered(risen).number)
    assert signs.place_page(risen, "fingers", "left").plan == plan
    signs.take_plan(risen, "fingers", "left")
    later = replace(risen, now=risen.now + timedelta(days=15), worked_out={})
    for back in range(15):
        checks.nothing(later, "waking", later.today - timedelta(days=back))
    (change,) = changed.changes_over(later, later.today - timedelta(days=6), later.today)
    assert (change.became.before, change.became.after, change.looked_at_on) == (11, 1, risen.today + timedelta(days=14))
    assert list(changed.changes_over(later, later.today, later.today)) == []
    assert change.became.pain_words == "", "tingling is no pain"
    fell = replace(change.became, pain_before=5.0, pain_after=3.0)
    assert fell.pain_words.endswith("usually matters to people (Farrar and others, 2001).")
    assert "not the fall" in replace(fell, pain_after=3.6).pain_words
    assert replace(fell, pain_after=None).pain_words == "", "too few days were asked"
    said = [line.sentence for line in week.week_review_page(later, later.today).lines]
    assert any(line.startswith("You changed something about your left fingers.") for line in said)
    uid = reports.make(later, {"audience": "clinician", "why": "", "named": ""})
    tried = contents.report(later, reports.row_of(later, uid)).tried
    assert any("left fingers" in line and "on 1 of 14" in line for line in tried)


def test_a_plan_comes_from_her_instruments_her_holds_her_kit_and_her_minutes(played):
    played.player.instruments = ["bassoon", "contrabassoon"]
    wrist = sign_plan.sign_plan(played, ("wrist & thumb", "left"))
    assert wrist.leave_out == ("Leave out a quarter of your minutes: play 70 minutes a day at most.",)
    assert wrist.attempt == (
        "Try “Seat strap” on the bassoon: it spares this place.",
        "Try “Floor peg” on the contrabassoon: it spares this place.",
    )
    neck = sign_plan.sign_plan(played, ("neck & shoulder", "left"))
    assert neck.leave_out[1:] == ("Play the bassoon where you can: the contrabassoon asks more of this place.",)
    for back, hold in ((3, "seat_strap"), (2, "neck_strap"), (1, "seat_strap")):
        day, block = played.today - timedelta(days=back), Block(30.0, "bassoon", posture=hold)
        corrections.put(played, Session(f"h{back}", day, (block,), 4.0))
    again = sign_plan.sign_plan(replace(played, worked_out={}), ("wrist & thumb", "left"))
    assert not any("Seat strap" in line for line in again.attempt), "she holds it so already"
    neck = sign_plan.sign_plan(replace(played, worked_out={}), ("neck & shoulder", "left"))
    assert all(
        "spares" in line or "at most" in line or "contrabassoon" in line for line in (*neck.leave_out, *neck.attempt)
    )
    things.write(
        played,
        None,
        {
            "name": "my bassoon",
            "kind": "instrument",
            "instrument": "bassoon",
            "service_on": "2024-01-10",
            "service_months": "12",
        },
    )
    due = sign_plan.sign_plan(played, ("back", "none")).attempt
    assert due == ("Have “my bassoon” looked at: set-up due since January 2025.",)


def test_a_change_is_named_by_its_own_day_and_no_plan_is_offered_when_nothing_is_played(risen):
    signs.take_plan(risen, "fingers", "left")
    later = replace(risen, now=risen.now + timedelta(days=3), worked_out={})
    checks.write_marks(later, TypedMarks(("index_tip_palm.left",), "tingling", 5, ("after",), "brief"), later.today)
    signs.answer(later, "fingers", "left", "not_so", "")
    lead = signs.place_page(later, "fingers", "left").lead
    assert lead.startswith("You changed something about this place on Thursday 12 November.")
    with pytest.raises(NotThere):
        signs.take_plan(later, "fingers", "left")


def test_on_a_day_of_tacet_a_place_that_stands_out_offers_no_plan(risen):
    assert signs.place_page(risen, "fingers", "left").plan is not None
    checks.write_marks(risen, TypedMarks(("thumb_base_joint.right",), "pain", 8, ("playing",)))
    assert todays_call(risen).issued.effective == "tacet"
    page = signs.place_page(risen, "fingers", "left")
    assert page.opened.course.sign.speaks and page.plan is None
    with pytest.raises(NotThere):
        signs.take_plan(risen, "fingers", "left")
