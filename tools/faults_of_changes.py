"""Killing the server while a picture, a sound, a part, a programme, a trial, a diary or a whole record is changed."""

import json
import re
import time
import urllib.error
from contextlib import suppress
from io import BytesIO

import numpy as np
import soundfile

from chirotend.devices import camera, microphone
from killed import Row, killed_while
from served import Server

ON = {"instrument": "bassoon"}


def probes_of(server: Server, row: Row, kills: int, path: str, field: str, form: dict[str, str], data) -> Row:  # type: ignore[no-untyped-def]
    """Bring a file again and again; what was acknowledged stands there with its file."""

    def touch(n: int) -> list[str]:
        return [server.bring(path, {**ON, **form}, field, f"{n}", data(n)).rpartition("/")[2]]

    def held() -> dict[str, int]:
        found = {probe["uid"]: 1 for probe in server.everything()["probes"]}
        for uid in found:
            server.read_bytes(f"/technique/file/{uid}")
        return found

    killed_while(server, row, kills, touch, held, longest=8.0)
    return row


def pictures(server: Server, kills: int) -> Row:
    def picture(n: int) -> bytes:
        return camera.picture(camera.Pose(wrist_back=10 + n % 40))

    row = Row("killed while a picture is brought")
    return probes_of(
        server, row, kills, "/technique/posture", "picture", {"template": "side", "hand": "right"}, picture
    )


def sounds(server: Server, kills: int) -> Row:
    def sound(n: int) -> bytes:
        out = BytesIO()
        played = microphone.played("plucked", microphone.figure(4, 2, 0.25, {}), seed=n)
        soundfile.write(out, played.astype(np.float32), microphone.RATE_HZ, format="WAV")
        return out.getvalue()

    row = Row("killed while a recording is brought")
    return probes_of(server, row, kills, "/technique/evenness", "sound", {"figure": "trill"}, sound)


def parts(server: Server, kills: int) -> Row:
    row = Row("killed while a part is brought")
    note = "<note><pitch><step>C</step><octave>3</octave></pitch><duration>1</duration></note>"
    first = "<attributes><divisions>4</divisions></attributes>"
    head = (
        '<score-partwise><part-list><score-part id="P"><part-name>B</part-name></score-part></part-list><part id="P">'
    )

    def touch(n: int) -> list[str]:
        bars = "".join(f'<measure number="{m}">{first if m == 1 else ""}{note * 16}</measure>' for m in range(1, 40))
        data = f"{head}{bars}</part></score-partwise>".encode()
        return [server.bring("/plan/parts/", ON, "file", f"{n}.musicxml", data).rpartition("/")[2]]

    killed_while(server, row, kills, touch, lambda: {p["uid"]: 1 for p in server.everything()["parts"]}, longest=20.0)
    return row


def programmes(server: Server, kills: int) -> Row:
    """Begun and ended, with a note: it stands once, with the note that was acknowledged."""
    row = Row("killed during a programme's steps")

    def touch(n: int) -> list[str]:
        with suppress(urllib.error.HTTPError):  # one that was begun before the kill still runs
            server.send("/plan/programmes/begin/half_hour")
        running = re.findall(r"/plan/programmes/(\w{32})/end", server.read("/plan/programmes/"))
        if not running:
            return []
        server.send(f"/plan/programmes/{running[0]}/end", {"note": f"note {n}"})
        return [f"note {n}"]

    def held() -> dict[str, int]:
        notes = [p["note"] for p in server.everything()["programmes"] if p["note"]]
        return {note: notes.count(note) for note in notes}

    killed_while(server, row, kills, touch, held, longest=0.9)
    return row


def trials(server: Server, kills: int) -> Row:
    row = Row("killed while a trial is begun and decided")
    form = {"change": "chair", "measure": "effort||||", "order": "pairs", "days": "12"}

    def touch(n: int) -> list[str]:
        for uid in _undecided(server):
            server.send(f"/score/trials/{uid}/decide", {"outcome": "back"})
        server.send("/score/trials/begin", {"what": f"chair {n}", **form})
        for uid in _undecided(server):
            server.send(f"/score/trials/{uid}/decide", {"outcome": "back"})
        return [f"chair {n}"]

    def held() -> dict[str, int]:
        whats = [t["data"]["what"] for t in server.everything()["trials"] if t["outcome"] == "back"]
        return {what: whats.count(what) for what in whats}

    killed_while(server, row, kills, touch, held, longest=0.9)
    return row


def _undecided(server: Server) -> list[str]:
    return [t["uid"] for t in server.everything()["trials"] if not t["outcome"]]


def diaries(server: Server, kills: int) -> Row:
    """A diary of 300 days is acknowledged once its job is done: then all of it stands there, once."""
    row = Row("killed while a diary is saved")

    def touch(n: int) -> list[str]:
        year = 1990 + n % 30
        day = "".join(f"{year}-{1 + d // 25:02}-{1 + d % 25:02},30,4\n" for d in range(300))
        job = server.bring("/record/import", {}, "files", "sessions.csv", f"day,minutes,effort\n{day}".encode())
        _reached(server, job, "Save")
        server.send(f"{job}/confirm")
        _reached(server, job, "It is saved")
        return [f"{year}-{1 + d // 25:02}-{1 + d % 25:02}" for d in range(300)]

    def held() -> dict[str, int]:
        days = [s["day"] for s in server.everything()["sessions"] if s["day"] < "2020"]
        counts = {day: days.count(day) for day in set(days)}
        years = {day[:4] for day in days}
        row.lost += sum(1 for year in years if sum(day.startswith(year) for day in days) != 300)
        return counts

    killed_while(server, row, kills, touch, held, longest=8.0)
    return row


def records(server: Server, kills: int) -> Row:
    """A whole record put in the place of hers and taken back: one or the other stands there, never half of each."""
    row = Row("killed while a record is replaced and taken back")
    before = len(server.everything()["sessions"])
    other = json.dumps(
        {
            "format": "chirotend-record",
            "version": 2,
            "days": [{"day": f"2001-01-{d:02}", "off": True} for d in range(1, 29)],
        }
    )
    halves, rounds = 0, list[str]()

    def whole() -> bool:
        now = server.everything()
        replaced = not now["sessions"] and len(now["days"]) == 28
        return replaced or len(now["sessions"]) == before

    def touch(n: int) -> list[str]:
        nonlocal halves
        halves += not whole()
        job = server.bring("/record/import", {}, "files", "all.json", other.encode())
        _reached(server, job, "whole record")
        server.send(f"{job}/answer", {"whole": "replace"})
        _reached(server, job, "Save")
        server.send(f"{job}/confirm", {"whole": "replace"})
        _reached(server, job, "It is saved")
        halves += not whole()
        server.send(f"/record/import/{job.rpartition('/')[2]}/take-back")
        halves += not whole()
        rounds.append(f"round {n}")
        return rounds[-1:]

    killed_while(server, row, kills, touch, lambda: dict.fromkeys(rounds, 1), longest=10.0)
    row.lost = halves + (not whole())
    return row


def _reached(server: Server, job: str, words: str) -> None:
    """Wait until the page of a job says so; TimeoutError (an OSError) when it never does."""
    for _ in range(100):
        if words in server.read(job):
            return
        time.sleep(0.05)
    raise TimeoutError(words)


CHANGES = (pictures, sounds, parts, programmes, trials, diaries, records)
