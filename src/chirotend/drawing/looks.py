"""Looks over some weeks as strokes: solid = seen, dotted = not sure, a flat dash = not there."""

from collections.abc import Sequence
from datetime import date, timedelta

from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, line, words

_WIDE, _HIGH, _BASE = 300.0, 54.0, 34.0


def looks_picture(marks: Sequence[tuple[date, bool | None]], today: date, weeks: int) -> Picture:
    """Return a stroke a look (True seen, False not there, None not sure), a week's looks together, its Monday below."""
    shapes: list[Shape] = []
    share = _WIDE / weeks
    for week in range(weeks):
        start = today - timedelta(days=7 * (weeks - week) - 1)
        here = [m for m in marks if start <= m[0] < start + timedelta(days=7)]
        step = min(9.0, (share - 16) / max(1, len(here)))
        for n, (_, seen) in enumerate(here):
            shapes.append(stroke(week * share + 4 + n * step, _BASE, seen))
        label = "this week" if week == weeks - 1 else f"{start.day} {start:%b}"
        shapes.append(words(week * share, _HIGH, label, "tick"))
    return Picture(_WIDE, _HIGH + 4, tuple(shapes))


def stroke(x: float, base: float, seen: bool | None) -> Shape:
    """Return one look: a slanted stroke, solid or dotted, or a flat dash."""
    if seen is False:
        return line(x, base - 2, x + 6, base - 2, "look-not")
    return line(x, base, x + 4, base - 26, "look-seen" if seen else "look-unsure")


def last_looks(seen: Sequence[bool | None], most: int = 6) -> Picture:
    """Return the last looks of one thing, oldest first, on one line."""
    shapes: list[Shape] = [line(0, 34, most * 18.0, 34, "staff")]
    shapes += [stroke(4 + n * 18.0, 32, each) for n, each in enumerate(seen[-most:])]
    return Picture(most * 18.0, 40, tuple(shapes))
