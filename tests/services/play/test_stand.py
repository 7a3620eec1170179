"""The stand by its plan, its questions and its ladder."""

from datetime import timedelta

import pytest

from chirotend.library.loader import grips
from chirotend.services.body.checks import TypedMarks, as_usual, write_marks
from chirotend.services.desk import Refused
from chirotend.services.plan import week_aims
from chirotend.services.plan.week_aims import TypedAim
from chirotend.services.play import sitting
from chirotend.services.play.stand import stand_now
from chirotend.services.score import score_page
from chirotend.store.models import MeasurementRow, PlannedRow
from tests.services.play.steps import at, lay, send


def test_the_session_runs_by_what_was_laid_with_its_rests(desk):
    with pytest.raises(Refused):
        sitting.start_plan(desk)
    lay(desk, 40, 1, "Thirds")
    lay(desk, 20, 2, "Low F")
    session = sitting.start_plan(desk)
    stand = stand_now(desk)
    assert [(b.kind, b.title, b.minutes) for b in stand.bars] == [
        ("play", "Thirds", 30),
        ("rest", "", 5),
        ("play", "Thirds", 10),
        ("rest", "", 5),
        ("play", "Low F", 20),
    ]
    assert (stand.title, stand.bar_min, stand.next_kind) == ("Thirds", 30, "rest")
    send(at(desk, minutes=10), session, "stretch", minutes="5")
    assert stand_now(at(desk, minutes=10)).left_s == 25 * 60
    send(at(desk, minutes=35), session, "rest")
    resting = stand_now(at(desk, minutes=35))
    assert (resting.bar_min, resting.next_title) == (5, "Thirds") and resting.guide is not None
    send(at(desk, minutes=36), session, "block", bar="4")
    assert stand_now(at(desk, minutes=36)).title == "Low F"
    strips = score_page.stand_strips(stand_now(at(desk, minutes=36)))
    assert strips is not None and strips[0].width > strips[1].width
    send(at(desk, minutes=50), session, "rest")
    assert stand_now(at(desk, minutes=50)).next_kind == "play"  # past its plan it goes on by the preset


def test_a_mark_while_playing_moves_her_to_no_other_bar(desk):
    """The list was once worked out anew at each look: a mark of pain cut it shorter and she stood in another aim."""
    as_usual(desk)
    lay(desk, 60, 1, "Thirds")
    lay(desk, 30, 2.5, "Low F")
    session = sitting.start_plan(desk)
    titles = [b.title for b in stand_now(desk).bars]
    send(at(desk, minutes=30), session, "rest")
    send(at(desk, minutes=35), session, "block")
    before = stand_now(at(desk, minutes=36))
    write_marks(at(desk, minutes=36), TypedMarks(("thumb_ball.left",), "pain", 3.0, ("playing",)), desk.today)
    after = stand_now(at(desk, minutes=36))
    assert after.call == "muted_mp" and before.call != after.call
    assert (after.title, after.bar, [b.title for b in after.bars]) == (before.title, before.bar, titles)
    assert after.bar_min == 20 and after.next_min >= 5
    desk.store.shelf(PlannedRow).drop("Low F")
    assert [b.title for b in stand_now(at(desk, minutes=36)).bars] == titles


def test_an_aim_with_a_grip_says_how_to_hold_it_on_the_stand(desk):
    desk.player.instruments = ["snare"]
    (first, *_) = week_aims.holds_for(desk, postures=False)
    aim = week_aims.write_aim(desk, desk.today, TypedAim("Rolls", 40, grip=first))
    lay(desk, 20, 1, "Rolls", "snare")
    desk.store.shelf(PlannedRow).get("Rolls").aim_uid = aim
    sitting.start_plan(desk)
    assert grips()[first].check in stand_now(desk).how
    with pytest.raises(Refused):
        week_aims.write_aim(desk, desk.today, TypedAim("Rolls", 40, grip="upside_down"))


def test_a_muted_day_cuts_what_was_laid_into_its_bars(desk):
    write_marks(desk, TypedMarks(("thumb_ball.left",), "pain", 4.0, ("waking",)), desk.today)
    lay(desk, 40, 1, "Thirds")
    sitting.start_plan(desk)
    assert [b.minutes for b in stand_now(desk).bars if b.kind == "play"] == [
        10
    ] * 4  # a morning worse than usual: bars of 10


def test_a_long_rest_offers_to_lie_down_and_a_short_one_never(desk):
    session = sitting.start(desk, "tin whistle", "repertoire")
    send(at(desk, minutes=30), session, "rest")
    assert stand_now(at(desk, minutes=30)).guide.id != "lie_down"
    send(at(desk, minutes=35), session, "block")
    send(at(desk, minutes=55), session, "rest")
    stand = stand_now(at(desk, minutes=55))
    assert stand.guide.id == "lie_down" and "head last" in " ".join(stand.guide.text)


def test_the_stand_asks_about_her_own_weak_spot_and_tight_is_a_mark(desk):
    for back in range(1, 5):
        write_marks(
            desk, TypedMarks(("jaw_joint.left",), "tension", 2.0, ("playing",)), desk.today - timedelta(days=back)
        )
    as_usual(desk)
    session = sitting.start(desk, "bassoon", "repertoire")
    assert stand_now(at(desk, minutes=5)).prompt is None
    later = at(desk, minutes=9)
    prompt = stand_now(later).prompt
    assert prompt is not None and prompt.id == "jaw"
    send(later, session, "answer", prompt="jaw", said="tight", place=prompt.place)
    assert stand_now(later).prompt is None
    assert [m.place for m in stand_now(later).state.marks] == ["jaw"]


def test_a_player_without_marks_is_asked_nothing(desk):
    sitting.start(desk, "bassoon", "repertoire")
    assert all(stand_now(at(desk, minutes=m)).prompt is None for m in range(0, 90, 3))


def test_muted_never_shortens_a_rest(desk):
    as_usual(desk)
    write_marks(desk, TypedMarks(("thumb_ball.left",), "pain", 3.0, ("playing",)), desk.today)
    session = sitting.start(desk, "tin whistle", "repertoire")
    assert stand_now(desk).call == "muted_mp"
    for minute in (20, 45):
        send(at(desk, minutes=minute), session, "rest")
        send(at(desk, minutes=minute + 5), session, "block")
    send(at(desk, minutes=70), session, "rest")
    plain = 15.0  # the fixed preset: 30, rest 5, 20, then a longer rest of 15
    assert stand_now(at(desk, minutes=45)).bar_min >= 5.0
    assert max(stand_now(at(desk, minutes=m)).bar_min for m in (20, 45, 70)) == plain


@pytest.mark.parametrize(("kept", "highest"), [(None, 120), (100.0, 80), (200.0, 160)])
def test_under_muted_a_ladder_never_passes_the_ceiling(desk, kept, highest):
    as_usual(desk)
    write_marks(desk, TypedMarks(("thumb_ball.left",), "pain", 3.0, ("playing",)), desk.today)
    if kept is not None:
        top = {"uid": "t", "day": desk.today, "at_utc": desk.now, "method": "tempo.top_clean", "version": 1}
        desk.store.shelf(MeasurementRow).put({**top, "instrument": "bassoon", "value": kept, "unit": "bpm"})
    session = sitting.start(desk, "bassoon", "technique")
    assert stand_now(desk).call == "muted_mp"
    send(at(desk, seconds=1), session, "ladder", tempo="120", school="edge", ceiling="400")
    tempos = []
    for n in range(40):
        now = at(desk, seconds=10 + n)
        send(now, session, "run", clean="yes")
        tempos.append(stand_now(now).state.ladder.tempo)
    assert max(tempos) <= highest
