"""Notes of a MIDI file: when each begins (s) and how hard it was struck, as a level in dB."""

import math
from dataclasses import dataclass
from io import BytesIO
from pathlib import Path

from chirotend.core.late import late
from chirotend.formats.cells import UnreadableFile

mido = late("mido")

LOUDEST = 127
#: notes that begin within this (s) of the first of them are one chord: no hand strikes its keys at one instant (ours)
CHORD_S = 0.035


@dataclass(frozen=True)
class MidiNotes:
    """Onsets in seconds, rising, and a level each: 20·log10 of velocity over 127, against nothing else; how many of
    them are chords."""

    onsets: tuple[float, ...]
    levels: tuple[float, ...]
    seconds: float
    chords: int


def notes(path: Path) -> MidiNotes:
    """Return the notes of all tracks together; a chord counts once, from its first note on, as loud as its loudest.

    `UnreadableFile` when it is broken, holds no notes, or holds songs that do not belong together (type 2).
    """
    try:
        file = mido.MidiFile(file=BytesIO(_without_riff(path.read_bytes())))
        now, found = 0.0, []
        for message in file if file.type != 2 else ():
            now += message.time
            if message.type == "note_on" and message.velocity > 0:
                found.append((now, message.velocity))
    except (OSError, EOFError, ValueError, IndexError, KeyError, TypeError) as error:
        raise UnreadableFile("This MIDI file is broken. Export it again.") from error
    if file.type == 2:
        raise UnreadableFile("This MIDI file holds several songs side by side (type 2). Export one of them alone.")
    if not found:
        raise UnreadableFile("This MIDI file holds no notes.")
    chords: list[list[tuple[float, int]]] = []
    for at, velocity in sorted(found):
        if chords and at - chords[-1][0][0] <= CHORD_S:
            chords[-1].append((at, velocity))
        else:
            chords.append([(at, velocity)])
    return MidiNotes(
        tuple(chord[0][0] for chord in chords),
        tuple(20 * math.log10(max(velocity for _, velocity in chord) / LOUDEST) for chord in chords),
        now,
        sum(len(chord) > 1 for chord in chords),
    )


def _without_riff(data: bytes) -> bytes:
    """The MIDI file inside a RIFF wrapper (RMID), or the file itself."""
    if data[:4] != b"RIFF" or data[8:16] != b"RMIDdata":
        return data
    return data[20 : 20 + int.from_bytes(data[16:20], "little")]
