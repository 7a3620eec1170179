"""The kinds of values measured on her, said once: version, unit, range, whose they are, which way is better."""

from dataclasses import dataclass
from functools import cache

from chirotend.core.errors import OutOfRange, check_range, check_word
from chirotend.core.memos import by_value
from chirotend.core.tables import rows

OF = ("player", "hand", "instrument")
BETTER = ("", "up", "down")


@dataclass(frozen=True)
class Measure:
    """A kind of measurement. `method` may end in `*` for a family of them; `better` "" = neither way is.

    A value of another version is another measure: the two are never compared.
    """

    method: str
    name: str
    version: int
    unit: str
    low: float
    high: float
    of: str
    better: str
    meaning: str
    source: str

    def __post_init__(self) -> None:
        check_word("of", self.of, OF)
        check_word("better", self.better, BETTER)

    def check(self, value: float) -> None:
        """Raise `OutOfRange` or `NotANumber` when `value` is none of this measure."""
        check_range("value", value, self.low, self.high, self.unit)


@cache
def measures() -> tuple[Measure, ...]:
    """Return every kind that is known, from `measures.csv`."""
    return tuple(
        Measure(
            r["method"],
            r["name"],
            int(r["version"]),
            r["unit"],
            float(r["low"]),
            float(r["high"]),
            r["of"],
            r["better"],
            r["meaning"],
            r["source"],
        )
        for r in rows("measures")
    )


@by_value(512)
def measure_of(method: str) -> Measure:
    """Return the kind of `method`; `OutOfRange` when nothing is measured by it."""
    for kind in measures():
        family = kind.method.removesuffix("*")
        if method == kind.method or (family != kind.method and method.startswith(family) and method != family):
            return kind
    raise OutOfRange("method", method, words=tuple(kind.method for kind in measures()))
