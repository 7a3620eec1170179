"""A week read back: every line from her entries, nothing from what was not written."""

import inspect
from dataclasses import replace
from datetime import timedelta

import pytest

from chirotend.core.record import Block, DayNote, Session
from chirotend.core.review import week
from chirotend.core.review.week import LINES_MAX, Aim, ReviewLine, week_review
from chirotend.library.loader import review_wordings
from tests.core.diary import TODAY, Diary, mark

#: TODAY is a Thursday: the week before it, Monday to Sunday, lies 10 to 4 days back
MONDAY, SUNDAY = TODAY - timedelta(days=10), TODAY - timedelta(days=4)
THUMB = ("wrist & thumb", "left")


def steady(**kw) -> Diary:
    return Diary().steady(days=80, until=4, **kw)


def lines(diary: Diary, **kw) -> dict[str, ReviewLine]:
    found = week_review(diary.record, MONDAY, SUNDAY, **kw)
    assert len(found.lines) <= LINES_MAX and found.lines[-1].code == "written"
    return {line.code: line for line in (*found.lines, found.change, *([found.better] if found.better else []))}


def test_a_steady_week_says_so_and_changes_the_one_thing_that_is_missing():
    said = lines(steady())
    assert said["load_usual"].values == {"known": 7} and said["nothing_marked"].values == {"asked": 7}
    assert said["no_rest"].values == {"played": 7} and "change_rest" in said
    assert said["written"].values == {"asked": 7, "known": 7, "days": 7}


def test_days_above_her_usual_and_a_climb_to_them():
    diary = steady()
    for back, more in ((8, 20), (7, 60), (6, 100)):
        diary.plays(back, more)
    said = lines(diary)
    assert said["load_over"].values["count"] == 3 and len(said["load_over"].days) == 3
    assert said["load_over"].values["most_on"] == (TODAY - timedelta(days=6)).isoformat()
    assert said["load_over"].values["more"] == round(100 * (164 / 76 - 1))
    assert said["climb"].values["count"] == 5 == said["change_climb"].values["count"]


def test_what_was_not_written_is_neither_rest_nor_nothing():
    diary = Diary().steady(days=80, until=11).plays(9).checks_in(9, "waking", mark("tension", 2))
    said = lines(diary)
    assert said["written"].values == {"asked": 1, "known": 1, "days": 7}
    assert "no_rest" not in said and "rest_days" not in said and "nothing_marked" not in said
    assert said["change_answer"].values == {"asked": 1, "days": 7}
    empty = week_review(Diary().record, MONDAY, SUNDAY)
    assert [line.code for line in empty.lines] == ["written"] and empty.better is None


def test_a_week_that_is_not_over_is_read_as_far_as_it_is_lived():
    diary = Diary().steady(days=80, until=0)
    found = week_review(diary.record, TODAY - timedelta(days=3), TODAY)
    assert found.lines[-1].values == {"asked": 4, "known": 4, "days": 4} and found.change.code != "change_answer"


def test_the_place_marked_most_its_days_and_how_many_on_waking():
    diary = steady()
    for back in (10, 9, 8):
        diary.checks_in(back, "waking" if back > 8 else "after", mark("tension", back - 6))
    diary.checks_in(7, "after", mark("pain", 6, "neck_back"))
    said = lines(diary)["marked"].values
    assert said == {"region": THUMB[0], "side": "left", "count": 3, "asked": 7, "most": 4.0, "waking": 2}
    by_sign = lines(diary, risen=(THUMB,))
    assert by_sign["risen"].values == {"region": THUMB[0], "side": "left"}
    assert by_sign["marked_not_waking"].values["region"] == "neck & shoulder"
    assert by_sign["change_watch"].values["region"] == THUMB[0]


def test_tingling_comes_before_any_change_of_practice():
    diary = steady()
    for back, more in ((8, 20), (7, 60), (6, 100)):
        diary.plays(back, more)
    diary.checks_in(9, "night", mark("tingling", 1)).checks_in(8, "waking", mark("numbness", 1))
    said = lines(diary, risen=(THUMB,))
    assert said["nerve"].values == {"count": 2} and "change_show" in said


def test_performances_rest_warm_ups_sleep_question_and_aims():
    diary = Diary().steady(days=80, until=11)
    for back in range(10, 3, -1):
        diary.checks_in(back, "waking")
        if back == 5:
            diary.off(back)
            continue
        kinds = ("warm-up", "performance") if back in (10, 9, 8) else ("repertoire",)
        day = TODAY - timedelta(days=back)
        diary.sessions.append(Session(f"w{back}", day, tuple(Block(30, kind=kind) for kind in kinds), 4.0))
    diary.sessions[-1] = replace(diary.sessions[-1], question="Where does the thumb live on low B?")
    diary.notes.append(DayNote(TODAY - timedelta(days=7), sleep="short"))
    diary.notes.append(DayNote(TODAY - timedelta(days=6), sleep="sound"))
    aims = (Aim("Thirds", 60, 60, False), Aim("Act II", 120, 80, False), Aim("Low B", 30, 0, True))
    said = lines(diary, aims=aims)
    assert said["dense"].values == {"count": 3} and said["rest_days"].values == {"count": 1}
    assert said["warm_ups"].values == {"count": 3, "of": 6} and said["sleep"].values == {"count": 1, "of": 2}
    assert said["question"].values == {"question": "Where does the thumb live on low B?"}
    assert said["aims_done"].values == {"titles": "Thirds, Low B"}
    assert said["aim_part"].values == {"title": "Act II", "played": 80, "minutes": 120}
    assert "change_none" in said


def test_few_warm_ups_are_a_change_half_are_none():
    diary = steady().off(5)
    diary.sessions = [s for s in diary.sessions if s.day != TODAY - timedelta(days=5)]
    assert "change_warm_up" in lines(diary)


@pytest.mark.parametrize(("marked_of_28", "this_week", "better"), [(16, 1, True), (16, 3, False), (6, 0, False)])
def test_got_better_is_a_fall_by_half_of_a_place_that_was_marked_often(marked_of_28, this_week, better):
    diary = steady()
    for back in range(38, 38 - marked_of_28, -1):
        diary.checks_in(back, "waking", mark("stiffness", 2, "neck_back", "right"))
    for back in range(10, 10 - this_week, -1):
        diary.checks_in(back, "waking", mark("stiffness", 1, "neck_back", "right"))
    said = lines(diary)
    assert ("fewer_marks" in said) == better
    if better:
        assert said["fewer_marks"].values == {
            "region": "neck & shoulder",
            "side": "right",
            "before": 4.0,
            "count": this_week,
        }


def test_every_line_has_its_words():
    source = inspect.getsource(week)
    codes = {part.split('"')[1] for part in source.split("ReviewLine(")[1:] if part.startswith('"')}
    said_by_the_service = {"became"}
    assert codes | {"performances"} | said_by_the_service == set(review_wordings())
