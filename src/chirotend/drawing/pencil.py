"""Pencil marks the bench and the plan share: dimension lines, arrows, hatched fields, tallies."""

import math

from chirotend.drawing.shapes import Point, Shape, line, path, polygon, words

#: fields with a hatch take it from a pattern of the page (`_parts.html`, macro hatches)
HATCHES = ("stretched", "out", "fixed", "travel", "other")


def hatched(x: float, y: float, width: float, height: float, hatch: str, cls: str = "hatched") -> Shape:
    """Return a rectangle filled with one of the page's hatches."""
    if hatch not in HATCHES:
        raise ValueError(f"no hatch called {hatch!r}")
    return Shape(
        "rect",
        {
            "x": round(x, 1),
            "y": round(y, 1),
            "width": round(max(0.0, width), 1),
            "height": round(max(0.0, height), 1),
            "fill": f"url(#hatch-{hatch})",
            "class": cls,
        },
    )


def dimension(a: Point, b: Point, text: str, drop: tuple[float, float] = (0.0, 0.0), above: float = 8.0) -> list[Shape]:
    """Return a level dimension line from `a` to `b`: end ticks, dotted witness lines down to `drop`, its text."""
    shapes = [
        line(a[0], a[1], b[0], b[1], "dim"),
        line(a[0], a[1] - 6, a[0], a[1] + 6, "dim"),
        line(b[0], b[1] - 6, b[0], b[1] + 6, "dim"),
        words((a[0] + b[0]) / 2, min(a[1], b[1]) - above, text, "dim-text", "middle"),
    ]
    for (x, y), foot in zip((a, b), drop, strict=True):
        if foot > y + 8:
            shapes.append(line(x, y + 8, x, foot, "witness"))
    return shapes


def arrow(x: float, y: float, dx: float, dy: float, cls: str, head: float = 12.0) -> list[Shape]:
    """Return an arrow from (x, y) by (dx, dy); a very short one keeps its head. Nothing for no length."""
    length = math.hypot(dx, dy)
    if length < 0.5:
        return []
    u, v = dx / length, dy / length
    head = min(head, length)
    neck = (x + dx - u * head, y + dy - v * head)
    side = head * 0.5
    tip = polygon(
        [(x + dx, y + dy), (neck[0] - v * side, neck[1] + u * side), (neck[0] + v * side, neck[1] - u * side)]
    )
    return [line(x, y, *neck, cls), path(tip, f"{cls}-head")]


def balance_disc(x: float, y: float, r: float = 9.0) -> list[Shape]:
    """Return the half-and-half disc that marks a balance point."""
    return [
        Shape("circle", {"cx": round(x, 1), "cy": round(y, 1), "r": r, "class": "disc"}),
        path(
            f"M{x:.1f} {y - r:.1f}A{r} {r} 0 0 1 {x + r:.1f} {y:.1f}H{x - r:.1f}A{r} {r} 0 0 0 {x:.1f} {y + r:.1f}Z",
            "ink-fill",
        ),
    ]


def struck(x: float, y: float, width: float, height: float) -> Shape:
    """Return the pencil line through something that would go."""
    return path(
        f"M{x - 4:.1f} {y + height + 4:.1f}C{x + width * 0.34:.1f} {y + height * 0.62:.1f} "
        f"{x + width * 0.64:.1f} {y + height * 0.44:.1f} {x + width + 5:.1f} {y - 5:.1f}",
        "struck",
    )


def tally(scheduled: int, wanted: int) -> list[Shape]:
    """Return a pencil stroke for each ten minutes laid, a dotted one for each without a place, a gap after six."""
    shapes = []
    for i in range(max(scheduled, wanted)):
        x = i * 9.0 + (i // 6) * 7.0
        lean = (0.6, -0.4, 0.9, 0.1, -0.7, 0.4)[i % 6]
        shapes.append(line(x + 1.6 + lean, 0, x - 1 + lean, 18, "tally" if i < scheduled else "tally-open"))
    return shapes
