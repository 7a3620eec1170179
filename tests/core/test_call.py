"""Every row of the call table, each with a case that matches and its nearest neighbour that does not (clinical.md)."""

from datetime import UTC, datetime, timedelta
from itertools import product

import pytest

from chirotend.core.judge.call import overruled, seen_by_clinician
from chirotend.core.judge.call_table import HEARD_IN_ROWS
from chirotend.core.judge.recovery import Recovery
from chirotend.core.judge.rules import MUTED_MP, MUTED_PP, OPEN, TACET
from chirotend.core.record import DayNote
from chirotend.core.record.words import SYMPTOM_KINDS, TIMINGS
from tests.core.diary import TODAY, Diary, mark


def steady() -> Diary:
    return Diary().steady().checks_in(0, "waking")


def test_row_10_a_steady_player_plays_as_planned():
    call = steady().call()
    assert (call.call, call.row, call.findings, call.dose.minutes) == ("open", 10, (), None)


@pytest.mark.parametrize(
    ("code", "call", "row"),
    [
        ("chest_pain", "tacet", 1),
        ("hot_swollen_joint", "tacet", 1),
        ("dropping_things", "tacet", 2),
        ("weight_loss", "open", 9),
        ("fever", "tacet", 8),
    ],
)
def test_rows_1_2_and_8_urgent_list(code, call, row):
    seen = steady().checks_in(0, "waking", flags=[code]).call()
    assert (seen.call, seen.row) == (call, row)
    assert seen.urgent == (row == 1)


def test_row_1_both_hands_numb_and_unsteady_walking_are_seen_today():
    seen = steady().checks_in(0, "waking", flags=["bilateral_hand_numbness", "gait_trouble"]).call()
    assert seen.row == 1 and {f.book for f in seen.findings} == {"today"}


@pytest.mark.parametrize(
    ("entry", "call", "row"),
    [
        (mark("numbness", 2, lasting="constant"), "tacet", 2),
        (mark("numbness", 2, lasting="longer"), "tacet", 2),
        (mark("numbness", 2, lasting="brief"), "muted_mp", 5),
        (mark("weakness", 1), "tacet", 2),
        (mark("stiffness", 1, flags=["locked"]), "tacet", 2),
        (mark("stiffness", 1, flags=["catching"]), "open", 10),
        (mark("pain", 1, flags=["swelling"]), "tacet", 2),
        (mark("tension", 1, flags=["loss_of_control"]), "tacet", 2),
        (mark("pain", 5), "tacet", 3),
        (mark("tension", 7), "tacet", 3),
        (mark("stiffness", 7), "tacet", 3),
        (mark("tension", 6), "open", 10),
        (mark("pain", 4), "muted_mp", 5),
        (mark("pain", 3), "muted_mp", 5),
        (mark("pain", 2), "open", 10),
        (mark("tingling", 1), "muted_mp", 5),
        (mark("tingling", 1, lasting="longer"), "muted_pp", 4),
        (mark("pain", 0), "open", 10),
    ],
)
def test_rows_2_to_5_one_mark_after_playing_yesterday(entry, call, row):
    seen = steady().checks_in(1, "after", entry).call()
    assert (seen.call, seen.row) == (call, row)


def test_row_3_twice_in_a_fortnight_is_booked_and_24_hours_pass():
    twice = steady().checks_in(9, "after", mark("pain", 6)).checks_in(0, "waking", mark("pain", 5)).call()
    assert twice.findings[0].book == "two_weeks" and twice.findings[0].values["times"] == 2
    late = datetime(2026, 11, 11, 8, 0, tzinfo=UTC)  # 25 hours before the 9:00 of the diary
    assert steady().checks_in(1, "after", mark("pain", 6), at=late).call().row != 3
    assert steady().checks_in(1, "after", mark("pain", 6), at=late + timedelta(hours=2)).call().row == 3


def test_rows_3_and_4_stages():
    pain = mark("pain", 2)
    assert steady().checks_in(2, "playing", pain).call().call == "open"
    elsewhere = steady().checks_in(2, "playing", pain).checks_in(2, "daily", mark("pain", 2, "neck_back", "right"))
    faint = steady().checks_in(2, "playing", pain).checks_in(2, "daily", mark("pain", 1))
    assert elsewhere.call().call == faint.call().call == "open"
    stage3 = steady().checks_in(2, "playing", pain).checks_in(2, "daily", pain)
    assert (stage3.call().row, stage3.call().call) == (4, "muted_pp")
    assert steady().checks_in(2, "playing", pain, other_uses="all").call().findings[0].values["stage"] == 4
    assert steady().checks_in(2, "playing", pain, other_uses="lost").call().findings[0].values["stage"] == 5


def test_row_4_tingling_on_two_nights_but_a_night_and_its_waking_are_one():
    tingling = mark("tingling", 2)
    one = steady().checks_in(4, "night", tingling).checks_in(3, "waking", tingling).call()
    assert one.call == "open"
    two = steady().checks_in(4, "night", tingling).checks_in(2, "waking", tingling)
    assert two.call().row == 4 and two.call().findings[0].values["nights"] == 2


def test_row_4_playing_days_woken_and_mornings():
    diary = steady()
    for back in (3, 4, 6):
        diary.checks_in(back, "playing", mark("tingling", 1))
    assert "tingling_playing_days" in [f.code for f in diary.call().findings]
    assert steady().checks_in(1, "night", mark("stiffness", 3)).call().findings[0].code == "woken"
    assert steady().checks_in(1, "night", mark("stiffness", 2)).call().call == "open"
    first = steady().checks_in(0, "waking", mark("pain", 2)).call()
    assert (first.call, first.findings[0].code, first.findings[0].book) == ("muted_mp", "first_morning_pain", "")
    worse = steady().checks_in(0, "waking", mark("pain", 4)).call()
    assert (worse.call, worse.findings[0].code) == ("muted_pp", "morning_pain")
    second = steady().checks_in(3, "waking", mark("pain", 2)).checks_in(0, "waking", mark("pain", 2)).call()
    assert (second.call, second.findings[0].code, second.findings[0].book) == ("muted_pp", "morning_pain", "two_weeks")
    used_to_it = Diary().steady(entries=[mark("pain", 2)]).checks_in(0, "waking", mark("pain", 2)).call()
    assert used_to_it.call == "open"


def test_row_6_needs_load_above_usual_or_five_days_and_a_rise_above_her_own_usual():
    tight = mark("tension", 3)

    def tight_of_late(days: int) -> Diary:
        """She knows such days, now and then: no sign speaks."""
        diary = steady()
        for back in (*range(10, 60, 17), *range(days)):
            diary.checks_in(back, "waking", tight)
        return diary

    three = tight_of_late(3)
    assert three.call().call == "open"
    three.plays(1, 120, 8)
    assert (three.call().row, three.call().findings[0].code) == (6, "tightness_with_load")
    five = tight_of_late(5)
    assert five.call().findings[0].code == "tightness" and five.call().overrulable
    always = Diary().steady(entries=[tight]).checks_in(0, "waking", tight)
    assert always.call().call == "open"


def test_row_6_a_slow_rise_raises_a_sign():
    diary = Diary().steady(until=20)
    for back in range(19, -1, -1):
        diary.plays(back, 70).checks_in(back, "waking", mark("tension", 1 if back % 2 else 2))
    call = diary.call()
    assert call.findings[0].code == "risen" and call.findings[0].values["region"] == "wrist & thumb"


def test_row_7_no_call_is_invented():
    assert Diary().call().call == "not_enough"
    assert Diary().steady().call().call == "not_enough"  # no check today
    few = Diary().plays(3).checks_in(0, "waking").call()
    assert few.call == "not_enough" and few.findings[0].values["logged"] == 2


def test_row_8_half_after_a_week_off_a_quarter_after_four_then_ten_minutes_a_day():
    def back_after(days: int) -> Diary:
        diary = Diary().steady(until=days + 1, minutes=92)
        for back in range(days, 0, -1):
            diary.off(back).checks_in(back, "waking")
        return diary.checks_in(0, "waking")

    assert back_after(6).call().row == 10
    week = back_after(7).call()
    assert (week.call, week.row, week.dose.minutes) == ("open", 8, 50)  # usual 100
    assert back_after(28).call().dose.minutes == 25
    second = Diary().steady(until=10, minutes=92)
    for back in range(9, 1, -1):
        second.off(back).checks_in(back, "waking")
    assert second.plays(1, 50).checks_in(1, "waking").checks_in(0, "waking").call().dose.minutes == 60


def test_row_9_load_sleep_or_cold_alone_leave_it_open_within_the_usual_range():
    load = steady().plays(1, 200, 8).call()
    assert (load.call, load.row, load.findings[0].code) == ("open", 9, "load_high")
    assert 70 <= load.dose.minutes <= 76  # her usual days run from 60 to 76 minutes
    cold = steady()
    cold.notes.append(DayNote(TODAY, hands="cold", sleep="broken"))
    assert {f.code for f in cold.call().findings} == {"sleep", "cold"}


def test_all_matching_rows_are_listed_and_the_strictest_decides():
    call = steady().checks_in(0, "waking", mark("pain", 3), mark("weakness", 2), flags=["chest_pain"]).call()
    assert call.row == 1 and {f.row for f in call.findings} >= {1, 2, 5}


def walk(diary: Diary, start: int, recovery: Recovery | None = None) -> list[str]:
    """Give the calls of each morning from `start` days back, as the application would have, carrying the recovery."""
    said = []
    for back in range(start, -1, -1):
        call = diary.call(back, recovery, morning=True)
        recovery = call.recovery
        said.append(call.call)
    return said


def test_the_way_back_takes_two_clear_wakings_a_level_and_from_mp_one():
    diary = Diary().steady(until=7).checks_in(7, "after", mark("pain", 4))
    for back in range(6, -1, -1):
        diary.plays(back, 20).checks_in(back, "waking")
    assert walk(diary, 7) == ["open", "muted_mp", *["open"] * 6]
    diary.checks_in(7, "night", mark("pain", 4))
    assert walk(diary, 7)[1:] == ["muted_pp", "muted_pp", "muted_mp", "open", "open", "open", "open"]


def test_strong_pain_on_one_day_of_fourteen_leads_back_by_mp_and_on_two_by_pp():
    once = Diary().steady(until=9).checks_in(9, "after", mark("pain", 6))
    for back in range(8, -1, -1):
        (once.plays(back, 20) if back < 7 else once.off(back)).checks_in(back, "waking")
    assert walk(once, 9) == ["open", "tacet", "tacet", "muted_mp", *["open"] * 6]
    twice = once.checks_in(16, "after", mark("pain", 5))
    assert walk(twice, 9) == ["open", "tacet", "tacet", *["muted_pp"] * 2, "muted_mp", *["open"] * 4]


def test_the_way_back_does_not_count_days_not_logged_nor_days_over_the_dose():
    diary = Diary().steady(until=5).checks_in(5, "after", mark("pain", 4)).checks_in(4, "waking")
    diary.plays(4, 200).checks_in(3, "waking").plays(2, 30).checks_in(1, "waking").plays(1, 30).checks_in(0, "waking")
    assert walk(diary, 5) == ["open", "muted_mp", "muted_mp", "muted_mp", "open", "open"]


def test_nerve_signs_take_five_clear_wakings_a_level():
    diary = Diary().steady(until=15).checks_in(15, "after", mark("tingling", 2, lasting="longer"))
    for back in range(14, -1, -1):
        diary.plays(back, 20).checks_in(back, "waking")
    said = walk(diary, 15)
    assert said[1:6] == ["muted_pp"] * 5 and said[6] == "muted_mp" and said.index("open", 2) == 11


def test_a_mark_above_her_usual_is_not_counted_and_after_nerve_signs_starts_again():
    diary = Diary().steady(until=5).checks_in(5, "after", mark("pain", 4))
    for back in (4, 3, 2, 1, 0):
        diary.plays(back, 30).checks_in(back, "waking")
    diary.checks_in(4, "playing", mark("tension", 2))
    assert walk(diary, 5) == ["open", "muted_mp", "muted_mp", "open", "open", "open"]
    nerve = Recovery(MUTED_MP, 3, nerve=True)
    assert diary.call(3, nerve, morning=True).recovery.clear == 0


def test_rows_1_and_2_open_only_through_the_clinicians_answer():
    diary = Diary().steady(until=6).checks_in(6, "after", mark("weakness", 3))
    for back in range(5, -1, -1):
        diary.off(back).checks_in(back, "waking")
    assert walk(diary, 6) == ["open", *["tacet"] * 6]
    seen = diary.call(0, seen_by_clinician(TODAY, 15), cleared_at=datetime(2026, 11, 12, 8, tzinfo=UTC))
    assert (seen.call, seen.dose.minutes, seen.recovery.wakings_needed) == ("muted_pp", 15, 5)
    again = diary.checks_in(0, "after", mark("weakness", 3), at=datetime(2026, 11, 12, 8, 30, tzinfo=UTC))
    assert again.call(0, seen_by_clinician(TODAY, 15), cleared_at=datetime(2026, 11, 12, 8, tzinfo=UTC)).call == "tacet"


def test_rubbing_out_the_mark_frees_a_held_tacet():
    held = Recovery(TACET, held=True, nerve=True)
    call = steady().call(0, held)
    assert call.call == "tacet" and not call.recovery.held


def test_overruling_settles_what_was_seen_but_not_what_comes():
    diary = steady()
    for back in range(6):
        diary.checks_in(back, "waking", mark("tension", 3))
    call = diary.call(1)
    assert call.recovery.level == MUTED_MP and overruled(call).level == OPEN
    assert diary.call(0, overruled(call)).call == "open"


def test_a_sign_that_stops_her_by_itself_stays_the_reason_beside_a_fever():
    call = steady().checks_in(0, "waking", mark("pain", 6), flags=["fever"]).call()
    assert (call.call, call.row, call.findings[0].code) == ("tacet", 3, "strong_pain")


def test_days_she_played_are_looked_back_for_four_weeks_the_first_included():
    evidence = Diary().plays(29).plays(28).plays(3).plays(0).evidence()
    assert evidence.playing_days(7) == [TODAY, TODAY - timedelta(days=3), TODAY - timedelta(days=28)]


def test_fever_means_no_playing_today_but_leaves_the_way_back_alone():
    call = steady().checks_in(0, "waking", flags=["fever"]).call(0, Recovery(MUTED_PP))
    assert call.call == "tacet" and call.dose.minutes == 0 and call.recovery.level == MUTED_PP


def test_a_faint_rise_is_kept_but_neither_spoken_nor_muted():
    diary = Diary().steady(until=20)
    for back in range(19, -1, -1):
        diary.plays(back, 70).checks_in(back, "waking", *([mark("tension", 1)] if back < 5 else []))
    call = diary.call()
    assert call.call == "open" and [f.code for f in call.findings] == ["faint"]


def test_a_long_lay_off_does_not_make_her_usual_forgotten():
    earlier = tuple((TODAY - timedelta(days=130 - n), 100.0) for n in range(28))
    call = Diary().off(2).off(1).checks_in(1, "waking").checks_in(0, "waking").call(0, earlier=earlier)
    assert (call.row, call.dose.minutes, call.findings[0].values["share"]) == (8, 25, 25)


def test_numbness_whose_end_is_not_known_is_row_4_and_cannot_be_overruled():
    call = steady().checks_in(1, "after", mark("numbness", 2)).checks_in(0, "waking").call()
    assert (call.call, call.row, call.findings[0].code, call.overrulable) == ("muted_pp", 4, "numb_unknown", False)
    assert call.findings[0].nerve and call.findings[0].book == "two_weeks"
    brief = steady().checks_in(1, "after", mark("numbness", 2, lasting="brief")).checks_in(0, "waking").call()
    assert (brief.row, brief.overrulable) == (5, True)


def test_use_lost_through_pain_is_for_someone_within_a_week():
    seen = steady().checks_in(0, "playing", mark("pain", 2)).checks_in(0, "daily", other_uses="lost")
    (stage,) = [f for f in seen.call().findings if f.code == "stage"]
    assert (stage.values["stage"], stage.book) == (5, "week")
    seen = steady().checks_in(0, "playing", mark("pain", 2)).checks_in(0, "daily", other_uses="all")
    assert [f.book for f in seen.call().findings if f.code == "stage"] == ["two_weeks"]


@pytest.mark.parametrize("kind", SYMPTOM_KINDS)
def test_every_kind_of_symptom_is_heard_in_the_rows_that_are_named(kind):
    """However strong, often, long and at whatever time it is marked at one place, and for a week or two."""
    marks = product((1, 2, 4, 5, 8), TIMINGS, (None, "brief", "longer"), (1, 2, 4, 8))
    rows = {finding.row for each in marks for finding in _marked_alone(kind, *each).call(0).findings}
    assert rows == set(HEARD_IN_ROWS[kind])


def _marked_alone(kind: str, strength: float, timing: str, lasting: str | None, days: int) -> Diary:
    diary = Diary().steady().checks_in(0, "waking").plays(0)
    for back in range(days):
        diary.checks_in(back, timing, mark(kind, strength, lasting=lasting))
    return diary
