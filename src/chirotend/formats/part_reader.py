"""Written parts, read in a process of its own, where the reader is loaded: see `musicxml`."""

from dataclasses import dataclass
from typing import Any

from chirotend.core.load.part import WrittenBar, WrittenNote
from chirotend.formats import sandbox

READER = "chirotend.formats.musicxml"


@dataclass(frozen=True)
class WrittenPart:
    """A part of a file: its name, notes as they sound, bars, whether a tempo is written, semitones from what is written
    to what sounds, and its bars in the order they are played (places from 0; none = straight through).

    `rests`, `ties`, `repeats`: counts, to be checked. `followed`: False = its repeats make no sense and are not played.
    """

    name: str
    notes: tuple[WrittenNote, ...]
    bars: tuple[WrittenBar, ...]
    has_tempo: bool
    transposes: int
    played: tuple[int, ...]
    followed: bool
    rests: int
    ties: int
    repeats: int


@dataclass(frozen=True)
class WrittenFile:
    title: str
    parts: tuple[WrittenPart, ...]


def read_parts_sandboxed(data: bytes, name: str) -> WrittenFile:
    """Return the parts of a file; `UnreadableFile` says what is wrong and how to mend it."""
    found = sandbox.read_file(READER, name, {"name": name}, data)
    return WrittenFile(found["title"], tuple(_part(part) for part in found["parts"]))


def _part(found: dict[str, Any]) -> WrittenPart:
    lists = {
        "notes": tuple(WrittenNote(**note) for note in found["notes"]),
        "bars": tuple(WrittenBar(**bar) for bar in found["bars"]),
        "played": tuple(found["played"]),
    }
    return WrittenPart(**{**found, **lists})
