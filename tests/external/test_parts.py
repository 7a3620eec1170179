"""Parts against music21 10.5: sixty open scores of its package, read by both; none is copied here.

Compared: bars, notes (chord notes counted, ties told apart), repeats, transposition. Not compared: tempo, which music21
does not take from `<sound tempo>`; rests, which it adds to bars that are not full. Not supported: which ending is
played, trills written out, chord symbols, changes of transposition within a part.
"""

import random
import warnings
from pathlib import Path

import music21
import pytest

from chirotend.core.load.part import bar_asks
from chirotend.formats.musicxml import read

SCORES = sorted((Path(music21.__file__).parent / "corpus").glob("**/*.mxl"))
#: a tie ends there that nothing begins
LOOSE_TIE = {"bwv362"}
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
        ours = read(path.read_bytes(), path.name).parts
    # a piano's two staves are one part here, two there: what is counted is counted over the file
    found = [head for their in theirs for n in written(their) for head in heads(n)]
    tied = sum(head.tie is not None and head.tie.type in ("stop", "continue") for head in found)
    assert sum(len(p.notes) + p.ties for p in ours) == len(found)
    assert sum(p.ties for p in ours) == tied - (path.stem in LOOSE_TIE)
    assert len(ours[0].bars) == len(theirs[0].getElementsByClass(music21.stream.Measure))
    if len(ours) == len(theirs):
        for part, their in zip(ours, theirs, strict=True):
            turns = [b for b in their.recurse().getElementsByClass(music21.bar.Repeat) if b.direction == "end"]
            shifts = [i.transposition for i in their.recurse().getElementsByClass("Instrument") if i.transposition]
            shift = int(shifts[0].semitones) if shifts else 0
            assert (part.repeats, part.transposes) == (len(turns), shift)
    for part in ours:
        assert len(bar_asks(part.notes, part.bars, 12)) == len(part.bars)
