"""Files nobody would bring: one of each kind that is read here, and what becomes of it on a bad way."""

import io
import wave
import zipfile
from functools import cache
from pathlib import Path
from tempfile import TemporaryDirectory

import mido
import numpy as np
import pyedflib
import soundfile
from hypothesis import strategies as st
from PIL import Image

from chirotend.devices import microphone
from tests.parts import score, simple, zipped

DIARIES = Path(__file__).parents[1] / "data" / "diaries"
#: where a file is brought, the field it comes by, the rest of its form, and a file that is taken there
PLACES = (
    ("/technique/posture", "picture", {"template": "side", "hand": "right", "instrument": "bassoon"}, "p.jpeg"),
    ("/technique/evenness", "sound", {"figure": "rising_six", "instrument": "bassoon"}, "s.FLAC"),
    ("/technique/trace", "trace", {"instrument": "bassoon"}, "t.edf"),
    ("/technique/strokes", "trace", {"stick": "thin", "hand": "right"}, "t.csv"),
    ("/technique/strokes", "sound", {"stick": "thin", "hand": "right", "peaks": "20 30 " * 12}, "s.WAV"),
    ("/plan/parts/", "file", {"instrument": "bassoon"}, "n.mxl"),
    ("/plan/calendar", "calendar", {}, "c.ics"),
    ("/play/takes", "sound", {"seconds": "5"}, "s.OGG"),
    ("/record/import", "files", {}, "log.zip"),
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
    samples = microphone.played("plucked", microphone.figure(4, 6, 0.15, {}))
    presses = 20 * np.maximum(0, np.sin(np.arange(1500) * 0.03)) ** 8
    table = "time (s),pad (N)\n" + "".join(f"{n / 500:.3f},{press:.3f}\n" for n, press in enumerate(presses))
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
    soundfile.write(out, samples, microphone.RATE_HZ, format=kind)
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
    with TemporaryDirectory() as folder:
        path = Path(folder) / "arm.edf"
        with pyedflib.EdfWriter(str(path), 1) as file:
            file.setSignalHeaders([pyedflib.highlevel.make_signal_header("arm", dimension="mV", sample_frequency=200)])
            file.writeSamples([np.sin(np.arange(1000) * 0.2)])
        return path.read_bytes()


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
    path, field, form, _ = draw(st.sampled_from(PLACES))
    name, data = draw(st.sampled_from(seeds()))
    return {"path": path, "field": field, "form": form, "name": name, "body": draw(damaged(data))}
