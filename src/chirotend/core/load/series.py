"""Daily series: one value a day from a first day on, in which "not logged" (nan) never becomes zero."""

from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.load.session import session_load
from chirotend.core.record import Record

NOT_KNOWN = float("nan")


@dataclass(frozen=True)
class LoadSeries:
    """One value a day from `first` on. `minutes` and `load` (AU): nan = not known, 0 = an explicit day off.

    `minutes` are minutes of playing; other uses of the hands count in `load` only.

    `load` is nan also on days that were played without an effort rating.
    """

    first: date
    minutes: tuple[float, ...]
    load: tuple[float, ...]

    def index(self, day: date) -> int:
        return (day - self.first).days

    def day(self, index: int) -> date:
        return self.first + timedelta(days=index)

    def on(self, day: date) -> tuple[float, float]:
        """Return (minutes, load) of `day`; (nan, nan) outside the series."""
        i = self.index(day)
        if 0 <= i < len(self.minutes):
            return self.minutes[i], self.load[i]
        return NOT_KNOWN, NOT_KNOWN


def load_series(record: Record, first: date, last: date, instrument: str = "") -> LoadSeries:
    """Return the daily load from `first` to `last` (both included); empty if `last` is earlier.

    With `instrument` only its blocks count: a day on which something else was played is a known 0.
    """
    n = max(0, (last - first).days + 1)
    minutes, load = [NOT_KNOWN] * n, [NOT_KNOWN] * n
    for note in record.notes:
        i = (note.day - first).days
        if note.off and 0 <= i < n:
            minutes[i] = load[i] = 0.0
    for session in record.sessions:
        i = (session.day - first).days
        if not 0 <= i < n:
            continue
        if minutes[i] != minutes[i]:
            minutes[i] = load[i] = 0.0
        minutes[i] += session.playing_minutes if not instrument else session.minutes_on(instrument)
        value = session_load(session, instrument)
        load[i] += NOT_KNOWN if value is None else value
    return LoadSeries(first, tuple(minutes), tuple(load))
