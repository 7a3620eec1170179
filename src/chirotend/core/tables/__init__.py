"""The packaged tables: the only files the core reads. Unknown keys are refused, never defaulted."""

import csv
from dataclasses import fields
from functools import cache
from importlib.resources import files
from typing import TypeVar

Row = dict[str, str]
T = TypeVar("T")


@cache
def rows(name: str) -> tuple[Row, ...]:
    """Return the rows of `core/tables/<name>.csv` as dictionaries of text."""
    text = files("chirotend.core").joinpath("tables", f"{name}.csv").read_text(encoding="utf-8")
    return tuple(csv.DictReader(text.splitlines()))


@cache
def numbers(name: str, earlier: str = "") -> dict[str, float]:
    """Return `key -> value` of a table of numbers; a value in the column `earlier` comes before the present one."""
    return {row["key"]: float((row[earlier] if earlier else "") or row["value"]) for row in rows(name)}


def typed(kind: type[T], name: str, prefix: str = "", earlier: str = "") -> T:
    """Return the numbers of a table whose keys begin with `prefix` as a frozen `kind`: one field a key, an int where
    the field is one. `earlier` names the column of an earlier version; "" = the present values.

    Raises ValueError when a field has no row, or a whole number is wanted and there is none.
    """
    known, made = numbers(name, earlier), {}
    for field in fields(kind):  # type: ignore[arg-type]  # every kind is a dataclass
        if field.type not in (int, float):
            continue
        key = prefix + field.name
        if key not in known:
            raise ValueError(f"{name}.csv has no row “{key}”")
        value = known[key]
        if field.type is int and value != int(value):
            raise ValueError(f"{name}.csv: “{key}” must be a whole number")
        made[field.name] = int(value) if field.type is int else value
    return kind(**made)
