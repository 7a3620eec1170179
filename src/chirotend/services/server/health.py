"""Looking at a database without changing it, and saying what is damaged in words."""

from collections.abc import Callable, Iterator
from datetime import datetime
from pathlib import Path
from typing import Any, TypeVar

from sqlalchemy import Engine
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session as Db

from chirotend.formats import documents
from chirotend.services.context import Context
from chirotend.services.record import kept
from chirotend.store import blobs, copies
from chirotend.store import engine as store
from chirotend.store.accounts import every_player
from chirotend.store.models import CheckRow, DayRow, Personal, SessionRow
from chirotend.store.personal_tables import tables_in_record
from chirotend.store.repository import as_document

T = TypeVar("T")


def faults(folder: Path, now: datetime) -> list[str]:
    """Return what is wrong with the database of `folder` and every record in it; empty = nothing.

    Nothing is made, brought up to date or changed, not even a right of a file.
    """
    file = store.database_file(store.database_url(folder))
    if file is None:
        return ["This database has tools of its own to check it with."]
    if not file.exists():
        return [f"There is no database at {file}."]
    if broken := copies.file_faults(file):
        return [f"The file is damaged: {line}" for line in broken[:20]]
    with copies.looked_at(file) as address:
        return _of_database(store.open_for_looking(address), folder, now)


def _of_database(engine: Engine, folder: Path, now: datetime) -> list[str]:
    try:
        with engine.connect() as connection:
            at = store.revision(connection)
        if not store.known_revision(at):
            return [f"The database was written by a newer version of this program ({at})."]
        if at != store.newest_revision():
            return ["The database is of an older version: start the server once, it is brought up to date then."]
        with Db(engine) as db:
            return [
                *store.integrity_faults(engine),
                *(f for p in every_player(db) for f in _of_player(Context(db, p, now), folder)),
            ]
    except DatabaseError as error:
        return [f"The database cannot be read: {error.orig}"]
    finally:
        engine.dispose()


def _of_player(context: Context, folder: Path) -> Iterator[str]:
    who = f"player {context.player.id}"

    def file_is_there(document: Any) -> bool:
        return not document["blob"] or blobs.path_of(folder / "blobs", document["blob"]) is not None

    described: tuple[tuple[type[Personal], str, Callable[[Any], object]], ...] = (
        (
            SessionRow,
            "session",
            lambda row: documents.session_from(documents.session_document(_there(context.store.session(row.uid)))),
        ),
        (
            CheckRow,
            "check",
            lambda row: documents.check_from(
                documents.check_document(_there(context.store.check(row.day, row.timing)))
            ),
        ),
        (DayRow, "day", lambda row: documents.note_from(documents.note_document(_there(context.store.note(row.day))))),
    )
    for model, name, read in described:
        yield from (f"{who}, {fault}" for fault in _each(context, model, name, read))
    if lost := context.store.unstamped():
        yield f"{who}, {len(lost)} days hold something that no stamp speaks of, the first {lost[0]}"
    if set(context.store.running_sessions()) != set(context.store.running_sessions_by_events()):
        yield f"{who}, the running sessions are not those of the events"
    for table, kept_model in tables_in_record().items():
        there = file_is_there if hasattr(kept_model, "blob") else lambda d: True
        yield from (f"{who}, {fault}" for fault in _each(context, kept_model, table, _kept(context, table, there)))


def _there(found: T | None) -> T:
    if found is None:
        raise LookupError("cannot be found again")
    return found


def _kept(context: Context, table: str, there: Callable[[Any], bool]) -> Callable[[Any], None]:
    def read(row: Personal) -> None:
        document = as_document(row)
        kept.check(context, table, document)
        if not there(document):
            raise ValueError("its file is missing")

    return read


def _each(context: Context, model: type[Personal], name: str, read: Callable[[Any], object]) -> Iterator[str]:
    """Yield a sentence for each row of a table that cannot be read through the core."""
    for key, row in context.store.each_row(model):
        try:
            if isinstance(row, Exception):
                raise row
            read(row)
        except (ValueError, TypeError, KeyError, LookupError) as error:
            yield f"{name} {key}: {str(error).splitlines()[0]}"
