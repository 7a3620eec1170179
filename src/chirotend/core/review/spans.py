"""Two spans side by side: the same few numbers of each. They show what changed, not why."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.judge.baseline import median
from chirotend.core.load.series import load_series
from chirotend.core.record import Place, Record

#: days of each kind a span needs before a number of them is given (ours, common practice)
LEAST_DAYS = 7


@dataclass(frozen=True)
class SpanFacts:
    """What a span of days was; None = fewer than seven days of it can tell.

    `load_week` AU and `minutes_week` a week of known days, `performances_week` a week of days with a known load,
    `off_28` days without playing in 28 of them, `marked_7` marked days in 7 asked, `muted_28` Muted or Tacet days in
    28 with a call, `waking` the median of the strongest waking mark of `place` (0 = asked, nothing there).
    """

    first: date
    last: date
    known: int
    asked: int
    load_week: float | None
    minutes_week: float | None
    performances_week: float | None
    off_28: float | None
    marked_7: float | None
    muted_28: float | None
    place: Place | None
    waking: float | None


def span_facts(
    record: Record, calls: Mapping[date, str], first: date, last: date, place: Place | None = None
) -> SpanFacts:
    """Return the facts of `first` to `last`; `calls` by day (as it was made), `place` the one looked at on waking."""
    series = load_series(record, first, last)
    minutes = [m for m in series.minutes if m == m]
    loads = [v for v in series.load if v == v]
    days = [first + timedelta(days=i) for i in range((last - first).days + 1)]
    asked = [d for d in days if record.checks_on(d)]
    marked = sum(any(e.intensity > 0 for c in record.checks_on(d) for e in c.entries) for d in asked)
    said = [calls[d] for d in days if d in calls]
    nights = sum(any(b.kind == "performance" for b in s.blocks) for s in record.sessions if first <= s.day <= last)
    return SpanFacts(
        first,
        last,
        len(minutes),
        len(asked),
        _each(sum(loads), len(loads), 7),
        _each(sum(minutes), len(minutes), 7),
        _each(nights, len(minutes), 7),
        _each(sum(m == 0 for m in minutes), len(minutes), 28),
        _each(marked, len(asked), 7),
        _each(sum(c.startswith("muted") or c == "tacet" for c in said), len(said), 28),
        place,
        _waking(record, days, place) if place else None,
    )


def _each(total: float, of: int, many: int) -> float | None:
    return many * total / of if of >= LEAST_DAYS else None


def _waking(record: Record, days: list[date], place: Place) -> float | None:
    checks = [c for d in days for c in record.checks_on(d) if c.timing == "waking"]
    worst = [max([m.entry.intensity for m in c.marks if m.place == place] + [0.0]) for c in checks]
    return median(worst) if len(worst) >= LEAST_DAYS else None


def most_marked(record: Record, first: date, last: date) -> Place | None:
    """Return the place marked on most days of a span; None when nothing was marked."""
    days: dict[Place, set[date]] = {}
    for check in record.checks:
        if first <= check.day <= last:
            for mark in check.marks:
                if mark.entry.intensity > 0:
                    days.setdefault(mark.place, set()).add(check.day)
    return max(sorted(days), key=lambda p: len(days[p])) if days else None
