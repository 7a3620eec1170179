"""MIDI as a hand plays it: chords within a blink, wrapped files, several songs. Written by mido, read by ours."""

from io import BytesIO
from pathlib import Path

import mido
import pytest

from chirotend.formats import midi, sound
from chirotend.formats.cells import UnreadableFile


def written(starts_ms, kind=1):
    """A file with a note at each of `starts_ms`, one tick a millisecond, each a little louder than the last."""
    track, before = mido.MidiTrack(), 0
    track.append(mido.MetaMessage("set_tempo", tempo=1_000_000))
    for n, at in enumerate(starts_ms):
        track.append(mido.Message("note_on", note=60 + n % 12, velocity=50 + n, time=at - before))
        before = at
    file = mido.MidiFile(type=kind, ticks_per_beat=1000)
    file.tracks.append(track)
    out = BytesIO()
    file.save(file=out)
    return out.getvalue()


def test_what_a_hand_strikes_together_is_one_chord(tmp_path: Path):
    """Truth: a chord of three over 30 ms, a note 36 ms after its first, a note alone."""
    path = tmp_path / "hand.mid"
    path.write_bytes(written([100, 115, 130, 136, 500]))
    found = midi.notes(path)
    assert found.onsets == pytest.approx((0.1, 0.136, 0.5), abs=1e-9) and found.chords == 1
    assert found.levels[0] == pytest.approx(-7.75, abs=0.01), "as loud as its loudest note, 52 of 127"


def test_a_wrapped_file_is_read_and_several_songs_are_refused(tmp_path: Path):
    plain = written([100, 400, 700])
    body = b"data" + len(plain).to_bytes(4, "little") + plain
    wrapped = b"RIFF" + (4 + len(body)).to_bytes(4, "little") + b"RMID" + body
    assert sound.kind_of(wrapped[:64]) == sound.kind_of(plain[:64]) == "audio/midi"
    path = tmp_path / "wrapped.rmi"
    path.write_bytes(wrapped)
    assert midi.notes(path).onsets == pytest.approx((0.1, 0.4, 0.7))
    path.write_bytes(written([100, 400], kind=2))
    with pytest.raises(UnreadableFile, match="several songs"):
        midi.notes(path)
