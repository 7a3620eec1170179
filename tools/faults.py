"""Kills, full and locked disks, wrong clocks against a real server on loopback: what was acknowledged, what was lost.

`python tools/faults.py [--kills 300]`; bounded in count and time. Everything happens in a throw-away folder.
"""

import argparse
import json
import os
import random
import re
import resource
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.parse
import urllib.request
from contextlib import closing, suppress
from dataclasses import dataclass, field
from http.client import HTTPException
from http.cookiejar import CookieJar
from pathlib import Path
from typing import Any

SERVE = "from chirotend.cli import main; main()"
#: as above, with the application's clock moved by the seconds in CLOCK_OFFSET
SHIFTED = """
import os
from datetime import datetime, timedelta, UTC
import chirotend.web.app as app, chirotend.cli as cli
moved = timedelta(seconds=float(os.environ["CLOCK_OFFSET"]))
app.real_clock = lambda: datetime.now(UTC) + moved
app.create_app.__defaults__ = (app.real_clock, *app.create_app.__defaults__[1:])
cli.real_clock = app.real_clock
cli.main()
"""
FORM = {
    "player": "Ilse",
    "zone": "Europe/Vienna",
    "instruments": "bassoon",
    "name": "ilse",
    "password": "bars and rests",
}


def free_port() -> int:
    with closing(socket.socket()) as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@dataclass
class Server:
    """A served data folder, and a browser signed in to it."""

    folder: Path
    port: int = field(default_factory=free_port)
    offset: float | None = None
    code: str = SERVE
    process: subprocess.Popen[bytes] | None = None

    def __post_init__(self) -> None:
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))
        self.token = ""

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> str:
        """Start and wait until it answers; returns what it printed so far. Raises TimeoutError when it does not."""
        env = {**os.environ, "CLOCK_OFFSET": str(self.offset or 0)}
        code = self.code if self.offset is None else SHIFTED
        log = (self.folder.parent / "server.log").open("ab")
        command = [sys.executable, "-u", "-c", code, "serve", "--data", str(self.folder), "--port", str(self.port)]
        with log:
            self.process = subprocess.Popen(command, stdout=log, stderr=log, env=env)
        for _ in range(300):
            with suppress(OSError), urllib.request.urlopen(f"{self.url}/health", timeout=2):
                return (self.folder.parent / "server.log").read_text(errors="replace")
            if self.process.poll() is not None:
                break
            time.sleep(0.05)
        raise TimeoutError("the server does not start")

    def kill(self) -> None:
        if self.process is not None:
            self.process.send_signal(signal.SIGKILL)
            self.process.wait()

    def set_up(self) -> None:
        link = re.findall(r"/first-run/\S+", self.start())[-1]
        self.read(link)
        self.send(link, FORM)
        self.read("/")

    def read(self, path: str) -> str:
        text = self.opener.open(self.url + path, timeout=30).read().decode()
        if found := re.search(r'name="csrf-token" content="([^"]+)"', text):
            self.token = found[1]
        return text

    def send(self, path: str, form: dict[str, str] | None = None, events: list[dict] | None = None) -> str:
        """Post a form, or events; raises unless the server acknowledged it."""
        kind = "application/json" if events is not None else "application/x-www-form-urlencoded"
        body = json.dumps(events).encode() if events is not None else urllib.parse.urlencode(form or {}).encode()
        return self._post(path, body, kind, {"HX-Request": "true"} if events is not None else {}).read().decode()

    def bring(self, path: str, form: dict[str, str], field: str, name: str, data: bytes) -> str:
        """Post a form with a file; returns where it leads. Raises unless the server acknowledged it."""
        edge = f"edge{random.getrandbits(64):x}"
        parts = [f'--{edge}\r\nContent-Disposition: form-data; name="{k}"\r\n\r\n{v}\r\n' for k, v in form.items()]
        head = f'--{edge}\r\nContent-Disposition: form-data; name="{field}"; filename="{name}"\r\n'
        body = "".join(parts).encode() + head.encode() + b"Content-Type: application/octet-stream\r\n\r\n" + data
        body += f"\r\n--{edge}--\r\n".encode()
        return self._post(path, body, f"multipart/form-data; boundary={edge}", {}).url.removeprefix(self.url)

    def _post(self, path: str, body: bytes, kind: str, more: dict[str, str]) -> Any:
        headers = {"Content-Type": kind, "X-CSRFToken": self.token, **more}
        return self.opener.open(urllib.request.Request(self.url + path, body, headers), timeout=180)

    def everything(self) -> dict:
        return json.loads(self.read("/record/export.json"))


@dataclass
class Row:
    """A line of the table."""

    what: str
    tried: int = 0
    acknowledged: int = 0
    lost: int = 0
    doubled: int = 0
    not_starting: int = 0

    def __str__(self) -> str:
        counts = f"{self.acknowledged:>14}{self.lost:>7}{self.doubled:>9}{self.not_starting:>14}"
        return f"{self.what:<46}{self.tried:>7}{counts}"


def killed_while(server: Server, row: Row, kills: int, touch, held, longest: float = 0.35) -> None:
    """Kill the server again and again while `touch(n)` sends; `held()` gives how often each acknowledged n stands."""
    acknowledged: list[str] = []
    number = 0
    for _ in range(kills):
        timer = threading.Timer(random.uniform(0.02, longest), server.kill)
        timer.start()
        while server.process is not None and server.process.poll() is None:
            number += 1
            row.tried += 1
            with suppress(OSError, HTTPException):
                acknowledged += touch(number)
        timer.join()
        try:
            server.start()
        except TimeoutError:
            row.not_starting += 1
            return
        server.read("/")
    row.acknowledged = len(acknowledged)
    counts = held()
    row.lost = sum(1 for a in acknowledged if counts.get(a, 0) == 0)
    row.doubled = sum(1 for n in counts.values() if n > 1)


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
        return json.loads(server.send("/play/events", events=[event, event]))["stored"][:1]

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


def database_killed(folder: Path, row: Row, kills: int, code: str, whole) -> Row:
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


def main() -> None:
    asked = argparse.ArgumentParser()
    asked.add_argument("--kills", type=int, default=300)
    kills = asked.parse_args().kills
    random.seed(7)
    began = time.monotonic()
    with tempfile.TemporaryDirectory(prefix="chirotend-faults-") as name:
        server = Server(Path(name) / "data")
        server.set_up()
        third = max(1, kills // 3)
        rows = [touches(server, third), wrapups(server, third), checks(server, third)]
        rows += [full_disk(server), locked(server), clocks(server)]
        server.kill()
        rows += copies_and_migrations(Path(name), max(1, kills // 9))
    head = f"{'':<46}{'tried':>7}{'acknowledged':>14}{'lost':>7}{'doubled':>9}{'not starting':>14}"
    print(head, *rows, sep="\n")
    print(f"{kills} kills of a server and {3 * max(1, kills // 9)} of the database, {time.monotonic() - began:.0f} s")
    sys.exit(any(r.lost or r.doubled or r.not_starting for r in rows))


if __name__ == "__main__":
    main()
