"""A disk that cannot be written, databases of every version, and whether a killed server leaves anything running."""

import ctypes
import os
import shutil
import subprocess
import time
from datetime import UTC, datetime
from pathlib import Path

from alembic import command
from alembic.script import ScriptDirectory
from sqlalchemy import inspect, text

from chirotend.services.server import database, health
from chirotend.store import engine as store
from killed import Row
from served import Server

MS_REMOUNT, MS_RDONLY = 32, 1


def read_only(folder: Path) -> Row:
    """The data folder on a disk that is read-only: the server says so and ends; when it can be written all is there.

    A machine that lets nobody mount anything shows nothing here, and says so.
    """
    row = Row("started on a disk that is read-only")
    libc = ctypes.CDLL(None, use_errno=True)
    disk = folder.parent / "disk" / "data"
    disk.mkdir(parents=True)
    if libc.mount(b"tmpfs", os.fsencode(disk), b"tmpfs", 0, b"size=800m"):
        row.what += ": nothing may be mounted here"
        return row
    server = Server(disk)
    try:
        shutil.copytree(folder, disk, dirs_exist_ok=True)
        if libc.mount(b"none", os.fsencode(disk), None, MS_REMOUNT | MS_RDONLY, None):
            raise OSError(ctypes.get_errno(), "the disk could not be made read-only")
        row.tried += 1
        try:
            server.start()
        except TimeoutError:
            said = (disk.parent / "server.log").read_text(encoding="utf-8")
            row.acknowledged += "cannot be written" in said or "Read-only file system" in said
        libc.mount(b"none", os.fsencode(disk), None, MS_REMOUNT, None)
        server.start()
        server.kill()
        row.lost = 1 - row.acknowledged + len(health.faults(disk, datetime.now(UTC)))
    except TimeoutError:
        row.not_starting += 1
    finally:
        server.kill()
        libc.umount2(os.fsencode(disk), 2)
    return row


def left_behind() -> Row:
    """After the kills no process that reads files is left without its server for long."""
    row = Row("readers left behind by killed servers")
    for _ in range(30):
        row.tried += 1
        listed = subprocess.run(["ps", "-eo", "ppid,args"], capture_output=True, text=True).stdout.splitlines()
        row.lost = sum(1 for line in listed if "sandbox_server" in line and line.split()[0] == "1")
        if not row.lost:
            break
        time.sleep(1)
    return row


def older_databases(folder: Path) -> Row:
    """A database of every version, with an account in it, is brought up to date and has no fault."""
    row = Row("databases of every version brought up to date")
    versions = [script.revision for script in ScriptDirectory(str(store.MIGRATIONS)).walk_revisions()]
    for version in reversed(versions):
        row.tried += 1
        where = folder / f"version-{version}"
        where.mkdir()
        engine = store.open_engine(store.database_url(where))
        command.upgrade(store.alembic_config(engine), version)
        with engine.begin() as connection:
            columns = {column["name"] for column in inspect(connection).get_columns("account")}
            more = {n: v for n, v in (("stamp", "'x'"), ("name_key", "'ilse'")) if n in columns}
            values = {"more": "".join(f"{n}, " for n in more), "values": "".join(f"{v}, " for v in more.values())}
            connection.execute(text(ACCOUNT.format(**values)))
        engine.dispose()
        opened = database.open_database(where, datetime.now(UTC))
        with opened.open_db() as db:
            kept = db.execute(text("SELECT count(*) FROM account")).scalar()
        opened.engine.dispose()
        row.acknowledged += 1
        row.lost += kept != 1
        row.not_starting += health.faults(where, datetime.now(UTC)) != []
    return row


ACCOUNT = """
INSERT INTO account (id, name, password_hash, {more}created_utc)
VALUES (1, 'ilse', 'x', {values}'2026-11-01 00:00:00')
"""
