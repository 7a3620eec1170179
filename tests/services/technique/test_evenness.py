"""A recording heard: the early finger, loudness against her p, MIDI to the millisecond, what cannot be heard."""

from io import BytesIO
from pathlib import Path

import mido
import numpy as np
import pytest
import soundfile

from chirotend.devices import microphone
from chirotend.formats.probe_data import Evenness
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.record import measured
from chirotend.services.technique import evenness, probes, reading
from chirotend.store import blobs

FORM = {"figure": "rising_six", "instrument": "bassoon", "kit": "telephone"}


def sound_file(samples: np.ndarray, kind: str = "FLAC", rate: int = microphone.RATE_HZ) -> BytesIO:
    out = BytesIO()
    soundfile.write(out, samples, rate, format=kind)
    out.seek(0)
    return out


def heard(context: Context, folder: Path, file: BytesIO, **typed: str) -> str:
    uid, job = _brought(context, folder, file, **typed)
    assert job == ""
    return uid


def _brought(context: Context, folder: Path, file: BytesIO, **typed: str) -> tuple[str, str]:
    return reading.keep(context, reading.bring(context, folder, Evenness.kind, {**FORM, **typed}, file, "here"))


@pytest.mark.parametrize("kind", ["FLAC", "WAV", "OGG", "MP3"])
def test_the_early_finger_is_named(context: Context, folder: Path, kind: str):
    onsets = microphone.figure(16, 6, 0.2, {3: 0.03}, 0.004)
    uid = heard(context, folder, sound_file(microphone.played("blown", onsets), kind))
    page = evenness.evenness_page(context, uid)
    assert page.sentence.startswith("The left ring comes ") and "early" in page.sentence
    values = {r.method: r.value for r in probes.values_of(context, uid)}
    assert values[evenness.WORST] == pytest.approx(30, abs=4)
    assert values[evenness.NOTES] == pytest.approx(300, rel=0.05)
    assert values[evenness.LONGEST] == pytest.approx(19, abs=1)
    assert page.total_rounds == 16 and page.problem == ""


def test_a_hall_is_asked_to_be_recorded_closer_and_gives_no_timing(context: Context, folder: Path):
    onsets = microphone.figure(16, 6, 0.2, {3: 0.03}, 0.004)
    far = microphone.in_a_room(microphone.played("blown", onsets), 2.5, 2.0)
    uid = heard(context, folder, sound_file(far))
    page = evenness.evenness_page(context, uid)
    assert page.sentence.startswith("Record closer") and page.rounds is None and page.fingers is None
    assert "A hall, a microphone far away" in page.notes[0]
    kept = {r.method for r in probes.values_of(context, uid)}
    assert evenness.LONGEST in kept and not kept & {evenness.WORST, evenness.SPREAD, evenness.PAIRS, evenness.NOTES}


def test_midi_is_exact(context: Context, folder: Path):
    """Every note on a tick: 480 ticks a beat of half a second; the third of four comes 24 ticks (25 ms) late."""
    track = mido.MidiTrack()
    for n in range(32):
        late = 24 if n % 4 == 2 else 0
        before = 24 if n % 4 == 3 else 0
        track.append(mido.Message("note_on", note=60, velocity=64, time=(240 if n else 0) + late - before))
        track.append(mido.Message("note_off", note=60, time=0))
    file = mido.MidiFile(ticks_per_beat=480)
    file.tracks.append(track)
    out = BytesIO()
    file.save(file=out)
    out.seek(0)
    uid = heard(context, folder, out, figure="four_left")
    assert {r.method: r.value for r in probes.values_of(context, uid)}[evenness.WORST] == pytest.approx(25, abs=0.01)
    page = evenness.evenness_page(context, uid)
    assert page.sentence == "The left ring comes 25 ms late, in 8 of 8 rounds." and "exactly" in page.fine


def test_after_a_false_start_she_says_which_finger_was_first(context: Context, folder: Path):
    """Truth: four notes, a breath, then the figure from its third step on; the left ring (its fourth) is early."""
    start = np.array(microphone.figure(16, 6, 0.2, {3: 0.03}, 0.004))
    onsets = np.concatenate((start[:4], start[2:] + 1.1))
    uid = heard(context, folder, sound_file(microphone.played("struck", onsets)))
    page = evenness.evenness_page(context, uid)
    assert page.sentence.startswith("Which finger") and page.first is None and len(page.firsts) == 6
    assert "4 sounds were set aside" in " ".join(page.notes)
    with pytest.raises(FieldError) as refused:
        evenness.say_first(context, uid, {"first": ""})
    assert refused.value.field == "first"
    evenness.say_first(context, uid, {"first": "2"})
    page = evenness.evenness_page(context, uid)
    assert page.sentence.startswith("The left ring comes 3") and page.counted_from.startswith("You said")


def test_loudness_is_against_her_own_p(context: Context, folder: Path):
    soft = microphone.played("plucked", microphone.figure(8, 6, 0.2, {}), level=0.05)
    uid = heard(context, folder, sound_file(soft))
    assert not evenness.evenness_page(context, uid).my_p
    evenness.set_my_p(context, uid)
    loud = heard(context, folder, sound_file(soft * np.float32(4)))
    values = {r.method: r.value for r in probes.values_of(context, loud)}
    assert values[evenness.ABOVE_P] > 80
    elsewhere = heard(context, folder, sound_file(soft), kit="another microphone")
    assert evenness.ABOVE_P not in {r.method for r in probes.values_of(context, elsewhere)}
    assert measured.kept(context, evenness.MY_P)[0].unit == "dB FS"


def test_one_stroke_lies_beside_the_other(context: Context, folder: Path):
    strokes = microphone.played("struck", microphone.figure(16, 2, 0.25, {1: 0.03}))
    page = evenness.evenness_page(context, heard(context, folder, sound_file(strokes), figure="own", steps="down, up"))
    said = dict(page.numbers)["down against up"]
    assert 27 <= float(said.split()[0]) <= 33 and "ms later" in said and "dB" in said
    assert not any(
        "against" in name
        for name, _ in evenness.evenness_page(context, heard(context, folder, sound_file(strokes))).numbers
    )


def test_her_own_figure_and_its_rhythm(context: Context, folder: Path):
    own = {"figure": "own", "steps": "down, up", "lengths": "3 1"}
    onsets = np.cumsum([0.5, *([0.45, 0.15] * 12)])[:-1]
    uid = heard(context, folder, sound_file(microphone.played("bowed", onsets)), **own)
    page = evenness.evenness_page(context, uid)
    assert page.probe.about.what == "down, up" and "not said for this rhythm" in " ".join(page.notes)
    assert evenness.SPREAD not in {r.method for r in probes.values_of(context, uid)}
    for typed, field in (
        ({"steps": "down"}, "steps"),
        ({"lengths": "3"}, "lengths"),
        ({"figure": "", "steps": ""}, "steps"),
    ):
        with pytest.raises(FieldError) as refused:
            evenness.figure_of({**own, **typed})
        assert refused.value.field == field


def _wav(samples: np.ndarray, rate: int = 44_100) -> bytes:
    return sound_file(samples, "WAV", rate).getvalue()


def _floats(samples: np.ndarray) -> bytes:
    out = BytesIO()
    soundfile.write(out, samples, 44_100, format="WAV", subtype="FLOAT")
    return out.getvalue()


LOUD = np.concatenate((np.full(22_050, 1e-3), np.full(22_050, 1e6))).astype(np.float32)
NOISY = microphone.played("plucked", microphone.figure(4, 6, 0.2, {}))
BAD = {
    "empty": (b"", "empty"),
    "text": (b"low F, softly", "no recording that can be read"),
    "silent": (_wav(np.zeros(44_100, np.float32)), "silent"),
    "broken": (_wav(NOISY)[:30], "broken"),
    "louder than any sound": (_floats(LOUD), "louder than any sound"),
    "nothing begins": (_wav((0.3 * np.hanning(16_000) * np.sin(np.arange(16_000) * 0.3)), 16_000), "heard to begin"),
    "broken webm": (b"\x1aE\xdf\xa3" + bytes(400), "broken"),
    "midi without notes": (b"MThd\0\0\0\6\0\0\0\1\1\xe0MTrk\0\0\0\4\0\xff\x2f\0", "no notes"),
    "broken midi": (b"MThd\0\0", "broken"),
    "slow": (_wav(NOISY, 4000), "samples a second"),
}


@pytest.mark.parametrize("name", BAD)
def test_what_cannot_be_heard_is_said_and_nothing_is_half_kept(context: Context, folder: Path, name: str):
    data, words = BAD[name]
    with pytest.raises(FieldError, match=words) as refused:
        heard(context, folder, BytesIO(data))
    assert refused.value.field == "sound"
    assert evenness.choice(context).last is None and blobs.named(context.db) == set()
    assert [p for p in folder.glob("*") if p.suffix != ".part"] == []


def test_a_cut_off_file_a_lone_note_and_five_channels_are_heard_as_far_as_they_go(context: Context, folder: Path):
    uid = heard(context, folder, BytesIO(_wav(NOISY)[:-60_000]))
    page = evenness.evenness_page(context, uid)
    assert page.total_rounds >= 2 and any("breaks off" in note and "is lost" in note for note in page.notes)
    whole = evenness.evenness_page(context, heard(context, folder, BytesIO(_wav(NOISY))))
    assert not any("breaks off" in note for note in whole.notes)
    one = heard(context, folder, sound_file(microphone.played("plucked", [0.5])))
    assert "Too little" in evenness.evenness_page(context, one).sentence
    five = np.repeat(NOISY[:, None], 5, axis=1)
    uid = heard(context, folder, BytesIO(_wav(five, 96_000)))
    assert len(probes.probe(context, uid, Evenness).data.onsets) >= 20


def test_too_large_is_refused_before_it_is_heard(context: Context, folder: Path, monkeypatch):
    monkeypatch.setattr(evenness, "BYTES_MAX", 1000)
    with pytest.raises(FieldError, match="larger than"):
        heard(context, folder, BytesIO(_wav(NOISY)))
    assert list(folder.iterdir()) == []


def test_a_long_one_waits_for_the_worker(context: Context, folder: Path, monkeypatch):
    monkeypatch.setattr(reading, "AT_ONCE_BYTES", 1000)
    uid, waiting = _brought(context, folder, BytesIO(_wav(NOISY)))
    job = reading.job_of(context, waiting)
    assert (job.state, job.result) == ("waiting", {"probe": uid})
    shares: list[float] = []
    reading.run_job(context, folder, job.kind, uid, shares.append)
    assert shares == sorted(shares) and shares[-1] == 1
    assert evenness.evenness_page(context, uid).total_rounds == 4
    other, waiting = _brought(context, folder, BytesIO(_wav(NOISY * np.float32(0.5))))
    reading.cancel(context, waiting)
    assert reading.job_of(context, waiting).state == "cancelled"
    with pytest.raises(NotThere):
        evenness.evenness_page(context, other)


def test_what_is_refused_to_one_does_not_go_from_under_another(context: Context, folder: Path):
    """Two bring the same recording at one time: one reads it still while it is thrown away for the other."""
    read = reading.bring(context, folder, Evenness.kind, FORM, sound_file(NOISY), "here")
    same, _, _ = probes.store(context, folder, "sound", sound_file(NOISY), evenness.BYTES_MAX)
    probes.drop_file(context, folder, same)
    uid, _ = reading.keep(context, read)
    assert probes.file_of(context, folder, uid)[0].is_file()
