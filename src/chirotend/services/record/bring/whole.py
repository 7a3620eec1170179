"""A whole record brought into one that is not empty: what is missing is added, or everything is replaced."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from chirotend.formats.json_record import Tables
from chirotend.services.context import Context
from chirotend.store.models import CallRow
from chirotend.store.personal_tables import tables_in_record
from chirotend.store.repository import as_document, as_values

#: what is never added to a record that has its own: history counts its changes, and a profile is one
STAYS_BEHIND = ("changes", "profile")


@dataclass(frozen=True)
class Missing:
    """Rows of the kept tables that are not there yet, and how many of each table stay behind."""

    tables: Tables = field(default_factory=dict)
    behind: dict[str, int] = field(default_factory=dict)


def missing(context: Context, kept: Tables) -> Missing:
    """Return what of the kept tables of an export is not in her record. A day that has its call keeps it."""
    found = Missing()
    days = {row.day.isoformat() for row in context.store.repository(CallRow).some(("day",))}
    for name, rows in kept.items():
        model = tables_in_record()[name]
        repository = context.store.repository(model)
        keys = repository.key_names
        there = {tuple(str(as_document(row)[key]) for key in keys) for row in repository.all()}
        new = [
            row
            for row in rows
            if name not in STAYS_BEHIND
            and tuple(str(row.get(key)) for key in keys) not in there
            and not (name == "calls" and row["day"] in days)
        ]
        same = sum(tuple(str(row.get(key)) for key in keys) in there for row in rows)
        found.tables[name] = new
        left = len(rows) - len(new) - (0 if name in STAYS_BEHIND else same)
        if left:
            found.behind[name] = left
    return found


def add(context: Context, tables: Tables) -> Mapping[str, list[list[str]]]:
    """Add rows that are not there; returns their keys by table, so that they can be taken back."""
    keys: dict[str, list[list[str]]] = {}
    for name, rows in tables.items():
        model = tables_in_record()[name]
        context.store.add_rows(model, [as_values(model, row) for row in rows])
        keys[name] = [[row[key] for key in context.store.repository(model).key_names] for row in rows]
    context.store.note_running_sessions()
    return keys


def take_out(context: Context, keys: Mapping[str, list[list[str]]]) -> None:
    """Take out what was added, by the keys of its rows."""
    for name, found in keys.items():
        model = tables_in_record()[name]
        repository = context.store.repository(model)
        for key in found:
            values = as_values(model, dict(zip(repository.key_names, key, strict=True)))
            repository.drop(*values.values())
    context.store.note_running_sessions()
