"""Seven days as small as a line of text: a column a day for its load, a pencil ring round the days that are meant."""

from collections.abc import Collection, Sequence

from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, line, pencil_ring, rect, words

WIDTH, HEIGHT = 196.0, 50.0
_FOOT, _TOP = 34.0, 6.0


def week_snippet(loads: Sequence[float | None], meant: Collection[int]) -> Picture:
    """Return the week; `loads` of its days in AU (None = not known: a dotted foot), `meant` the numbers of days."""
    step = WIDTH / len(loads)
    top = max([v for v in loads if v is not None] + [1.0])
    shapes: list[Shape] = []
    for n, load in enumerate(loads):
        x = n * step
        shapes.append(line(x, _FOOT, x + step, _FOOT, "staff-unasked" if load is None else "axis"))
        if load:
            high = (_FOOT - _TOP) * load / top
            shapes.append(rect(x + step / 2 - 4, _FOOT - high, 8, high, "ink-fill"))
        shapes.append(words(x + step / 2, _FOOT + 14, "MTWTFSS"[n], "tick", "middle"))
    shapes += [pencil_ring((n + 0.5) * step, (_FOOT + _TOP) / 2, step * 0.42, 17, seed=n) for n in sorted(meant)]
    return Picture(WIDTH, HEIGHT, tuple(shapes))
