"""Kills, full and locked disks, wrong clocks against a real server on loopback: what was acknowledged, what was lost.

`python tools/faults.py [--kills 300]`; bounded in count and time. Everything happens in a throw-away folder.
"""

import argparse
import json
import random
import re
import resource
import sqlite3
import subprocess
import sys
import tempfile
import time
import urllib.error
from collections.abc import Callable, Iterator
from contextlib import closing, suppress
from pathlib import Path

import faults_of_changes
import faults_of_disks
from killed import Row, killed_while
from served import Server


def touches(server: Server, kills: int) -> Row:
    row = Row("killed during touches on the stand")
    server.send("/play/start", {"instrument": "bassoon", "block_kind": "technique", "uid": "first"})
    session = re.search(r'data-session="(\w+)"', server.read("/play/"))[1]  # type: ignore[index]

    def touch(n: int) -> list[str]:
        event = {
            "uid": f"t{n}",
            "session": session,
            "device": "a",
            "seq": n,
            "kind": "mark",
            "payload": {"place": "thumb"},
        }
        stored: list[str] = json.loads(server.send("/play/events", events=[event, event]))["stored"]
        return stored[:1]

    def held() -> dict[str, int]:
        return {e["uid"]: 1 for e in server.everything()["events"]}

    killed_while(server, row, kills, touch, held)
    server.send("/play/discard")
    return row


def wrapups(server: Server, kills: int) -> Row:
    row = Row("killed during start and wrap-up")

    def touch(n: int) -> list[str]:
        with suppress(urllib.error.HTTPError):
            server.send("/play/start", {"instrument": "bassoon", "block_kind": "technique", "uid": f"s{n}-{row.tried}"})
        well = f"well {n}"
        before = server.read("/play/")
        if "How hard was it?" not in before and "data-session" not in before:
            return []
        server.send("/play/write", {"effort": "4", "anything": "nothing", "went_well": well})
        return [well]

    def held() -> dict[str, int]:
        counts: dict[str, int] = {}
        for each in server.everything()["sessions"]:
            counts[each["went_well"]] = counts.get(each["went_well"], 0) + 1
        return counts

    killed_while(server, row, kills, touch, held, longest=0.9)
    return row


def checks(server: Server, kills: int) -> Row:
    row = Row("killed during checks and marks")

    def touch(n: int) -> list[str]:
        day = time.strftime("%Y-%m-%d", time.gmtime(time.time() - 86400 * (2 + n)))
        server.send("/record/day", {"day": day, "off": "yes", "note": f"note {n}"})
        return [f"{day} note {n}"]

    def held() -> dict[str, int]:
        return {f"{d['day']} {d['note']}": 1 for d in server.everything()["days"]}

    killed_while(server, row, kills, touch, held)
    return row


def database_killed(folder: Path, row: Row, kills: int, code: str, whole: Callable[[], object]) -> Row:
    """Kill a program that changes the database at random instants; `whole()` says whether what is left is whole."""
    for _ in range(kills):
        row.tried += 1
        process = subprocess.Popen(
            [sys.executable, "-c", code, str(folder)], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
        time.sleep(random.uniform(0.3, 1.6))
        process.kill()
        process.wait()
        if not whole():
            row.lost += 1
    return row


OPENS = """
import sys
from datetime import datetime, UTC
from pathlib import Path
from chirotend.services.server import database
while True:
    folder = Path(sys.argv[1])
    for old in folder.glob("chirotend.db*"):
        old.unlink()
    database.open_database(folder, datetime.now(UTC))
"""
COPIES = """
import sys
from datetime import datetime, UTC
from pathlib import Path
from chirotend.services.server import database
opened = database.open_database(Path(sys.argv[1]), datetime.now(UTC))
while True:
    database.backup(opened, datetime.now(UTC))
"""
RESTORES = """
import sys
from datetime import datetime, UTC
from pathlib import Path
from chirotend.services.server import restore
folder = Path(sys.argv[1])
copy = sorted((folder / "backups").glob("*.db"))[0]
while True:
    restore.restore(folder, copy, datetime.now(UTC))
    for old in sorted(folder.glob("set-aside-*"))[:-2]:
        old.unlink()
"""


def copies_and_migrations(folder: Path, kills: int) -> list[Row]:
    from datetime import UTC, datetime

    from chirotend.services.account import accounts
    from chirotend.services.server import database, health

    def opens(where: Path) -> bool:
        try:
            database.open_database(where, datetime.now(UTC)).engine.dispose()
        except Exception:
            return False
        return health.faults(where, datetime.now(UTC)) == []

    fresh = folder / "fresh"
    fresh.mkdir()
    migrations = database_killed(
        fresh, Row("killed while a database is brought up to date"), kills, OPENS, lambda: opens(fresh)
    )
    migrations.not_starting, migrations.lost = migrations.lost, 0

    kept = folder / "kept"
    opened = database.open_database(kept, datetime.now(UTC))
    with opened.open_db() as db:
        accounts.add_account(
            db, accounts.Passwords(cheap=True), "ilse", "bars and rests", "Ilse", "Europe/Vienna", [], datetime.now(UTC)
        )
        db.commit()
    database.backup(opened, datetime.now(UTC))
    opened.engine.dispose()

    def every_copy_is_whole() -> bool:
        found = sorted((kept / "backups").glob("*.db"))
        good = all(_accounts(copy) == 1 for copy in found)
        for copy in found[1:]:
            copy.unlink()
        return good

    backups = database_killed(kept, Row("killed while a copy is made"), kills, COPIES, every_copy_is_whole)
    restores = database_killed(
        kept,
        Row("killed while a copy is put back"),
        kills,
        RESTORES,
        lambda: opens(kept) and _accounts(kept / "chirotend.db") == 1,
    )
    return [migrations, backups, restores]


def _accounts(file: Path) -> int:
    try:
        with closing(sqlite3.connect(f"file:{file}?mode=ro", uri=True)) as connection:
            return int(connection.execute("select count(*) from account").fetchone()[0])
    except sqlite3.DatabaseError:
        return -1


def full_disk(server: Server) -> Row:
    """A file-size limit stands for a full disk: writes fail, pages are still read, later writes hold."""
    row = Row("disk full (a limit on the size of files)")
    size = (server.folder / "chirotend.db").stat().st_size
    resource.prlimit(server.process.pid, resource.RLIMIT_FSIZE, (size + 4096, resource.RLIM_INFINITY))  # type: ignore[union-attr]
    said = 0
    long = "x" * 19_000
    for n in range(12):
        row.tried += 1
        try:
            server.send("/record/day", {"day": f"2026-01-{n + 1:02d}", "off": "no", "note": f"{long}{n}"})
            row.acknowledged += 1
        except urllib.error.HTTPError as error:
            said += error.code == 503 and long in error.read().decode()
        row.lost += 0 if server.read("/") and server.read("/urgent") else 1
    resource.prlimit(server.process.pid, resource.RLIMIT_FSIZE, (resource.RLIM_INFINITY, resource.RLIM_INFINITY))  # type: ignore[union-attr]
    server.send("/record/day", {"day": "2026-02-01", "off": "no", "note": "after"})
    notes = [d["note"] for d in server.everything()["days"]]
    row.lost += row.acknowledged - sum(1 for note in notes if note.startswith(long)) + (notes.count("after") != 1)
    row.what += f", {said} said"
    return row


def locked(server: Server, seconds: float = 30) -> Row:
    row = Row(f"locked by another program for {seconds:.0f} s")
    with closing(sqlite3.connect(server.folder / "chirotend.db")) as other:
        other.execute("BEGIN EXCLUSIVE")
        until = time.monotonic() + seconds
        said = 0
        while time.monotonic() < until:
            row.tried += 1
            server.read("/urgent")
            server.read("/")
            try:
                server.send("/morning/as-usual")
                row.acknowledged += 1
            except urllib.error.HTTPError as error:
                said += error.code == 503
        other.rollback()
    server.send("/morning/as-usual")
    row.lost = 0 if server.everything()["checks"] else 1
    row.what += f", {said} said"
    return row


def clocks(server: Server) -> Row:
    row = Row("clock set a day back and a day on")
    with suppress(urllib.error.HTTPError):
        server.send("/play/discard")
    server.send("/play/start", {"instrument": "bassoon", "block_kind": "technique", "uid": "clock"})
    session = re.search(r'data-session="(\w+)"', server.read("/play/"))[1]  # type: ignore[index]
    sent: list[str] = []
    for offset in (-86400.0, 86400.0, 0.0):
        server.kill()
        server.offset = offset
        server.start()
        with suppress(urllib.error.HTTPError):
            server.read("/play/")
        event = {"uid": f"c{offset}", "session": session, "seq": 0, "kind": "mark", "payload": {"place": "jaw"}}
        row.tried += 1
        sent += json.loads(server.send("/play/events", events=[event]))["stored"]
    row.acknowledged = len(sent)
    held = [e["uid"] for e in server.everything()["events"]]
    row.lost = sum(1 for s in sent if held.count(s) == 0)
    row.doubled = sum(1 for s in sent if held.count(s) > 1)
    server.send("/play/discard")
    return row


def every_kind(folder: Path, kills: int) -> Iterator[Row]:
    """Try one kind of fault after the other."""
    server = Server(folder / "data")
    server.set_up()
    for of_kind in (touches, wrapups, checks):
        yield of_kind(server, max(1, kills // 3))
    for of_disk in (full_disk, locked, clocks):
        yield of_disk(server)
    for of_change in faults_of_changes.CHANGES:
        yield of_change(server, max(1, kills // 20))
    server.kill()
    yield faults_of_disks.read_only(server.folder)
    yield faults_of_disks.left_behind()
    yield faults_of_disks.older_databases(folder)
    yield from copies_and_migrations(folder, max(1, kills // 9))


def main() -> None:
    asked = argparse.ArgumentParser()
    asked.add_argument("--kills", type=int, default=300)
    kills = asked.parse_args().kills
    random.seed(7)
    began, failed = time.monotonic(), False
    print(f"{'':<46}{'tried':>7}{'acknowledged':>14}{'lost':>7}{'doubled':>9}{'not starting':>14}")
    with tempfile.TemporaryDirectory(prefix="chirotend-faults-") as name:
        for row in every_kind(Path(name), kills):
            print(row, flush=True)
            failed |= bool(row.lost or row.doubled or row.not_starting)
    of_server = 3 * max(1, kills // 3) + len(faults_of_changes.CHANGES) * max(1, kills // 20)
    took = time.monotonic() - began
    print(f"{of_server} kills of a server and {3 * max(1, kills // 9)} of the database, {took:.0f} s")
    sys.exit(failed)


if __name__ == "__main__":
    main()
