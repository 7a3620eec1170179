"""The orders of days side by side: a day a square, then how many of 100 trials find a change, or only seem to."""

from collections.abc import Sequence
from dataclasses import dataclass

from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, rect, words

_GAP, _TITLE, _STRIP, _BAR, _FOOT = 40.0, 26.0, 26.0, 46.0, 22.0
_HIGH = _TITLE + _STRIP + 4 * _BAR + _FOOT


@dataclass(frozen=True)
class DrawnDesign:
    """An order: its name, its days (A, B), and its bars: words, how many of 100, whether that is an error."""

    name: str
    letters: str
    bars: tuple[tuple[str, float, bool], ...]


def designs(every: Sequence[DrawnDesign], width: float, columns: int) -> Picture:
    """Return the orders in so many columns. A filled bar finds what is there; an open one finds what is not."""
    each = (width - _GAP * (columns - 1)) / columns
    shapes: list[Shape] = []
    for n, design in enumerate(every):
        shapes += _block(design, n % columns * (each + _GAP), n // columns * _HIGH, each)
    return Picture(width, -(-len(every) // columns) * _HIGH, tuple(shapes))


def _block(design: DrawnDesign, left: float, top: float, width: float) -> list[Shape]:
    shapes = [words(left, top + 17, design.name, "design-name")]
    square = width / len(design.letters)
    for n, letter in enumerate(design.letters):
        day = "bar-found" if letter == "B" else "bar-wrong"
        shapes.append(rect(left + n * square + 1, top + _TITLE, square - 2, 14, day))
    room = width - 44
    for n, (said, share, wrong) in enumerate(design.bars):
        y = top + _TITLE + _STRIP + n * _BAR
        shapes += [
            words(left, y + 14, said, "tick"),
            rect(left, y + 20, room, 14, "bar-all"),
            rect(left, y + 20, room * share / 100, 14, "bar-wrong" if wrong else "bar-found"),
            words(left + width, y + 32, f"{share:.0f}", "bar-number", "end"),
        ]
    return shapes
