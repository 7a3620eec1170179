"""The few shapes everything is drawn with. Looks come from classes in the style sheet, never from style attributes."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

Point = tuple[float, float]


@dataclass(frozen=True)
class Shape:
    """One SVG element: its tag, its attributes, and (for text) its words."""

    tag: str
    attrs: dict[str, str | float] = field(default_factory=dict)
    text: str = ""


def _n(value: float) -> float:
    rounded = round(value, 2)
    return int(rounded) if rounded == int(rounded) else rounded


def path(d: str, cls: str, **attrs: str | float) -> Shape:
    return Shape("path", {"d": d, "class": cls, **attrs})


def line(x1: float, y1: float, x2: float, y2: float, cls: str) -> Shape:
    return path(f"M{_n(x1)} {_n(y1)}L{_n(x2)} {_n(y2)}", cls)


def rect(x: float, y: float, width: float, height: float, cls: str) -> Shape:
    return Shape(
        "rect", {"x": _n(x), "y": _n(y), "width": _n(max(0.0, width)), "height": _n(max(0.0, height)), "class": cls}
    )


def circle(x: float, y: float, r: float, cls: str) -> Shape:
    return Shape("circle", {"cx": _n(x), "cy": _n(y), "r": _n(r), "class": cls})


def words(x: float, y: float, text: str, cls: str = "", anchor: str = "start") -> Shape:
    return Shape("text", {"x": _n(x), "y": _n(y), "class": cls, "text-anchor": anchor}, text)


def polyline(points: Sequence[Point]) -> str:
    """Return the path data of straight lines from point to point."""
    return "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in points)


def polygon(points: Sequence[Point]) -> str:
    """Return the path data of a closed polygon."""
    return polyline(points) + "Z"


def curve(points: Sequence[Point], closed: bool = False, tension: float = 0.5) -> str:
    """Return the path data of a Catmull-Rom curve through `points`."""
    n = len(points)
    d = f"M{points[0][0]:.1f} {points[0][1]:.1f}"
    k = tension / 3
    for i in range(n if closed else n - 1):
        p0 = points[(i - 1) % n] if closed or i > 0 else points[0]
        p1, p2 = points[i], points[(i + 1) % n]
        p3 = points[(i + 2) % n] if closed or i + 2 < n else points[n - 1]
        d += (
            f"C{p1[0] + (p2[0] - p0[0]) * k:.1f} {p1[1] + (p2[1] - p0[1]) * k:.1f} "
            f"{p2[0] - (p3[0] - p1[0]) * k:.1f} {p2[1] - (p3[1] - p1[1]) * k:.1f} {p2[0]:.1f} {p2[1]:.1f}"
        )
    return d + ("Z" if closed else "")


def pencil_ring(x: float, y: float, rx: float, ry: float, seed: int = 1, faint: bool = False) -> Shape:
    """Return a pencilled ring: two turns, not quite closed, a little uneven (the unevenness follows from `seed`)."""
    points = []
    turns, n = 1.12, 20
    for i in range(n + 1):
        a = math.radians(-158) + 2 * math.pi * turns * i / n
        k = 1 + (i / n - 0.5) * 0.07 + 0.012 * math.sin(seed * 7.3 + i * 2.1)
        points.append((x + rx * k * math.cos(a), y + ry * k * math.sin(a)))
    return path(curve(points, tension=0.5), "pencil-faint" if faint else "pencil-ring")
