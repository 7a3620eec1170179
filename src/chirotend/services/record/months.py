"""The record by months: how much was played and marked in each, newest first."""

from calendar import monthrange
from dataclasses import dataclass
from datetime import date

from chirotend.services.context import Context


@dataclass(frozen=True)
class Month:
    """A month that holds anything: its days that were played, their minutes, its symptoms."""

    first: date
    played_days: int
    minutes: float
    symptoms: int

    @property
    def last(self) -> date:
        return self.first.replace(day=monthrange(self.first.year, self.first.month)[1])


def months(context: Context) -> tuple[Month, ...]:
    """Return the months with playing or a symptom, newest first."""
    minutes, symptoms = context.store.minutes_by_day(), context.store.symptoms_by_day()
    found: dict[date, list[float]] = {}
    for day, played in minutes.items():
        sums = found.setdefault(day.replace(day=1), [0, 0.0, 0])
        sums[0] += 1
        sums[1] += played
    for day, marked in symptoms.items():
        found.setdefault(day.replace(day=1), [0, 0.0, 0])[2] += marked
    return tuple(
        Month(first, int(days), played, int(marked))
        for first, (days, played, marked) in sorted(found.items(), reverse=True)
    )
