"""What a field of the record may hold, said once: checks, columns of the diary files and JSON follow from it."""

from collections.abc import Callable
from dataclasses import dataclass, fields
from functools import cache
from typing import Any, get_type_hints

from chirotend.core.errors import check_range, check_word

ID_MAX, NAME_MAX, TEXT_MAX = 64, 80, 20_000


@dataclass(frozen=True)
class Shape:
    """A field: its unit and range, or its words, or its longest text; what "missing" means; its column in the diary.

    `column` "" = it has none of its own there. `label`: its name on the screen where it is typed in words; "" = not.
    """

    missing: str
    column: str = ""
    unit: str = ""
    low: float | None = None
    high: float | None = None
    words: tuple[str, ...] = ()
    several: bool = False
    longest: int = 0
    label: str = ""

    def check(self, name: str, value: Any) -> None:
        """Raise `OutOfRange` or `NotANumber` when `value` is none that this field holds."""
        if self.several:
            for word in value:
                check_word(name, word, self.words)
        elif self.words:
            check_word(name, value, self.words)
        elif self.high is not None:
            check_range(name, value, self.low, self.high, self.unit)


def number(low: float, high: float, unit: str = "", *, missing: str = "", column: str = "") -> Shape:
    """A field that holds a number from `low` to `high`."""
    return Shape(missing, column, unit, low, high)


def word(words: tuple[str, ...], *, missing: str = "", column: str = "", several: bool = False) -> Shape:
    """A field that holds one of `words` (or several)."""
    return Shape(missing, column, words=words, several=several)


def text(longest: int = TEXT_MAX, *, missing: str = "nothing written", column: str = "", label: str = "") -> Shape:
    """A field that holds words of hers, or an id."""
    return Shape(missing, column, longest=longest, label=label)


@cache
def shapes(kind: type) -> dict[str, Shape]:
    """Return the described fields of a record's dataclass, in their order."""
    found = {}
    for name, hint in get_type_hints(kind, include_extras=True).items():
        for described in getattr(hint, "__metadata__", ()):
            if isinstance(described, Shape):
                found[name] = described
    return found


@cache
def columns(kind: type) -> dict[str, Shape]:
    """Return the described fields of a dataclass that have a column in the diary, by the column's name."""
    return {shape.column: shape for shape in shapes(kind).values() if shape.column}


@cache
def names_of(kind: type) -> dict[str, str]:
    """Return the field of each column."""
    return {shape.column: name for name, shape in shapes(kind).items() if shape.column}


@cache
def field_names(kind: type, without: tuple[str, ...] = ()) -> tuple[str, ...]:
    """Return the names of a dataclass's own fields, in their order: also the columns of its table."""
    return tuple(f.name for f in fields(kind) if f.init and f.name not in without)


def check_fields(record: Any) -> None:
    """Raise `OutOfRange` or `NotANumber` at the first field of `record` that holds what it cannot."""
    kind: type = type(record)
    for name, check in _checks(kind):
        value = getattr(record, name)
        if value is not None:
            check(name, value)


@cache
def _checks(kind: type) -> tuple[tuple[str, Callable[[str, Any], None]], ...]:
    """The fields that hold no text, each with its check: texts are checked where they are read."""
    return tuple((name, shape.check) for name, shape in shapes(kind).items() if not shape.longest)
