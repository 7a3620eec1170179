"""Fifty players on one server, a touch every five seconds each, on loopback: how long an answer takes, and any error.

`python tools/crowd.py [--players 50] [--seconds 60] [--files 2]`; the load comes from this process, the server is
another. `--files`: so many more players bring a part of 12,000 notes played by hand, again and again.
"""

import argparse
import io
import json
import random
import sys
import tempfile
import threading
import time
from datetime import UTC, datetime
from pathlib import Path

import mido

from chirotend.services.account import accounts
from chirotend.services.server import database
from served import Server

BETWEEN_S = 5.0
#: as `serve` does, but that fifty may sign in from one address
SERVE = """
import sys
from pathlib import Path
import waitress
from chirotend.cli import THREADS
from chirotend.web import create_app
arguments = dict(zip(sys.argv[2::2], sys.argv[3::2]))
app = create_app(Path(arguments["--data"]), limit_tries=False)
waitress.serve(app, host="127.0.0.1", port=int(arguments["--port"]), threads=THREADS)
"""


def signed_in(base: Server, number: int) -> Server:
    browser = Server(base.folder, base.port)
    browser.read("/sign-in")
    browser.send("/sign-in", {"name": f"player{number}", "password": "bars and rests"})
    browser.read("/play/")
    return browser


def played_by_hand(notes: int) -> bytes:
    """A MIDI file in which no note begins or ends on a beat: the slowest kind to write down in bars."""
    randomisation, events = random.Random(1), []
    for _ in range(notes):
        at, key = randomisation.randrange(notes * 120), randomisation.randrange(30, 70)
        events += [(at, 64, key), (at + randomisation.randrange(1, 480), 0, key)]
    file, track, last = mido.MidiFile(), mido.MidiTrack(), 0
    file.tracks.append(track)
    for at, velocity, key in sorted(events):
        track.append(mido.Message("note_on", note=key, velocity=velocity, time=at - last))
        last = at
    out = io.BytesIO()
    file.save(file=out)
    return out.getvalue()


def brings_parts(base: Server, number: int, until: float, answers: list[str]) -> None:
    """A player who brings a part until the time is over; what came of each."""
    browser, part = signed_in(base, number), played_by_hand(12_000)
    browser.read("/plan/parts/")
    while time.monotonic() < until:
        began = time.perf_counter()
        try:
            browser.bring("/plan/parts/", {"instrument": "bassoon"}, "file", "played.mid", part)
            answers.append(f"read in {time.perf_counter() - began:.0f} s")
        except OSError as error:
            answers.append(f"{error} after {time.perf_counter() - began:.0f} s")


def player(base: Server, number: int, until: float, took: list[float], errors: list[str]) -> None:
    """One player: signs in, begins a session, touches until the time is over."""
    try:
        browser = signed_in(base, number)
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
    asked.add_argument("--files", type=int, default=0)
    wanted = asked.parse_args()
    took: list[float] = []
    errors: list[str] = []
    with tempfile.TemporaryDirectory(prefix="chirotend-crowd-") as name:
        folder = Path(name) / "data"
        opened = database.open_database(folder, datetime.now(UTC))
        with opened.open_db() as db:
            cheap = accounts.Passwords(cheap=True)
            for n in range(wanted.players + wanted.files):
                made = (f"player{n}", "bars and rests", f"Player {n}", "Europe/Vienna", ["bassoon"])
                accounts.add_account(db, cheap, *made, datetime.now(UTC))
            db.commit()
        opened.engine.dispose()
        server = Server(folder, code=SERVE)
        server.start()
        until = time.monotonic() + wanted.seconds
        answers: list[str] = []
        threads = [
            threading.Thread(target=player, args=(server, n, until, took, errors)) for n in range(wanted.players)
        ]
        threads += [
            threading.Thread(target=brings_parts, args=(server, wanted.players + n, until, answers))
            for n in range(wanted.files)
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
    for error in (*answers, *errors[:5]):
        print(error)
    sys.exit(bool(errors))


if __name__ == "__main__":
    main()
