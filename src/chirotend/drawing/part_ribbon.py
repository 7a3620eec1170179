"""A part as one ribbon under its bar numbers: thick where it asks much, thin where little, gone where it rests."""

from collections.abc import Collection, Sequence

from chirotend.core.load.part import BarAsk
from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, line, pencil_ring, rect, words

_LEFT, _HIGH, _ROW = 6.0, 44.0, 92.0


def part_ribbon(
    asks: Sequence[BarAsk], heavy: Collection[int], let_go: Collection[int], width: float, a_row: int
) -> Picture:
    """Return the bars in rows of `a_row`; `heavy` are ringed, `let_go` ticked above. Bars by their place, from 0."""
    step = (width - 2 * _LEFT) / a_row
    shapes: list[Shape] = []
    for n, ask in enumerate(asks):
        row, column = divmod(n, a_row)
        x, middle = _LEFT + column * step, 46 + row * _ROW
        thick = max(1.5, _HIGH * min(1.0, ask.weight / 0.6)) if ask.notes_min else 0.0
        if thick:
            shapes.append(
                rect(
                    x,
                    middle - thick / 2,
                    step * (1 - 0.6 * ask.rest),
                    thick,
                    "ribbon-loud" if ask.loud > 0.5 else "ribbon",
                )
            )
        shapes.append(line(x, middle - 26, x, middle + 26, "report-week"))
        if n in let_go:
            shapes.append(line(x + step * 0.7, middle - 30, x + step * 0.9, middle - 36, "stem"))
        if n in heavy:
            shapes.append(pencil_ring(x + step / 2, middle, max(9, step * 0.62), 28, n))
        if column == 0 or ask.number % 5 == 0:
            shapes.append(words(x + 2, middle + 42, str(ask.number), "tick"))
    rows = -(-len(asks) // a_row)
    return Picture(width, 14 + rows * _ROW, tuple(shapes))
