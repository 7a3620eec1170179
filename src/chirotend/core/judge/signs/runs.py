"""The filter after each day of a diary, memoised by days: a new day is one more step, a corrected past a new run."""

from dataclasses import dataclass

import numpy as np

from chirotend.core.judge.signs.chain import Floats
from chirotend.core.judge.signs.filter import Day, Filter
from chirotend.core.memos import Memo

#: a place and day as (strength 0-8, character 0-7, a nerve's mark); a day is one of each place, None = not asked
Observed = tuple[int, int, bool]
NOTHING: Observed = (0, 0, False)
DayRow = tuple[Observed, ...] | None
#: for each place the number of the day after which it was settled, -1 = none
Settled = tuple[int, ...]
MOST_KEPT = 1024  # some 15 kB each
#: days that may have been written or mended since the filter was last run
LOOKED_BACK = 14


@dataclass(frozen=True)
class Run:
    """The filter after some days, and the log odds (days, places) on each of them."""

    filter: Filter
    odds: Floats


class Runs(Memo):
    """Runs as they were last worked out, by the days themselves: nothing that is kept can be stale."""

    def __init__(self) -> None:
        super().__init__()
        self._kept: dict[tuple[tuple[DayRow, ...], Settled], Run] = {}

    def after(self, days: tuple[DayRow, ...], settled: Settled) -> Run:
        """Return the run over `days`; after its day of `settled` a place is at its usual again."""
        known = self._kept.get((days, settled))
        if known is None:
            until_yesterday = len(days) - 1
            known_days, run = self._beginning(days, settled)
            if known_days < until_yesterday:
                before = _until(settled, until_yesterday)
                run = self._keep(days[:-1], before, _run(run, days[known_days:-1], before))
            known = self._keep(days, settled, _run(run, days[-1:], settled))
        return known

    def _beginning(self, days: tuple[DayRow, ...], settled: Settled) -> tuple[int, Run]:
        """The longest beginning that is kept, with its number of days: what was marked later changes the last few."""
        for n in range(len(days) - 1, max(0, len(days) - 1 - LOOKED_BACK), -1):
            if (kept := self._kept.get((days[:n], _until(settled, n)))) is not None:
                return n, kept
        return 0, _nothing(len(settled))

    def _keep(self, days: tuple[DayRow, ...], settled: Settled, run: Run) -> Run:
        if len(self._kept) >= MOST_KEPT:
            self._kept.clear()
        self._kept[days, settled] = run
        return run

    def forget(self) -> None:
        self._kept.clear()


RUNS = Runs()


def _until(settled: Settled, days: int) -> Settled:
    """What was settled within the first `days`."""
    return tuple(day if day < days else -1 for day in settled)


def _nothing(places: int) -> Run:
    return Run(Filter(places), np.empty((0, places)))


def _run(before: Run, days: tuple[DayRow, ...], settled: Settled) -> Run:
    """Return `before` and then `days`; `settled` are numbers of days of them all."""
    filtered, odds = before.filter.copy(), list(before.odds)
    for row in days:
        odds.append(filtered.step(_day(row, filtered.places)))
        now = np.array(settled) == len(odds) - 1
        if now.any():
            filtered.settle(now)
            odds[-1] = filtered.log_odds()
    return Run(filtered, np.array(odds).reshape(len(odds), filtered.places))


def _day(row: DayRow, places: int) -> Day:
    observed = np.array(row if row is not None else [NOTHING] * places, dtype=np.int64)
    return Day(observed[:, 0], observed[:, 1], observed[:, 2] > 0, np.full(places, row is not None))
