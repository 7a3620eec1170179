"""The proof of early signs is itself right: intervals, episodes, thresholds, what counts as found, the oracle."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import binomtest

from chirotend.core.body.zones import zone
from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.signs import signs
from chirotend.core.prove import oracle
from chirotend.core.prove.calls import live_with_calls
from chirotend.core.prove.outcomes import (
    episodes,
    false_signs,
    found_of,
    found_on,
    misses,
    player_years,
    rate,
    share,
    threshold_for,
)
from chirotend.core.prove.scores import (
    days_marked_score,
    load_ratio_score,
    rank_score_without_nerve_signs,
    signs_score,
    strongest_score,
)
from chirotend.core.record import Check, Entry, Record
from chirotend.core.simulate.cohort import live
from chirotend.core.simulate.diary import SPOTS, day_of
from chirotend.core.simulate.kinds import kinds
from chirotend.core.simulate.one import TIMINGS


@given(st.integers(0, 40), st.integers(1, 40))
def test_intervals_of_shares_against_scipy(hits, more):
    found = share(hits, hits + more)
    exact = binomtest(hits, hits + more).proportion_ci(0.95, "exact")
    assert (found.low, found.high) == pytest.approx((exact.low, exact.high), abs=1e-9)


@pytest.mark.parametrize(("events", "low", "high"), [(0, 0, 3.689), (1, 0.0253, 5.572), (10, 4.795, 18.39)])
def test_intervals_of_rates_against_the_table_of_poisson_limits(events, low, high):
    """Pearson and Hartley, Biometrika Tables for Statisticians, table 40 (from memory)."""
    found = rate(events, 2.0, 5)
    assert (found.low * 2, found.high * 2) == pytest.approx((low, high), rel=1e-3) and found.value == events / 2


def test_an_episode_needs_fourteen_quiet_days_before_it():
    over = np.zeros(60, dtype=bool)
    over[[5, 6, 19, 20, 34, 50]] = True
    assert episodes(over) == [5, 50]  # 19 is 13 days after 6, 34 is 14 after 20, 50 is 16 after 34


def test_a_line_keeps_to_its_budget_and_a_lower_one_does_not():
    scores = [signs_score(live(kinds()["steady"], "threshold", 80, 180, seed)) for seed in (1, 2)]
    for budget in (0.5, 2.0):
        threshold = threshold_for(scores, budget)
        rates = [false_signs(score, threshold) / player_years(score) for score in scores]
        assert max(rates) <= budget
        lower = [false_signs(score, threshold - 0.15) / player_years(score) for score in scores]
        assert max(lower) > budget
    assert threshold_for(scores, 0.5) > threshold_for(scores, 2.0)


@pytest.fixture(scope="module")
def growers():
    return live(kinds()["grower"], "repair", 12, 180, 9)


def test_found_is_a_rise_at_the_place_after_the_beginning_and_before_the_stop(growers):
    onset, stop, place = growers.onset[0], growers.stop[0], int(np.flatnonzero(growers.troubled[0])[0])
    for rose, expected in ((onset - 3, None), (onset, onset), (stop - 1, stop - 1), (stop, None)):
        score = np.full(growers.strength.shape, -9.0)
        score[rose:, 0, place] = 1.0
        assert found_on(growers, score, 0.0)[0] == expected
    elsewhere = np.full(growers.strength.shape, -9.0)
    elsewhere[onset + 1 :, 0, (place + 1) % 4] = 1.0
    assert found_on(growers, elsewhere, 0.0)[0] is None
    leads = found_of(growers, [int(growers.stop[0]) - 5, int(growers.stop[1]) - 11, *[None] * 10])
    assert (leads.share.value, leads.lead_median, leads.lead_mean) == pytest.approx((2 / 12, 8, 8))


def test_misses_say_why(growers):
    silent = np.full(growers.strength.shape, -9.0)
    mute = replace(growers, strength=np.zeros_like(growers.strength))
    away = replace(growers, asked=np.zeros_like(growers.asked))
    assert misses(mute, silent, 0.0)["few"] == 12 and misses(away, silent, 0.0)["unasked"] == 12
    assert misses(growers, np.ones_like(silent), 0.0)["stood"] == 12
    assert sum(misses(growers, silent, 0.0).values()) == 12 and misses(growers, silent, 0.0)["faint"] >= 6


def test_the_score_of_a_cohort_is_what_the_call_would_say(growers):
    """Two ways to one number: the batch over a cohort, and the signs of a record with the same marks."""
    few = 70
    score = signs_score(replace_days(growers, few))
    for player in range(4):
        checks = []
        for number in range(few):
            if growers.asked[number, player]:
                told = {timing: [] for timing in TIMINGS}
                told["after"] = []
                for place in np.flatnonzero(growers.strength[number, player]):
                    character = growers.character[number, player, place]
                    kind = "pain" if character % 2 else "tension"
                    entry = Entry(
                        SPOTS[place].zone, SPOTS[place].side, kind, float(growers.strength[number, player, place])
                    )
                    told[TIMINGS[character // 2]].append(entry)
                checks += [
                    Check(f"{t}{number}", day_of(number), t, tuple(e)) for t, e in told.items() if e or t == "after"
                ]
        today = day_of(few - 1)
        now = datetime(today.year, today.month, today.day, 20, tzinfo=UTC)
        heights = {(s.region, s.side): s.height for s in signs(Evidence(Record((), tuple(checks)), today, now))}
        first = int(np.flatnonzero(growers.asked[:, player])[0])
        assert first <= 6
        for place, spot in enumerate(SPOTS):
            if (zone(spot.zone).region, spot.side) in heights:
                assert heights[zone(spot.zone).region, spot.side] == pytest.approx(score[-1, player, place], abs=0.15)


def replace_days(cohort, days):
    by_day = ("minutes", "effort", "excess", "strength", "character", "nerve", "asked")
    cut = {name: getattr(cohort, name)[:days] for name in by_day}
    return replace(cohort, **cut)


def test_simpler_rules_by_hand(growers):
    told = np.zeros((40, 1, 4), dtype=np.int64)
    told[30:37, 0, 2] = 3
    one = replace(
        replace_days(growers, 40),
        minutes=np.full((40, 1), 60.0),
        effort=np.full((40, 1), 4.0),
        excess=np.zeros((40, 1, 4)),
        strength=told,
        character=told * 0,
        nerve=told > 9,
        asked=np.ones((40, 1), dtype=bool),
        onset=np.array([-1]),
        troubled=np.arange(4)[None, :] == 2,
    )
    assert strongest_score(one)[[29, 30, 38, 39], 0, 2].tolist() == [0, 3, 3, 0]
    assert days_marked_score(one)[36, 0, 2] == pytest.approx(7.03) and days_marked_score(one)[39, 0, 2] < 5
    assert load_ratio_score(one)[-1, 0].tolist() == pytest.approx([1.0] * 4)
    nerve = replace(one, nerve=told > 0)
    assert rank_score_without_nerve_signs(one)[36, 0, 2] > 5 > rank_score_without_nerve_signs(nerve)[36, 0, 2]


def test_the_oracle_is_exact_where_it_can_be_worked_out_otherwise(growers, monkeypatch):
    """Without passing soreness and likeness of the noise its odds are the prior times the chances of each day, added up
    over its hypotheses."""
    monkeypatch.setattr(oracle, "_passing_moves", lambda: np.eye(4))
    cohort = replace_days(growers, 30)
    cohort = replace(cohort, telling=replace(cohort.telling, likeness=np.zeros_like(cohort.telling.likeness)))
    found = oracle.oracle_score(cohort)[-1, 0]
    excess, begins = oracle.courses(cohort)
    told = oracle._chances(oracle._flat(cohort.telling), np.arange(0, 10.125, 0.25)).mean(axis=2)
    for place in range(4):
        weight = np.full(len(begins), oracle.EVERY / oracle.BEGINS_DAYS / len(oracle.SPEEDS))
        weight[0] = 1 - weight[1:].sum()
        for day in np.flatnonzero(cohort.asked[:, 0]):
            at = np.rint(excess[day, 0] / 0.25).astype(int)
            strength = cohort.strength[day, 0, place]
            weight *= told[place, at, strength]
            if strength:
                tells = oracle.characters(at * 0.25, np.zeros(len(at), dtype=bool))
                weight *= tells[:, cohort.character[day, 0, place]]
        begun = np.clip(weight[begins <= 29].sum() / weight.sum(), 1e-9, 1 - 1e-9)
        assert found[place] == pytest.approx(np.log(begun / (1 - begun)), abs=1e-3)


def test_a_life_with_calls_is_muted_by_what_was_told_and_found_in_time():
    calm = live_with_calls(kinds()["steady"], "threshold", 2, 60, 1)
    assert max(calm.muted) < 0.5 and calm.named_on == (None, None)
    sore = live_with_calls(kinds()["grower"], "threshold", 2, 150, 1)
    for player, day in enumerate(sore.named_on):
        assert day is not None and sore.cohort.onset[player] <= day
    assert min(sore.muted) > 0.05


def test_who_keeps_to_the_dose_plays_no_more_than_it():
    kept, not_kept = (live_with_calls(kinds()["sudden"], "threshold", 2, 130, 1, keeps) for keeps in (1.0, 0.0))
    assert kept.cohort.minutes[100:].sum() < 0.8 * not_kept.cohort.minutes[100:].sum()
    assert day_of(3) - day_of(0) == timedelta(days=3)
