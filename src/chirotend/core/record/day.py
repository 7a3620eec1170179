"""What belongs to a whole practice day."""

from dataclasses import dataclass
from datetime import date
from typing import Annotated

from chirotend.core.record import words
from chirotend.core.record.shape import check_fields, text, word


@dataclass(frozen=True)
class DayNote:
    """What belongs to a whole practice day: an explicit day off, last night's sleep, hands on waking."""

    day: date
    off: bool = False
    sleep: Annotated[str | None, word(words.SLEEP, missing="not said", column="sleep")] = None
    hands: Annotated[str | None, word(words.HANDS, missing="not said", column="hands")] = None
    note: Annotated[str, text(column="note")] = ""

    def __post_init__(self) -> None:
        check_fields(self)
