"""The packaged tables: the only files the core reads. Unknown keys are refused, never defaulted."""

import csv
from functools import cache
from importlib.resources import files

Row = dict[str, str]


@cache
def rows(name: str) -> tuple[Row, ...]:
    """Return the rows of `core/tables/<name>.csv` as dictionaries of text."""
    text = files("chirotend.core").joinpath("tables", f"{name}.csv").read_text(encoding="utf-8")
    return tuple(csv.DictReader(text.splitlines()))


@cache
def numbers(name: str) -> dict[str, float]:
    """Return `key -> value` of a table of numbers. A missing key raises KeyError when asked for."""
    return {row["key"]: float(row["value"]) for row in rows(name)}
