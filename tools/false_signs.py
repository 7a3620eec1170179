"""False signs and Muted days of steady players, simulated: `python tools/false_signs.py` prints the table of
docs/methods.md. The diaries come from `core/simulate/steady.py`; nothing in them changes, so every sign is false.
"""

import math
import sys
from datetime import UTC, date, datetime, timedelta

import numpy as np

from chirotend.core.judge.call import todays_call
from chirotend.core.judge.cusum import rank_cusum
from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.way_back import Standing
from chirotend.core.record import Block, Check, Entry, Record, Session
from chirotend.core.simulate.steady import steady_levels

FIRST = date(2026, 1, 5)
BASELINE, WATCHED, PLACES, FOLLOWS = 14, 90, 3, 0.6
ZONES = (("thumb_base_joint", "left"), ("forearm_outer_high", "right"), ("neck_back", "right"))


def diary(zeros: float, r: float, seed: int) -> tuple[Record, list[np.ndarray]]:
    """A player with three noisy places, an hour a day, and a check every waking."""
    rng = np.random.default_rng([seed, int(zeros * 100), int(r * 100)])
    levels = [steady_levels(BASELINE + WATCHED, zeros, r, rng) for _ in range(PLACES)]
    sessions, checks = [], []
    for i in range(BASELINE + WATCHED):
        day = FIRST + timedelta(days=i)
        sessions.append(Session(f"s{i}", day, (Block(float(rng.integers(40, 80))),), 4.0))
        entries = tuple(
            Entry(z, side, "tension", float(x[i])) for (z, side), x in zip(ZONES, levels, strict=True) if x[i]
        )
        checks.append(Check(f"c{i}", day, "waking", entries))
    return Record(tuple(sessions), tuple(checks)), levels


def lived(record: Record, seed: int) -> tuple[bool, float]:
    """Live the mornings one by one, keeping to six Muted days of ten; returns (a sign spoke, share of Muted mornings)
    after the baseline."""
    standing, spoke, muted = Standing(), False, 0
    follows = np.random.default_rng([seed, 5]).random(BASELINE + WATCHED) < FOLLOWS
    for i in range(BASELINE, BASELINE + WATCHED):
        day = FIRST + timedelta(days=i)
        now = datetime(day.year, day.month, day.day, 8, tzinfo=UTC)
        call = todays_call(Evidence(record.until_morning(day), day, now, standing.settled_until), standing)
        standing = call.standing
        spoke = spoke or any(f.code == "risen" for f in call.findings)
        muted += call.call.startswith("muted")
        if call.call.startswith("muted") and follows[i]:
            record = softer(record, i, call.dose.minutes or 0.0)
    return spoke, muted / WATCHED


def softer(record: Record, i: int, minutes: float) -> Record:
    """The record with day i played within `minutes`."""
    sessions = list(record.sessions)
    played = min(minutes, sessions[i].minutes)
    sessions[i] = Session(sessions[i].uid, sessions[i].day, (Block(played),), 4.0)
    return Record(tuple(sessions), record.checks)


def plain_rules(levels: list[np.ndarray]) -> tuple[float, float, bool, bool]:
    """The rules beside: share of mornings muted by "3 of 7 at 3 or more" and by "3 of 7 at any level"; and whether
    the rank sum alone would have spoken, at 7 + 2 ln(places) (version 2 of the rules) or at 7 for every series."""
    worst = np.max(levels, axis=0)
    days = range(BASELINE, BASELINE + WATCHED)
    at_three = np.mean([np.sum(worst[d - 6 : d + 1] >= 3) >= 3 for d in days])
    at_any = np.mean([np.sum(worst[d - 6 : d + 1] >= 1) >= 3 for d in days])
    lines = (7.0 + 2 * math.log(PLACES), 7.0)
    before, seven = (any(rank_cusum(list(map(float, x)), h=h).first_alarm_day for x in levels) for h in lines)
    return float(at_three), float(at_any), before, seven


def main() -> None:
    players = int(sys.argv[1]) if len(sys.argv) > 1 else 60
    print(
        "| zeros | day-to-day r | a sign spoke in 90 days | ranks alone, 7 + 2 ln 3 | ranks alone, 7 "
        "| Muted mornings | plain “3 of 7 at 3+” | plain “3 of 7 at any level” |"
    )
    print("|---|---|---|---|---|---|---|---|")
    for zeros in (0.8, 0.6, 0.4):
        for r in (0.0, 0.3):
            spoke, muted, plain = [], [], []
            for seed in range(players):
                record, levels = diary(zeros, r, seed)
                s, m = lived(record, seed)
                spoke.append(s)
                muted.append(m)
                plain.append(plain_rules(levels))
            three, anyone, before, seven = np.mean(plain, axis=0)
            print(
                f"| {zeros:.0%} | {r:.1f} | {np.mean(spoke):.0%} | {before:.0%} | {seven:.0%} | {np.mean(muted):.1%} | "
                f"{three:.0%} | {anyone:.0%} |",
                flush=True,
            )


if __name__ == "__main__":
    main()
