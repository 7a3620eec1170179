"""The stand by its plan, its questions and its ladder."""

from datetime import timedelta

import pytest

from chirotend.library.loader import grips
from chirotend.services.body.checks import TypedMarks, as_usual, write_marks
from chirotend.services.context import FieldError
from chirotend.services.plan import week_aims
from chirotend.services.plan.programmes import begin
from chirotend.services.plan.week_aims import TypedAim
from chirotend.services.play import running_session
from chirotend.services.play.stand import stand_now
from chirotend.services.score import score_page
from chirotend.store.models import MeasurementRow, PlannedRow
from tests.services.play.steps import at, schedule, send


def test_the_session_runs_by_what_was_laid_with_its_rests(context):
    with pytest.raises(FieldError):
        running_session.start_plan(context)
    schedule(context, 40, 1, "Thirds")
    schedule(context, 20, 2, "Low F")
    session = running_session.start_plan(context)
    stand = stand_now(context)
    assert [(b.kind, b.title, b.minutes) for b in stand.bars] == [
        ("play", "Thirds", 30),
        ("rest", "", 5),
        ("play", "Thirds", 10),
        ("rest", "", 5),
        ("play", "Low F", 20),
    ]
    assert (stand.title, stand.bar_min, stand.next_kind) == ("Thirds", 30, "rest")
    send(at(context, minutes=10), session, "stretch", minutes="5")
    assert stand_now(at(context, minutes=10)).left_s == 25 * 60
    send(at(context, minutes=35), session, "rest")
    resting = stand_now(at(context, minutes=35))
    assert (resting.bar_min, resting.next_title) == (5, "Thirds") and resting.guide is not None
    send(at(context, minutes=36), session, "block", bar="4")
    assert stand_now(at(context, minutes=36)).title == "Low F"
    strips = score_page.stand_strips(stand_now(at(context, minutes=36)))
    assert strips is not None and strips[0].width > strips[1].width
    send(at(context, minutes=50), session, "rest")
    assert stand_now(at(context, minutes=50)).next_kind == "play"  # past its plan it goes on by the preset


def test_a_mark_while_playing_moves_her_to_no_other_bar(context):
    """The list was once worked out anew at each look: a mark of pain cut it shorter and she stood in another aim."""
    as_usual(context)
    schedule(context, 60, 1, "Thirds")
    schedule(context, 30, 2.5, "Low F")
    session = running_session.start_plan(context)
    titles = [b.title for b in stand_now(context).bars]
    send(at(context, minutes=30), session, "rest")
    send(at(context, minutes=35), session, "block")
    before = stand_now(at(context, minutes=36))
    write_marks(at(context, minutes=36), TypedMarks(("thumb_ball.left",), "pain", 3.0, ("playing",)), context.today)
    after = stand_now(at(context, minutes=36))
    assert after.call == "muted_mp" and before.call != after.call
    assert (after.title, after.bar, [b.title for b in after.bars]) == (before.title, before.bar, titles)
    assert after.bar_min == 20 and after.next_min >= 5
    context.store.repository(PlannedRow).drop("Low F")
    assert [b.title for b in stand_now(at(context, minutes=36)).bars] == titles


def test_an_aim_with_a_grip_says_how_to_hold_it_on_the_stand(context):
    context.player.instruments = ["snare"]
    (first, *_) = week_aims.holds_for(context, postures=False)
    aim = week_aims.write_aim(context, context.today, TypedAim("Rolls", 40, grip=first))
    schedule(context, 20, 1, "Rolls", "snare")
    context.store.repository(PlannedRow).get("Rolls").aim_uid = aim
    running_session.start_plan(context)
    assert grips()[first].check in stand_now(context).how
    with pytest.raises(FieldError):
        week_aims.write_aim(context, context.today, TypedAim("Rolls", 40, grip="upside_down"))


def test_a_muted_day_cuts_what_was_laid_into_its_bars(context):
    write_marks(context, TypedMarks(("thumb_ball.left",), "pain", 4.0, ("waking",)), context.today)
    schedule(context, 40, 1, "Thirds")
    running_session.start_plan(context)
    assert [b.minutes for b in stand_now(context).bars if b.kind == "play"] == [
        10
    ] * 4  # a morning worse than usual: bars of 10


def test_what_is_laid_out_ends_where_the_limit_of_the_day_does(context):
    begin.begin(context, "return", {"why": "illness", "start_min": "25", "aim_min": "60"})
    schedule(context, 40, 1, "Thirds")
    schedule(context, 40, 2, "Low F")
    running_session.start_plan(context)
    bars = stand_now(context).bars
    assert sum(b.minutes for b in bars if b.kind == "play") == 25 and bars[-1].kind == "play"


def test_a_bar_is_never_shorter_than_half_a_minute(context):
    session = running_session.start(context, "tin whistle", "repertoire")
    send(context, session, "stretch", minutes="-60")
    assert stand_now(context).bar_min == 0.5


def test_a_long_rest_offers_to_lie_down_and_a_short_one_never(context):
    session = running_session.start(context, "tin whistle", "repertoire")
    send(at(context, minutes=30), session, "rest")
    assert stand_now(at(context, minutes=30)).guide.id != "lie_down"
    send(at(context, minutes=35), session, "block")
    send(at(context, minutes=55), session, "rest")
    stand = stand_now(at(context, minutes=55))
    assert stand.guide.id == "lie_down" and "head last" in " ".join(stand.guide.text)


def test_the_stand_asks_about_her_own_weak_spot_and_tight_is_a_mark(context):
    for back in range(1, 5):
        write_marks(
            context, TypedMarks(("jaw_joint.left",), "tension", 2.0, ("playing",)), context.today - timedelta(days=back)
        )
    as_usual(context)
    session = running_session.start(context, "bassoon", "repertoire")
    assert stand_now(at(context, minutes=5)).prompt is None
    later = at(context, minutes=9)
    prompt = stand_now(later).prompt
    assert prompt is not None and prompt.id == "jaw"
    send(later, session, "answer", prompt="jaw", said="tight", place=prompt.place)
    assert stand_now(later).prompt is None
    assert [m.place for m in stand_now(later).state.marks] == ["jaw"]


def test_a_player_without_marks_is_asked_nothing(context):
    running_session.start(context, "bassoon", "repertoire")
    assert all(stand_now(at(context, minutes=m)).prompt is None for m in range(0, 90, 3))


def test_muted_never_shortens_a_rest(context):
    as_usual(context)
    write_marks(context, TypedMarks(("thumb_ball.left",), "pain", 3.0, ("playing",)), context.today)
    session = running_session.start(context, "tin whistle", "repertoire")
    assert stand_now(context).call == "muted_mp"
    for minute in (20, 45):
        send(at(context, minutes=minute), session, "rest")
        send(at(context, minutes=minute + 5), session, "block")
    send(at(context, minutes=70), session, "rest")
    plain = 15.0  # the fixed preset: 30, rest 5, 20, then a longer rest of 15
    assert stand_now(at(context, minutes=45)).bar_min >= 5.0
    assert max(stand_now(at(context, minutes=m)).bar_min for m in (20, 45, 70)) == plain


@pytest.mark.parametrize(("kept", "highest"), [(None, 120), (100.0, 80), (200.0, 160)])
def test_under_muted_a_ladder_never_passes_the_ceiling(context, kept, highest):
    as_usual(context)
    write_marks(context, TypedMarks(("thumb_ball.left",), "pain", 3.0, ("playing",)), context.today)
    if kept is not None:
        top = {"uid": "t", "day": context.today, "at_utc": context.now, "method": "tempo.top_clean", "version": 1}
        context.store.repository(MeasurementRow).put({**top, "instrument": "bassoon", "value": kept, "unit": "bpm"})
    session = running_session.start(context, "bassoon", "technique")
    assert stand_now(context).call == "muted_mp"
    send(at(context, seconds=1), session, "ladder", tempo="120", school="edge", ceiling="400")
    tempos = []
    for n in range(40):
        now = at(context, seconds=10 + n)
        send(now, session, "run", clean="yes")
        tempos.append(stand_now(now).state.ladder.tempo)
    assert max(tempos) <= highest
