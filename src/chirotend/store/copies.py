"""Copies of a SQLite database: made aside and read back before they get their name, set aside, put in place."""

import os
import shutil
import sqlite3
import tempfile
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import datetime
from pathlib import Path

from sqlalchemy import Engine


def backup(engine: Engine, folder: Path, now: datetime) -> Path | None:
    """Copy the SQLite database, consistent while in use, into `folder`; other databases have their own tools.

    Written aside, read back, put on the disk and only then given its name: what is there by that name is whole.
    """
    if engine.dialect.name != "sqlite" or not engine.url.database:
        return None
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    target = free_name(folder, f"chirotend-{now:%Y%m%dT%H%M%SZ}")
    part = target.with_suffix(".part")
    make_private(part)
    with closing(sqlite3.connect(engine.url.database)) as source, closing(sqlite3.connect(part)) as copy:
        source.backup(copy)
        copy.execute("PRAGMA journal_mode=DELETE")  # one file, that needs nothing beside it
    if faults := file_faults(part):
        raise sqlite3.DatabaseError(f"the copy could not be read back: {faults[0]}")
    put_in_place(part, target)
    return target


def make_private(part: Path) -> None:
    """Make an empty file that its owner alone may read, in the place of one that was left there."""
    part.unlink(missing_ok=True)
    os.close(os.open(part, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600))


def free_name(folder: Path, stem: str) -> Path:
    """Return a name for a database file in `folder` that begins with `stem` and is not taken."""
    names = (folder / f"{stem}{suffix}.db" for suffix in ("", *(f"-{n}" for n in range(2, 1000))))
    return next(name for name in names if not name.exists())


def put_in_place(part: Path, target: Path) -> None:
    """Give a file that was written aside its name, with its bytes on the disk before and the name after."""
    for path in (part, part.parent):
        handle = os.open(path, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)
        if path == part:
            part.replace(target)


@contextmanager
def looked_at(file: Path) -> Iterator[str]:
    """Give an address under which SQLite opens `file` and can change nothing: no byte, no file beside it.

    A log that a killed server left is read in a copy, since reading it in place would lay files beside it.
    """
    log, index = Path(f"{file}-wal"), Path(f"{file}-shm")
    if not log.exists() or not log.stat().st_size:
        yield f"{file.absolute().as_uri()}?mode=ro&immutable=1"
    elif index.exists():
        yield f"{file.absolute().as_uri()}?mode=ro"
    else:
        with tempfile.TemporaryDirectory(prefix="chirotend-look-") as folder:
            for path in (file, log):
                shutil.copyfile(path, Path(folder) / path.name)
            yield f"{(Path(folder) / file.name).as_uri()}?mode=rw"


def file_faults(file: Path) -> list[str]:
    """Return what is wrong with a SQLite file by itself; empty = nothing. Nothing is changed."""
    try:
        with looked_at(file) as address, closing(sqlite3.connect(address, uri=True)) as connection:
            return [row[0] for row in connection.execute("PRAGMA integrity_check") if row[0] != "ok"]
    except sqlite3.DatabaseError as error:
        return [str(error)]


def revision_of(file: Path) -> str | None:
    """Return the migration a SQLite file stands at, opened for reading only; None when it has none."""
    try:
        with looked_at(file) as address, closing(sqlite3.connect(address, uri=True)) as connection:
            found = connection.execute("select version_num from alembic_version").fetchone()
    except sqlite3.DatabaseError:
        return None
    return found[0] if found else None


def set_aside(target: Path, now: datetime) -> Path:
    """Keep the present database under another name, and leave no log beside the place the copy comes to.

    A log left behind would be read into the copy. A whole one is brought into its file first; one that cannot be
    stays beside the file that was set aside.
    """
    aside = free_name(target.parent, f"set-aside-{now:%Y%m%dT%H%M%SZ}")
    os.link(target, aside)
    log, kept = Path(f"{target}-wal"), Path(f"{aside}-wal")
    if log.exists() and log.stat().st_size:
        shutil.copyfile(log, kept)
    try:
        with closing(sqlite3.connect(target)) as connection:
            connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        kept.unlink(missing_ok=True)  # what it held is in the file now, which both names share
    except sqlite3.DatabaseError:
        pass  # damaged: it is set aside as it is
    for end in ("-wal", "-shm"):
        Path(f"{target}{end}").unlink(missing_ok=True)
    return aside


def newest_day(file: Path) -> str | None:
    """Return the newest day on which anything stands in a SQLite file (ISO 8601); None for nothing."""
    days = []
    try:
        with looked_at(file) as address, closing(sqlite3.connect(address, uri=True)) as connection:
            for table in ("session", "check", "day"):
                days.append(connection.execute(f'select max(day) from "{table}"').fetchone()[0])
    except sqlite3.DatabaseError:
        return None
    return max((d for d in days if d), default=None)
