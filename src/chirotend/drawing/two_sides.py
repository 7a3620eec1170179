"""Readings of left and right over days: open and filled points, what most people reach as a dashed line."""

from collections.abc import Sequence
from datetime import date

from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, circle, line, path, polyline, words

_LEFT, _TOP, _HIGH, _FOOT, _KEY = 50.0, 14.0, 150.0, 34.0, 30.0
Values = Sequence[tuple[date, float]]


def two_sides(left: Values, right: Values, usual: float, width: float) -> Picture:
    """Return readings in degrees (one of a side at least), each side in the order of its days."""
    every = sorted([*left, *right])
    first, last = every[0][0], every[-1][0]
    top = max(usual, *(v for _, v in every)) * 1.08
    days = max(1, (last - first).days)

    def at(day: date) -> float:
        return _LEFT + 8 + (day - first).days / days * (width - _LEFT - 30)

    def up(value: float) -> float:
        return _TOP + _HIGH * (1 - value / top)

    shapes: list[Shape] = []
    for value in (0.0, usual / 2, usual):
        shapes.append(words(_LEFT - 8, up(value) + 5, f"{value:.0f}°", "tick", "end"))
    shapes += [
        line(_LEFT, up(0), width - 8, up(0), "staff"),
        line(_LEFT, up(usual), width - 8, up(usual), "limit-line"),
    ]
    for values, joined, fill in ((left, "side-left-line", "side-left"), (right, "side-right-line", "side-right")):
        points = [(at(day), up(value)) for day, value in values]
        if len(points) > 1:
            shapes.append(path(polyline(points), joined))
        shapes += [circle(x, y, 5, fill) for x, y in points]
    foot = _TOP + _HIGH + 26
    for day, anchor in ((first, "start"), (last, "end")) if last > first else ((first, "start"),):
        shapes.append(words(at(day), foot, f"{day.day} {day:%b %Y}", "tick", anchor))
    key = foot + _KEY
    shapes += [
        circle(_LEFT + 12, key - 5, 5, "side-left"),
        words(_LEFT + 24, key, "left", "tick"),
        circle(_LEFT + 82, key - 5, 5, "side-right"),
        words(_LEFT + 94, key, "right", "tick"),
        line(_LEFT + 150, key - 5, _LEFT + 180, key - 5, "limit-line"),
        words(_LEFT + 188, key, "most people", "tick"),
    ]
    return Picture(width, _TOP + _HIGH + _FOOT + _KEY + 6, tuple(shapes))
