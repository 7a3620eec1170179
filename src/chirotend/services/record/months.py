"""The record by months: how much was played and marked in each, newest first."""

from calendar import monthrange
from collections import Counter, defaultdict
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
    played, marked = context.store.minutes_by_day(), context.store.symptoms_by_day()
    days, minutes, symptoms = Counter[date](), defaultdict[date, float](float), Counter[date]()
    for day, length in played.items():
        days[day.replace(day=1)] += 1
        minutes[day.replace(day=1)] += length
    for day, count in marked.items():
        symptoms[day.replace(day=1)] += count
    first_days = sorted({*days, *symptoms}, reverse=True)
    return tuple(Month(first, days[first], minutes[first], symptoms[first]) for first in first_days)
