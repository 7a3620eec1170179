"""The week laid inside her usual; blocks moved by hand."""

from dataclasses import replace
from datetime import UTC, date, datetime, time, timedelta

import pytest

from chirotend.core.plan.week import plan_rules
from chirotend.core.plan.week_problem import monday
from chirotend.services.body.checks import TypedMarks, write_marks
from chirotend.services.context import FieldError, NotThere
from chirotend.services.kit.profile import say
from chirotend.services.plan import days_ahead, engagements, own_blocks, plan_page, scheduling, week_aims
from chirotend.services.plan.engagements import Typed
from chirotend.services.plan.week_aims import TypedAim
from chirotend.services.record import corrections
from chirotend.store.models import PlannedRow
from tests.services.conftest import NEXT


def test_the_week_is_laid_inside_her_usual_and_what_was_moved_by_hand_stays(played):
    engagements.write(played, Typed(NEXT + timedelta(days=3), time(19), time(22), "Concert"))
    for title in ("Low F", "Thirds", "Act II"):
        week_aims.write_aim(played, NEXT, TypedAim(title, 60, 4, "bassoon"))
    assert scheduling.schedule(played, NEXT) == 180
    what = days_ahead.ahead(played, NEXT, NEXT + timedelta(days=6))
    laid_days = {b.day for b in what.blocks}
    assert len(laid_days) >= 4
    assert max(what.loads[d] for d in laid_days) <= what.day_high
    own = what.blocks[0]
    moved = own_blocks.move(played, own.uid, minutes=45, days=1)
    assert moved.laid_by == "hand"
    scheduling.schedule(played, NEXT)
    again = own_blocks.blocks_between(played, NEXT, NEXT + timedelta(days=6))
    assert moved in again
    assert sum(b.minutes for b in again) == pytest.approx(180)
    night = NEXT + timedelta(days=3)
    assert sum(b.minutes for b in again if b.day == night) <= plan_rules().performance_day_most_min
    concert = engagements.between(played, night, night)[0]
    assert not any(b.start_utc < concert.end_utc and concert.start_utc < b.end_utc for b in again)


def test_what_found_no_place_says_why_and_keeps_it(played):
    say(played, rest_weekday="1", rest_school="day off", from_hour=9.0, to_hour=9.5)
    week_aims.write_aim(played, NEXT, TypedAim("Thirds", 600, 8, "bassoon"))
    scheduling.schedule(played, NEXT)
    (row,) = week_aims.aims(played, NEXT)
    assert row.unlaid.startswith("4") and "minutes of Thirds" in row.unlaid and "off on Tuesday" in row.unlaid


def test_nothing_new_is_laid_while_muted_and_the_dose_is_the_ceiling(played):
    write_marks(played, TypedMarks(("thumb_base_joint.left",), "pain", 3.0, ("waking",)), played.today)
    week = monday(played.today)
    new = week_aims.write_aim(played, week, TypedAim("New solo", 40, 4, "bassoon", new_hard=True))
    week_aims.write_aim(played, week, TypedAim("Old song", 300, 4, "bassoon"))
    scheduling.schedule(played, week)
    rows = {row.uid: row for row in week_aims.aims(played, week)}
    assert "nothing new while Muted" in rows[new].unlaid
    blocks = own_blocks.blocks_between(played, played.today, played.today)
    assert sum(b.minutes for b in blocks) <= 70
    assert all(b.title == "Old song" for b in blocks)


def test_a_new_instrument_is_laid_by_its_first_dose(played):
    week_aims.write_aim(played, NEXT, TypedAim("Contra, low", 60, 4, "contrabassoon"))
    scheduling.schedule(played, NEXT)
    (row,) = week_aims.aims(played, NEXT)
    assert "a new instrument grows slowly" in row.unlaid
    engagements.write(played, Typed(NEXT, time(19), time(22), "Concert", instrument="contrabassoon"))
    page = plan_page.planned_week_page(played, NEXT)
    assert any("contrabassoon is new to your hands (0 days played)" in j.sentence for j in page.jumps)


def test_without_a_usual_an_hour_a_day_is_laid(context):
    week_aims.write_aim(context, NEXT, TypedAim("Scales", 600, 4, "bassoon"))
    assert 0 < scheduling.schedule(context, NEXT) <= 7 * 60
    assert not plan_page.planned_week_page(context, NEXT).has_baseline


def test_a_block_cannot_be_moved_onto_something_or_into_the_past(played):
    week_aims.write_aim(played, NEXT, TypedAim("Thirds", 20, 4, "bassoon"))
    scheduling.schedule(played, NEXT)
    (only,) = own_blocks.blocks_between(played, NEXT, NEXT + timedelta(days=6))
    local = only.start_utc.astimezone(played.zone)
    engagements.write(
        played, Typed(local.date() + timedelta(days=1), local.time(), (local + timedelta(hours=1)).time(), "Lesson")
    )
    for by in ({"days": 1}, {"days": -30}, {"longer": 500}):
        with pytest.raises(FieldError):
            own_blocks.move(played, only.uid, **by)
    assert own_blocks.block_of(played, only.uid) == only
    own_blocks.rub_out(played, only.uid)
    with pytest.raises(NotThere):
        own_blocks.block_of(played, only.uid)
    undo = corrections.offered(played)
    assert undo is not None
    corrections.undo(played, undo.number)
    assert own_blocks.block_of(played, only.uid) == only


def test_a_block_keeps_its_local_hour_over_the_change_of_clocks(context):
    before = replace(context, now=datetime(2026, 10, 20, 8, tzinfo=UTC))
    start = datetime(2026, 10, 24, 8, tzinfo=UTC)  # 10.00 in Vienna, the day before the clocks go back
    before.store.repository(PlannedRow).put(
        {"uid": "b", "day": date(2026, 10, 24), "start_utc": start, "minutes": 30, "effort": 4, "laid_by": "hand"}
    )
    assert own_blocks.move(before, "b", days=1).start_utc == datetime(2026, 10, 25, 9, tzinfo=UTC)


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        (TypedAim("", 30), "aim_title"),
        (TypedAim("x", None), "aim_minutes"),
        (TypedAim("x", 3), "aim_minutes"),
        (TypedAim("x", 30, 12), "aim_effort"),
        (TypedAim("x", 30, manner="wild"), "aim_manner"),
    ],
)
def test_an_aim_that_cannot_be_is_refused(context, typed, field):
    with pytest.raises(FieldError) as refused:
        week_aims.write_aim(context, NEXT, typed)
    assert refused.value.field == field
