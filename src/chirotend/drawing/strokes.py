"""Strokes drawn: a column a stick or way to strike, the middle of its peaks inked, nine in ten below the open top."""

from collections.abc import Sequence

from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, line, rect, words

_TALL, _BASE, _COLUMN = 150.0, 190.0, 116.0


def strokes_picture(found: Sequence[tuple[str, float, float]]) -> Picture:
    """Return sets (name, middle peak N, top peak N) side by side on one scale."""
    top = max(t for _, _, t in found) or 1.0
    width = 60 + _COLUMN * max(3, len(found))
    shapes: list[Shape] = [line(50, _BASE, width, _BASE, "stem-thin"), words(0, 20, "N", "tick")]
    for level in (0.5, 1.0):
        y = _BASE - _TALL * level
        shapes += [line(50, y, width, y, "staff"), words(42, y + 5, f"{top * level:.2g}", "tick", "end")]
    for n, (name, middle, most) in enumerate(found):
        x = 62 + n * _COLUMN
        shapes += [
            rect(x, _BASE - _TALL * most / top, 40, _TALL * most / top, "open-bar"),
            rect(x, _BASE - _TALL * middle / top, 40, _TALL * middle / top, "needed"),
            words(x + 46, _BASE - _TALL * middle / top + 6, f"{middle:.1f}", "column-number"),
        ]
        first, _, second = name.partition(", ")
        shapes += [words(x, _BASE + 20, first[:15], "tick"), words(x, _BASE + 38, second[:15], "tick")]
    return Picture(width, _BASE + 46, tuple(shapes))


def small_strokes(found: Sequence[tuple[str, float]]) -> Picture:
    """Return the newest sets as small columns for a line of the bench."""
    top = max(m for _, m in found) or 1.0
    shapes: list[Shape] = [line(0, 50, 306, 50, "stem-thin")]
    for n, (name, middle) in enumerate(reversed(found)):
        x = n * 76.0
        shapes += [
            rect(x + 4, 50 - 42 * middle / top, 18, 42 * middle / top, "needed"),
            *_named(x + 2, 66, name),
        ]
    return Picture(306, 88, tuple(shapes))


def _named(x: float, y: float, name: str) -> list[Shape]:
    """A stick, and below it how it was struck."""
    stick, _, way = name.partition(", ")
    return [words(x, y, stick[:9], "tick"), *([words(x, y + 16, way, "tick")] if way else [])]
