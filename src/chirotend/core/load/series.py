"""Daily series: dense arrays from a first day on, in which "not logged" (nan) never becomes zero."""

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from numpy.typing import NDArray

from chirotend.core.load.session import session_load
from chirotend.core.record import Record

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class LoadSeries:
    """One value a day from `first` on. `minutes` and `load` (AU): nan = not known, 0 = an explicit day off.

    `minutes` are minutes of playing; other uses of the hands count in `load` only.

    `load` is nan also on days that were played without an effort rating.
    """

    first: date
    minutes: Floats
    load: Floats

    def index(self, day: date) -> int:
        return (day - self.first).days

    def day(self, index: int) -> date:
        return self.first + timedelta(days=index)

    def on(self, day: date) -> tuple[float, float]:
        """Return (minutes, load) of `day`; (nan, nan) outside the series."""
        i = self.index(day)
        if 0 <= i < len(self.minutes):
            return float(self.minutes[i]), float(self.load[i])
        return float("nan"), float("nan")


def load_series(record: Record, first: date, last: date) -> LoadSeries:
    """Return the daily load from `first` to `last` (both included); empty if `last` is earlier."""
    n = max(0, (last - first).days + 1)
    minutes = np.full(n, np.nan)
    load = np.full(n, np.nan)
    for note in record.notes:
        i = (note.day - first).days
        if note.off and 0 <= i < n:
            minutes[i] = load[i] = 0.0
    for session in record.sessions:
        i = (session.day - first).days
        if not 0 <= i < n:
            continue
        if np.isnan(minutes[i]):
            minutes[i] = load[i] = 0.0
        minutes[i] += session.playing_minutes
        value = session_load(session)
        load[i] += np.nan if value is None else value
    return LoadSeries(first, minutes, load)
