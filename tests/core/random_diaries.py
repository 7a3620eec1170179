"""Two hundred diaries of every kind, each from its number alone, and every call they lead to, in words and digits."""

import hashlib
from collections import Counter
from dataclasses import astuple, dataclass
from datetime import UTC, date, datetime, timedelta

import numpy as np

from chirotend.core.body.redflags import red_flags
from chirotend.core.body.zones import zones
from chirotend.core.judge.call import compute_call, overruled, seen_by_clinician
from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.recovery import Recovery
from chirotend.core.record import Block, Check, DayNote, Entry, Record, Session
from chirotend.core.record.words import FLAGS, HANDS, LASTING, OTHER_USES, SLEEP, SYMPTOM_KINDS, TIMINGS

FIRST, DAYS, CALLED = date(2026, 3, 2), 150, 60
#: how often each kind is marked (as in `SYMPTOM_KINDS`), by how her nerves are: quiet, now and then, often
KIND_SHARES = ((0.15, 0.6, 0, 0, 0, 0.25), (0.15, 0.55, 0.05, 0.005, 0.005, 0.24), (0.2, 0.3, 0.3, 0.1, 0.02, 0.08))


@dataclass(frozen=True)
class Habits:
    """How one invented player writes: how often, how much, which places trouble her."""

    writes: float
    plays: float
    minutes: float
    marks: float
    strength: float
    kinds: tuple[float, ...]
    places: tuple[tuple[str, str], ...]
    times: bool


def habits(rng: np.random.Generator) -> Habits:
    known = sorted(zones().values(), key=lambda z: z.id)
    chosen = rng.choice(len(known), int(rng.integers(1, 4)), replace=False)
    return Habits(
        float(rng.uniform(0.3, 1)),
        float(rng.uniform(0.4, 1)),
        float(rng.uniform(20, 150)),
        float(rng.choice([0.03, 0.1, 0.3, 0.7])),
        float(rng.choice([0.5, 1, 1.5, 2, 3, 4])),
        KIND_SHARES[int(rng.choice(3, p=[0.6, 0.3, 0.1]))],
        tuple((known[i].id, str(rng.choice(["left", "right"])) if known[i].sided else "none") for i in chosen),
        bool(rng.random() < 0.7),
    )


def diary(number: int) -> Record:
    """Return the record of diary `number`: gaps, days off, several sessions, marks with and without a time."""
    rng = np.random.default_rng([number, 8])
    h = habits(rng)
    gap_from, gap_days = int(rng.integers(40, DAYS)), int(rng.choice([0, 0, 8, 15, 30]))
    sessions, checks, notes = [], [], []
    for n in range(DAYS):
        day = FIRST + timedelta(days=n)
        away = gap_from <= n < gap_from + gap_days
        if rng.random() > h.writes:
            continue
        if not away and rng.random() < h.plays:
            for i in range(int(rng.integers(1, 4))):
                blocks = tuple(
                    Block(float(rng.integers(5, max(6, int(h.minutes)))), str(rng.choice(["bassoon", "contrabassoon"])))
                    for _ in range(int(rng.integers(1, 3)))
                )
                sessions.append(Session(f"{number}-{n}-{i}", day, blocks, float(rng.integers(1, 9))))
        elif rng.random() < 0.5:
            notes.append(DayNote(day, True, _or_none(rng, SLEEP), _or_none(rng, HANDS)))
        for timing in TIMINGS:
            if rng.random() < 0.55:
                checks.append(_check(rng, h, number, day, timing))
    return Record(tuple(sessions), tuple(checks), tuple(notes))


def _check(rng: np.random.Generator, h: Habits, number: int, day: date, timing: str) -> Check:
    entries = {}
    for zone, side in h.places:
        if rng.random() < h.marks:
            kind = str(rng.choice(SYMPTOM_KINDS, p=h.kinds))
            strength = float(np.clip(round(rng.normal(h.strength, 1)), 0, 10))
            flags = (str(rng.choice(FLAGS)),) if rng.random() < 0.002 else ()
            entries[zone, side, kind] = Entry(zone, side, kind, strength, _or_none(rng, LASTING, 0.3), flags)
    red = (str(rng.choice(sorted(red_flags()))),) if rng.random() < 0.0005 else ()
    at = datetime(day.year, day.month, day.day, 6 + 3 * TIMINGS.index(timing), tzinfo=UTC) if h.times else None
    return Check(
        f"{number} {day} {timing}", day, timing, tuple(entries.values()), red, _or_none(rng, OTHER_USES, 0.1), at
    )


def _or_none(rng: np.random.Generator, words: tuple[str, ...], share: float = 0.5) -> str | None:
    return str(rng.choice(words)) if rng.random() < share else None


def said(number: int) -> tuple[str, Counter[str]]:
    """Return the digest of the last sixty days' calls of a diary, one morning after the other, and what was called."""
    whole, recovery, cleared = diary(number), Recovery(), None
    rng = np.random.default_rng([number, 9])
    lines, called = [], Counter[str]()
    for n in range(DAYS - CALLED, DAYS):
        today = FIRST + timedelta(days=n)
        now = datetime(today.year, today.month, today.day, 21, tzinfo=UTC)
        evidence = Evidence(_until(whole, today), today, now, recovery.settled_until, cleared, ())
        call = compute_call(evidence, recovery)
        lines.append(repr(astuple(call)))  # the values alone: what they are called may change
        called[call.call] += 1
        recovery = call.recovery
        if recovery.held and rng.random() < 0.4:
            recovery, cleared = seen_by_clinician(today + timedelta(days=1), 20.0), now
        elif call.overrulable and rng.random() < 0.1:
            recovery = overruled(call)
    return hashlib.sha256("\n".join(lines).encode()).hexdigest()[:24], called


def _until(record: Record, day: date) -> Record:
    return Record(
        tuple(s for s in record.sessions if s.day <= day),
        tuple(c for c in record.checks if c.day <= day),
        tuple(n for n in record.notes if n.day <= day),
    )
