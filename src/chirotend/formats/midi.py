"""Notes of a MIDI file: when each begins (s) and how hard it was struck, as a level in dB."""

import math
from dataclasses import dataclass
from pathlib import Path

from chirotend.core.late import late
from chirotend.formats.cells import UnreadableFile

mido = late("mido")

LOUDEST = 127


@dataclass(frozen=True)
class MidiNotes:
    """Onsets in seconds, rising, and a level each: 20·log10 of velocity over 127, against nothing else."""

    onsets: tuple[float, ...]
    levels: tuple[float, ...]
    seconds: float


def notes(path: Path) -> MidiNotes:
    """Return the notes of all tracks together; notes that begin at one instant count as one (a chord).

    `UnreadableFile` when it is broken or holds no notes.
    """
    try:
        file = mido.MidiFile(str(path))
        now, found = 0.0, []
        for message in file:
            now += message.time
            if message.type == "note_on" and message.velocity > 0:
                found.append((now, message.velocity))
    except (OSError, EOFError, ValueError, IndexError, KeyError, TypeError) as error:
        raise UnreadableFile("This MIDI file is broken. Export it again.") from error
    if not found:
        raise UnreadableFile("This MIDI file holds no notes.")
    loudest: dict[float, int] = {}
    for at, velocity in found:
        loudest[at] = max(velocity, loudest.get(at, 0))
    onsets = tuple(sorted(loudest))
    return MidiNotes(onsets, tuple(20 * math.log10(loudest[t] / LOUDEST) for t in onsets), now)
