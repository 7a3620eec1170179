"""Parts read from MusicXML and MIDI; what is damaged, too large or reaches outside is refused with a sentence."""

import io

import mido
import pytest

from chirotend.formats.cells import UnreadableFile
from chirotend.formats.musicxml import NO_TEMPO_BPM, read_parts
from tests.parts import FIRST, NOTE, bar, pitch, score, simple, zipped

GRACE = f"<note><grace/>{pitch('D')}</note>"
UNPITCHED = NOTE.format(
    "<unpitched><display-step>E</display-step><display-octave>4</display-octave></unpitched>", 4, ""
)
REST = NOTE.format("<rest/>", 4, "")
TIED = NOTE.format(pitch(), 4, '<tie type="start"/>') + NOTE.format(pitch(), 4, '<tie type="stop"/>')
CHORD = NOTE.format(pitch("C"), 4, "") + NOTE.format(f"<chord/>{pitch('E')}", 4, "")


def one(*bars):
    (part,) = read_parts(score(("Bassoon", list(bars))), "x.musicxml").parts
    return part


def test_notes_bars_tempo_and_title():
    found = read_parts(score(simple()), "x.musicxml")
    (part,) = found.parts
    assert (found.title, part.name, len(part.bars), len(part.notes)) == ("Night music", "Bassoon", 8, 6 * 2 + 2 * 16)
    assert (part.has_tempo, part.bars[0].bpm, part.notes[0].length) == (True, 96, 2)
    assert read_parts(zipped(score(simple())), "x.mxl").parts == found.parts
    wide = score(simple()).decode().replace("UTF-8", "UTF-16").encode("utf-16")
    assert read_parts(wide, "x.musicxml").parts == found.parts


def test_what_can_stand_in_a_part():
    part = one(bar(1, GRACE + UNPITCHED + REST + TIED, FIRST), bar(2, CHORD + REST + REST))
    assert [n.pitch for n in part.notes].count(None) == 1
    assert (part.rests, part.ties, len(part.notes)) == (3, 1, 5)
    assert [n.length for n in part.notes if n.length == 2], "a tied note is one"
    assert min(n.length for n in part.notes) == 0, "a grace note has no length"


def test_a_pickup_repeats_transposition_and_no_tempo():
    attributes = FIRST.split("<direction>")[0].replace(
        "</attributes>", "<transpose><diatonic>-1</diatonic><chromatic>-2</chromatic></transpose></attributes>"
    )
    pickup = bar(0, NOTE.format(pitch(), 4, ""), attributes)
    end = '<barline location="right"><repeat direction="backward"/></barline>'
    part = one(pickup, bar(1, NOTE.format(pitch(), 8, "") * 2), bar(2, NOTE.format(pitch(), 16, "") + end))
    assert (len(part.bars), part.bars[0].end, part.transposes, part.repeats) == (3, 1, -2, 1)
    assert (part.has_tempo, part.bars[0].bpm) == (False, NO_TEMPO_BPM)


def test_endings_are_played_and_what_sounds_is_an_octave_below_what_is_written():
    attributes = FIRST.replace(
        "</attributes>",
        "<transpose><diatonic>0</diatonic><chromatic>0</chromatic><octave-change>-1</octave-change></transpose></attributes>",
    )
    whole = NOTE.format(pitch("C", 3), 16, "")
    first = '<barline location="left"><ending number="1" type="start"/></barline>'
    back = '<barline location="right"><ending number="1" type="stop"/><repeat direction="backward"/></barline>'
    second = '<barline location="left"><ending number="2" type="start"/></barline>'
    done = '<barline location="right"><ending number="2" type="stop"/></barline>'
    bars = [bar(1, whole, attributes), bar(2, first + whole + back), bar(3, second + whole + done), bar(4, whole)]
    part = one(*bars)
    assert (part.played, part.followed) == ((0, 1, 0, 2, 3), True)
    assert (part.transposes, {n.pitch for n in part.notes}) == (-12, {36})
    unnumbered = one(*(b.replace('number="2" type', 'number="" type') for b in bars))
    assert (unnumbered.played, unnumbered.followed) == ((), False)
    assert one(bar(1, whole, FIRST), bar(2, whole)).played == ()


def test_a_tempo_over_the_first_part_is_that_of_every_part_and_of_the_bars_before_it():
    silent = FIRST.split("<direction>")[0]
    later = bar(2, NOTE.format(pitch(), 16, ""), '<direction><sound tempo="72"/></direction>')
    flute = ("Flute", [bar(1, NOTE.format(pitch(), 16, ""), silent), later])
    bassoon = ("Bassoon", [bar(1, NOTE.format(pitch(), 16, ""), silent), bar(2, NOTE.format(pitch(), 16, ""))])
    for part in read_parts(score(flute, bassoon), "x.musicxml").parts:
        assert (part.has_tempo, [b.bpm for b in part.bars]) == (True, [72, 72])


@pytest.mark.parametrize(("staff", "kept"), [("2", 2), ("-3", 1), ("999", 20), ("x", 1)])
def test_a_staff_is_one_of_the_part(staff, kept):
    try:
        part = one(bar(1, NOTE.format(pitch(), 16, f"<staff>{staff}</staff>"), FIRST))
    except UnreadableFile:
        return
    assert [n.staff for n in part.notes] == [kept]


@pytest.mark.parametrize("at", range(60, 400, 20))
def test_a_zip_whose_inside_is_damaged_is_refused_wherever_it_is(at):
    data = bytearray(zipped(score(simple())))
    data[at : at + 8] = b"\xff" * 8
    try:
        read_parts(bytes(data), "x.mxl")
    except UnreadableFile as error:
        assert "damaged zip" in str(error) or "could not be read" in str(error) or "holds no part" in str(error)


def test_midi_is_read_too():
    file = mido.MidiFile()
    track = mido.MidiTrack()
    file.tracks.append(track)
    for n in range(8):
        track.append(mido.Message("note_on", note=50 + n, velocity=64, time=0))
        track.append(mido.Message("note_off", note=50 + n, velocity=0, time=480))
    out = io.BytesIO()
    file.save(file=out)
    (part,) = read_parts(out.getvalue(), "x.mid").parts
    assert len(part.notes) == 8


BOMB = b'<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><score-partwise>&b;</score-partwise>'
OUTSIDE = b'<?xml version="1.0"?><!DOCTYPE x SYSTEM "file:///etc/passwd"><score-partwise></score-partwise>'


def _misplaced(data: bytes) -> bytes:
    """A zip whose list of contents says that it begins far before where it does."""
    at = data.rindex(b"PK\x05\x06") + 16
    return data[:at] + (len(data) * 3).to_bytes(4, "little") + data[at + 4 :]


@pytest.mark.parametrize(
    ("data", "sentence"),
    [
        (b"", "no MusicXML"),
        (b"hello", "no MusicXML"),
        (BOMB, "names things outside itself"),
        (OUTSIDE, "names things outside itself"),
        (BOMB.replace(b"<!ENTITY", b"<!-- " + b"x" * 30_000 + b" --><!ENTITY", 1), "names things outside itself"),
        (BOMB.decode().encode("utf-16"), "names things outside itself"),
        (b"PK\x03\x04 not a zip", "damaged zip"),
        (zipped(score(simple()))[:-40], "damaged zip"),
        (_misplaced(zipped(score(simple()))), "damaged zip"),
        (score(simple())[:-90], "could not be read"),
        (b"MThd\x00\x00", "broken MIDI"),
        (score(("Bassoon", [bar(1, REST, FIRST)])), "holds no notes"),
        (score(*[simple(1, name=f"Part {n}") for n in range(21)]), "more than 20 parts"),
        (b" " * (9 * 1024 * 1024), "larger than 8 MB"),
        (score(simple(2001, range(0))), "more than 2000 bars"),
    ],
)
def test_what_cannot_be_read_is_refused_with_a_sentence(data, sentence):
    with pytest.raises(UnreadableFile, match=sentence):
        read_parts(data, "x.musicxml")
