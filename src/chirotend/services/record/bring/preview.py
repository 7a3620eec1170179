"""The first fortnight of a diary as a score, before anything is saved."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from chirotend.drawing.score import ScoreLine
from chirotend.services.context import Context
from chirotend.services.record.bring.shown import fortnight_of
from chirotend.services.score import score_page


@dataclass(frozen=True)
class Fortnight:
    """Two weeks as lines of the score, for a wide screen and for a phone."""

    wide: tuple[ScoreLine, ...]
    phone: tuple[ScoreLine, ...]


def fortnight(context: Context, shown: Mapping[str, Any]) -> Fortnight | None:
    """Return the first fortnight of what is shown; None where there are no days."""
    if not shown.get("fortnight"):
        return None
    first, record = fortnight_of(shown["fortnight"])
    return Fortnight(*score_page.of_record(context, record, first))
