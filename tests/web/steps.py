"""Steps that tests of the pages share."""

import io
import re

import soundfile

from chirotend.devices import camera, microphone, muscle

HTMX = {"HX-Request": "true"}
#: the pages of F Technique that open without a measure
TECHNIQUE = tuple(
    f"/technique/{page}" for page in ("", "pressure", "evenness", "posture", "trace", "strokes", "awareness", "grips")
)


def words_of(page: str) -> str:
    """What a page says: without its tags, with single spaces."""
    return " ".join(re.sub(r"<[^>]*>", " ", page).split())


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
