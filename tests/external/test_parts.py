"""Parts against music21 10.5: sixty open scores of its package, read by both; none is copied here.

Compared: bars, notes (chord notes counted, ties told apart), repeats, transposition, the bars played with every repeat,
tempo, rests, and the usual tunings of strings. music21 adds rests to bars that are not full: those files are named,
and our count is the one of the file. Not supported: trills written out, chord symbols, changes of transposition or
instrument within a part; an ending without a number is played once through.
"""

import random
import warnings
import zipfile
from pathlib import Path

import music21
import pytest

from chirotend.core.fit.moves import leaps, midi_of
from chirotend.core.load.part import bar_asks
from chirotend.formats.musicxml import NO_TEMPO_BPM, read_parts
from chirotend.library.loader import instruments

SCORES = sorted((Path(music21.__file__).parent / "corpus").glob("**/*.mxl"))
#: a tie ends there that nothing begins
LOOSE_TIE = {"bwv362"}
#: bars there are not full, and music21 fills them with rests
FILLED_UP = {"madrigal.3.5", "madrigal.3.19", "madrigal.3.13", "movement2"}
#: repeats with endings, dal segno, da capo: bars in all, played; of movement2 music21 plays 146, having both endings of
#: its second repeat for the first (36-48 twice, 28-36 twice: 83 + 20)
TURNED = {
    "bach/bwv8.6": None,
    "handel/rinaldo/Lascia_chio_pianga": None,
    "haydn/opus1no1/movement4": None,
    "joplin/maple_leaf_rag": None,
    "schumann_clara/polonaise_op1n2": None,
    "schumann_robert/opus41no1/movement1": None,
    "schumann_robert/opus41no1/movement2": 103,
    "schumann_robert/opus41no1/movement3": None,
    "schumann_robert/opus41no1/movement5": None,
}
CHOSEN = random.Random(11).sample([path for path in SCORES if path.stat().st_size < 30_000], 60)


def written(part):
    return [n for n in part.recurse().notes if not isinstance(n, music21.harmony.Harmony)]


def heads(note):
    return list(note.notes) if isinstance(note, music21.chord.ChordBase) else [note]


@pytest.mark.parametrize("path", CHOSEN, ids=lambda p: p.stem)
def test_a_file_has_the_notes_bars_ties_repeats_and_transposition_that_music21_reads(path):
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        theirs = music21.converter.parse(path).parts
        ours = read_parts(path.read_bytes(), path.name).parts
    # a piano's two staves are one part here, two there: what is counted is counted over the file
    found = [head for their in theirs for n in written(their) for head in heads(n)]
    tied = sum(head.tie is not None and head.tie.type in ("stop", "continue") for head in found)
    assert sum(len(p.notes) + p.ties for p in ours) == len(found)
    assert sum(p.ties for p in ours) == tied - (path.stem in LOOSE_TIE)
    rests = sum(len(p.recurse().getElementsByClass("Rest")) for p in theirs)
    with zipfile.ZipFile(path) as archive:
        raw = b"".join(archive.read(i) for i in archive.namelist())
    assert sum(p.rests for p in ours) == (raw.count(b"<rest") if path.stem in FILLED_UP else rests)
    marks = [m for p in theirs for m in p.recurse().getElementsByClass("MetronomeMark")]
    assert ours[0].has_tempo == bool(marks)
    assert {b.bpm for b in ours[0].bars} == ({m.numberSounding for m in marks} or {NO_TEMPO_BPM})
    assert len(ours[0].bars) == len(theirs[0].getElementsByClass(music21.stream.Measure))
    if len(ours) == len(theirs):
        for part, their in zip(ours, theirs, strict=True):
            turns = [b for b in their.recurse().getElementsByClass(music21.bar.Repeat) if b.direction == "end"]
            shifts = [i.transposition for i in their.recurse().getElementsByClass("Instrument") if i.transposition]
            shift = int(shifts[0].semitones) if shifts else 0
            assert (part.repeats, part.transposes) == (len(turns), shift)
    for part in ours:
        assert len(bar_asks(part.notes, part.bars, leaps(12))) == len(part.bars)


@pytest.mark.parametrize("name", TURNED)
def test_repeats_endings_and_leaps_are_played_as_music21_plays_them(name):
    path = Path(music21.__file__).parent / "corpus" / f"{name}.mxl"
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        (part, *_) = read_parts(path.read_bytes(), path.name).parts
        their = music21.converter.parse(path).parts[0].expandRepeats()
    assert part.followed
    assert len(part.played) == (TURNED[name] or len(their.getElementsByClass(music21.stream.Measure)))


def test_signs_that_make_no_sense_are_said_and_played_once():
    path = Path(music21.__file__).parent / "corpus" / "haydn" / "opus74no1" / "movement3.mxl"
    (part, *_) = read_parts(path.read_bytes(), path.name).parts
    assert (part.followed, part.played) == (False, ())


@pytest.mark.parametrize(
    ("ours", "theirs"),
    [
        ("violin", "Violin"),
        ("viola", "Viola"),
        ("cello", "Violoncello"),
        ("double_bass", "Contrabass"),
        ("classical_guitar", "AcousticGuitar"),
        ("electric_guitar", "ElectricGuitar"),
        ("electric_bass", "ElectricBass"),
        ("mandolin", "Mandolin"),
        ("ukulele", "Ukulele"),
    ],
)
def test_usual_tunings_are_those_of_music21(ours, theirs):
    pitches = [p.midi for p in getattr(music21.instrument, theirs)().stringPitches]
    assert [midi_of(name) for name in instruments()[ours].open_strings] == pitches
