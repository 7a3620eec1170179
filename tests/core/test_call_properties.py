"""What must hold for every diary: more symptoms never make today lighter, and the day's words hang together."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chirotend.core.body.redflags import red_flags
from chirotend.core.judge.call import Call
from chirotend.core.judge.recovery import Recovery
from chirotend.core.judge.rules import LEVELS
from chirotend.core.record.words import FLAGS, LASTING, SYMPTOM_KINDS, TIMINGS
from tests.core.diary import TODAY, Diary, mark

places = st.sampled_from([("thumb_base_joint", "left"), ("forearm_outer_high", "right"), ("lower_lip", "none")])
marks = st.builds(
    lambda place, kind, intensity, lasting, flags: mark(kind, intensity, *place, lasting, sorted(flags)),
    places,
    st.sampled_from(SYMPTOM_KINDS),
    st.integers(0, 10),
    st.none() | st.sampled_from(LASTING),
    st.sets(st.sampled_from(FLAGS), max_size=1),
)
written = st.lists(st.tuples(st.integers(0, 12), st.sampled_from(TIMINGS), marks), max_size=6)
standings = st.builds(Recovery, st.integers(0, 3), st.integers(0, 4), st.booleans())


def diary_of(entries) -> Diary:
    diary = Diary().steady(days=40).checks_in(0, "waking")
    for back, timing, entry in entries:
        diary.checks_in(back, timing, entry)
    return diary


def level(call: Call) -> int:
    return LEVELS.index(call.call) if call.call in LEVELS else 0


@settings(max_examples=60)
@given(written, st.sampled_from(TIMINGS), marks, standings)
def test_another_mark_today_never_makes_the_call_lighter(entries, timing, entry, before):
    lighter = diary_of(entries).call(0, before)
    heavier = diary_of([*entries, (0, timing, entry)]).call(0, before)
    assert level(heavier) >= level(lighter)


@settings(max_examples=60)
@given(written, st.sets(st.sampled_from(sorted(red_flags())), max_size=3), standings)
def test_a_sign_of_the_urgent_list_never_makes_it_lighter_and_row_1_comes_first(entries, flags, before):
    plain = diary_of(entries).call(0, before)
    flagged = diary_of(entries).checks_in(0, "daily", flags=sorted(flags)).call(0, before)
    assert level(flagged) >= level(plain)
    if any(red_flags()[f].tier in ("emergency", "same_day") for f in flags):
        assert flagged.call == "tacet" and flagged.findings[0].row <= 1 and flagged.dose.minutes == 0


@settings(max_examples=80)
@given(written, standings)
def test_the_parts_of_a_call_hang_together(entries, before):
    call = diary_of(entries).call(0, before)
    assert call.row == (call.findings[0].row if call.findings else 10)
    assert call.recovery.level >= level(call) or call.findings[0].code == "fever"
    if call.call.startswith("muted"):
        assert call.dose.minutes and call.dose.block_min and call.dose.tempo_pct < 100
    if call.overrulable:
        assert call.findings[0].row in (5, 6) and all(f.row not in (1, 2, 3, 4) for f in call.findings)
    if call.recovery.held:
        assert call.call == "tacet"


@settings(max_examples=40)
@given(written)
def test_what_was_settled_does_not_speak_again(entries):
    call = diary_of(entries).call(0, Recovery(settled_until=TODAY, overruled_until=TODAY))
    assert [f for f in call.findings if f.row in (3, 4, 5, 6)] == []


@pytest.mark.parametrize("before", [Recovery(level) for level in range(4)])
def test_an_empty_day_carries_its_level(before):
    call = Diary().call(0, before)
    assert call.call == ("not_enough" if before.level == 0 else LEVELS[before.level])
