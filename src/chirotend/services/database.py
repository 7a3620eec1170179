"""Opening the store for whoever wires the application together: folder, engine, sessions, secret key."""

import secrets
import shutil
from collections.abc import Callable
from contextlib import AbstractContextManager
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from sqlalchemy import Engine
from sqlalchemy.orm import Session as Db
from sqlalchemy.orm import sessionmaker

from chirotend.store import engine as store
from chirotend.store.accounts import every_player
from chirotend.store.player_store import PlayerStore


@dataclass(frozen=True)
class Database:
    """An open database: `open_db()` gives a session; `folder` holds uploads, backups and the secret key."""

    engine: Engine
    folder: Path
    open_db: Callable[[], AbstractContextManager[Db]]

    @property
    def uploads(self) -> Path:
        return self.folder / "uploads"

    @property
    def blobs(self) -> Path:
        return self.folder / "blobs"


def open_database(folder: Path, now: datetime, url: str | None = None) -> Database:
    """Open (and bring up to date, after a backup) the database of `folder`."""
    folder.mkdir(parents=True, exist_ok=True)
    folder.chmod(0o700)
    engine = store.open_engine(url or store.database_url(folder))
    store.migrate(engine, folder / "backups", now)
    return Database(engine, folder, sessionmaker(engine, expire_on_commit=False))


def secret_key(folder: Path) -> bytes:
    """Return the key that signs cookies, made once and kept readable for the owner alone."""
    path = folder / "secret.key"
    if not path.exists():
        path.touch(mode=0o600)
        path.write_bytes(secrets.token_bytes(32))
    return path.read_bytes()


def backup(database: Database, now: datetime) -> Path | None:
    """Copy the database, and its recordings beside it, into the backups folder; returns the database's copy."""
    saved = store.backup(database.engine, database.folder / "backups", now)
    if saved is not None and database.blobs.exists():
        shutil.copytree(database.blobs, saved.with_suffix(".blobs"), dirs_exist_ok=True)
    return saved


def faults(database: Database) -> list[str]:
    """Return what is wrong with the database file and with any record in it; empty = nothing."""
    found = store.integrity_faults(database.engine)
    with database.open_db() as db:
        for player in every_player(db):
            try:
                PlayerStore(db, player.id).record()
            except (ValueError, KeyError) as error:
                found.append(f"player {player.id}: {error}")
    return found


data_folder = store.data_folder
