"""Points on a picture joined into a figure, with an arc for each angle. Points and results in the picture's pixels."""

import math
from collections.abc import Mapping, Sequence

from chirotend.drawing.shapes import Point, Shape, line, path, polyline


def figure(points: Mapping[str, Point], lines: Sequence[Sequence[str]], ghost: bool = False) -> list[Shape]:
    """Return the lines of a template through its points; a ghost is an earlier one, dashed."""
    cls = "pose-ghost" if ghost else "pose-line"
    return [path(polyline([points[p] for p in each]), cls) for each in lines]


def bent(a: Point, b: Point, c: Point, text: str, size: float) -> list[Shape]:
    """Return the turn at `b` away from the straight line `a` to `b`: a dotted straight on, an arc to `c`, its text."""
    start, end = math.atan2(b[1] - a[1], b[0] - a[0]), math.atan2(c[1] - b[1], c[0] - b[0])
    far = max(size * 0.09, min(math.dist(b, c), size * 0.2))
    on = (b[0] + far * 1.3 * math.cos(start), b[1] + far * 1.3 * math.sin(start))
    return [line(*b, *on, "pose-straight"), *_arc(b, start, end, far, text, size)]


def leaning(foot: Point, top: Point, text: str, size: float, down: bool = False) -> list[Shape]:
    """Return a line's lean from upright (from hanging, with `down`): a dotted upright, an arc to the line, its text."""
    start = math.pi / 2 if down else -math.pi / 2
    end = math.atan2(top[1] - foot[1], top[0] - foot[0])
    far = max(size * 0.1, min(math.dist(foot, top), size * 0.22))
    upright = (foot[0], foot[1] + (far * 1.2 if down else -far * 1.2))
    return [line(*foot, *upright, "pose-straight"), *_arc(foot, start, end, far, text, size)]


def beside_line(a: Point, b: Point, text: str, size: float) -> list[Shape]:
    """Return a text in the middle of a line."""
    return _label((a[0] + b[0]) / 2, (a[1] + b[1]) / 2 - size * 0.02, text, size)


def _arc(centre: Point, start: float, end: float, far: float, text: str, size: float) -> list[Shape]:
    turn = (end - start + math.pi) % (2 * math.pi) - math.pi
    points = [
        (centre[0] + far * math.cos(start + turn * k / 16), centre[1] + far * math.sin(start + turn * k / 16))
        for k in range(17)
    ]
    middle = start + turn / 2
    x, y = centre[0] + far * 1.35 * math.cos(middle), centre[1] + far * 1.35 * math.sin(middle)
    return [path(polyline(points), "pose-arc"), *_label(x, y, text, size)]


def _label(x: float, y: float, text: str, size: float) -> list[Shape]:
    look: dict[str, str | float] = {"class": "pose-text", "text-anchor": "middle", "font-size": round(size * 0.028, 1)}
    return [Shape("text", {"x": round(x, 1), "y": round(y, 1), **look}, text)]
