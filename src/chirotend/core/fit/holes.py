"""Reach on holes and keys: what the spacing asks of neighbouring fingers, and what a repairer's change would do.

Millimetres, newtons; work in millijoules. An extension key brings the touch of one finger towards its neighbour; key
size scales all spacings alike; travel and force set the work of one stroke. Geometry exact, realism moderate.
"""

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from chirotend.core.errors import Inconsistent, check_range
from chirotend.core.fit.hands import Asked, Hand, asked_of

SPACING_MAX_MM = 120.0


@dataclass(frozen=True)
class Hole:
    """Where one finger lands: millimetres along the tube (or keyboard) and across it."""

    finger: str
    along_mm: float
    across_mm: float = 0.0


def changed(
    holes: Sequence[Hole], scale_pct: float = 100.0, extension_mm: Mapping[str, float] | None = None
) -> tuple[Hole, ...]:
    """Return the holes after a change: all spacings scaled, then each extended touch moved towards its neighbour.

    `scale_pct` 50-120 of the spacing along the tube, about the first hole. `extension_mm` 0-60 by finger; a touch may
    not pass its neighbour (`Inconsistent`).
    """
    check_range("scale_pct", scale_pct, 50, 120, "%")
    first = holes[0].along_mm
    found = [Hole(h.finger, first + (h.along_mm - first) * scale_pct / 100, h.across_mm) for h in holes]
    middle = sum(h.along_mm for h in found) / len(found)
    for i, hole in enumerate(found):
        by = check_range("extension_mm", (extension_mm or {}).get(hole.finger, 0.0), 0, 60, "mm")
        towards = -1 if hole.along_mm > middle else 1
        neighbour = found[i + towards].along_mm if 0 <= i + towards < len(found) else hole.along_mm
        if by and by >= abs(hole.along_mm - neighbour):
            raise Inconsistent("extension_mm", f"an extension of {by:g} mm would pass the next finger's touch")
        found[i] = Hole(hole.finger, hole.along_mm + towards * by, hole.across_mm)
    return tuple(found)


def asked_on(holes: Sequence[Hole], hand: Hand) -> tuple[Asked, ...]:
    """Return what neighbouring fingers, and the outermost pair, are asked for."""
    pairs = list(itertools.pairwise(holes))
    if len(holes) > 2:
        pairs.append((holes[0], holes[-1]))
    return tuple(
        asked_of(
            hand,
            f"{a.finger}-{b.finger}",
            ((b.along_mm - a.along_mm) ** 2 + (b.across_mm - a.across_mm) ** 2) ** 0.5,
        )
        for a, b in pairs
    )


def stroke_work_mJ(force_N: float, travel_mm: float) -> float:
    """Return the work of closing one key: mean force (N, 0-20) times travel (mm, 0-20), in millijoules."""
    check_range("force_N", force_N, 0, 20, "N")
    check_range("travel_mm", travel_mm, 0, 20, "mm")
    return float(force_N * travel_mm)
