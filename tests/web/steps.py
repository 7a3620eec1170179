"""Steps that tests of the pages share."""

import io
import json
import re
import sqlite3
from contextlib import closing

import soundfile
from flask import Flask

from chirotend.devices import camera, microphone, muscle
from tests.parts import score, simple

HTMX = {"HX-Request": "true"}
#: the pages of F Technique that open without a measure
TECHNIQUE = tuple(
    f"/technique/{page}"
    for page in (
        *("", "pressure", "evenness", "posture", "trace", "strokes", "ranges", "wrists"),
        *("awareness", "activities", "grips"),
    )
)


def another_can_write(app: Flask) -> bool:
    """Whether somebody else could write into the record at this instant, without waiting."""
    file = app.extensions["database"].folder / "chirotend.db"
    with closing(sqlite3.connect(file, timeout=0, isolation_level=None)) as other:
        try:
            other.execute("BEGIN IMMEDIATE")
        except sqlite3.OperationalError:
            return False
        return True


def words_of(page: str) -> str:
    """What a page says: without its tags, with single spaces."""
    return " ".join(re.sub(r"<[^>]*>", " ", page).split())


def write_session(client, **typed: str) -> None:
    """Add a session through its form: a lesson of 30 minutes on the bassoon, with what is `typed` instead or beside."""
    usual = {"day": "2026-11-11", "instrument": "bassoon", "minutes": "30", "effort": "4", "kind": "lesson"}
    answer = client.post("/record/session/new", data={**usual, **typed})
    assert answer.status_code == 302, words_of(answer.text)


def plan_uid(client, pattern: str, text: str) -> str:
    found = re.search(pattern, text)
    assert found, pattern
    return found[1]


def a_laid_block(client) -> str:
    client.post(
        "/plan/aim",
        data={"week": "2026-11-16", "aim_title": "Thirds", "aim_minutes": "40", "aim_instrument": "bassoon"},
    )
    text = client.post("/plan/lay", data={"week": "2026-11-16"}, headers=HTMX).text
    return plan_uid(client, r'data-uid="(\w+)"', text)


def probes():
    """One probe of each kind that an address can name: the form, and the file it comes with."""
    onsets = microphone.figure(4, 2, 0.25, {})
    sound, table = io.BytesIO(), "time (s),arm (mV)\n"
    soundfile.write(sound, microphone.played("plucked", onsets), microphone.RATE_HZ, format="WAV")
    sound.seek(0)
    table += "".join(f"{n / 1000:.3f},{v:.4f}\n" for n, v in enumerate(muscle.muscle([(0, 1)], 2)))
    on = {"instrument": "bassoon"}
    return (
        ("/technique/pressure", {}, {**on, "task": "key", "part": "left thumb"}),
        ("/technique/evenness", {"sound": (sound, "down.wav")}, {**on, "figure": "trill"}),
        (
            "/technique/posture",
            {"picture": (io.BytesIO(camera.picture(camera.Pose())), "side.png")},
            {**on, "template": "side", "hand": "right"},
        ),
        ("/technique/trace", {"trace": (io.BytesIO(table.encode()), "band.csv")}, on),
    )


def furnish(client) -> dict[str, str]:
    """One of each thing an address can name, and its id by endpoint."""
    write_session(client)
    client.post("/kit/thing", data={"kind": "chair", "name": "Chair"})
    trial = {"what": "a chair", "change": "chair", "measure": "effort||||", "order": "pairs", "days": "12"}
    assert client.post("/score/trials/begin", data=trial).status_code == 302
    assert client.post("/plan/programmes/begin/half_hour", data={}).status_code == 302
    assert client.post("/record/reports/", data={"audience": "clinician"}).status_code == 302
    part = {"instrument": "bassoon", "file": (io.BytesIO(score(simple())), "night.musicxml")}
    assert client.post("/plan/parts/", data=part).status_code == 302
    client.post("/plan/aim", data={"aim_title": "Thirds", "aim_minutes": "40", "week": "2026-11-09"})
    engagement = {"day": "2026-11-14", "start": "19:00", "end": "21:00", "title": "Concert"}
    client.post("/plan/engagement", data=engagement)
    client.post(
        "/kit/library/exercise/new", data={"name": "Mine", "family": "thumb_winds", "stage": "release", "minutes": "2"}
    )
    mark = {"places": "thumb_ball.left", "kind": "tingling", "intensity": "2", "timings": "after", "lasting": "brief"}
    client.post("/body/", data=mark)
    known = {"what": "wrist & thumb|left|tingling", "level": "2", "seen_on": "2026-11-12", "review": "2026-12-01"}
    assert client.post("/body/known", data=known).status_code == 302
    for path, files, form in probes():
        assert client.post(path, data={**form, **files}).status_code == 302, path
    everything = json.loads(client.get("/record/export.json").data)
    return {
        **{row["kind"]: row["uid"] for row in everything["probes"]},
        "known": everything["known"][0]["uid"],
        "trial": everything["trials"][0]["uid"],
        "programme": everything["programmes"][0]["uid"],
        "report": everything["reports"][0]["uid"],
        "part": everything["parts"][0]["uid"],
        "record": everything["sessions"][0]["uid"],
        "kit": everything["kit"][0]["uid"],
        "aim": everything["aims"][0]["uid"],
        "engagement": everything["engagements"][0]["uid"],
        "own": everything["own_items"][0]["uid"],
    }
