"""Load of both sides, drawn like a player seen from behind: left to the left, right to the right, the middle between.

A bar is seven days of a place; the wash behind it is the usual of such weeks there; what passes it wears a hat.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, line, rect, words

_ROW, _BAR, _TOP = 46.0, 20.0, 30.0


@dataclass(frozen=True)
class PlaceBar:
    """Seven days of a place: load in AU (None = nothing known), the usual of such weeks, as AU."""

    load: float | None
    usual: tuple[float, float] | None


@dataclass(frozen=True)
class HandRow:
    """A region of both sides, or one in the middle of the body, whose bar is drawn half to each side."""

    name: str
    left: PlaceBar | None = None
    right: PlaceBar | None = None
    middle: PlaceBar | None = None


def hands_load(rows: Sequence[HandRow], width: float = 640.0, middle: float = 170.0) -> Picture:
    """Return the rows from the top down, all at one scale."""
    sides = [bar for row in rows for bar in (row.left, row.right, row.middle) if bar is not None]
    top = max([b.load for b in sides if b.load] + [b.usual[1] for b in sides if b.usual] + [1.0])
    room = (width - middle) / 2 - 74  # the numbers stand behind the bars
    edges = ((width - middle) / 2, (width + middle) / 2)
    foot = _TOP + _ROW * len(rows)
    shapes: list[Shape] = [
        words(edges[0], 16, "load, your left", "bar-name", "end"),
        words(edges[1], 16, "load, your right", "bar-name"),
        *(line(x, _TOP - 6, x, foot, "barline") for x in edges),
    ]
    for number, row in enumerate(rows):
        y = _TOP + number * _ROW + _ROW / 2
        shapes.append(words(width / 2, y + 5, row.name, "bar-under", "middle"))
        if row.middle is not None:
            shapes += [s for s in _bar(row.middle, edges[0], y, -1, room / top / 2) if s.tag != "text"]
            shapes += _bar(row.middle, edges[1], y, 1, room / top / 2)
        for bar, edge, way in ((row.left, edges[0], -1), (row.right, edges[1], 1)):
            if bar is not None:
                shapes += _bar(bar, edge, y, way, room / top)
    return Picture(width, foot + 8, tuple(shapes))


def _bar(bar: PlaceBar, edge: float, y: float, way: int, scale: float) -> list[Shape]:
    shapes: list[Shape] = []
    if bar.usual is not None:
        shapes.append(_across(edge, bar.usual[0] * scale, bar.usual[1] * scale, way, y, _BAR + 14, "usual"))
    if bar.load is None:
        return [*shapes, _number(edge + way * 8, y, "not written", way)]
    within = bar.load if bar.usual is None else min(bar.load, bar.usual[1])
    shapes.append(_across(edge, 0, within * scale, way, y, _BAR, "ink-fill"))
    if bar.load > within:
        shapes.append(_across(edge, within * scale + 2, bar.load * scale, way, y, _BAR, "load-cap"))
    end = max(bar.load, bar.usual[1] if bar.usual else 0.0) * scale
    return [*shapes, _number(edge + way * (end + 8), y, f"{bar.load:.0f}", way)]


def _across(edge: float, near: float, far: float, way: int, y: float, high: float, cls: str) -> Shape:
    left = edge + near if way > 0 else edge - far
    return rect(left, y - high / 2, far - near, high, cls)


def _number(x: float, y: float, text: str, way: int) -> Shape:
    return words(x, y + 6, text, "bar-minutes", "start" if way > 0 else "end")
