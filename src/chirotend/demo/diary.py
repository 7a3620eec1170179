"""From plan to diary: the simulated player lives the plan, and what she would have written becomes a record."""

from collections.abc import Callable, Sequence
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np

from chirotend.core.judge.signs.chain import Floats
from chirotend.core.record import Block, Check, DayNote, Entry, Record, Session
from chirotend.core.simulate.one import live_plan
from chirotend.demo import schedule
from chirotend.demo.schedule import DemoSession, Habits, Played
from chirotend.formats.csv_log import check_uid

ZONE = ZoneInfo("Europe/Vienna")
WORDS = (
    ("Low F spoke at pp, three times in four.", "", ""),
    ("", "Slur up to the C sharp; the thumb creeps back on.", ""),
    ("", "", "Where does the left thumb live on low B?"),
    ("Act III solo even at 66.", "", ""),
)


def bassoonist() -> Record:
    """Return the demo diary, 7 March 2022 to the morning of 12 November 2026."""
    days = schedule.days()
    short = frozenset(d for d in days if np.random.default_rng([schedule.SEED, d.toordinal(), 7]).random() < 0.12)
    return _diary(
        days, schedule.plan, schedule.BASSOONIST, schedule.weakness(days), schedule.SEED, short, open_last_day=True
    )


def steady() -> Record:
    """Return the second player's diary: 120 days until 11 November 2026, every day answered."""
    days = [schedule.LAST - timedelta(days=n) for n in range(120, 0, -1)]
    well = np.zeros((len(days), len(schedule.STEADY)))
    return _diary(days, schedule.steady_plan, schedule.STEADY, well, 7, frozenset(), open_last_day=False, patchy=False)


def _diary(
    days: Sequence[date],
    plan: Callable[[date], list[DemoSession]],
    habits: Sequence[Habits],
    weakness: Floats,
    seed: int,
    short_sleep: frozenset[date],
    open_last_day: bool,
    patchy: bool = True,
) -> Record:
    dose = np.array([schedule.dose(plan(day), habits) for day in days])
    life = live_plan(schedule.MECHANICS, schedule.telling(habits), dose, weakness, schedule.LIFE_SEED)
    spots = [h.spot for h in habits]
    sessions: list[Session] = []
    checks: list[Check] = []
    notes: list[DayNote] = []
    for n, day in enumerate(days):
        rng = np.random.default_rng([seed, day.toordinal(), 3])
        flu = patchy and schedule.FLU[0] <= day <= schedule.FLU[1]
        written = not patchy or (not flu and rng.random() < 0.93)
        last = open_last_day and day == days[-1]
        if not last:
            sessions += [
                _session(day, i, s, rng) for i, s in enumerate(plan(day)) if written or s.kind == "performance"
            ]
        if written or last:
            waking = life.marks(n - 1, spots)["waking"] if n else []
            checks += _checks(day, waking, life.marks(n, spots), bool(plan(day)) and not last)
        off = not plan(day) and written and not last
        sleep = "short" if day in short_sleep else "sound"
        if off or written or last:
            notes.append(DayNote(day, off, sleep if written or last else None, "warm" if written or last else None))
    return Record(tuple(sessions), tuple(checks), tuple(notes))


def _session(day: date, number: int, planned: DemoSession, rng: np.random.Generator) -> Session:
    hour, minute = map(int, planned.start.split(":"))
    start = datetime(day.year, day.month, day.day, hour, minute, tzinfo=ZONE)
    blocks = tuple(_block(b, planned.kind) for b in planned.blocks)
    minutes = sum(b.minutes for b in blocks)
    away = 45 if planned.kind == "performance" else 10
    effort = round(sum(b.minutes * b.effort for b in planned.blocks) / minutes * 2) / 2
    well, hard, question = WORDS[int(rng.integers(len(WORDS)))] if rng.random() < 0.12 else ("", "", "")
    return Session(
        f"{day.isoformat()}-{number}",
        day,
        blocks,
        effort,
        start,
        start + timedelta(minutes=minutes + away),
        well,
        hard,
        question,
    )


def _block(played: Played, kind: str) -> Block:
    return Block(played.minutes, played.instrument, kind, played.effort)


def _checks(day: date, waking: Sequence[Entry], marked: dict[str, list[Entry]], played: bool) -> list[Check]:
    """The checks of a day. Of her nights she tells nothing: one of them would be another story (row 4)."""
    found = [_check(day, "waking", waking)]
    if played:
        if marked["playing"]:
            found.append(_check(day, "playing", marked["playing"]))
        found.append(_check(day, "after", marked["after"]))
    return found


def _check(day: date, timing: str, entries: Sequence[Entry]) -> Check:
    return Check(check_uid(day, timing), day, timing, tuple(entries))
