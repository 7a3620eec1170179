"""Which pattern of the library the marks resemble: an overlap of places, kinds, times and flags. Never a diagnosis.

The library's entries come in as plain `Pattern` values. Overlap = the harmonic mean of the share of the marks that the
pattern explains and the share of the pattern that is marked (ours; the cut of 0.3 too).
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

LEAST_OVERLAP = 0.3
#: tiers of "how soon", mildest first
TIERS = ("routine", "prompt", "same_day", "emergency")


@dataclass(frozen=True)
class Felt:
    """A mark as patterns read it."""

    zone: str
    side: str
    kind: str
    timing: str
    flags: tuple[str, ...] = ()


@dataclass(frozen=True)
class Pattern:
    """What a pattern looks like; empty `flags` or `timings` ask for none. `sides`: one, both, "one or both"."""

    id: str
    zones: frozenset[str]
    kinds: frozenset[str]
    flags: frozenset[str]
    timings: frozenset[str]
    sides: str
    tier: str


@dataclass(frozen=True)
class Resemblance:
    """A pattern the marks resemble: how much (0-1), on which side, and which marked places belong to it."""

    pattern: str
    overlap: float
    side: str
    zones: tuple[str, ...]


def resemblances(felt: Iterable[Felt], patterns: Sequence[Pattern], most: int = 3) -> tuple[Resemblance, ...]:
    """Return the patterns that `felt` resembles, closest first, at most `most`; nothing felt gives nothing.

    A pattern needs two of its places, or one with a flag it names. One that is more than routine and names flags needs
    a flag, or weakness, so that it is not called up by a common ache.
    """
    marks = list(felt)
    found = []
    for pattern in patterns:
        sides = ("both",) if pattern.sides == "both" else ("left", "right", "none")
        for side in sides:
            here = [m for m in marks if side == "both" or m.side in (side, "none")]
            found += _one(pattern, side, here)
    found.sort(key=lambda r: (-r.overlap, r.pattern, r.side))
    best: dict[str, Resemblance] = {}
    for each in found:
        best.setdefault(each.pattern, each)
    return tuple(list(best.values())[:most])


def _one(pattern: Pattern, side: str, here: Sequence[Felt]) -> list[Resemblance]:
    hits = [m for m in here if m.zone in pattern.zones and m.kind in pattern.kinds]
    if pattern.timings:
        hits = [m for m in hits if m.timing in pattern.timings]
    flagged = any(set(m.flags) & pattern.flags for m in hits)
    zones = tuple(dict.fromkeys(m.zone for m in hits))
    if side == "both" and {"left", "right"} - {m.side for m in hits}:
        return []
    if not hits or (len(zones) < 2 and not flagged):
        return []
    if pattern.flags and pattern.tier != "routine" and not flagged and not any(m.kind == "weakness" for m in hits):
        return []
    explained = len(zones) / len({m.zone for m in here})
    covered = len(zones) / len(pattern.zones)
    overlap = 2 * explained * covered / (explained + covered)
    return [Resemblance(pattern.id, overlap, side, zones)] if overlap >= LEAST_OVERLAP else []


def soonest(tiers: Iterable[str]) -> str:
    """Return the most urgent of `tiers`; routine for none. An unknown tier raises ValueError."""
    return max(tiers, key=TIERS.index, default="routine")
