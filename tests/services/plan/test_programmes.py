"""Programmes are begun, obeyed by the call, the plan, the warm-up and the stand, and ended."""

from dataclasses import replace
from datetime import date, time, timedelta
from itertools import combinations

import pytest

from chirotend.core.plan.week_problem import monday
from chirotend.core.record import Check
from chirotend.formats.csv_log import check_uid
from chirotend.services.body.checks import as_usual
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import FieldError, NotThere
from chirotend.services.kit.profile import say
from chirotend.services.plan import days_ahead, engagements, own_blocks, scheduling, week_aims
from chirotend.services.plan.engagements import Typed
from chirotend.services.plan.programmes import begin, shown
from chirotend.services.plan.week_aims import TypedAim
from chirotend.services.record import corrections, log
from chirotend.services.today import warmups
from chirotend.services.today.today_page import todays_page
from chirotend.store.models import EngagementRow, ProgrammeRow
from tests.services.conftest import NEXT

RETURN = {"why": "illness", "start_min": "10", "aim_min": "60"}


def later(context, days):
    return replace(context, now=context.now + timedelta(days=days))


def nothing_felt(context):
    corrections.put(context, Check(check_uid(context.today, "after"), context.today, "after"))


def played_quietly(context, minutes, instrument="bassoon"):
    """A day played within its dose, asked about that day and the morning after; returns the context of that morning."""
    log.write_session(context, log.TypedSession(context.today, minutes, time(8), 3, instrument))
    nothing_felt(context)
    tomorrow = later(context, 1)
    as_usual(tomorrow)
    return tomorrow


def test_its_dose_is_the_ceiling_of_the_call_and_says_why(played):
    begin.begin(played, "return", RETURN)
    today = todays_page(played).issued
    assert (today.effective, today.dose.minutes) == ("open", 10)
    (why,) = [r for r in today.reasons if r.code == "programme"]
    assert why.sentence == "Back after time off: 10 minutes today. These are the minutes it begins with."
    context = played_quietly(played_quietly(played, 10), 10)
    assert todays_page(context).issued.dose.minutes == 12


def test_a_muted_day_never_allows_more_and_is_no_step(played):
    begin.begin(played, "return", RETURN)
    played_quietly(played, 10)
    context = later(played, 1)
    nothing_felt(context)
    log.write_session(context, log.TypedSession(context.today, 10, time(8), 3, "bassoon"))
    context.store.add_call(
        **{
            **{
                name: getattr(todays_call(context).row, name)
                for name in ("day", "issued_utc", "version", "row", "findings", "dose", "standing")
            },
            "call": "muted_mp",
        }
    )
    tomorrow = later(context, 1)
    as_usual(tomorrow)
    (line,) = shown.programmes_page(tomorrow).running
    assert line.headline == "Today 10 minutes, the first step."
    assert line.why == "Yesterday’s call was not Open, so that day is no step."


def test_the_plan_the_warm_up_and_the_stand_keep_to_it(played):
    begin.begin(played, "return", RETURN)
    ahead = days_ahead.ahead(played, NEXT, NEXT + timedelta(days=6))
    assert ahead.ceilings[NEXT] == 14
    week_aims.write_aim(played, NEXT, TypedAim("Thirds", 280, 4, "bassoon"))
    week_aims.write_aim(played, NEXT, TypedAim("New octet", 60, 4, "bassoon", new_hard=True))
    scheduling.schedule(played, NEXT)
    blocks = own_blocks.blocks_between(played, NEXT, NEXT + timedelta(days=6))
    by_day = {day: sum(b.minutes for b in blocks if b.day == day) for day in {b.day for b in blocks}}
    assert all(minutes <= ahead.ceilings[day] for day, minutes in by_day.items())
    (waits,) = [a.unlaid for a in week_aims.aims(played, NEXT) if a.new_hard]
    assert waits == "New octet: nothing new while “Back after time off” runs; it waits."
    page = warmups.warmup_page(played)
    assert page.warmup.minutes <= 5
    assert page.left_out[0] == "5 minutes instead of 12: half of what today’s limit leaves."


def test_a_date_above_the_dose_is_handed_over_lightened_or_taken_with_a_reason(played):
    begin.begin(played, "return", RETURN)
    for day in range(3):
        when = NEXT + timedelta(days=day)
        engagements.write(played, Typed(when, time(19), time(21), f"Night {day}", "performance", "bassoon", 95, 6))
    rows = {c.row.title: c for c in shown.programmes_page(played).conflicts}
    assert rows["Night 0"].sentence == "Monday 16 November: Night 0 asks 95 minutes. That day’s limit is 14."
    shown.settle(played, rows["Night 0"].row.uid, "lighten", "")
    shown.settle(played, rows["Night 1"].row.uid, "hand_over", "")
    with pytest.raises(FieldError) as refused:
        shown.settle(played, rows["Night 2"].row.uid, "take", " ")
    assert refused.value.field == "reason"
    shown.settle(played, rows["Night 2"].row.uid, "take", "Nobody else knows it.")
    assert not shown.programmes_page(played).conflicts
    left = {r.title: (r.minutes, r.reason) for r in played.store.repository(EngagementRow).all()}
    assert left == {"Night 0": (14, ""), "Night 2": (95, "Nobody else knows it.")}
    with pytest.raises(NotThere):
        shown.settle(played, rows["Night 1"].row.uid, "hand_over", "")


@pytest.mark.parametrize(
    ("key", "typed", "field"),
    [
        ("return", {**RETURN, "start_min": "0"}, "start_min"),
        ("return", {**RETURN, "start_min": "600"}, "start_min"),
        ("return", {**RETURN, "start_min": "soon"}, "start_min"),
        ("return", {**RETURN, "aim_min": "5"}, "aim_min"),
        ("return", {**RETURN, "why": "operation"}, "start_min"),
        ("return", {**RETURN, "why": "operation", "by_clinician": "yes", "start_min": ""}, "start_min"),
        ("return", {**RETURN, "why": ""}, "why"),
        ("return", {**RETURN, "first": "2020-01-01"}, "first"),
        ("new_instrument", {"instrument": "kazoo", "aim_min": "30"}, "instrument"),
        ("change_stop", {"what": " "}, "what"),
        ("retraining", {"what": "embouchure"}, "teacher"),
        ("season", {"until": "2026-11-14", "target_min": "20"}, "until"),
        ("season", {"until": "2027-01-14", "target_min": "200"}, "target_min"),
        ("weak_hand", {}, "hand"),
    ],
)
def test_what_cannot_be_begun_says_what_is_wrong_and_keeps_nothing(played, key, typed, field):
    with pytest.raises(FieldError) as refused:
        begin.begin(played, key, typed)
    assert refused.value.field == field
    assert not played.store.repository(ProgrammeRow).all()


def test_one_programme_on_top_of_another_is_refused_by_name(played):
    begin.begin(played, "return", RETURN)
    with pytest.raises(FieldError, match="“Back after time off” is there since 12 November"):
        begin.begin(played, "half_hour", {})
    begin_uid = played.store.repository(ProgrammeRow).all()[0].uid
    begin.end(played, begin_uid, "Well again.")
    begin.begin(played, "half_hour", {})
    assert [p.note for p in shown.programmes_page(played).ended] == ["Well again."]


def test_a_month_of_nothing_else_takes_no_engagement(played):
    begin.begin(played, "change_stop", {"what": "left thumb off the tube"})
    engagements.write(played, Typed(NEXT, time(19), time(20), "Night", "performance", "bassoon", 5, 6))
    (clash,) = shown.programmes_page(played).conflicts
    assert clash.sentence.endswith("asks 5 minutes. Easy music only, no engagements.")
    assert clash.left_min == 0
    assert todays_page(played).issued.dose.minutes == round(0.15 * (todays_call(played).evidence.baseline_minutes or 0))
    (ceiling,) = todays_call(later(played, 18)).evidence.ceilings
    assert (ceiling.why, ceiling.number) == ("week", 3)


def test_a_new_instrument_climbs_beside_the_others(played):
    begin.begin(played, "new_instrument", {"instrument": "contrabassoon", "start_min": "", "aim_min": "30"})
    assert todays_call(played).issued.dose.minutes is None or todays_page(played).issued.dose.minutes > 60
    week_aims.write_aim(played, NEXT, TypedAim("Low notes", 200, 4, "contrabassoon"))
    scheduling.schedule(played, NEXT)
    blocks = own_blocks.blocks_between(played, NEXT, NEXT + timedelta(days=6))
    assert all(sum(b.minutes for b in blocks if b.day == day) <= 10 for day in {b.day for b in blocks})
    assert shown.todays_lines(played)[0].startswith("A new or larger instrument. Today 5 minutes, the first step.")
    assert shown.todays_lines(played)[0].endswith("Play only the few notes that sit best.")
    context = played_quietly(played_quietly(played, 5, "contrabassoon"), 5, "contrabassoon")
    assert shown.todays_lines(context)[0].endswith("One note wider than at the start, and no more.")


def test_a_season_never_lays_more_than_its_week(played):
    begin.begin(played, "season", {"until": "2027-01-15", "target_min": "9", "first": "2026-11-12"})
    tired = later(played, 4)
    week_aims.write_aim(tired, NEXT, TypedAim("Thirds", 900, 4, "bassoon"))
    scheduling.schedule(tired, NEXT)
    scheduled = sum(b.minutes for b in own_blocks.blocks_between(tired, NEXT, NEXT + timedelta(days=6)))
    (line,) = shown.programmes_page(tired).running
    assert 0 < scheduled <= line.programme.season_min[0]


def test_the_weaker_hand_has_its_time_and_the_half_hour_its_strokes(played):
    say(played, warm_minutes=40)
    assert not any(
        s.step.hand == "right" and s.step.exercise.hands == "weak" for s in warmups.warmup_page(played).steps
    )
    begin.begin(played, "weak_hand", {"hand": "right"})
    begin.begin(played, "half_hour", {})
    alone = [s.step for s in warmups.warmup_page(played).steps if s.step.exercise.stage == "one hand alone"]
    minutes = {hand: sum(s.minutes for s in alone if s.hand == hand) for hand in ("left", "right")}
    assert minutes["right"] > minutes["left"]
    context = played_quietly(played_quietly(played, 40), 6)
    line = next(s for s in shown.programmes_page(context).running if s.programme.entry.id == "half_hour")
    assert line.why.startswith("Today 0 of 30 minutes. 2 of 3 days kept")


def test_the_half_hour_is_laid_on_the_days_that_have_less(played):
    begin.begin(played, "half_hour", {})
    engagements.write(played, Typed(NEXT, time(19), time(20), "Octet", "rehearsal", "bassoon", 20, 4))
    engagements.write(
        played, Typed(NEXT + timedelta(days=1), time(19), time(20), "Trio", "rehearsal", "bassoon", 40, 4)
    )
    say(played, rest_weekday=str((NEXT + timedelta(days=2)).weekday()), rest_school="day off")
    week_aims.write_aim(played, NEXT, TypedAim("Thirds", 20, 4, "bassoon"))
    days = [NEXT + timedelta(days=n) for n in range(7)]
    for _ in range(2):
        scheduling.schedule(played, NEXT)
        blocks = own_blocks.blocks_between(played, NEXT, days[-1])
        minutes = [sum(b.minutes for b in blocks if b.day == day) for day in days]
        kept = [b for b in blocks if b.title == "The daily half hour"]
        assert minutes[0] in (10, 20, 30) and minutes[1:3] == [0, 0]
        assert sum(minutes[3:]) in (120, 130), minutes
        assert all(b.minutes <= 30 and b.laid_by == "planner" for b in kept)
        assert not any(a.start_utc < b.end_utc and b.start_utc < a.end_utc for a, b in combinations(blocks, 2))
    assert own_blocks.blocks_between(played, NEXT, days[-1]) == blocks
    later_week = monday(played.today + timedelta(days=35))
    scheduling.schedule(played, later_week)
    assert not own_blocks.blocks_between(played, later_week, later_week + timedelta(days=6)), "its month is over then"


def test_who_was_asked_names_the_dose(played):
    uid = begin.begin(played, "return", RETURN)
    begin.give(played, uid, {"dose": "7"})
    assert todays_page(played).issued.dose.minutes == 7
    with pytest.raises(FieldError):
        begin.give(played, uid, {"dose": "0"})
    begin.end(played, uid, "")
    with pytest.raises(NotThere):
        begin.give(played, uid, {"dose": "7"})
    assert corrections.offered(played) is not None


def test_one_that_has_not_begun_is_taken_out_whole(played):
    uid = begin.begin(played, "half_hour", {"first": date(2026, 12, 1).isoformat()})
    assert shown.programmes_page(played).running[0].headline == "It begins on Tuesday 1 December."
    begin.end(played, uid, "")
    assert not played.store.repository(ProgrammeRow).all()
