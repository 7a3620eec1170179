"""The last seven days of playing in numbers."""

from dataclasses import dataclass

from chirotend.core.judge.evidence import Evidence
from chirotend.core.load.averages import ewma_over_gaps


@dataclass(frozen=True)
class Week:
    """Seven days of playing up to and with `today`; None = nothing known. Minutes; load in AU a day.

    `logged`: days whose minutes are known; `rated`: those whose load is known too, which needs an effort.
    """

    minutes: float
    minutes_before: float | None
    logged: int
    rated: int
    running_load: float | None
    usual_low: float | None
    usual_high: float | None
    today_minutes: float | None
    baseline_minutes: float | None


def week_of(evidence: Evidence) -> Week:
    """Return the seven days that end with the day of `evidence`."""
    load, today = evidence.load, evidence.today
    minutes = load.minutes
    last, before = minutes[-7:], minutes[-14:-7]
    loads = [None if v != v else float(v) for v in load.load]
    average = ewma_over_gaps(loads, 7)
    usual = evidence.baseline_load
    now = load.on(today)[0]
    logged = [v for v in last if v == v]
    return Week(
        sum(logged),
        sum(v for v in before if v == v) if any(v == v for v in before) else None,
        len(logged),
        sum(v is not None for v in loads[-7:]),
        average.ewma if average else None,
        usual.low if usual else None,
        usual.high if usual else None,
        None if now != now else now,
        evidence.baseline_minutes,
    )
