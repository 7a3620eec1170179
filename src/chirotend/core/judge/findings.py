"""What a rule saw: a code with values, so that the sentence can be made (and translated) when it is shown."""

from dataclasses import dataclass, field
from datetime import date


@dataclass(frozen=True)
class Finding:
    """One matching row of the call table.

    `level` is the call it asks for (0 open … 3 tacet), `values` what was seen, `days` where to look,
    `book` how soon to see someone ("" = no need), `nerve` whether the way back takes the longer count.
    """

    code: str
    row: int
    level: int
    values: dict[str, str | float | int] = field(default_factory=dict)
    days: tuple[date, ...] = ()
    book: str = ""
    nerve: bool = False
