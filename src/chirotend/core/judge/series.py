"""A series of hers: one value a day on which something is known."""

from dataclasses import dataclass
from datetime import date

Values = tuple[tuple[date, float], ...]


@dataclass(frozen=True)
class Series:
    """A series by name: (day, value), and whether more of it is worse (1) or better (-1)."""

    name: str
    values: Values
    worse: int = 1
