"""Traces and strokes as she brings them: units, gaps, missing times, EDF, her strongest effort, a closer look."""

from dataclasses import replace
from datetime import timedelta
from io import BytesIO
from pathlib import Path
from typing import Any

import numpy as np
import pyedflib
import pytest
import soundfile

from chirotend.devices import microphone, muscle
from chirotend.formats.probe_data import Strokes, Trace
from chirotend.services.context import Context, FieldError
from chirotend.services.play import takes
from chirotend.services.technique import probes, reading, strokes, traces

FORM = {"instrument": "bassoon", "hand": "left", "what": "Act III"}
BURSTS = [(0.0, 4.0), (5.0, 9.0), (10.0, 14.0), (15.0, 19.0)]


def _describe(context: Context, folder: Path, uid: str, typed: dict[str, str]) -> None:
    traces.describe(context, uid, traces.worked_out(context, folder, uid, typed))


def _strike(context: Context, *brought: Any) -> str:
    return strokes.keep(context, *strokes.read_strokes(context, *brought))


def table(head: str, *columns: np.ndarray, rate: float | None = 1000.0) -> BytesIO:
    rows = zip(*columns, strict=True)
    times = (f"{n / rate:.4f}," if rate else "" for n in range(len(columns[0])))
    lines = (
        [t + ",".join("" if np.isnan(v) else f"{v:.5g}" for v in row) for t, row in zip(times, rows, strict=True)]
        if rate
        else [",".join("" if np.isnan(v) else f"{v:.5g}" for v in row) for row in rows]
    )
    return BytesIO(("\n".join([head, *lines]) + "\n").encode())


def brought(context: Context, folder: Path, file: BytesIO) -> str:
    uid, job = reading.keep(context, reading.bring(context, folder, Trace.kind, FORM, file, "band.csv"))
    assert job == ""
    return uid


def test_a_muscle_is_told_in_shares_of_her_strongest(context: Context, folder: Path):
    """By hand: bursts of 4 s with a second of rest after each; noise of size s has the mean size s·√(2/π)."""
    left = muscle.muscle(BURSTS, 20, strength=0.1)
    right = muscle.muscle(BURSTS, 20, strength=0.2, seed=9)
    left[12_000:12_040] = np.nan
    uid = brought(context, folder, table("time (s),left forearm (mV),right forearm (mV)", left, right))
    page = traces.trace_page(context, folder, uid)
    assert [(c.kind, c.unit, c.side) for c in page.probe.data.channels] == [
        ("emg", "mV", "left"),
        ("emg", "mV", "right"),
    ]
    assert page.picture is None and "Say what each channel is" in page.sentence
    strong = 0.8 * (2 / np.pi) ** 0.5
    _describe(context, folder, uid, {"maximum-0": f"{strong:.4f}", "maximum-1": f"{strong:.4f}"})
    page = traces.trace_page(context, folder, uid)
    found = page.rows[0].summary
    # a fifth of it is rest, and the band takes 6 % of the noise
    assert found.p50 == pytest.approx(0.94 * 12.5 * 0.95, abs=0.6) and found.bursts == 4
    assert found.gaps_a_minute == pytest.approx(12) and found.longest_s == pytest.approx(4.3, abs=0.3)
    assert page.rows[0].zones[1] == "past the first line" and "right does 2.1 times as much" in page.uneven
    kept = {r.method: r.value for r in probes.values_of(context, uid)}
    assert kept["muscle.middle.left_forearm"] == pytest.approx(found.p50)
    assert "muscle.middle.right_forearm" not in kept, "this probe is of the left"
    closer = traces.trace_page(context, folder, uid, 4.0, 6.0)
    assert (closer.from_s, closer.to_s) == (4.0, 6.0) and closer.picture != page.picture
    traces.mark(context, uid, {"at_s": "9.5", "word": "the hard bar"})
    assert probes.probe(context, uid, Trace).data.marks == [(9.5, "the hard bar")]


def test_without_her_strongest_nothing_is_said_of_amplitude(context: Context, folder: Path):
    uid = brought(context, folder, table("time (s),forearm (mV)", muscle.muscle(BURSTS, 20)))
    _describe(context, folder, uid, {})
    page = traces.trace_page(context, folder, uid)
    assert page.rows[0].zones == () and "compares with no other" in page.rows[0].of
    assert {r.method for r in probes.values_of(context, uid)} == {"trace.longest.forearm"}


def test_a_force_pad_in_another_unit_and_without_times(context: Context, folder: Path):
    pad = muscle.press([0, 5, 0, 8, 0], 2)
    uid = brought(context, folder, table("pad (g)", pad / 9.80665e-3, rate=None))
    with pytest.raises(FieldError, match="how many samples a second"):
        _describe(context, folder, uid, {"kind-0": "force", "unit-0": "g"})
    with pytest.raises(FieldError, match="in another unit") as refused:
        _describe(context, folder, uid, {"kind-0": "force", "unit-0": "kg", "rate_hz": "1000"})
    assert refused.value.field == "unit-0"
    _describe(context, folder, uid, {"kind-0": "force", "unit-0": "g", "rate_hz": "1000", "maximum-0": "1000"})
    page = traces.trace_page(context, folder, uid)
    assert page.rows == () and page.sentence.startswith("A press cannot be told from rest")
    assert [r.method for r in probes.values_of(context, uid)] == []
    with pytest.raises(FieldError, match="hands were not off") as refused:
        _describe(context, folder, uid, {"maximum-0": "1000", "hands_off": "1"})
    assert refused.value.field == "hands_off"
    _describe(context, folder, uid, {"maximum-0": "1000", "rest-0": "0"})
    found = traces.trace_page(context, folder, uid).rows[0].summary
    assert max(found.high) == pytest.approx(100 * 8 / 9.80665, rel=0.05) and found.bursts == 2


@pytest.mark.parametrize(("unit", "newtons"), [("mN", 1e-3), ("gf", 9.80665e-3), ("kgf", 9.80665)])
def test_a_unit_is_read_or_asked_for_and_never_taken_for_newtons(context: Context, folder: Path, unit, newtons):
    """Truth: half of her strongest, 20 N."""
    pad = np.where(np.arange(8000) < 4000, 0.0, 10.0) / newtons
    uid = brought(context, folder, table(f"time (s),pad ({unit})", pad))
    _describe(context, folder, uid, {"kind-0": "force", "rest-0": "0", "maximum-0": f"{20 / newtons:.8g}"})
    assert traces.trace_page(context, folder, uid).rows[0].summary.p90 == pytest.approx(50, abs=1)
    other = brought(context, folder, table("time (s),pad (poundal)", pad))
    with pytest.raises(FieldError, match="told in N, mN") as refused:
        _describe(context, folder, other, {"kind-0": "force", "rest-0": "0"})
    assert refused.value.field == "unit-0"


def test_an_edf_is_read(context: Context, folder: Path):
    path = folder.parent / "band.edf"
    samples = muscle.muscle(BURSTS, 20, strength=0.1)
    with pyedflib.EdfWriter(str(path), 1) as out:
        out.setSignalHeader(0, pyedflib.highlevel.make_signal_header("left arm", "mV", 1000, -1, 1))
        out.writeSamples([samples])
    uid = brought(context, folder / "blobs", BytesIO(path.read_bytes()))
    data = probes.probe(context, uid, Trace).data
    assert (data.rate_hz, data.channels[0].name, data.channels[0].unit, data.seconds) == (1000, "left arm", "mV", 20)


BAD = {
    "empty": (b"", "empty"),
    "picture": (b"\x89PNG\0\0\0\0" * 40, "no trace that can be read"),
    "remarks": (b"# nothing\n# here\n", "remarks only"),
    "words": (b"time (s),arm (mV)\n0,soft\n1,loud\n" * 40, "is no number"),
    "few": (b"time (s),arm (mV)\n0.000,1\n0.001,2\n0.002,3\n", "64 are needed"),
    "backwards": (b"time (s),arm (mV)\n" + b"1,1\n0,2\n" * 50, "do not rise"),
    "uneven": (b"time (s),arm (mV)\n" + b"".join(b"%d,1\n" % (n * n) for n in range(90)), "not equal steps"),
    "infinite": (b"time (s),arm (mV)\n" + b"".join(b"%.3f,inf\n" % (n / 1000) for n in range(90)), "infinite"),
    "broken edf": (b"0       " + b" " * 248, "broken"),
}


@pytest.mark.parametrize("name", BAD)
def test_what_is_no_trace_is_said_and_nothing_is_kept(context: Context, folder: Path, name: str):
    data, words = BAD[name]
    with pytest.raises(FieldError, match=words) as refused:
        brought(context, folder, BytesIO(data))
    assert refused.value.field == "trace" and list(folder.iterdir()) == []


def test_strokes_typed_and_from_a_pad(context: Context, folder: Path):
    said = {"instrument": "bassoon", "hand": "right"}
    context, later = (
        replace(context, now=context.now - timedelta(minutes=9)),
        replace(context, now=context.now + timedelta(minutes=9)),
    )
    _strike(context, folder, {**said, "stick": "heavy", "way": "choked", "peaks": "20 30 25"}, None, "")
    peaks = [10.0, 12.0, 11.0, 9.0]
    file = table("time (s),force (N)", muscle.struck(peaks), rate=2000.0)
    uid = _strike(context, folder, {**said, "stick": "heavy", "way": "free"}, file, "pad.csv")
    assert probes.probe(context, uid, Strokes).data.peaks_N == pytest.approx(peaks, rel=0.03)
    assert strokes.strokes_page(context).sentence == "Choked, heavy sends 25.0 N into the hand; free, 10.5 N."
    assert list(folder.iterdir()) == [], "the trace of a pad is not kept"
    levels = "-20 -18 -19"
    for stick, force in (("light", "8 9 8.5"), ("thin", "16 18 17")):
        _strike(context, folder, {**said, "stick": stick, "peaks": force, "levels": levels}, None, "")
    page = strokes.strokes_page(context)
    assert [name for name, _ in page.equal] == ["light", "thin"] and "At equal loudness light" in page.sentence
    _strike(later, folder, {**said, "stick": "pad", "peaks": "1 2 3", "unit": "lbf"}, None, "")
    assert strokes.strokes_page(later).rows[0].set.middle_N == pytest.approx(2 * 4.4482216152605)


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        ({"stick": ""}, "stick"),
        ({"way": "hard"}, "way"),
        ({"peaks": "20 x"}, "peaks"),
        ({"peaks": "20 30"}, "peaks"),
        ({"peaks": "20000 3000 1"}, "peaks"),
        ({"unit": "stone"}, "unit"),
        ({"levels": "-20"}, "levels"),
    ],
)
def test_strokes_that_cannot_be(context: Context, folder: Path, typed, field):
    good = {"stick": "heavy", "peaks": "20 30 25", "way": "free"}
    with pytest.raises(FieldError) as refused:
        _strike(context, folder, {**good, **typed}, None, "")
    assert refused.value.field == field


def _struck(level: float, count: int = 8) -> BytesIO:
    onsets = [0.5 + 0.5 * n for n in range(count)]
    out = BytesIO()
    soundfile.write(out, microphone.played("struck", onsets, level), microphone.RATE_HZ, format="FLAC")
    out.seek(0)
    return out


def test_the_loudness_of_strokes_is_heard(context: Context, folder: Path):
    """The heavy one is struck twice as hard and sounds as loud; half the sound is 6.02 dB less."""
    for stick, force, level in (("heavy", 20, 0.2), ("light", 10, 0.2), ("soft", 5, 0.1)):
        typed = {"stick": stick, "hand": "right", "peaks": " ".join([str(force)] * 8)}
        _strike(context, folder, typed, None, "", _struck(level))
    page = strokes.strokes_page(context)
    equal, levels = dict(page.equal), {r.name: np.array(r.probe.data.levels) for r in page.rows}
    assert equal["heavy"] / equal["light"] == pytest.approx(2, rel=0.01)
    assert levels["light"] - levels["soft"] == pytest.approx(6.02, abs=0.2)
    assert list(folder.iterdir()) == [], "the recording is not kept"
    for sound, words in ((_struck(0.2, 5), "5 strokes are heard and 8 peaks"), (BytesIO(b"boom"), "no recording")):
        with pytest.raises(FieldError, match=words) as refused:
            _strike(context, folder, {"stick": "heavy", "peaks": "9 9 9 9 9 9 9 9"}, None, "", sound)
        assert refused.value.field == "sound"
    assert len(strokes.strokes_page(context).rows) == 3 and list(folder.iterdir()) == []


def test_a_take_lies_beside_it_until_it_is_gone(context: Context, folder: Path):
    uid = brought(context, folder, table("time (s),band (mV)", muscle.muscle(BURSTS, 20)))
    _describe(context, folder, uid, {})
    out = BytesIO()
    soundfile.write(out, np.zeros(8000, np.float32), 8000, format="WAV")
    take = takes.record(context, takes.put(context, folder, out.getvalue(), "audio/wav", 1), "the hard bar", "bassoon")
    assert traces.trace_page(context, folder, uid).takes == ((take.uid, "the hard bar, 12 November"),)
    assert not _head(traces.trace_page(context, folder, uid))
    traces.hear_beside(context, uid, {"take": take.uid, "take_at_s": "-0,5"})
    page = traces.trace_page(context, folder, uid)
    assert page.sound == take.uid and page.probe.data.take_at_s == -0.5 and page.probe.done and _head(page)
    assert page.picture and page.picture.stops[0][0] == 0 and page.picture.stops[-1][0] == page.to_s
    for typed, field in (({"take": "x"}, "take"), ({"take": take.uid, "take_at_s": "soon"}, "take_at_s")):
        with pytest.raises(FieldError) as refused:
            traces.hear_beside(context, uid, typed)
        assert refused.value.field == field
    takes.discard(context, take.uid)
    assert traces.trace_page(context, folder, uid).sound == ""


def _head(page: traces.TracePage) -> bool:
    return page.picture is not None and any(s.attrs.get("class") == "play-head" for s in page.picture.shapes)


def test_a_press_that_never_lets_go_is_told_as_one(context: Context, folder: Path):
    """Truth: hands off for 4 s, ten newtons for 60 s without a let-go, upside down, on a zero that wanders by 1 N."""
    t = np.arange(0, 68, 0.01)
    force = -(np.where((t >= 4) & (t < 64), 10.0, 0.0) + 2.0 + t / 68)
    uid = brought(context, folder, table("time (s),left thumb (N)", force, rate=100.0))
    _describe(context, folder, uid, {})
    assert not list(probes.values_of(context, uid))
    untold = traces.trace_page(context, folder, uid)
    assert untold.rows == () and untold.picture is not None, "she sees where her hands were off"
    _describe(context, folder, uid, {"hands_off": "0.5", "hands_off_again": "64.5", "maximum-0": "-22"})
    page = traces.trace_page(context, folder, uid)
    found = page.rows[0].summary
    assert found.longest_s == pytest.approx(60, abs=0.2) and found.gaps_a_minute == 0
    assert found.p50 == pytest.approx(50, abs=1) and page.sentence == "The left thumb never lets go in 60 s."
    assert {"upside_down", "drift"} <= set(found.noticed) and len(page.notes) == 2
