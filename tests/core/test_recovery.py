"""The way back, step by step, and the evidence it reads (clinical rules; what they left open in docs/methods.md)."""

from datetime import UTC, date, datetime, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.recovery import Recovery, baseline_before, carried, carried_over, clear_waking, morning_of
from chirotend.core.judge.rules import MUTED_MP, MUTED_PP, OPEN, TACET, muted_dose
from chirotend.core.judge.signs import signs
from chirotend.core.record import Block, DayNote, Record, Session, overlap
from tests.core.diary import TODAY, Diary, mark

THUMB = (("wrist & thumb", "left"),)
CAUSE = ((*THUMB[0], "pain", 4.0),)


def rested(minutes: float = 30) -> Diary:
    return Diary().steady(until=2).plays(1, minutes).checks_in(1, "waking").checks_in(0, "waking")


@pytest.mark.parametrize(
    ("level", "minutes", "counts", "why"),
    [
        (MUTED_MP, 30, 1, ""),
        (MUTED_MP, 70, 1, ""),  # above the limit of 47, within her usual day
        (MUTED_MP, 200, 0.5, "over_limit"),
        (MUTED_PP, 20, 1, ""),
        (MUTED_PP, 27.9, 1, ""),  # the limit is 27: what a clock counts of a minute is no minute more
        (MUTED_PP, 28, 0.5, "over_limit"),
        (TACET, 20, 0.5, "played"),
    ],
)
def test_a_clear_morning_counts_whole_after_a_day_within_the_limit_and_half_after_more(level, minutes, counts, why):
    morning = morning_of(Recovery(level), rested(minutes).evidence())
    assert (morning.counts, morning.why) == (counts, why)


def test_a_day_off_or_one_that_is_not_written_counts_too():
    off = Diary().steady(until=2).off(1).checks_in(1, "waking").checks_in(0, "waking").evidence()
    silent = Diary().steady(until=2).checks_in(0, "waking").evidence()
    for recovery, of_off, of_silent in (
        (Recovery(TACET), 1, 1),
        (Recovery(MUTED_MP), 1, 0.5),
        (Recovery(MUTED_MP, nerve=True), 0.5, 0.5),
        (Recovery(MUTED_PP), 0.5, 0.5),
    ):
        assert (morning_of(recovery, off).counts, morning_of(recovery, silent).counts) == (of_off, of_silent)


def test_a_clear_evening_without_a_waking_check_counts_half():
    evening = Diary().steady(until=2).plays(1, 30).checks_in(1, "after").evidence()
    assert morning_of(Recovery(MUTED_PP), evening).counts == 0.25  # above the limit too
    within = Diary().steady(until=2).plays(1, 20).checks_in(1, "after").evidence()
    morning = morning_of(Recovery(MUTED_PP), within)
    assert (morning.counts, morning.why) == (0.5, "evening")
    sore = Diary().steady(until=2).plays(1, 20).checks_in(1, "after", mark("pain", 3)).evidence()
    assert morning_of(Recovery(MUTED_PP), sore).why == "not_clear"


def test_days_between_two_calls_count_as_they_are_written():
    diary = Diary().steady(days=64, until=5)
    for back in (4, 3, 2, 1):
        diary.plays(back, 20).checks_in(back, "waking")
    held = carried_over(Recovery(MUTED_PP), TODAY - timedelta(days=4), diary.evidence())
    assert (held.level, held.clear, held.since) == (OPEN, 0, None)
    nerve = carried_over(Recovery(MUTED_PP, nerve=True), TODAY - timedelta(days=4), diary.evidence())
    assert (nerve.level, nerve.clear) == (MUTED_PP, 3)


def test_a_start_dose_is_the_limit_where_it_is_smaller_than_the_share():
    given_dose = Recovery(MUTED_PP, start_dose_min=15)
    counts = [morning_of(given_dose, rested(minutes).evidence()).counts for minutes in (15, 16)]
    assert counts == [1, 0.5]
    assert morning_of(Recovery(MUTED_PP, start_dose_min=200), rested(60).evidence()).counts == 0.5


@pytest.mark.parametrize(
    ("entry", "clear"),
    [
        (mark("tension", 1), True),
        (mark("tension", 2), False),
        (mark("tension", 5, "neck_back", "right"), True),
        (mark("pain", 1), True),
        (mark("pain", 2), False),
        (mark("tingling", 1, "neck_back", "right"), False),
        (mark("numbness", 1), False),
        (mark("weakness", 1), False),
    ],
)
def test_what_a_clear_waking_is(entry, clear):
    diary = rested().checks_in(0, "waking", entry)
    assert clear_waking(diary.evidence(), THUMB) == clear
    evening = rested().checks_in(1, "after", entry)
    assert clear_waking(evening.evidence(), THUMB) == clear


def test_clear_is_judged_against_her_own_usual():
    used = Diary().steady(until=1, entries=[mark("tension", 3)]).checks_in(0, "waking", mark("tension", 4))
    assert clear_waking(used.evidence(), THUMB)
    assert not clear_waking(used.checks_in(0, "waking", mark("tension", 5)).evidence(), THUMB)


@pytest.mark.parametrize(
    ("before", "after"),
    [
        (Recovery(OPEN), Recovery(OPEN)),
        (Recovery(TACET, held=True), Recovery(TACET, held=True)),
        (Recovery(MUTED_PP, causes=CAUSE), Recovery(MUTED_PP, clear=1, causes=CAUSE)),
        (Recovery(MUTED_MP), Recovery(OPEN, settled_until=TODAY - timedelta(days=1))),
        (
            Recovery(TACET, clear=1.5, causes=CAUSE),
            Recovery(MUTED_MP, causes=CAUSE, settled_until=TODAY - timedelta(days=1), since=TODAY),
        ),
        (
            Recovery(TACET, clear=1.5),
            Recovery(MUTED_PP, settled_until=TODAY - timedelta(days=1), since=TODAY),
        ),
        (Recovery(MUTED_MP, clear=1, nerve=True), Recovery(MUTED_MP, clear=2, nerve=True)),
        (
            Recovery(MUTED_PP, clear=4, nerve=True, start_dose_min=30),
            Recovery(MUTED_MP, nerve=True, settled_until=TODAY - timedelta(days=1), since=TODAY),
        ),
    ],
)
def test_one_step_of_the_way(before, after):
    assert carried(before, rested(20).evidence()) == after


def test_no_waking_check_no_step_and_an_unclear_one_begins_again():
    silent = Diary().steady(until=2).plays(1, 30).evidence()  # nothing asked yesterday either
    assert carried(Recovery(MUTED_MP, clear=1), silent).clear == 1
    worse = rested().checks_in(0, "waking", mark("tension", 4)).evidence()
    assert carried(Recovery(MUTED_MP, clear=1, causes=CAUSE), worse).clear == 1
    assert carried(Recovery(MUTED_MP, clear=1, nerve=True, causes=CAUSE), worse).clear == 0


@given(st.integers(0, 3), st.integers(0, 5), st.booleans(), st.floats(0, 300))
def test_a_morning_never_makes_it_lighter_by_more_than_one_level(level, clear, nerve, minutes):
    before = Recovery(level, clear, nerve)
    after = carried(before, rested(minutes).evidence())
    assert before.level - 1 <= after.level <= before.level


@given(st.floats(0, 600), st.floats(0, 600))
def test_doses_grow_with_usual_up_to_their_ceiling_and_pp_is_never_more_than_mp(a, b):
    low, high = sorted((a, b))
    for level in (MUTED_MP, MUTED_PP):
        assert muted_dose(level, low).minutes <= muted_dose(level, high).minutes
    assert muted_dose(MUTED_PP, a).minutes <= muted_dose(MUTED_MP, a).minutes


def test_the_usual_range_leaves_out_the_last_week_and_days_off():
    """By hand: 42 days ending 7 days ago, played days only; numpy's percentiles of 1..n."""
    diary = Diary()
    for back in range(48, 6, -1):
        diary.plays(back, 10.0 * (49 - back), 1) if back % 7 else diary.off(back)
    diary.plays(3, 600, 10)
    usual = diary.evidence().baseline_load
    played = [10.0 * (49 - back) for back in range(48, 6, -1) if back % 7]
    assert usual is not None and usual.days == len(played)
    assert (usual.low, usual.high) == pytest.approx(tuple(np.percentile(played, [10, 90])))
    few = Diary()
    for back in range(13, 7, -1):
        few.plays(back)
    assert few.evidence().baseline_load is None


def test_usual_is_the_median_of_answered_days_and_unanswered_ones_do_not_count():
    diary = Diary()
    for back, strength in ((5, 4), (4, 0), (3, 2)):
        diary.checks_in(back, "waking", mark("tension", strength))
    evidence = diary.checks_in(0, "waking", mark("tension", 9)).evidence()
    (by_day,) = evidence.daily_worst(("tension",)).values()
    assert evidence.baseline(by_day, THUMB[0], ("tension",)) == 2
    assert Evidence(Record(), TODAY, datetime(2026, 11, 12, tzinfo=UTC)).baseline({}, THUMB[0], ("tension",)) == 0


def test_signs_need_answers_of_late_and_forget_over_a_long_gap():
    rising = Diary().steady(until=12)
    for back in range(11, -1, -1):
        rising.checks_in(back, "waking", mark("tension", 3))
    (sign,) = signs(rising.evidence())
    assert sign.speaks and sign.since == TODAY - timedelta(days=11) and sign.raised_on > sign.since
    assert signs(rising.evidence(overruled_until=TODAY)) == ()
    gap = Diary().steady(until=30)
    for back in range(9, -1, -1):
        gap.checks_in(back, "waking", mark("tension", 3))
    assert all(s.height == s.odds for s in signs(gap.evidence()))  # the rank sum begins again after the gap
    assert signs(Diary().steady(until=20).evidence()) == ()  # 20 days without an answer


def test_overlaps_need_times_and_another_session():
    nine = datetime(2026, 11, 12, 9, tzinfo=UTC)

    def sat(uid: str, start: int | None, minutes: int) -> Session:
        begin = nine + timedelta(minutes=start) if start is not None else None
        end = begin + timedelta(minutes=minutes) if begin else None
        return Session(uid, date(2026, 11, 12), (Block(minutes),), None, begin, end)

    first = sat("a", 0, 60)
    assert overlap(sat("b", 59, 10), [first]) is first
    for free in (sat("b", 60, 10), sat("b", -10, 10), sat("b", None, 500), sat("a", 10, 10)):
        assert overlap(free, [first]) is None


def test_until_morning_holds_what_was_known_then():
    diary = Diary().plays(1).plays(0).checks_in(1, "after").checks_in(0, "waking").checks_in(0, "after")
    diary.notes.append(DayNote(TODAY, sleep="short"))
    morning = diary.record.until_morning(TODAY)
    assert [s.day for s in morning.sessions] == [TODAY - timedelta(days=1)]
    assert [c.timing for c in morning.checks] == ["after", "waking"] and morning.note(TODAY).sleep == "short"
    assert morning.note(TODAY - timedelta(days=1)) is None


def test_what_is_played_while_muted_never_makes_the_dose_smaller():
    """Her usual stays the one from before the level, so that who keeps to her dose each day comes back."""
    recovery, diary = Recovery(), Diary().steady(days=60, until=41, minutes=100)
    sore, doses = [mark("pain", 3)], []
    for back in range(40, -1, -1):
        diary.checks_in(back, "waking", *(sore if back > 12 else []))
        call = diary.call(back, recovery, morning=True)
        recovery = call.recovery
        if call.dose.minutes is not None:
            diary.plays(back, call.dose.minutes)
            doses.append(call.dose.minutes)
        else:
            diary.plays(back, 100)
    assert len(doses) > 30 and set(doses) <= {muted_dose(level, 108).minutes for level in (MUTED_MP, MUTED_PP)}
    assert recovery.level == OPEN and recovery.usual_min == 108


@pytest.mark.parametrize(("played_since", "usual"), [(1, 108), (28, 108), (29, 60)])
def test_the_usual_from_before_a_level_holds_until_a_usual_was_played_again(played_since, usual):
    diary = Diary()
    for back in range(played_since, 0, -1):
        diary.plays(back, 60)
    released = Recovery(settled_until=TODAY - timedelta(days=played_since + 1), usual_min=108)
    assert baseline_before(released, diary.evidence()) == usual


def test_why_a_morning_is_no_whole_step_is_said_with_its_minutes():
    sore = rested().checks_in(0, "waking", mark("pain", 3))
    unasked = Diary().steady(until=2).plays(1, 30)
    assert morning_of(Recovery(MUTED_MP), sore.evidence()).why == "not_clear"
    assert morning_of(Recovery(MUTED_MP), unasked.evidence()).why == "not_asked"
    for free in (Recovery(OPEN), Recovery(TACET, held=True)):
        assert morning_of(free, sore.evidence()).why == ""
    call = rested(200).call(0, Recovery(MUTED_MP, usual_min=101, limit_min=70))
    assert call.findings[0].values["still"] == "over_limit"
    assert (call.findings[0].values["played"], call.findings[0].values["limit"]) == (200, 70)
