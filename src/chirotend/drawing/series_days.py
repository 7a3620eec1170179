"""A series beside the places: a point a day, her usual as a dashed line, a pencil ring from where it stands out."""

from collections.abc import Sequence
from datetime import date

from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, circle, line, path, pencil_ring, polyline, words

_LEFT, _TOP, _HIGH, _FOOT = 64.0, 26.0, 130.0, 34.0


def series_days(
    values: Sequence[tuple[date, float]], usual: float | None, since: date | None, width: float = 940.0
) -> Picture:
    """Return the values (at least one) between their least and greatest, in the order of their days."""
    first, last = values[0][0], values[-1][0]
    known = [v for _, v in values] + ([usual] if usual is not None else [])
    low, high = min(known), max(known)
    spread, days = (high - low) or 1.0, max(1, (last - first).days)

    def at(day: date) -> float:
        return _LEFT + (day - first).days / days * (width - _LEFT - 14)

    def up(value: float) -> float:
        return _TOP + _HIGH * (1 - (value - low) / spread)

    shapes: list[Shape] = []
    for value in dict.fromkeys((low, high)):
        shapes += [
            line(_LEFT, up(value), width - 8, up(value), "staff"),
            words(_LEFT - 8, up(value) + 5, f"{value:.3g}", "tick", "end"),
        ]
    if usual is not None:
        shapes += [
            line(_LEFT, up(usual), width - 8, up(usual), "usual-line"),
            words(width - 10, up(usual) - 6, "your usual", "tick", "end"),
        ]
    points = [(at(day), up(value)) for day, value in values]
    if len(points) > 1:
        shapes.append(path(polyline(points), "laid-line"))
    shapes += [circle(x, y, 2.5, "laid-point") for x, y in points]
    for day, anchor in ((first, "start"), (last, "end")) if last > first else ((first, "start"),):
        shapes.append(words(at(day), _TOP + _HIGH + 26, f"{day.day} {day:%b %Y}", "tick", anchor))
    if since is not None and first <= since <= last:
        shapes += [line(at(since), _TOP - 2, at(since), _TOP + _HIGH, "stem"), pencil_ring(at(since), _TOP - 8, 9, 8)]
    return Picture(width, _TOP + _HIGH + _FOOT, tuple(shapes))


#: the ring of the newest value stays inside
_SMALL_TOP = 13.0
_SMALL, _SMALL_HIGH = 306.0, 44.0


def small_series(values: Sequence[tuple[date, float]], limit: float | None, unit: str) -> Picture:
    """Return a history for a line of the bench: points joined, a published limit dashed, the newest one ringed.

    `unit` of the values and the limit, as it is written after a number (" N", "°").
    """
    known = [v for _, v in values] + ([limit] if limit is not None else [])
    low, high = min(known), max(known)
    spread, first = (high - low) or 1.0, values[0][0]
    days = max(1, (values[-1][0] - first).days)

    def up(value: float) -> float:
        return _SMALL_TOP + _SMALL_HIGH * (1 - (value - low) / spread)

    points = [(10 + (day - first).days / days * (_SMALL - 30), up(value)) for day, value in values]
    shapes: list[Shape] = []
    if limit is not None:
        shapes += [
            line(0, up(limit), _SMALL, up(limit), "limit-line"),
            words(0, up(limit) + 16, f"{limit:g}{unit}, published", "tick"),
        ]
    if len(points) > 1:
        shapes.append(path(polyline(points), "ink-line"))
    shapes += [circle(x, y, 3, "ink-fill") for x, y in points]
    shapes.append(pencil_ring(*points[-1], 13, 10))
    return Picture(_SMALL, _SMALL_HIGH + 39, tuple(shapes))
