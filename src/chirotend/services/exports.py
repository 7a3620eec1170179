"""Taking the record away: the diary as CSV, everything as one JSON file; and deleting it, really."""

from datetime import date
from typing import Any

from chirotend.formats import csv_log, documents, json_record
from chirotend.services.desk import Desk
from chirotend.store.models import CallRow, ChangeRow, ClearanceRow, EventRow

SETTINGS = ("name", "zone", "instruments", "emergency_number", "units", "letter_keys")
#: the tables kept as they are, with their columns and order
KEPT: dict[str, tuple[Any, tuple[str, ...]]] = {
    "events": (EventRow, ("at_utc", "uid", "session_uid", "device", "seq", "monotonic_ms", "kind", "payload")),
    "calls": (
        CallRow,
        ("day", "number", "issued_utc", "version", "call", "row", "findings", "dose", "standing", "overrule", "reason"),
    ),
    "clearances": (ClearanceRow, ("at_utc", "start_dose_min")),
    "changes": (ChangeRow, ("number", "at_utc", "action", "subject", "key", "before")),
}
DAYS, INSTANTS = ("day",), ("at_utc", "issued_utc")


def csv_files(desk: Desk) -> dict[str, str]:
    """Return the diary as CSV text by file name."""
    return csv_log.write(desk.store.record(), desk.zone)


def everything(desk: Desk) -> str:
    """Return all there is of this player as JSON text. What deletes keep for undo is not part of it."""
    kept = {
        name: [_row_out(row, columns) for row in desk.store.all_rows(model, *_order(model, columns))]
        for name, (model, columns) in KEPT.items()
    }
    kept["changes"] = [c for c in kept["changes"] if c["action"] != "delete"]
    settings = {name: getattr(desk.player, name) for name in SETTINGS}
    return json_record.write(settings, desk.store.record(), kept)


def take_over(desk: Desk, settings: dict[str, Any], kept: dict[str, list[dict[str, Any]]]) -> None:
    """Write settings and kept tables of an export into this (empty) record."""
    for name in SETTINGS:
        if name in settings:
            setattr(desk.player, name, settings[name])
    for name, (model, columns) in KEPT.items():
        desk.store.add_rows(model, [_row_in(row, columns) for row in kept[name]])


def counts(desk: Desk) -> dict[str, int]:
    """Return how much of each kind the record holds."""
    return desk.store.counts()


def first_day(desk: Desk) -> date | None:
    """Return the first day on which anything was written; None for an empty record."""
    return desk.store.first_day()


def delete_everything(desk: Desk) -> None:
    """Delete the whole record: sessions, checks, days, events, calls, corrections and their undo."""
    desk.store.drop_everything()


def _order(model: Any, columns: tuple[str, ...]) -> list[Any]:
    return [getattr(model, c) for c in columns[:2]]


def _row_out(row: Any, columns: tuple[str, ...]) -> dict[str, Any]:
    out = {c: getattr(row, c) for c in columns}
    for c in columns:
        if c in DAYS:
            out[c] = out[c].isoformat()
        elif c in INSTANTS:
            out[c] = documents.instant_text(out[c])
    return out


def _row_in(row: dict[str, Any], columns: tuple[str, ...]) -> dict[str, Any]:
    values = {c: row[c] for c in columns}
    for c in columns:
        if c in DAYS:
            values[c] = date.fromisoformat(values[c])
        elif c in INSTANTS:
            values[c] = documents.instant(values[c])
    return values
