"""Cycles, rests, warm-ups, the week's plan, jumps, a date asked for: check values, brute force, properties."""

import itertools
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from chirotend.core.errors import Degenerate, Inconsistent, OutOfRange, TooFew
from chirotend.core.plan import asked_date, cycles, jumps, planner, rests, solver, week_problem
from chirotend.core.plan.piece_hours import with_hours
from chirotend.core.plan.week import Aim, Engagement, PlannedBlock, Window, free_windows, plan_rules
from tests.reference.accents import accented_notes

VIENNA = ZoneInfo("Europe/Vienna")
MONDAY = date(2026, 11, 16)
DAYS = [MONDAY + timedelta(days=i) for i in range(7)]


def at(day: date, hour: float) -> datetime:
    return datetime.combine(day, datetime.min.time(), VIENNA).astimezone(UTC) + timedelta(hours=hour)


# --- cycles ------------------------------------------------------------------------------------------------


def test_a_three_octave_scale_played_i_m_a_m_ends_on_a():
    """Common practice, no source: 43 notes with the top note once."""
    assert cycles.scale_notes(3) == 43
    assert cycles.last_finger("imam", 43, "i") == "a"


@given(st.lists(st.sampled_from("pima"), min_size=1, max_size=6), st.integers(1, 500))
def test_the_last_finger_is_the_one_counted_out(cycle, notes):
    assert cycles.last_finger(cycle, notes) == list(itertools.islice(itertools.cycle(cycle), notes))[-1]


def test_an_accent_shift_works_the_fingers_it_says():
    assert accented_notes(8, 3) == (1, 4, 7)
    assert accented_notes(8, 3, 1) == (2, 5, 8)
    assert cycles.accented_fingers("im", 3) == ("i", "m")
    assert cycles.accented_fingers("imam", 2) == ("i", "a")
    assert all(v.pattern and sum(v.pattern) for v in cycles.rhythm_variants())


@pytest.mark.parametrize(
    ("make", "error"),
    [
        (lambda: cycles.last_finger("", 3), TooFew),
        (lambda: cycles.last_finger("im", 0), OutOfRange),
        (lambda: cycles.last_finger("im", 3, "a"), OutOfRange),
        (lambda: cycles.scale_notes(9), OutOfRange),
        (lambda: cycles.accented_fingers("", 2), TooFew),
        (lambda: rests.preset("endless"), OutOfRange),
        (lambda: rests.bar_and_rest("fixed", 0, rest_factor=2), OutOfRange),
        (lambda: Aim("a", "A", -5), OutOfRange),
        (lambda: Engagement("e", MONDAY, at(MONDAY, 12), at(MONDAY, 12), "lesson", "x"), Inconsistent),
        (lambda: free_windows(DAYS, [], VIENNA, 20, 9, at(MONDAY, 0)), Inconsistent),
    ],
)
def test_what_cannot_be_planned_is_refused(make, error):
    with pytest.raises(error):
        make()


# --- rests -------------------------------------------------------------------------------------------------


def test_bars_and_rests_of_the_presets():
    """Domain rules, common practice: 30, rest 5, 20, a longer rest; more played, shorter; heavy rests sooner."""
    assert list(rests.bars(80, "fixed")) == [(30, 5), (20, 15), (20, 15), (10, 0)]
    assert list(rests.bars(12, "listen")) == [(5, 5), (5, 5), (2, 0)]
    assert [play for play, _ in rests.bars(100, "shrinking")] == [30, 25, 25, 20]
    assert rests.bar_and_rest("shrinking", 0, 600) == (10, 5)
    assert rests.bar_and_rest("fixed", 0, rest_factor=0.65) == (20, 5)


@given(st.floats(1, 300), st.sampled_from(sorted(rests.presets())), st.floats(0, 300), st.floats(0.3, 1))
def test_bars_add_up_to_the_minutes(minutes, preset, played, factor):
    assert sum(play for play, _ in rests.bars(minutes, preset, played, factor)) == pytest.approx(minutes)


# --- windows -----------------------------------------------------------------------------------------------


def test_free_windows_leave_out_what_is_busy_and_what_is_past():
    busy = [(at(MONDAY, 10), at(MONDAY, 12)), (at(MONDAY, 11), at(MONDAY, 13))]
    found = free_windows([MONDAY], busy, VIENNA, 9, 20.5, at(MONDAY, 9.5))
    assert [(w.start_utc, w.minutes) for w in found] == [
        (at(MONDAY, 9.5), 30),
        (at(MONDAY, 13), 270),
        (at(MONDAY, 17.5), 180),
    ]


def test_windows_keep_local_hours_when_the_clocks_change():
    sunday = date(2026, 10, 25)  # 25 hours long in Vienna
    (first, *_) = free_windows([sunday], [], VIENNA, 9, 12, datetime(2026, 1, 1, tzinfo=UTC))
    assert first.start_utc.astimezone(VIENNA).hour == 9


# --- the planner -------------------------------------------------------------------------------------------


def brute_force(problem: week_problem.Problem) -> float:
    """The best value over every way of giving each aim a size (or nothing) in each window."""
    slots = [(a, w) for a in range(len(problem.aims)) for w in range(len(problem.windows))]
    best = week_problem.plan_value(problem, [])
    for sizes in itertools.product((0, 1, 2, 3, 4), repeat=len(slots)):
        pieces = [week_problem.Piece(a, w, n) for (a, w), n in zip(slots, sizes, strict=True) if n]
        if not week_problem.breaks(problem, pieces):
            best = max(best, week_problem.plan_value(problem, pieces))
    return best


small_weeks = st.builds(
    lambda aims, days: week_problem.Problem(
        tuple(Aim(str(i), f"aim {i}", m, e, inst) for i, (m, e, inst) in enumerate(aims)),
        tuple(Window(DAYS[i], at(DAYS[i], 10), minutes) for i, (minutes, *_) in enumerate(days)),
        {DAYS[i]: week_problem.DayRoom(DAYS[i], room, load, fixed) for i, (_, room, load, fixed) in enumerate(days)},
        {MONDAY: 500.0},
        {("contrabassoon", DAYS[0]): 20.0},
    ),
    st.lists(
        st.tuples(
            st.sampled_from([10, 20, 40, 60]), st.sampled_from([2, 5]), st.sampled_from(["bassoon", "contrabassoon"])
        ),
        min_size=1,
        max_size=2,
    ),
    st.lists(
        st.tuples(
            st.sampled_from([15, 45, 90]),
            st.sampled_from([0, 30, 120]),
            st.sampled_from([None, 100, 300]),
            st.sampled_from([0, 200]),
        ),
        min_size=2,
        max_size=3,
    ),
)


@given(small_weeks)
@settings(max_examples=25)
def test_the_planner_is_as_good_as_trying_everything(problem):
    plan = planner.schedule(problem, seconds=20, gap=0)
    assert week_problem.breaks(problem, plan.pieces) == ""
    assert plan.value == pytest.approx(brute_force(problem), abs=1e-6)
    assert_hours_fit(problem, plan)


def room(minutes: float = 120, load: float | None = None, why: str = "minutes") -> dict[date, week_problem.DayRoom]:
    return {d: week_problem.DayRoom(d, minutes, load, 0, why) for d in DAYS}


def assert_hours_fit(problem, plan):
    """The pieces of a window follow one another with a rest between, the easier first, and end inside it."""
    hours = list(with_hours(problem, plan))
    assert sorted(h.aim for h in hours) == sorted(p.aim for p in plan.pieces)
    rest = timedelta(minutes=plan_rules().rest_min)
    for window in problem.windows:
        closes = window.start_utc + timedelta(minutes=window.minutes)
        here = [h for h in hours if window.start_utc <= h.start_utc < closes]
        efforts = [problem.aims[h.aim].effort for h in here]
        assert efforts == sorted(efforts)
        for a, b in itertools.pairwise(here):
            assert b.start_utc == a.start_utc + timedelta(minutes=a.minutes) + rest
        for last in here[-1:]:
            assert last.start_utc + timedelta(minutes=last.minutes) <= closes


def evenings(minutes: float = 60) -> tuple[Window, ...]:
    return tuple(Window(d, at(d, 18), minutes) for d in DAYS)


def test_practice_is_spread_over_the_days_and_no_day_passes_its_limits():
    problem = week_problem.Problem((Aim("a", "Low F", 140, 4),), evenings(), room())
    plan = planner.schedule(problem)
    assert_hours_fit(problem, plan)
    assert plan.not_scheduled == ()
    assert {p.units for p in plan.pieces} == {2}  # seven times twenty minutes: the lowest heaviest day
    assert len({p.window for p in plan.pieces}) == 7


@pytest.mark.parametrize(
    ("problem", "reason"),
    [
        (week_problem.Problem((Aim("a", "A", 60),), evenings(), room(0, why="off")), "off"),
        (week_problem.Problem((Aim("a", "A", 60),), evenings(), room(10, why="taper")), "taper"),
        (week_problem.Problem((Aim("a", "A", 60),), (), room()), "no_time"),
        (week_problem.Problem((Aim("a", "A", 60),), evenings(15), room()), "no_time"),
        (week_problem.Problem((Aim("a", "A", 60, 5),), evenings(), room(load=60)), "load"),
        (week_problem.Problem((Aim("a", "A", 60, 5),), evenings(), room(), {MONDAY: 50}), "week"),
        (
            week_problem.Problem(
                (Aim("a", "A", 60, 5, "contrabassoon"),),
                evenings(),
                room(),
                ramps={("contrabassoon", d): 5 for d in DAYS},
            ),
            "ramp",
        ),
        (week_problem.Problem((Aim("a", "A", 400),), evenings(), room()), "piece"),
    ],
)
def test_what_did_not_fit_is_explained_by_the_limit_in_its_way(problem, reason):
    (missing,) = planner.schedule(problem).not_scheduled
    assert reason in missing.reasons.values()
    assert missing.minutes > 0


def test_a_longer_piece_than_one_session_takes_breaks_the_plan():
    week = week_problem.Problem((Aim("a", "A", 400),), evenings(), room())
    most = int(week_problem.plan_rules().piece_most_min / week_problem.plan_rules().unit_min)
    assert week_problem.breaks(week, [week_problem.Piece(0, 0, most)]) == ""
    assert week_problem.breaks(week, [week_problem.Piece(0, 0, most + 1)]) == "piece"


def test_what_is_laid_up_to_the_load_is_kept_from_growing_by_the_load_on_every_day():
    week = week_problem.Problem((Aim("a", "A", 300, 5),), evenings(), room(load=120))
    plan = planner.schedule(week)
    assert {p.units for p in plan.pieces} == {2} and len(plan.pieces) == 7
    assert set(plan.not_scheduled[0].reasons.values()) == {"load"}
    assert plan.value <= solver.bound(week) <= 300


def test_a_weekly_limit_counts_each_week_for_itself():
    later = tuple(Window(d + timedelta(days=7), at(d + timedelta(days=7), 18), 60) for d in DAYS)
    days = {**room(), **{w.day: week_problem.DayRoom(w.day, 120) for w in later}}
    limits = {MONDAY: 80.0, MONDAY + timedelta(days=7): 160.0}
    plan = planner.schedule(week_problem.Problem((Aim("a", "A", 300, 4),), evenings() + later, days, limits), gap=0)
    assert sum(p.units * 10 for p in plan.pieces) == 60


# --- jumps -------------------------------------------------------------------------------------------------


def performance(i: int, hour: float = 19, kind: str = "performance", effort: float = 6) -> Engagement:
    return Engagement(
        f"e{i}{hour}", DAYS[i], at(DAYS[i], hour), at(DAYS[i], hour + 3), kind, f"night {i}", "bassoon", 120, effort
    )


def test_each_jump_is_named_with_its_numbers():
    ahead = {DAYS[0]: 300.0, DAYS[1]: 900.0, DAYS[2]: 300.0}
    aims = [Aim("a", "new", 60, new_hard=True), Aim("b", "old", 30)]
    planned = {("contrabassoon", DAYS[1]): 60.0, ("bassoon", DAYS[1]): 60.0}
    found = jumps.jumps(
        ahead,
        800,
        1200,
        [performance(i) for i in range(3)],
        aims,
        {"contrabassoon": 3, "bassoon": 40},
        planned,
        {"contrabassoon": 5, "bassoon": 10},
    )
    by_code = {j.code: j for j in found}
    assert by_code["day_load"].days == (DAYS[1],)
    assert by_code["week_load"].values == {"load": 1500, "usual": 1200, "more": 25}
    assert by_code["dense"].values == {"performances": 3, "days": 3}
    assert by_code["new_instrument"].values["start"] == 20
    assert by_code["new_hard"].values == {"minutes": 60, "of": 90}
    assert len(found) == 5


def test_performances_are_dense_within_four_days_and_no_longer():
    def found(days):
        return [j.values for j in jumps.jumps({}, 800, 1200, [performance(i) for i in days], [], {}, {}, {})]

    assert found((0, 1, 2)) == [{"performances": 3, "days": 3}]
    assert found((0, 1, 4)) == [] and found((0, 1, 5)) == [] and found((1, 2)) == []
    assert found((0, 1, 3)) == [{"performances": 3, "days": 4}]


def test_nothing_is_a_jump_without_her_own_usual():
    assert jumps.jumps({DAYS[0]: 5000.0}, None, None, [], [], {}, {}, {}) == ()
    assert jumps.ramp_minutes(14, 5) is None


def block(i: int, hour: float, minutes: float = 40, effort: float = 4) -> PlannedBlock:
    return PlannedBlock(f"b{i}{hour}", DAYS[i], at(DAYS[i], hour), minutes, "a", "thirds", "bassoon", effort, "planner")


def asked(i: int = 5, hour: float = 10, minutes: float = 120, effort: float = 5) -> Engagement:
    return Engagement(
        "q", DAYS[i], at(DAYS[i], hour), at(DAYS[i], hour + 3), "performance", "octet", "bassoon", minutes, effort
    )


def test_a_free_day_inside_her_usual_is_a_plain_yes():
    answer = asked_date.asked(asked(), [], [block(4, 10)], {DAYS[4]: 160.0}, 800, 3000)
    assert (answer.verdict, answer.goes, answer.against) == ("yes", (), ())
    assert answer.after[DAYS[5]] == 600


def test_own_practice_gives_way_what_overlaps_first_then_the_longest():
    blocks = [block(5, 12.5), block(5, 16, 20), block(5, 18, 40)]
    loads = {DAYS[5]: sum(b.load for b in blocks)}
    answer = asked_date.asked(asked(), [], blocks, loads, 700, 3000)
    assert answer.verdict == "yes_with_changes"
    assert [b.uid for b in answer.goes] == ["b512.5", "b518"]
    assert answer.after[DAYS[5]] == 680


def test_what_speaks_against_it_is_said():
    evening = replace(performance(5), minutes=130)
    answer = asked_date.asked(
        asked(hour=18), [evening], [], {DAYS[5]: evening.load, DAYS[0]: 2000.0}, 900, 2500, {DAYS[5]: 120}
    )
    assert answer.verdict == "no"
    assert [a.code for a in answer.against] == ["overlaps", "ceiling", "day_above", "week_above"]


def test_a_day_that_just_reaches_her_usual_takes_nothing_away():
    there = block(5, 18)
    answer = asked_date.asked(asked(), [], [there], {DAYS[5]: there.load}, there.load + 600, 3000)
    assert (answer.verdict, answer.goes) == ("yes", ())


def test_the_ceiling_is_told_with_the_minutes_of_the_whole_day():
    evening = performance(5)
    answer = asked_date.asked(asked(), [evening], [], {DAYS[5]: evening.load}, None, None, {DAYS[5]: 60})
    (told,) = [a for a in answer.against if a.code == "ceiling"]
    assert told.values == {"minutes": round(evening.minutes + 120), "most": 60}


@given(st.lists(st.tuples(st.integers(0, 6), st.integers(8, 20)), max_size=8, unique=True), st.integers(0, 6))
def test_loads_stay_the_sum_of_what_stays(places, day):
    blocks = [block(i, hour) for i, hour in places]
    loads: dict[date, float] = {}
    for b in blocks:
        loads[b.day] = loads.get(b.day, 0.0) + b.load
    answer = asked_date.asked(asked(day), [], blocks, loads, 700, 1500)
    stays = sum(b.load for b in blocks if b not in answer.goes)
    assert sum(answer.after.values()) == pytest.approx(stays + 600)


def a_week(seed: int) -> week_problem.Problem:
    """A week of some aims over two free windows a day, with room, load and week limits, by its number."""
    rng = np.random.default_rng([seed, 5])
    aims = tuple(
        Aim(f"a{n}", f"aim {n}", float(rng.choice([20, 40, 60, 90])), float(rng.integers(2, 7)), "bassoon")
        for n in range(int(rng.integers(3, 9)))
    )
    windows = tuple(Window(d, at(d, h), float(rng.choice([40, 60, 90, 120]))) for d in DAYS for h in (10, 17))
    days = {d: week_problem.DayRoom(d, float(rng.integers(20, 120)), float(rng.integers(100, 500))) for d in DAYS}
    return week_problem.Problem(aims, windows, days, {MONDAY: float(rng.integers(400, 2500))})


@pytest.mark.parametrize("seed", range(25))
def test_a_quick_plan_keeps_every_limit_and_is_no_worse_than_the_solvers(seed):
    week = a_week(seed)
    plan = planner.schedule(week, seconds=20)  # patience on a busy machine: it stops at a hundredth of the best
    assert week_problem.breaks(week, plan.pieces) == ""
    by_solver = solver.solver_plan(week, 20, 0.01)
    assert plan.value >= week_problem.plan_value(week, by_solver) - 0.01 * abs(solver.bound(week)) - 1e-6
    assert plan.value <= solver.bound(week) + 1e-6


def test_a_week_is_laid_also_where_the_solver_has_no_answer(monkeypatch):
    monkeypatch.setattr(planner, "solver_plan", no_answer)
    monkeypatch.setattr(planner, "bound", lambda problem: 1e9)
    assert planner.schedule(a_week(3)).pieces


def no_answer(*_: object) -> tuple[week_problem.Piece, ...]:
    raise Degenerate("problem", "none")
