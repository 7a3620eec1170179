"""The search for the least pressure as she does it: answered once each, stopped, compared, answered by the warm-up."""

from dataclasses import replace
from datetime import timedelta

import pytest

from chirotend.devices.listener import answers
from chirotend.formats.probe_data import Pressure
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.record import corrections, measured
from chirotend.services.technique import least_pressure, probes
from chirotend.services.today import warmups

TASK = {"task": "key", "part": "left thumb", "what": "low F", "instrument": "bassoon", "kit": "one reed"}


def searched(context: Context, threshold: float, seed: int = 3, **typed: str) -> str:
    uid = least_pressure.begin(context, {**TASK, **typed})
    for number, each in enumerate(answers(threshold, 2.0, seed)):
        least_pressure.answer(context, uid, number, each.spoke)
    return uid


def test_a_search_ends_by_itself_and_lands_in_her_history(context: Context):
    page = least_pressure.least_pressure_page(context, searched(context, 70))
    assert page.probe.done and page.probe.about.hand == "left"
    assert abs(page.result.wasted - 30) < 5 and f"{page.result.wasted:.0f} % of your press" in page.sentence
    assert "first of its kind" in page.trend and "two minutes" in page.next.lower()
    row = measured.kept(context, "pressure.wasted.key", hand="left")[0]
    assert (row.instrument, row.what, row.unit, row.version) == ("bassoon", "low F, left thumb", "%", 1)
    assert row.value == pytest.approx(page.result.wasted) and row.probe == page.probe.uid


def test_an_answer_counts_once_and_can_be_taken_back(context: Context):
    uid = least_pressure.begin(context, TASK)
    for _ in range(3):
        least_pressure.answer(context, uid, 0, True)
    least_pressure.answer(context, uid, 5, False)
    assert [(t.level, t.spoke) for t in probes.probe(context, uid, Pressure).data.answers] == [(100, True)]
    assert least_pressure.least_pressure_page(context, uid).search.asked == 90
    least_pressure.back(context, uid)
    assert least_pressure.least_pressure_page(context, uid).search.asked == 100
    assert least_pressure.least_pressure_page(context, uid).ask[0] == "Low F,"


def test_stopped_keeps_what_there_is_and_nothing_keeps_nothing(context: Context):
    uid = least_pressure.begin(context, TASK)
    assert least_pressure.stop(context, uid) is False
    with pytest.raises(NotThere):
        least_pressure.least_pressure_page(context, uid)
    uid = least_pressure.begin(context, TASK)
    for number, spoke in enumerate([True, True, False, True, False, True, True]):
        least_pressure.answer(context, uid, number, spoke)
    assert least_pressure.stop(context, uid) is True
    assert least_pressure.least_pressure_page(context, uid).result is not None
    few = least_pressure.begin(context, TASK)
    least_pressure.answer(context, few, 0, True)
    least_pressure.stop(context, few)
    assert "6 are needed" in least_pressure.least_pressure_page(context, few).sentence
    assert len(measured.kept(context, "pressure.wasted.key")) == 1


def test_only_alike_searches_are_compared_and_chance_is_no_change(context: Context):
    before = replace(context, now=context.now - timedelta(days=10))
    searched(before, 55)
    searched(before, 90, kit="another reed")
    page = least_pressure.least_pressure_page(context, searched(context, 75))
    assert "less than on Monday 2 November" in page.trend and "more than chance" in page.trend
    again = least_pressure.least_pressure_page(
        context, searched(replace(context, now=context.now + timedelta(minutes=4)), 74, seed=9)
    )
    assert "too near to tell apart" in again.trend
    assert len(least_pressure.history(context, again.probe)) == 3


def test_a_pad_gives_newtons(context: Context):
    uid = least_pressure.begin(context, {**TASK, "usual_N": "8"})
    for number, each in enumerate(answers(60, 2.0, 4)):
        least_pressure.answer(context, uid, number, each.spoke, f"{8 * each.level / 100:.2f}")
    row = measured.kept(context, "pressure.least.key")[0]
    assert row.value == pytest.approx(8 * 0.65, abs=0.5) and row.unit == "N"
    assert "N." in least_pressure.least_pressure_page(context, uid).sentence


def test_deleted_goes_with_its_values_and_comes_back_whole(context: Context):
    uid = searched(context, 70)
    probes.delete(context, uid)
    assert measured.kept(context, "*") == []
    corrections.undo(context, corrections.offered(context).number)
    assert (
        least_pressure.least_pressure_page(context, uid).probe.done
        and len(measured.kept(context, "pressure.wasted.key")) == 1
    )


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        ({"task": "luck"}, "task"),
        ({"part": "left knee"}, "part"),
        ({"instrument": "kazoo"}, "instrument"),
        ({"usual_N": "900"}, "usual_N"),
        ({"what": "x" * 90}, "what"),
    ],
)
def test_what_cannot_be_searched_for(context: Context, typed, field):
    with pytest.raises(FieldError) as refused:
        least_pressure.begin(context, {**TASK, **typed})
    assert refused.value.field == field
    with pytest.raises(NotThere):
        least_pressure.least_pressure_page(context, "x")


def test_the_warm_up_and_the_week_answer_until_it_is_under_twenty(context: Context):
    assert least_pressure.answered(context) == ()
    searched(context, 65)
    assert "two minutes of light notes" in least_pressure.answered(context)[0]
    shown = {s.entry.id: s for s in warmups.warmup_page(context).steps}
    assert "until it is under 20 %" in shown["least_pressure"].note and not shown["least_pressure"].kept
    searched(replace(context, now=context.now + timedelta(minutes=5)), 88)
    later = replace(context, now=context.now + timedelta(hours=1))
    assert least_pressure.answered(later) == ()
    assert all("under 20 %" not in s.note for s in warmups.warmup_page(later).steps)
