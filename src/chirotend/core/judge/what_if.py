"""What so many minutes more would make of today: beside her usual day and what the call allows. Nothing is written."""

from dataclasses import dataclass

from chirotend.core.errors import check_range
from chirotend.core.judge.baseline import Range
from chirotend.core.judge.evidence import Evidence
from chirotend.core.load.session import srpe_load
from chirotend.core.record import words


@dataclass(frozen=True)
class WhatIf:
    """So many minutes at an effort 0-10: their load and the day's with them, in AU (None = today's is not known).

    `usual` is her usual range of a day's load, `dose_min` the minutes the call allows; None = no such limit.
    """

    minutes: float
    effort: float
    load: float
    day_load: float | None
    day_minutes: float
    usual: Range | None
    dose_min: float | None

    @property
    def above_range(self) -> bool:
        return self.usual is not None and self.day_load is not None and self.day_load > self.usual.high

    @property
    def over_dose_min(self) -> float:
        """Minutes past what the call allows; 0 inside it."""
        return 0.0 if self.dose_min is None else max(0.0, self.day_minutes - self.dose_min)


def what_if(evidence: Evidence, dose_min: float | None, minutes: float, effort: float) -> WhatIf:
    """Return today with `minutes` (1-1440) at `effort` (0-10) added to what is written of it.

    Load is effort x minutes (session rating of perceived exertion; common practice). `OutOfRange` names the field.
    """
    check_range("minutes", minutes, 1, words.SESSION_MAX_MIN, "min")
    check_range("effort", effort, 0, words.EFFORT_MAX)
    written_min, written = evidence.load.on(evidence.today)
    played = 0.0 if written_min != written_min else written_min
    unknown = written != written and written_min == written_min
    load = srpe_load(effort, minutes)
    day_load = None if unknown else load + (0.0 if written != written else written)
    return WhatIf(minutes, effort, load, day_load, played + minutes, evidence.baseline_load, dose_min)
