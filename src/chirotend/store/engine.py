"""Opening the database. The only module that knows SQLite by name."""

import os
import sqlite3
from datetime import datetime
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, create_engine, event, text

MIGRATIONS = Path(__file__).parent / "migrations"


def data_folder() -> Path:
    """Return the folder of database, secret key and backups: `CHIROTEND_DATA`, or `~/.local/share/chirotend`."""
    return Path(os.environ.get("CHIROTEND_DATA") or Path.home() / ".local/share/chirotend")


def database_url(folder: Path) -> str:
    return os.environ.get("DATABASE_URL") or f"sqlite:///{folder / 'chirotend.db'}"


def open_engine(url: str) -> Engine:
    """Return an engine for `url`; SQLite gets write-ahead logging, foreign keys and full synchronous writes."""
    engine = create_engine(url)
    if engine.dialect.name == "sqlite":
        event.listen(engine, "connect", _sqlite_settings)
    return engine


def _sqlite_settings(connection: sqlite3.Connection, _record: object) -> None:
    cursor = connection.cursor()
    for setting in ("journal_mode=WAL", "foreign_keys=ON", "synchronous=FULL", "busy_timeout=15000"):
        cursor.execute(f"PRAGMA {setting}")
    cursor.close()


def alembic_config(engine: Engine) -> Config:
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.attributes["engine"] = engine
    return config


def pending(engine: Engine) -> bool:
    """Return True when the database is behind the newest migration."""
    with engine.connect() as connection:
        current = MigrationContext.configure(connection).get_current_revision()
    return current != ScriptDirectory(str(MIGRATIONS)).get_current_head()


def migrate(engine: Engine, backups: Path, now: datetime) -> Path | None:
    """Bring the database to the newest version, after a backup if it held anything. Returns the backup's path."""
    if not pending(engine):
        return None
    saved = backup(engine, backups, now) if _has_tables(engine) else None
    command.upgrade(alembic_config(engine), "head")
    return saved


def _has_tables(engine: Engine) -> bool:
    with engine.connect() as connection:
        return MigrationContext.configure(connection).get_current_revision() is not None


def backup(engine: Engine, folder: Path, now: datetime) -> Path | None:
    """Copy the SQLite database, consistent while in use, into `folder`; other databases have their own tools."""
    if engine.dialect.name != "sqlite" or not engine.url.database:
        return None
    folder.mkdir(parents=True, exist_ok=True)
    target = folder / f"chirotend-{now:%Y%m%dT%H%M%SZ}.db"
    source, copy = sqlite3.connect(engine.url.database), sqlite3.connect(target)
    with source, copy:
        source.backup(copy)
    source.close()
    copy.close()
    target.chmod(0o600)
    return target


def integrity_faults(engine: Engine) -> list[str]:
    """Return what the database itself finds wrong: broken pages or rows without their parent; empty = nothing."""
    if engine.dialect.name != "sqlite":
        return []
    with engine.connect() as connection:
        pages = [row[0] for row in connection.execute(text("PRAGMA integrity_check")) if row[0] != "ok"]
        orphans = [
            f"{row[0]}: row without its {row[2]}" for row in connection.execute(text("PRAGMA foreign_key_check"))
        ]
    return pages + orphans
