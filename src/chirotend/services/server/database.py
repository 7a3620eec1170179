"""Opening the store for whoever wires the application together: folder, engine, sessions, secret key, backups."""

import secrets
import shutil
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from sqlalchemy import Engine
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session as Db

from chirotend.store import copies
from chirotend.store import engine as store


@dataclass(frozen=True)
class Database:
    """An open database: `open_db()` gives a session; `folder` holds uploads, backups and the secret key."""

    engine: Engine
    folder: Path
    open_db: Callable[[], Db]

    def open_patient_db(self, reads_only: bool) -> Db:
        """Return a session that waits for another one's write: long to change something, hardly at all to read."""
        db = self.open_db()
        wait_for_others(db, reads_only)
        return db

    def empty_the_log(self) -> None:
        """Cut the log beside the database, so that deleted text is nowhere on the disk."""
        store.empty_the_log(self.engine)

    @property
    def uploads(self) -> Path:
        return self.folder / "uploads"

    @property
    def blobs(self) -> Path:
        return self.folder / "blobs"


def wait_for_others(db: Db, reads_only: bool) -> None:
    """Let a session wait for another one's write from its next transaction on."""
    store.wait_for_others(db, store.READER_WAITS_MS if reads_only else store.WRITER_WAITS_MS)


class CannotOpen(RuntimeError):
    """The data folder or its database cannot be used; the sentence says why and what to do."""


def open_database(folder: Path, now: datetime, url: str | None = None) -> Database:
    """Open (and bring up to date, after a backup) the database of `folder`.

    `CannotOpen` says what stands against it.
    """
    where = url or store.database_url(folder)
    try:
        folder.mkdir(parents=True, exist_ok=True)
        folder.chmod(0o700)
        engine = store.open_engine(where)
        store.migrate(engine, folder / "backups", now)
    except DatabaseError as error:
        found = trouble(error)
        raise CannotOpen(f"{folder}: {found.sentence if found else error.orig}") from error
    except OSError as error:
        raise CannotOpen(f"{folder} cannot be used: {error.strerror}. Choose another with --data.") from error
    return Database(engine, folder, store.sessions(engine))


def secret_key(folder: Path) -> bytes:
    """Return the key that signs cookies, made once and kept readable for the owner alone."""
    path = folder / "secret.key"
    if not path.exists() or len(path.read_bytes()) < 32:
        part = folder / f"secret.{secrets.token_hex(4)}.part"
        copies.make_private(part)
        part.write_bytes(secrets.token_bytes(32))
        copies.put_in_place(part, path)
    return path.read_bytes()


@dataclass(frozen=True)
class Trouble:
    """Why the database does not answer, for a person: what is wrong, and what to do."""

    title: str
    sentence: str


#: what the database says, and what is said of it; nothing was written in any of these cases
TROUBLES = (
    (("locked", "busy"), "Busy", "Another program holds the record. Nothing was changed; wait a moment and try again."),
    (("full",), "The disk is full", "Nothing was changed. Make room on the disk of this server, then try again."),
    (
        ("readonly", "read-only", "unable to open"),
        "The disk cannot be written",
        "Nothing was changed. Whoever runs this server must make its data folder writable, then try again.",
    ),
    (
        ("disk i/o",),
        "The disk does not take it",
        "Nothing was changed. Look at the disk of this server: it may be full, or failing.",
    ),
    (
        ("malformed", "not a database"),
        "The record’s file is damaged",
        "Nothing was changed. Stop the server, look with “chirotend check”, and go back to a copy from the backups"
        " folder with “chirotend restore”.",
    ),
)


def trouble(error: DatabaseError) -> Trouble | None:
    """Return in words what keeps the database from answering; None when it is none of these (a fault of ours)."""
    said = str(error.orig).lower()
    for marks, title, sentence in TROUBLES:
        if any(mark in said for mark in marks):
            return Trouble(title, sentence)
    return None


def backup(database: Database, now: datetime) -> Path | None:
    """Copy the database, and its recordings beside it, into the backups folder; returns the database's copy."""
    saved = copies.backup(database.engine, database.folder / "backups", now)
    if saved is not None and database.blobs.exists():
        shutil.copytree(database.blobs, saved.with_suffix(".blobs"), dirs_exist_ok=True)
    return saved


data_folder, database_file, holds_the_lock = store.data_folder, store.database_file, store.holds_the_lock
