"""Opening the database. With `copies`, the only modules that know SQLite by name."""

import os
import sqlite3
from datetime import datetime
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Connection, Engine, NullPool, create_engine, event, text
from sqlalchemy.orm import Session as Db
from sqlalchemy.orm import sessionmaker

from chirotend.store.copies import backup

MIGRATIONS = Path(__file__).parent / "migrations"
#: how long a connection waits for another one's write, in ms: one that changes something, and one that only reads
WRITER_WAITS_MS, READER_WAITS_MS = 8000, 250
#: deleted text is overwritten, not only let go
SETTINGS = ("journal_mode=WAL", "foreign_keys=ON", "synchronous=FULL", "secure_delete=ON")


def data_folder() -> Path:
    """Return the folder of database, secret key and backups: `CHIROTEND_DATA`, or `~/.local/share/chirotend`."""
    return Path(os.environ.get("CHIROTEND_DATA") or Path.home() / ".local/share/chirotend")


def database_url(folder: Path) -> str:
    return os.environ.get("DATABASE_URL") or f"sqlite:///{folder / 'chirotend.db'}"


def database_file(url: str) -> Path | None:
    """Return the file of a SQLite database; None for any other database."""
    return Path(url.removeprefix("sqlite:///")) if url.startswith("sqlite:///") else None


def open_engine(url: str) -> Engine:
    """Return an engine for `url`; SQLite gets write-ahead logging, foreign keys and full synchronous writes.

    A new file is made readable for its owner alone; what SQLite lays beside it gets the same rights.
    """
    file = database_file(url)
    if file is not None and not file.exists():
        os.close(os.open(file, os.O_CREAT | os.O_RDWR, 0o600))
    engine = create_engine(url)
    if engine.dialect.name == "sqlite":
        event.listen(engine, "connect", _sqlite_settings)
        event.listen(engine, "checkin", _wait_as_a_writer)
    return engine


def sessions(engine: Engine) -> "sessionmaker[Db]":
    """Return what opens sessions; what they have read stays readable after a commit."""
    made = sessionmaker(engine, expire_on_commit=False)
    event.listen(made, "after_begin", _wait_as_said)
    return made


def _sqlite_settings(connection: sqlite3.Connection, _record: object) -> None:
    cursor = connection.cursor()
    for setting in (f"busy_timeout={WRITER_WAITS_MS}", *SETTINGS):
        cursor.execute(f"PRAGMA {setting}")
    cursor.close()


def _wait_as_a_writer(connection: sqlite3.Connection | None, _record: object) -> None:
    """A connection that a reader hurried goes back to the pool as it came."""
    if connection is not None:
        connection.execute(f"PRAGMA busy_timeout={WRITER_WAITS_MS}")


def wait_for_others(db: Db, ms: int) -> None:
    """Let this session wait at most `ms` for another one's write, from its next transaction on."""
    db.info["waits_ms"] = int(ms)


def _wait_as_said(db: Db, _transaction: object, connection: Connection) -> None:
    if "waits_ms" in db.info and connection.dialect.name == "sqlite":
        connection.exec_driver_sql(f"PRAGMA busy_timeout={db.info['waits_ms']}")


def holds_the_lock(db: Db) -> bool:
    """Return whether this session has written what it has not committed: another one has to wait to write."""
    if not db.in_transaction():
        return False
    if db.get_bind().dialect.name != "sqlite":
        return True
    return bool(getattr(db.connection().connection.dbapi_connection, "in_transaction", False))


def empty_the_log(engine: Engine) -> None:
    """Bring what was committed into the database file and cut the log beside it, so that deleted text is nowhere."""
    if engine.dialect.name == "sqlite":
        with engine.connect() as connection:
            connection.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")


def alembic_config(engine: Engine) -> Config:
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.attributes["engine"] = engine
    return config


def revision(connection: Connection) -> str | None:
    """Return the migration a database stands at; None for an empty one."""
    return MigrationContext.configure(connection).get_current_revision()


def newest_revision() -> str | None:
    return ScriptDirectory(str(MIGRATIONS)).get_current_head()


def known_revision(name: str | None) -> bool:
    """True for a migration of this program; a newer program's is not."""
    return name in {script.revision for script in ScriptDirectory(str(MIGRATIONS)).walk_revisions()}


def pending(engine: Engine) -> bool:
    """Return True when the database is behind the newest migration."""
    with engine.connect() as connection:
        return revision(connection) != newest_revision()


def migrate(engine: Engine, backups: Path, now: datetime) -> Path | None:
    """Bring the database to the newest version, after a backup if it held anything. Returns the backup's path.

    All steps are one transaction: a server that is killed in the middle finds the old database, whole.
    """
    if not pending(engine):
        return None
    with engine.connect() as connection:
        held = revision(connection) is not None
    saved = backup(engine, backups, now) if held else None
    one = _migration_engine(engine)
    try:
        command.upgrade(alembic_config(one), "head")
    finally:
        one.dispose()
    return saved


def _migration_engine(engine: Engine) -> Engine:
    """An engine that begins with the write lock and holds tables' changes in the transaction too."""
    one = create_engine(engine.url, poolclass=NullPool)
    if one.dialect.name == "sqlite":
        event.listen(one, "connect", _for_migrations)
        event.listen(one, "begin", lambda connection: connection.exec_driver_sql("BEGIN IMMEDIATE"))
    return one


def _for_migrations(connection: sqlite3.Connection, _record: object) -> None:
    connection.isolation_level = None  # the driver itself would begin too late for changes of tables
    # a table is changed by making it anew: with foreign keys on, dropping the old one would delete what hangs on it
    for setting in (f"busy_timeout={WRITER_WAITS_MS}", "journal_mode=WAL", "synchronous=FULL", "foreign_keys=OFF"):
        connection.execute(f"PRAGMA {setting}")


def open_for_looking(address: str) -> Engine:
    """Return an engine over an address of `copies.looked_at`."""
    return create_engine(f"sqlite:///{address}&uri=true", poolclass=NullPool)


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
