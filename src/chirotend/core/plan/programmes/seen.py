"""What a programme looks at of each day: what was played, what was felt beside her usual, what has to stop it."""

from collections.abc import Collection
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.judge.baseline import median
from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.rules import rules
from chirotend.core.load.series import load_series
from chirotend.core.record import Mark, Place
from chirotend.core.record.words import NERVE_KINDS

PLAYED = ("playing", "after")


@dataclass(frozen=True)
class DaySeen:
    """A day as a programme reads it.

    `minutes`: played, 0 = a day off, None = not written. `felt` (0-10): pain while playing and after, and how far other
    kinds passed her usual; None = not asked. `rise` (0-10): how far the waking passed her usual; None = not asked.
    `woke_with`: tingling, numbness or weakness on waking, or any mark of the night before. `sign`: the same kinds at
    any later time of the day. `held`: the call of that day was not Open: what was played then is no step.
    """

    day: date
    minutes: float | None = None
    felt: float | None = None
    rise: float | None = None
    woke_with: bool = False
    sign: bool = False
    held: bool = False


def seen_days(
    evidence: Evidence, first: date, held: Collection[date] = (), instrument: str = ""
) -> tuple[DaySeen, ...]:
    """Return the days from `first` to today; with `instrument` only its minutes count, what was felt always does."""
    evidence = evidence.above_known
    load = load_series(evidence.record, first, evidence.today, instrument)
    marks: dict[date, list[Mark]] = {}
    for mark in evidence.marks:
        marks.setdefault(mark.day, []).append(mark)
    usual = _Baseline(evidence)
    found = []
    for day in map(load.day, range(len(load.minutes))):
        timings = {check.timing for check in evidence.record.checks_on(day)}
        here = marks.get(day, [])
        night_before = [m for m in marks.get(day - timedelta(days=1), ()) if m.timing == "night"]
        minutes = load.on(day)[0]
        found.append(
            DaySeen(
                day,
                None if minutes != minutes else minutes,
                max((usual.felt(m) for m in here if m.timing in PLAYED), default=0.0) if timings & {*PLAYED} else None,
                max((usual.above(m) for m in here if m.timing == "waking"), default=0.0)
                if "waking" in timings
                else None,
                bool(night_before) or any(m.entry.kind in NERVE_KINDS for m in here if m.timing == "waking"),
                any(m.entry.kind in NERVE_KINDS for m in here if m.timing not in ("waking", "night")),
                day in held,
            )
        )
    return tuple(found)


class _Baseline:
    """Her usual of a place and kind as it stood on any day: the median of the last asked days before it."""

    def __init__(self, evidence: Evidence) -> None:
        self.evidence = evidence
        self.known: dict[tuple[Place, str, date], float] = {}

    def felt(self, mark: Mark) -> float:
        return mark.entry.intensity if mark.entry.kind == "pain" else self.above(mark)

    def above(self, mark: Mark) -> float:
        key = mark.place, mark.entry.kind, mark.day
        if key not in self.known:
            by_day = self.evidence.daily_worst((mark.entry.kind,)).get(mark.place, {})
            before = [d for d in self.evidence.asked if d < mark.day][-rules().baseline_days :]
            self.known[key] = median([by_day.get(d, 0.0) for d in before]) if before else 0.0
        return max(0.0, mark.entry.intensity - self.known[key])
