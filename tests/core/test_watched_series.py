"""What is watched beside the places. Series ours (common practice, no source); ranks checked in test_cusum."""

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta

import pytest

from chirotend.core.judge.call import compute_call
from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.recovery import Recovery
from chirotend.core.judge.series import Series
from chirotend.core.judge.watched_series import WatchedSeries, diary_series, stands_out
from chirotend.core.record import Block, Check, Entry, Record, Session
from chirotend.core.simulate.cohort import Life
from chirotend.core.simulate.diary import Diary, day_of
from chirotend.core.simulate.kinds import kinds
from chirotend.core.simulate.mechanics import MECHANICS

FIRST = date(2026, 6, 1)


def on(n):
    return FIRST + timedelta(days=n)


def sat(n, minutes=60.0, effort=4.0):
    return Session(f"s{n}", on(n), (Block(minutes, "bassoon", "repertoire", effort),))


def check(n, timing, *entries):
    return Check(f"{n}{timing}", on(n), timing, entries)


def stiff(strength, zone="neck_back", kind="stiffness"):
    return Entry(zone, "right", kind, strength)


def series(record, name, days=60):
    return dict(diary_series(record, FIRST, on(days))[name])


def test_waking_stiffness_is_of_mornings_that_were_asked():
    record = Record(
        (), (check(0, "waking"), check(1, "waking", stiff(2), stiff(4, kind="tension")), check(2, "after", stiff(5)))
    )
    assert series(record, "waking_stiffness") == {on(0): 0, on(1): 4}


def test_marks_an_hour_are_of_days_played_half_an_hour_and_asked():
    record = Record(
        (sat(0, 90), sat(1, 20), sat(2), sat(3)),
        (
            check(0, "playing", stiff(1), stiff(2, "thumb_ball")),
            check(1, "playing", stiff(1)),
            check(3, "after", stiff(3)),
        ),
    )
    assert series(record, "marks_an_hour") == {on(0): pytest.approx(4 / 3), on(3): 0}


def test_effort_is_beside_days_of_like_length():
    like = [sat(n, 60 + n % 3, 4) for n in range(8)]
    record = Record((*like, sat(8, 180, 9), sat(9, 66, 7), sat(10, 60, None)))
    found = series(record, "effort")
    assert found == {on(7): 0, on(9): 3}  # no other day was as long as three hours, and an unrated one is none


def test_a_rise_stands_out_from_its_first_day_and_a_measure_may_be_better_upwards():
    values = tuple((on(n), 4.0 + 7 * n % 5 / 2 + (3 if n >= 30 else 0)) for n in range(40))
    out = stands_out(Series("effort", values))
    assert isinstance(out, WatchedSeries) and abs((out.since - on(30)).days) <= 2 and out.now > out.usual + 2
    assert stands_out(Series("effort", tuple((d, -v) for d, v in values))) is None
    tempo = stands_out(Series("tempo.top_clean|bassoon|", tuple((d, 70 - v) for d, v in values), worse=-1))
    assert tempo is not None and tempo.now < tempo.usual  # said as it was measured
    assert stands_out(Series("effort", values[:14])) is None


def test_what_stands_out_is_said_and_decides_nothing():
    played = tuple(sat(n, 60, 8 if n >= 30 else 4 - n % 2 / 2) for n in range(46))
    asked = tuple(check(n, "waking") for n in range(47))
    today, now = on(46), datetime(2026, 7, 17, 8, tzinfo=UTC)
    plain = Evidence(
        Record(tuple(replace(s, blocks=(replace(s.blocks[0], effort=4.0),)) for s in played), asked), today, now
    )
    loud = Evidence(Record(played, asked), today, now)
    calm, said = compute_call(plain, Recovery()), compute_call(loud, Recovery())
    assert [f.values["series"] for f in said.findings if f.code == "beside"] == ["effort"]
    assert said.call == "open" and said.recovery == calm.recovery
    alone = replace(
        loud, record=Record((), asked), measured=(Series("m", tuple((on(n), float(n >= 30)) for n in range(46))),)
    )
    assert compute_call(alone, Recovery()).dose == compute_call(replace(alone, measured=()), Recovery()).dose


@pytest.mark.parametrize("mechanics", MECHANICS)
def test_steady_players_seldom_stand_out_beside_the_places(mechanics):
    """At most .35 a year for the three series together was measured; 24 players for half a year may not show over 1."""
    life, days = Life(kinds()["steady"], mechanics, 24, 5), 180
    diaries = [Diary(life, player) for player in range(24)]
    for n in range(days):
        life.day()
        for diary in diaries:
            diary.evening(day_of(n))
    raised = 0
    for diary in diaries:
        record = Record(tuple(diary.sessions), tuple(diary.checks))
        for name, values in diary_series(record, day_of(0), day_of(days)).items():
            ends = [stands_out(Series(name, values[: n + 1])) is not None for n in range(14, len(values), 7)]
            raised += sum(b and not a for a, b in zip([False, *ends], ends, strict=False))
    assert raised / 24 * 364 / days < 1
