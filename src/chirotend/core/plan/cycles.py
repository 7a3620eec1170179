"""Fingering cycles, rhythm variants and accents: what a pattern does to a row of notes. Counts from 1.

Common practice, no source; the check value is a three-octave scale up and down with the top note once, played i-m-a-m.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

from chirotend.core.errors import OutOfRange, TooFew, check_range
from chirotend.core.tables import rows

NOTES_MAX = 2000


def scale_notes(octaves: int, degrees: int = 7) -> int:
    """Return the notes of a scale up and down over `octaves` (1-8) with the top note played once."""
    check_range("octaves", octaves, 1, 8, "octaves")
    return 2 * degrees * octaves + 1


def last_finger(cycle: Sequence[str], notes: int, starts_with: str | None = None) -> str:
    """Return the finger that must land last when `cycle` repeats over `notes` notes (1-2000).

    `starts_with` names the finger of the first note; where it stands twice in the cycle, the first place counts.

    Raises
    ------
    TooFew
        If the cycle is empty.
    OutOfRange
        If `notes` is out of range, or `starts_with` is not in the cycle.
    """
    if not cycle:
        raise TooFew("cycle", "a cycle needs at least one finger")
    check_range("notes", notes, 1, NOTES_MAX, "notes")
    if starts_with is not None and starts_with not in cycle:
        raise OutOfRange("starts_with", starts_with, words=tuple(cycle))
    first = cycle.index(starts_with) if starts_with else 0
    return cycle[(first + notes - 1) % len(cycle)]


@dataclass(frozen=True)
class RhythmVariant:
    """A pattern of lengths (in units of the short note; 0 = a stop) that repeats over equal notes."""

    id: str
    name: str
    pattern: tuple[int, ...]


@cache
def rhythm_variants() -> tuple[RhythmVariant, ...]:
    """Return the rhythm variants in the order of the table."""
    return tuple(
        RhythmVariant(r["id"], r["name"], tuple(int(n) for n in r["pattern"].split())) for r in rows("rhythm_variants")
    )


def accented_fingers(cycle: Sequence[str], group: int) -> tuple[str, ...]:
    """Return the fingers that carry the accents, in order, until they repeat: an accent shift works all of these."""
    if not cycle:
        raise TooFew("cycle", "a cycle needs at least one finger")
    check_range("group", group, 1, 16, "notes")
    found: list[str] = []
    place = 0
    while place not in (seen := [i * group % len(cycle) for i in range(len(found))]) or not seen:
        found.append(cycle[place])
        place = (place + group) % len(cycle)
    return tuple(found)
