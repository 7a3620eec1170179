"""Reach on a string: where the notes lie, and which fingering is comfortable where. Millimetres, semitones.

Equal temperament: exact mathematics for an ideal string; a real one is pressed a little sharp.
"""

import math
from dataclasses import dataclass
from functools import cache

from chirotend.core.errors import check_range
from chirotend.core.fit.hands import COMFORTABLE, Asked, Hand, asked_of, worst
from chirotend.core.tables import rows

SEMITONES_MAX = 48.0
STRING_MIN_MM, STRING_MAX_MM = 200.0, 1200.0


def fret_x(L_mm: float, n: float) -> float:
    """Return the distance from the nut of the note `n` semitones above the open string (0-48, fractions allowed)."""
    check_range("L_mm", L_mm, low=math.nextafter(0, 1), unit="mm")
    check_range("n", n, 0, SEMITONES_MAX, "semitones")
    return float(L_mm * (1 - 2 ** (-n / 12)))


def interval_span(L_mm: float, n: float, k: float) -> float:
    """Return the distance between the notes `n` and `n + k` semitones above the open string; both 0-24."""
    check_range("n", n, 0, 24, "semitones")
    check_range("k", k, 0, 24, "semitones")
    return fret_x(L_mm, n + k) - fret_x(L_mm, n)


def cross_string_reach(
    L_mm: float, n1: float, n2: float, strings_apart: float, w_nut_mm: float, w_bridge_mm: float
) -> float:
    """Return the distance between notes on two strings of a flat board; an arched board asks slightly more.

    `w_nut_mm` and `w_bridge_mm` are the spacings of neighbouring strings at nut and bridge; strings 0-11 apart.
    """
    x1, x2 = fret_x(L_mm, n1), fret_x(L_mm, n2)
    check_range("strings_apart", strings_apart, 0, 11)
    check_range("w_nut_mm", w_nut_mm, 0, 60, "mm")
    check_range("w_bridge_mm", w_bridge_mm, 0, 60, "mm")
    spacing = w_nut_mm + (w_bridge_mm - w_nut_mm) * x2 / L_mm
    return math.hypot(x2 - x1, strings_apart * spacing)


@dataclass(frozen=True)
class Fingering:
    """A system: each finger with the semitones it stands above the first."""

    id: str
    name: str
    asks: str
    fingers: tuple[tuple[str, int], ...]

    @property
    def width(self) -> int:
        """Semitones from its first to its last finger."""
        return self.fingers[-1][1] - self.fingers[0][1]


@cache
def fingerings() -> dict[str, Fingering]:
    """Return the fingering systems by id, in the order of the table."""
    found = {}
    for r in rows("fingerings"):
        pairs = (part.split(":") for part in r["fingers"].split())
        found[r["id"]] = Fingering(r["id"], r["name"], r["asks"], tuple((f, int(n)) for f, n in pairs))
    return found


def asked_at(L_mm: float, fingering: Fingering, n: float, hand: Hand) -> tuple[Asked, ...]:
    """Return what every pair of fingers is asked for with the first finger `n` semitones above the open string."""
    found = []
    for i, (low, a) in enumerate(fingering.fingers):
        for high, b in fingering.fingers[i + 1 :]:
            found.append(asked_of(hand, f"{low}-{high}", interval_span(L_mm, n + a, b - a)))
    return tuple(found)


@dataclass(frozen=True)
class Run:
    """Positions `first`-`last` (semitones of the first finger) on which a system has one verdict."""

    first: int
    last: int
    verdict: str


def reach_map(L_mm: float, hand: Hand, positions: range = range(1, 13)) -> dict[str, tuple[Run, ...]]:
    """Return, for each fingering system, the runs of positions with the same verdict."""
    found: dict[str, tuple[Run, ...]] = {}
    for system in fingerings().values():
        runs: list[Run] = []
        for n in positions:
            verdict = worst(asked_at(L_mm, system, n, hand))
            if runs and runs[-1].verdict == verdict:
                runs[-1] = Run(runs[-1].first, n, verdict)
            else:
                runs.append(Run(n, n, verdict))
        found[system.id] = tuple(runs)
    return found


def comfortable_from(runs: tuple[Run, ...]) -> int | None:
    """Return the first position from which a system stays comfortable to the end of the map; None if never."""
    return runs[-1].first if runs and runs[-1].verdict == COMFORTABLE else None
