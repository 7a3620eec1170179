"""Files nobody would bring: one of each kind that is read here, and what becomes of it on a bad way."""

import io
import wave
import zipfile
from functools import cache
from pathlib import Path

import mido
import numpy as np
import pyedflib
import soundfile
from hypothesis import strategies as st
from PIL import Image

from tests.parts import score, simple, zipped

DIARIES = Path(__file__).parents[1] / "data" / "diaries"
#: where a file is brought, and the field it comes by, with the rest of its form
PLACES = (
    ("/technique/posture", "picture", {"template": "side", "hand": "right", "instrument": "bassoon"}),
    ("/technique/evenness", "sound", {"figure": "trill", "instrument": "bassoon"}),
    ("/technique/trace", "trace", {"instrument": "bassoon"}),
    ("/technique/strokes", "trace", {"stick": "thin", "hand": "right"}),
    ("/technique/strokes", "sound", {"stick": "thin", "hand": "right", "peaks": "20 30 25"}),
    ("/plan/parts/", "file", {"instrument": "bassoon"}),
    ("/plan/calendar", "calendar", {}),
    ("/play/takes", "sound", {"seconds": "5"}),
    ("/record/import", "files", {}),
)
CALENDAR = (
    b"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//EN\r\nBEGIN:VEVENT\r\nUID:a\r\nDTSTAMP:20261101T000000Z\r\n"
    b"DTSTART:20261120T180000Z\r\nDTEND:20261120T200000Z\r\nRRULE:FREQ=DAILY;COUNT=9\r\nSUMMARY:Octet\r\n"
    b"END:VEVENT\r\nEND:VCALENDAR\r\n"
)
RECORD = b'{"format": "chirotend-record", "version": 2, "days": [{"day": "2026-11-01", "note": "x"}]}'


@cache
def seeds() -> tuple[tuple[str, bytes], ...]:
    """Return a good file of each kind, with its name."""
    samples = (np.sin(np.arange(16_000) * 0.3) * np.hanning(16_000)).astype(np.float32)
    table = "time (s),pad (N)\n" + "".join(f"{n / 500:.3f},{abs(v) * 20:.3f}\n" for n, v in enumerate(samples[:1500]))
    found = [(f"p.{kind}", _picture(kind)) for kind in ("jpeg", "png", "webp", "bmp")]
    found += [(f"s.{kind}", _sound(samples, kind)) for kind in ("WAV", "FLAC", "OGG", "MP3")]
    found += [("s.mid", _midi()), ("t.csv", table.encode()), ("t.edf", _edf()), ("quiet.wav", silence(800))]
    found += [("n.musicxml", score(simple())), ("n.mxl", zipped(score(simple()))), ("c.ics", CALENDAR)]
    found += [("all.json", RECORD), ("log.zip", _archive()), ("d.csv", b"day,minutes,effort\n2026-11-01,30,4\n")]
    found += [(path.name, path.read_bytes()) for path in sorted(DIARIES.iterdir())]
    return tuple(found)


def _picture(kind: str) -> bytes:
    out = io.BytesIO()
    Image.effect_noise((320, 240), 60).convert("RGB").save(out, kind)
    return out.getvalue()


def _sound(samples: np.ndarray, kind: str) -> bytes:
    out = io.BytesIO()
    soundfile.write(out, samples, 16_000, format=kind)
    return out.getvalue()


def silence(samples: int) -> bytes:
    """Return a WAV file of so many silent samples, 8,000 a second."""
    out = io.BytesIO()
    with wave.open(out, "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(8000)
        file.writeframes(b"\0\0" * samples)
    return out.getvalue()


def _midi() -> bytes:
    file, track = mido.MidiFile(), mido.MidiTrack()
    file.tracks.append(track)
    for n in range(64):
        track.append(mido.Message("note_on", note=40 + n % 12, velocity=70, time=7))
        track.append(mido.Message("note_off", note=40 + n % 12, velocity=0, time=100 + n))
    out = io.BytesIO()
    file.save(file=out)
    return out.getvalue()


def _edf() -> bytes:
    path = Path("/dev/shm" if Path("/dev/shm").is_dir() else "/tmp") / f"fuzz-{id(seeds)}.edf"
    with pyedflib.EdfWriter(str(path), 1) as file:
        file.setSignalHeaders([pyedflib.highlevel.make_signal_header("arm", dimension="mV", sample_frequency=200)])
        file.writeSamples([np.sin(np.arange(1000) * 0.2)])
    data = path.read_bytes()
    path.unlink()
    return data


def _archive() -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("sessions.csv", "day,minutes,effort\n2026-11-02,30,4\n")
        archive.writestr("zeros.csv", b"0" * 3_000_000)
    return out.getvalue()


@st.composite
def damaged(draw: st.DrawFn, data: bytes) -> bytes:
    """A file cut off, with bytes changed, taken out, doubled, or with another file at its end."""
    for _ in range(draw(st.integers(0, 3))):
        at = draw(st.integers(0, max(0, len(data) - 1)))
        size = draw(st.sampled_from((1, 2, 4, 64, 1000)))
        way = draw(st.sampled_from(("cut", "change", "take", "double", "join")))
        if way == "cut":
            data = data[:at]
        elif way == "change":
            data = data[:at] + draw(st.binary(min_size=size, max_size=size)) + data[at + size :]
        elif way == "take":
            data = data[:at] + data[at + size :]
        elif way == "double":
            data = data[: at + size] + data[at:]
        else:
            data += draw(st.sampled_from(seeds()))[1][:50_000]
    return data


@st.composite
def file_requests(draw: st.DrawFn) -> dict:
    """A file, damaged or whole, brought where it belongs or anywhere else."""
    path, field, form = draw(st.sampled_from(PLACES))
    name, data = draw(st.sampled_from(seeds()))
    return {"path": path, "field": field, "form": form, "name": name, "body": draw(damaged(data))}
