"""Coming back in steps. Check values: the computed table beside the published pain scale (Thomeé 1997, from memory)."""

from datetime import date, timedelta
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.errors import OutOfRange
from chirotend.core.judge.evidence import Ceiling
from chirotend.core.plan.programmes.seen import DaySeen, seen_days
from chirotend.core.plan.programmes.steps import hands
from chirotend.core.plan.programmes.walk import ASK, REACHED, Climb, walked
from chirotend.core.plan.programmes.weeks import season, week_of, weeks_from
from tests.core.diary import TODAY, Diary, mark
from tests.reference.steps import next_minutes, pain_zone, steps_to_goal

START = date(2027, 1, 4)


def quiet(n: int, minutes: float, felt: float | None = 1.0, rise: float | None = 0.0, **more: bool) -> DaySeen:
    return DaySeen(START + timedelta(days=n), minutes, felt, rise, **more)


@pytest.mark.parametrize(("nrs", "zone"), [(2, "safe"), (2.5, "acceptable"), (5, "acceptable"), (6, "stop")])
def test_zones_of_pain(nrs, zone):
    assert pain_zone(nrs) == zone


@pytest.mark.parametrize(
    ("given_", "action", "minutes"),
    [
        ((20, 18, 1, 1, 0, 0, 50), "up", 22),
        ((20, 18, 4, 2, 0, 1, 72), "hold", 20),
        ((20, 18, 2, 3, 3, 1, 72), "back", 18),
        ((5, 5, 0, 0, 0, 0, 48), "up", 6),
        ((20, 18, 1, 1, 0, 0, 47), "hold", 20),
        ((20, 25, 6, 0, 0, 0, 72), "back", 20),
    ],
)
def test_the_next_minutes(given_, action, minutes):
    found = next_minutes(*given_)
    assert (found.action, found.minutes) == (action, minutes)


def test_hands_hold_and_stop_earlier():
    at_five = next_minutes(20, 17, 5, 0, 0, 0, 72, 0.2, hands())
    assert (at_five.action, at_five.minutes) == ("back", 17)
    assert next_minutes(20, 17, 1, 1, 2, 1, 72, 0.2, hands()).action == "up"
    assert next_minutes(20, 17, 1, 1, 3, 1, 72, 0.2, hands()).action == "back"
    assert next_minutes(200, 180, 0, 0, 0, 0, 72, 0.2, hands()).minutes == 210


def test_the_ladder_to_a_aim():
    slow = steps_to_goal(5, 60, 0.1)
    assert (len(slow) - 1, slow[10:13], slow[-2:]) == (24, (15, 17, 19), (55, 60))
    assert steps_to_goal(5, 60, 0.2) == (5, 6, 7, 8, 10, 12, 14, 17, 20, 24, 29, 35, 42, 50, 60)
    with pytest.raises(OutOfRange):
        steps_to_goal(30, 20, 0.1)


def test_a_way_back_with_one_step_back_and_its_reason():
    """As drawn in the plan of the screen: 10, 12, 14, 17, back to 14 on the morning that woke 3 above usual."""
    days = [quiet(n, m) for n, m in enumerate((10, 10, 12, 12, 14, 14, 17))]
    walk = walked(Climb(START, 10, 60, {}), [*days, quiet(7, 14, rise=3.0)])
    assert [s.dose for s in walk.steps] == [10, 10, 12, 12, 14, 14, 17, 14]
    assert (walk.today.action, walk.today.why, walk.today.number) == ("back", "morning", 3)
    assert (walk.up_to, walk.back_to, walk.up_in_days) == (17, 12, 2)
    assert [dose for _, dose in walk.ahead[:4]] == [14, 17, 17, 20]


@pytest.mark.parametrize(
    ("day", "why"),
    [
        (quiet(1, 10, held=True), "held"),
        (quiet(1, 0), "not_played"),
        (DaySeen(START + timedelta(days=1), rise=0.0), "not_written"),
        (quiet(1, 12), "over"),
        (quiet(1, 10, felt=None), "not_asked"),
        (quiet(1, 10, felt=3), "felt"),
    ],
)
def test_a_day_that_does_not_count_moves_nothing(day, why):
    walk = walked(Climb(START, 10, 60, {}), [quiet(0, 10), day, quiet(2, 10)])
    assert (walk.today.dose, walk.today.why) == (10, why)
    assert walk.up_in_days == (2 if why == "felt" else 1)


@pytest.mark.parametrize(
    ("day", "why"),
    [(quiet(3, 12, felt=5), "felt"), (quiet(3, 12, sign=True), "sign")],
)
def test_what_stops_a_day_takes_the_rest_of_it_and_a_step(day, why):
    days = [quiet(0, 10), quiet(1, 10), quiet(2, 12), day]
    climb = Climb(START, 10, 60, {})
    assert walked(climb, days).today.allowed == 0
    after = walked(climb, [*days, quiet(4, 10)])
    assert (after.today.dose, after.today.why, after.today.allowed) == (10, why, 10)


def test_two_steps_back_in_a_row_ask_someone_and_nothing_moves_until_a_dose_is_given():
    climb = Climb(START, 10, 60, {})
    days = [quiet(0, 10), quiet(1, 10), quiet(2, 12), quiet(3, 12, rise=2), quiet(4, 10, rise=2)]
    days += [quiet(n, 5) for n in range(5, 12)]
    asked = walked(climb, days)
    assert asked.state == ASK
    assert {s.dose for s in asked.steps[4:]} == {5}
    given_ = walked(Climb(START, 10, 60, {START + timedelta(days=10): 8}), days)
    assert given_.state != ASK
    assert given_.today.dose == 8


def test_a_week_without_playing_is_a_step_back_but_not_one_of_the_two():
    days = [quiet(0, 10), quiet(1, 10), quiet(2, 12), *(quiet(n, 0) for n in range(3, 11))]
    walk = walked(Climb(START, 10, 60, {}), days)
    assert (walk.steps[10].why, walk.today.dose, walk.state) == ("gap", 10, "running")


DAY = st.builds(
    lambda minutes, felt, rise, woke, sign, held: (minutes, felt, rise, woke, sign, held),
    st.one_of(st.none(), st.floats(0, 80)),
    st.one_of(st.none(), st.integers(0, 10)),
    st.one_of(st.none(), st.integers(0, 10)),
    st.booleans(),
    st.booleans(),
    st.booleans(),
)


@given(st.lists(DAY, max_size=60), st.integers(1, 30), st.integers(30, 90))
def test_no_walk_climbs_faster_than_the_rule_or_past_its_aim(days, start, aim):
    seen = [DaySeen(START + timedelta(days=n), *day) for n, day in enumerate(days)]
    walk = walked(Climb(START, start, aim, {}), seen)
    ups = [s.day for s in walk.steps if s.action == "up"]
    assert all((b - a).days >= 2 for a, b in pairwise(ups))
    for before, now in pairwise(walk.steps):
        assert 0 < now.dose <= aim
        assert now.dose - before.dose <= 10
        if now.action == "up":
            yesterday = seen[(now.day - START).days - 1]
            assert yesterday.minutes
            assert yesterday.felt is not None
            assert yesterday.felt <= 2
            assert not yesterday.held
    doses = [dose for _, dose in walk.ahead]
    assert doses == sorted(doses)


@given(st.integers(5, 40), st.integers(40, 120))
def test_quiet_days_reach_the_goal_by_the_ladder(start, aim):
    climb, days = Climb(START, start, aim, {}), []
    walk = walked(climb, days)
    for n in range(120):
        days.append(quiet(n, walk.today.dose))
        walk = walked(climb, days)
        if walk.state == REACHED:
            break
    assert walk.state == REACHED
    assert tuple(dict.fromkeys(s.dose for s in walk.steps)) == steps_to_goal(start, aim, 0.2, 10)


def test_a_habit_of_tightness_is_no_step_back_and_a_night_is():
    diary = Diary()
    for back in range(30, -1, -1):
        diary.plays(back, 40).checks_in(back, "after", mark("tension", 3)).checks_in(back, "waking")
    diary.checks_in(1, "night", mark("tension", 1)).checks_in(0, "playing", mark("pain", 3))
    days = {d.day: d for d in seen_days(diary.evidence(), TODAY - timedelta(days=3))}
    assert [days[TODAY - timedelta(days=back)].felt for back in (2, 0)] == [0, 3]
    assert [days[TODAY - timedelta(days=back)].woke_with for back in (1, 0)] == [False, True]


def test_a_level_never_allows_more_than_a_programme_and_days_off_give_way_to_it():
    ceiling = Ceiling("return", 10.0, "start", instead=True)
    sore = Diary().steady().checks_in(0, "waking", mark("pain", 3))
    assert sore.call().dose.minutes > 10
    assert (sore.call(ceilings=(ceiling,)).call, sore.call(ceilings=(ceiling,)).dose.minutes) == (sore.call().call, 10)
    off = Diary().steady(until=9).off(8).checks_in(0, "waking")
    assert "return" in {f.code for f in off.call().findings}
    assert {f.code for f in off.call(ceilings=(ceiling,)).findings} & {"return", "programme"} == {"programme"}


def test_a_season_builds_up_by_a_tenth_and_eases():
    weeks = season(START, START + timedelta(weeks=6), 600, 900)
    assert [round(w) for w in weeks] == [600, 660, 726, 799, 878, 900, 540]
    with pytest.raises(OutOfRange):
        season(START, START + timedelta(weeks=1), 600, 900)


def test_the_week_of_a_change():
    weeks = weeks_from(START, [(None, 0.1, False), (0.5, 1.0, True)])
    assert week_of(weeks, START + timedelta(days=7)) == (2, weeks[1])
    assert week_of(weeks, START + timedelta(days=14)) is None
    assert weeks[1].easy
