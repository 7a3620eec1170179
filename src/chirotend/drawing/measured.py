"""A hand with what was measured on it: span, gaps between neighbouring fingertips. The hand is a figure, not hers."""

import math
from collections.abc import Mapping
from dataclasses import dataclass

from chirotend.drawing.hands import FINGERS, hand_lines, outline, placed
from chirotend.drawing.pencil import dimension
from chirotend.drawing.shapes import Point, Shape, curve, path, polygon, words

SCALE = 0.8
WIDTH, HEIGHT = 190.0, 278.0
NEIGHBOURS = ("T-1", "1-2", "2-3", "3-4")
_THUMB_TIP: Point = (-77, 107)


@dataclass(frozen=True)
class Picture:
    """Shapes in a box of `width` by `height` units.

    `stops` = seconds and where each lies (units from the left), for its play-head; () = time does not run in it.
    """

    width: float
    height: float
    shapes: tuple[Shape, ...]
    stops: tuple[tuple[float, float], ...] = ()


def measured_hand(side: str, gaps: Mapping[str, str], span: str, bands: tuple[str, ...] = NEIGHBOURS) -> Picture:
    """Return the palm of the hand of `side` with the texts of `gaps` (by pair) and `span`; "" = not measured."""
    mirrored = side == "right"
    x = WIDTH / 2 + (-12 if mirrored else 12)
    at = (x, 205.0)
    shapes: list[Shape] = [path(polygon(placed(list(outline()), SCALE, mirrored, at)), "hand-fill")]
    shapes += hand_lines(SCALE, mirrored, at, back=False)
    tips = [placed([p], SCALE, mirrored, at)[0] for p in (_THUMB_TIP, *(joints[-1] for joints, _ in FINGERS.values()))]
    centre = (at[0], at[1] - 80 * SCALE)
    for i, pair in enumerate(bands):
        if gaps.get(pair):
            shapes += _band(tips[i], tips[i + 1], centre, gaps[pair], 22 if i == 0 else 15)
    if span:
        y = at[1] - 224 * SCALE
        low, high = sorted((tips[0], tips[4]))
        shapes += dimension((low[0], y), (high[0], y), span, (low[1] - 6, high[1] - 6), above=6)
    shapes.append(words(at[0], 272, f"{side.title()} hand", "hand-name", "middle"))
    return Picture(WIDTH, HEIGHT, tuple(shapes))


def _band(a: Point, b: Point, centre: Point, text: str, out: float) -> list[Shape]:
    """A pencilled bow over two fingertips, with its length."""
    middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
    dx, dy = middle[0] - centre[0], middle[1] - centre[1]
    length = math.hypot(dx, dy)
    top = (middle[0] + dx / length * out, middle[1] + dy / length * out)
    ends = []
    for p in (a, b):
        d = math.hypot(p[0] - centre[0], p[1] - centre[1])
        ends.append((p[0] + (p[0] - centre[0]) / d * 5, p[1] + (p[1] - centre[1]) / d * 5))
    bow = f"M{ends[0][0]:.1f} {ends[0][1]:.1f}Q{top[0]:.1f} {top[1]:.1f} {ends[1][0]:.1f} {ends[1][1]:.1f}"
    label = (middle[0] + dx / length * (out + 6), middle[1] + dy / length * (out + 6) + 4)
    return [path(bow, "dim-bow"), words(*label, text, "dim-text small", "middle")]


def self_test(kind: str) -> Picture:
    """Return the drawing of a self-check without force: a hand flat on the table, the ring finger lifted alone."""
    at = (80.0, 150.0)
    shapes = [
        path("M6 178H154", "table-line"),
        path(curve(placed(list(outline()), 0.55, False, at), closed=False), "outline"),
    ]
    lifted = {"little": (52.5, 142.5), "ring": (24.5, 172)}[kind]
    (x, y) = placed([lifted], 0.55, False, at)[0]
    shapes += [path(f"M{x:.1f} {y - 4:.1f}v-20", "dim"), path(f"M{x - 5:.1f} {y - 18:.1f}l5 -7l5 7", "dim-open")]
    return Picture(160, 190, tuple(shapes))
