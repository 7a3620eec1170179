"""A known and stable complaint: what is above it speaks, what belongs to it does not, rows 1-3 never change."""

from datetime import timedelta

import pytest

from chirotend.core.judge.known import REVIEW_DAYS, Known
from chirotend.core.judge.recovery import Recovery
from chirotend.core.judge.rules import OPEN
from chirotend.core.record.words import TIMINGS
from tests.core.diary import TODAY, Diary, mark

THUMB = ("wrist & thumb", "left")


def known(kind: str = "tingling", level: float = 2, since: int = 60, review: int = 24, **kw) -> Known:
    return Known(*THUMB, kind, level, TODAY - timedelta(days=since), TODAY + timedelta(days=review), **kw)


def tingler(*today, every: int = 2) -> Diary:
    """Tingling of 2 after every second day's playing, for sixty days."""
    diary = Diary().steady(days=60, until=1)
    for back in range(60, 0, -1):
        if back % every == 0:
            diary.checks_in(back, "after", mark("tingling", 2, lasting="brief"))
    return diary.checks_in(0, "waking", *today)


def test_a_steady_tingler_is_muted_without_it_and_open_with_it():
    assert tingler().call().call == "muted_pp"
    assert tingler().call(known=(known(),)).call == "open"


@pytest.mark.parametrize(
    ("kind", "intensity", "lasting", "flags", "code"),
    [
        ("tingling", 3, "brief", (), "brief_tingling"),
        ("tingling", 2, "longer", (), "tingling_stays"),
        ("pain", 3, None, (), "moderate_pain"),
        ("tingling", 2, None, ("swelling",), "loss"),
        ("numbness", 2, "constant", (), "loss"),
        ("weakness", 1, None, (), "loss"),
        ("pain", 5, None, (), "strong_pain"),
    ],
)
def test_what_is_above_it_or_another_thing_speaks(kind, intensity, lasting, flags, code):
    call = tingler().checks_in(0, "after", mark(kind, intensity, lasting=lasting, flags=flags)).call(known=(known(),))
    assert code in {f.code for f in call.findings}


def test_the_same_at_another_place_speaks():
    call = tingler().checks_in(0, "after", mark("tingling", 1, side="right", lasting="brief")).call(known=(known(),))
    assert [f.code for f in call.findings] == ["brief_tingling"]


def test_a_night_speaks_unless_nights_are_known():
    woken = tingler().checks_in(1, "night", mark("tingling", 2))
    assert "woken" in {f.code for f in woken.call(known=(known(),)).findings}
    assert woken.call(known=(known(timings=frozenset(TIMINGS)),)).call == "open"
    lasting = tingler().checks_in(0, "after", mark("tingling", 2, lasting="longer"))
    assert lasting.call(known=(known(lasts=True),)).call == "open"


def test_rows_one_to_three_never_change():
    for lasts in (False, True):
        always = frozenset(TIMINGS)
        all_known = tuple(known(k, 4, lasts=lasts, timings=always) for k in ("pain", "numbness", "tingling"))
        numb = tingler().checks_in(0, "after", mark("numbness", 1, lasting="longer")).call(known=all_known)
        assert (numb.call, numb.row) == ("tacet", 2)
        strong = tingler().checks_in(0, "after", mark("pain", 5)).call(known=all_known)
        assert (strong.call, strong.row) == ("tacet", 3)
        urgent = tingler().checks_in(0, "waking", flags=["sudden_weakness"]).call(known=all_known)
        assert (urgent.call, urgent.row) == ("tacet", 1)


def test_it_speaks_before_it_was_known_and_after_its_review():
    assert tingler().call(known=(known(since=1),)).call == "muted_pp"
    past = known(review=-1)
    again = tingler().checks_in(0, "after", mark("tingling", 1, lasting="brief")).call(known=(past,))
    assert [f.code for f in again.findings] == ["brief_tingling"]


def test_a_morning_or_tightness_is_measured_from_what_is_known():
    sore = Diary().steady(days=40, until=1)
    for back in range(40, -1, -1):
        sore.checks_in(back, "waking", mark("pain", 2))
    assert sore.checks_in(0, "waking", mark("pain", 3)).call(known=(known("pain", 2),)).call == "muted_mp"
    stiff = Diary().steady(days=40, until=7)
    for back in range(6, -1, -1):
        stiff.plays(back).checks_in(back, "waking", mark("tension", 4))
    assert "tightness" in {f.code for f in stiff.call().findings}
    assert "tightness" not in {f.code for f in stiff.call(known=(known("tension", 3),)).findings}


def test_wakings_at_what_is_known_are_clear():
    """Who was Muted for it comes back once it is known: her usual is what a clinician has seen."""
    recovery = tingler().call().recovery
    diary = tingler(mark("tingling", 2))
    assert diary.call(0, recovery, known=(known(),)).recovery.clear == recovery.clear
    quiet = Diary().steady(days=60, until=2).plays(1, 20).checks_in(1, "after", mark("tingling", 2, lasting="brief"))
    quiet.checks_in(0, "waking", mark("tingling", 1))
    before = Recovery(recovery.level, 1, nerve=True, usual_min=68)
    assert quiet.call(0, before, known=(known(),)).recovery.clear == 2
    assert quiet.call(0, before).recovery.clear == 0


def test_pain_known_while_playing_says_nothing_of_pain_on_waking():
    playing = known("pain", 3, timings=frozenset({"playing"}))
    diary = Diary().steady(days=40, until=1)
    for back in range(20, -1, -1):
        diary.checks_in(back, "playing", mark("pain", 3))
    assert diary.checks_in(0, "waking").call(known=(playing,)).call == "open"
    assert diary.checks_in(0, "waking", mark("pain", 3)).call(known=(playing,)).call.startswith("muted")


def test_a_level_brought_only_by_what_is_known_ends_that_day():
    sore = Diary().steady().checks_in(1, "after", mark("pain", 3)).checks_in(0, "after", mark("pain", 3))
    held = sore.call().recovery
    assert held.level and sore.call(0, held, known=(known("pain", 3),)).call == "open"
    assert sore.call(0, held, known=(known("pain", 2),)).call == "muted_mp"
    assert sore.call(0, held, known=(known("tingling", 3),)).call == "muted_mp"


def test_twelve_weeks():
    assert REVIEW_DAYS == 84 and OPEN == 0
