"""Fifty players on one server, a touch every five seconds each, on loopback: how long an answer takes, and any error.

`python tools/crowd.py [--players 50] [--seconds 60]`; the load comes from this process, the server is another.
"""

import argparse
import json
import random
import sys
import tempfile
import threading
import time
from datetime import UTC, datetime
from pathlib import Path

from chirotend.services.account import accounts
from chirotend.services.server import database
from faults import Server

BETWEEN_S = 5.0
#: as `serve` does, but that fifty may sign in from one address
SERVE = """
import sys
from pathlib import Path
import waitress
from chirotend.web import create_app
arguments = dict(zip(sys.argv[2::2], sys.argv[3::2]))
app = create_app(Path(arguments["--data"]), limit_tries=False)
waitress.serve(app, host="127.0.0.1", port=int(arguments["--port"]), threads=4)
"""


def player(base: Server, number: int, until: float, took: list[float], errors: list[str]) -> None:
    """One player: signs in, begins a sitting, touches until the time is over."""
    browser = Server(base.folder, base.port)
    try:
        browser.read("/sign-in")
        browser.send("/sign-in", {"name": f"player{number}", "password": "bars and rests"})
        browser.read("/play/")
        browser.send("/play/start", {"instrument": "bassoon", "block_kind": "technique", "uid": f"s{number}"})
        page = browser.read("/play/")
        session = page.split('data-session="')[1].split('"')[0]
        time.sleep(random.uniform(0, BETWEEN_S))
        seq = 0
        while time.monotonic() < until:
            seq += 1
            event = {"uid": f"p{number}-{seq}", "session": session, "device": "a", "seq": seq, "kind": "mark"}
            began = time.perf_counter()
            told = browser.send("/play/events", events=[{**event, "payload": {"place": "thumb"}}])
            took.append(time.perf_counter() - began)
            if json.loads(told)["stored"] != [event["uid"]]:
                errors.append("not stored")
            time.sleep(max(0.0, BETWEEN_S - (time.perf_counter() - began)))
    except Exception as error:
        errors.append(repr(error))


def main() -> None:
    asked = argparse.ArgumentParser()
    asked.add_argument("--players", type=int, default=50)
    asked.add_argument("--seconds", type=float, default=60)
    wanted = asked.parse_args()
    took: list[float] = []
    errors: list[str] = []
    with tempfile.TemporaryDirectory(prefix="chirotend-crowd-") as name:
        folder = Path(name) / "data"
        opened = database.open_database(folder, datetime.now(UTC))
        with opened.open_db() as db:
            cheap = accounts.Passwords(cheap=True)
            for n in range(wanted.players):
                made = (f"player{n}", "bars and rests", f"Player {n}", "Europe/Vienna", ["bassoon"])
                accounts.add_account(db, cheap, *made, datetime.now(UTC))
            db.commit()
        opened.engine.dispose()
        server = Server(folder, code=SERVE)
        server.start()
        until = time.monotonic() + wanted.seconds
        threads = [
            threading.Thread(target=player, args=(server, n, until, took, errors)) for n in range(wanted.players)
        ]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        server.kill()
    ordered = sorted(took)
    shown = {p: ordered[min(len(ordered) - 1, int(len(ordered) * p / 100))] * 1000 for p in (50, 95, 99)}
    print(
        f"{wanted.players} players, {len(took)} touches, {len(errors)} errors: "
        + ", ".join(f"p{p} {v:.0f} ms" for p, v in shown.items())
    )
    for error in errors[:5]:
        print(error)
    sys.exit(bool(errors))


if __name__ == "__main__":
    main()
