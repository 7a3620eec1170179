"""Signs of a diary: the same kept as worked out anew, raised for what was never watched, quiet for what is steady."""

from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest
from scipy.integrate import quad
from scipy.stats import norm

from chirotend.core.judge.evidence import WATCHES, Evidence
from chirotend.core.judge.signs import own_threshold, signs
from chirotend.core.judge.signs.own_threshold import raised_by_answers, watch_threshold
from chirotend.core.judge.signs.raised import heights_of
from chirotend.core.memos import forget_diaries
from chirotend.core.record import Record
from tests.core.diary import TODAY, Diary, mark
from tests.core.random_diaries import diary


def evidence_of(record: Record, day, **kw) -> Evidence:
    return Evidence(record.until_morning(day), day, Diary().evidence().now_utc, **kw)


@pytest.mark.parametrize("number", range(0, 60, 6))
def test_what_is_kept_from_day_to_day_is_what_is_worked_out_anew(number):
    record = diary(number)
    last = max(record.logged_days)
    days = [last - timedelta(days=back) for back in (40, 21, 20, 19, 3, 2, 1, 0)]
    settled = last - timedelta(days=20)

    def all_of(told: Record) -> list:
        return [signs(evidence_of(told, day, settled_until=settled if day >= settled else None)) for day in days]

    kept = all_of(record)
    forget_diaries()
    assert kept == all_of(record)
    # a corrected past: what was kept of the days before it is not used for it
    early = next(c for c in record.checks if c.day > last - timedelta(days=120))
    corrected = replace(record, checks=tuple(replace(c, entries=()) if c is early else c for c in record.checks))
    after_the_old_one = all_of(corrected)
    forget_diaries()
    assert after_the_old_one == all_of(corrected)


def rising(kind: str, zone: str = "index_tip_palm", days: int = 14) -> Diary:
    """Nothing for six weeks, then a mark that grows: now and then at first, then daily."""
    told = Diary().steady(days=60, until=days)
    for back in range(days - 1, -1, -1):
        strength = 1 + (days - back) // 5
        there = back < days - 5 or back % 2
        told.plays(back).checks_in(back, "waking", *([mark(kind, strength, zone, "left")] if there else []))
    return told


@pytest.mark.parametrize("kind", ["tingling", "numbness", "tension", "pain", "stiffness", "weakness"])
def test_a_rise_of_any_kind_raises_a_sign_at_its_place(kind):
    (sign,) = signs(rising(kind).evidence())
    assert sign.speaks and (sign.region, sign.side) == ("fingers", "left")
    assert TODAY - timedelta(days=16) <= sign.since <= sign.raised_on <= TODAY


def test_a_steady_tingling_raises_none_and_what_is_above_it_does():
    always = [mark("tingling", 2, "index_tip_palm", "left")]
    steady = Diary().steady(days=90, entries=always).checks_in(0, "waking", *always)
    assert signs(steady.evidence()) == ()
    more = Diary().steady(days=90, until=12, entries=always)
    for back in range(11, -1, -1):
        more.plays(back).checks_in(back, "waking", mark("tingling", 4 + (back < 6), "index_tip_palm", "left"))
    assert [s.speaks for s in signs(more.evidence())] == [True]


def test_the_heights_of_a_place_end_where_its_sign_stands():
    told = rising("tingling")
    (sign,) = signs(told.evidence())
    drawn = heights_of(told.evidence(), ("fingers", "left"), TODAY - timedelta(days=83), 84)
    assert drawn[-1] == (sign.height, sign.threshold) and len(drawn) == 84
    raised = [n for n, found in enumerate(drawn) if found and found[0] > found[1]]
    assert raised[0] == 83 - (TODAY - sign.raised_on).days
    assert drawn[:30] == (None,) * 30, "nothing is drawn before a fortnight was asked"
    assert heights_of(told.evidence(), ("jaw & lips", "left"), TODAY, 1) == (None,)


@pytest.mark.parametrize(("strength", "end"), [(1, "low"), (8, "high")])
def test_her_threshold_rests_on_her_record_and_stays_between_its_ends(strength, end):
    told = Diary().steady(days=100)
    for back in range(60, 50 if strength == 8 else 59, -1):
        told.checks_in(back, "after", mark("pain", strength, "neck_back", "right"))
    ((_, threshold),) = heights_of(told.evidence(), ("neck & shoulder", "right"), TODAY, 1)
    assert threshold == getattr(watch_threshold("usual"), end)


def test_noise_passes_her_record_as_often_as_the_integral_says(monkeypatch):
    """Without ends: a day of normal noise passes the highest of n earlier ones by d with the chance of the integral
    over that highest, n phi(x) Phi(x)^(n-1) (1 - Phi(x + d))."""
    free = replace(watch_threshold("usual"), low=-99.0, high=99.0, above_record=0.4)
    monkeypatch.setattr(own_threshold, "watch_threshold", lambda watch: free)
    days, players = 150, 40_000
    noise = np.random.default_rng(5).normal(size=(days, players))
    passed = noise > own_threshold.own_thresholds(noise, np.ones((days, players), dtype=bool), "usual")
    for day in (70, 149):
        n = day - 21 - 13 + 1  # from the 14th day until three weeks ago
        expected, _ = quad(lambda x, n=n: n * norm.pdf(x) * norm.cdf(x) ** (n - 1) * norm.sf(x + 0.4), -8, 8)
        error = (expected / players) ** 0.5
        assert passed[day].mean() == pytest.approx(expected, abs=4 * error), day


def test_a_place_she_often_calls_not_so_must_stand_out_further_for_a_year():
    """From the second answer on half a step each, two at most; a year later they count no more."""
    assert raised_by_answers([], 3).tolist() == [0, 0, 0]
    assert raised_by_answers([0, 1, 2, 3], 5).tolist() == [0, 0.5, 1.0, 1.0, 1.0]
    assert raised_by_answers([-300, -10], 70)[[63, 64, 65]].tolist() == [0.5, 0.5, 0]
    told = rising("tension")
    place = ("fingers", "left")
    here = tuple((place, TODAY - timedelta(days=back)) for back in (200, 100))
    heights = {said: heights_of(told.evidence(not_so=said), place, TODAY, 1)[0] for said in ((), here, here[:1])}
    assert heights[here] == (heights[()][0], heights[()][1] + 0.5) and heights[here[:1]] == heights[()]
    elsewhere = tuple((("jaw & lips", "none"), day) for _, day in here)
    assert heights_of(told.evidence(not_so=elsewhere), place, TODAY, 1)[0] == heights[()]
    first = {}
    for said in ((), here):
        speaks = (b for b in range(14, -1, -1) if any(s.speaks for s in signs(told.evidence(b, not_so=said))))
        first[said] = next(speaks)
    assert first[here] < first[()]


def test_a_calmer_watch_speaks_later():
    told = rising("tension")
    first = {}
    for watch in WATCHES:
        raised = [back for back in range(14, -1, -1) if any(s.speaks for s in signs(told.evidence(back, watch=watch)))]
        first[watch] = max(raised)
    assert first["earlier"] >= first["usual"] >= first["calmer"] and first["earlier"] > first["calmer"]


def test_nothing_is_said_before_a_fortnight_of_answers_or_without_late_ones():
    young = Diary()
    for back in range(12, -1, -1):
        young.plays(back).checks_in(back, "waking", *([mark("pain", 4)] if back < 5 else []))
    assert signs(young.evidence()) == ()
    silent = Diary().steady(days=60, until=10, entries=[mark("pain", 1)])
    assert signs(silent.evidence()) == ()


def test_a_sign_knows_what_passed_before_it():
    told = rising("tension")
    for back in (50, 49, 40, 30, 29, 28):
        told.checks_in(back, "waking", mark("tension", 2, "index_tip_palm", "left"))
    (sign,) = signs(told.evidence())
    assert sign.passed == (2, 1, 3)


def test_a_passing_soreness_is_over_when_it_is_over():
    told = Diary().steady(days=70, until=21)
    for back in range(20, -1, -1):
        told.plays(back).checks_in(back, "waking", *([mark("tension", 3)] if back > 16 else []))
    assert not any(s.speaks for s in signs(told.evidence()))


def test_an_answer_settles_its_place_alone_and_what_rises_after_it_speaks_again():
    told = rising("tingling", days=30)
    for back in range(14, -1, -1):
        told.checks_in(back, "after", mark("pain", 3 + back % 2, "neck_back", "right"))
    places = {(s.region, s.side) for s in signs(told.evidence()) if s.speaks}
    assert places == {("fingers", "left"), ("neck & shoulder", "right")}
    answered = ((("fingers", "left"), TODAY),)
    assert [s.region for s in signs(told.evidence(answered=answered)) if s.speaks] == ["neck & shoulder"]
    earlier = ((("fingers", "left"), TODAY - timedelta(days=14)),)
    again = [s for s in signs(told.evidence(answered=earlier)) if s.region == "fingers"]
    assert [s.speaks for s in again] == [True] and again[0].since > TODAY - timedelta(days=14)
    forget_diaries()
    assert again == [s for s in signs(told.evidence(answered=earlier)) if s.region == "fingers"]
