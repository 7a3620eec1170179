"""Taking the record away: the diary as CSV, everything as one JSON file; and deleting it, really."""

import io
import shutil
import zipfile
from collections.abc import Iterator
from datetime import date
from pathlib import Path
from typing import Any

from chirotend.core.errors import Degenerate, Missing
from chirotend.core.load.averages import ShortToLong, acwr
from chirotend.core.load.series import load_series
from chirotend.core.load.weeks import MONTH
from chirotend.core.record import Record
from chirotend.formats import csv_log, json_record, load_ratio
from chirotend.services.account import accounts
from chirotend.services.context import Context, FieldError
from chirotend.store.models import CallRow, JobRow, Personal
from chirotend.store.personal_tables import in_record, tables_in_record
from chirotend.store.repository import as_document, as_values

SETTINGS = ("name", "zone", "instruments", "emergency_number", "units", "letter_keys")


def csv_files(context: Context) -> dict[str, str]:
    """Return the diary as CSV text by file name, and the load ratio beside it, which is read by nothing here."""
    record = context.store.record()
    return {**csv_log.write_tables(record, context.zone), **load_ratio.write_load_ratio(_ratios(record))}


def csv_zip(context: Context) -> bytes:
    """Return the CSV files packed in one zip, the same bytes for the same record."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, text in csv_files(context).items():
            archive.writestr(zipfile.ZipInfo(name, (2020, 1, 1, 0, 0, 0)), text)
    return out.getvalue()


def _ratios(record: Record) -> Iterator[tuple[date, ShortToLong]]:
    if not record.load_days:
        return
    series = load_series(record, min(record.load_days), max(record.load_days))
    loads = [v if v == v else None for v in series.load]
    for end in range(MONTH, len(loads) + 1):
        try:
            yield series.day(end - 1), acwr(loads[end - MONTH : end])
        except (Missing, Degenerate):
            continue  # said in the text beside the table: such a day has no row


def everything(context: Context) -> str:
    """Return all there is of this player as JSON text. What deletes keep for undo is not part of it."""
    kept = {name: _documents(context, model) for name, model in tables_in_record().items()}
    kept["changes"] = [c for c in kept["changes"] if c["action"] != "delete"]
    return json_record.write_record(settings_of(context), context.store.record(), kept)


def _documents(context: Context, model: type[Personal]) -> list[dict[str, Any]]:
    order = tuple(getattr(model, name) for name in in_record(model).order)
    return [as_document(row) for row in context.store.repository(model).all(order=order)]


def settings_of(context: Context) -> dict[str, Any]:
    """Return the player's settings by name."""
    return {name: getattr(context.player, name) for name in SETTINGS}


def check_settings(context: Context, settings: dict[str, Any]) -> None:
    """Raise `FieldError` when `settings` of an export could not be hers."""
    if unknown := set(settings) - set(SETTINGS):
        raise FieldError("player", f"there is no setting “{sorted(unknown)[0]}”")
    accounts.check_settings(**{**settings_of(context), **settings})


def take_over(context: Context, settings: dict[str, Any], kept: dict[str, list[dict[str, Any]]]) -> None:
    """Write settings and kept tables of an export into this (empty) record; calls said about nothing give way."""
    context.store.repository(CallRow).drop_all()
    accounts.save_settings(context, **{**settings_of(context), **settings})
    for name, model in tables_in_record().items():
        context.store.add_rows(model, [as_values(model, row) for row in kept[name]])
    context.store.note_running_sessions()


def counts(context: Context) -> dict[str, int]:
    """Return how much of each kind the record holds."""
    return context.store.counts()


def first_day(context: Context) -> date | None:
    """Return the first day on which anything was written; None for an empty record."""
    return context.store.first_day()


def is_empty(context: Context) -> bool:
    """True while nothing was written but the calls that say so."""
    written = (model for model in tables_in_record().values() if model is not CallRow)
    return first_day(context) is None and not any(context.store.repository(model).all() for model in written)


def delete_everything(context: Context, uploads: Path) -> set[str]:
    """Delete the whole record: sessions, checks, days, events, calls, corrections and their undo, files brought.

    Returns the names of her recordings, pictures and traces: they go, and text with the log beside the database, once
    the deletion holds.
    """
    files = context.store.file_names()
    for job in context.store.repository(JobRow).all():
        shutil.rmtree(uploads / job.uid, ignore_errors=True)
    context.store.drop_everything()
    return files
