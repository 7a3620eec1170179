"""Curves of several scores against the budget of false signs: how many are found, how early. For print."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from chirotend.drawing.shapes import Shape, polyline, words

WIDTH, HEIGHT = 1120.0, 400.0
_LEFT, _TOP, _PANEL, _HIGH, _GAP = 50.0, 40.0, 340.0, 290.0, 210.0
#: strokes that can be told apart without colour
DASHES = ("", "9 4", "2 3", "9 3 2 3", "1 5", "14 5")


@dataclass(frozen=True)
class Panel:
    """One set of curves: its title, the top of its scale and its grid, and y by score at each budget."""

    title: str
    top: float
    grid: Sequence[float]
    curves: Mapping[str, Sequence[float]]


def curves(budgets: Sequence[float], panels: Sequence[Panel]) -> list[Shape]:
    """Return the panels side by side; budgets (false signs a year, above 0) on a logarithmic scale."""
    shapes: list[Shape] = [Shape("rect", {"width": WIDTH, "height": HEIGHT, "fill": "#fff"})]
    for number, panel in enumerate(panels):
        shapes += _panel(_LEFT + number * (_PANEL + _GAP), budgets, panel)
    return shapes


def _panel(left: float, budgets: Sequence[float], panel: Panel) -> list[Shape]:
    low, high = math.log(budgets[0]), math.log(budgets[-1])
    across = [left + _PANEL * (math.log(b) - low) / (high - low) for b in budgets]
    bottom = _TOP + _HIGH

    def up(value: float) -> float:
        return bottom - _HIGH * value / panel.top

    shapes = [_text(left, _TOP - 16, panel.title, size=15)]
    for value in panel.grid:
        shapes += [_line([(left, up(value)), (left + _PANEL, up(value))], "#ccc", 1, "")]
        shapes += [_text(left - 8, up(value) + 4, f"{value:g}", "end")]
    shapes += [_text(x, bottom + 20, f"{b:g}", "middle") for x, b in zip(across, budgets, strict=True)]
    shapes += [_text(left + _PANEL / 2, bottom + 42, "false signs a year allowed", "middle")]
    ends: list[tuple[float, float, str]] = []
    for number, (name, ys) in enumerate(panel.curves.items()):
        points = [(x, up(y)) for x, y in zip(across, ys, strict=True) if not math.isnan(y)]
        strong = number == 0
        shapes += [_line(points, "#1d2a5c" if strong else "#555", 3 if strong else 1.6, DASHES[number % len(DASHES)])]
        ends.append((points[-1][1] + 4, points[-1][0] + 6, name))
    free = 0.0
    for y, x, name in sorted(ends):
        free = max(y, free + 15)
        shapes += [_text(x, free, name, size=12)]
    return shapes


def _line(points: Sequence[tuple[float, float]], stroke: str, width: float, dash: str) -> Shape:
    return Shape(
        "path",
        {"d": polyline(points), "fill": "none", "stroke": stroke, "stroke-width": width, "stroke-dasharray": dash},
    )


def _text(x: float, y: float, text: str, anchor: str = "start", size: float = 13) -> Shape:
    plain = words(x, y, text, anchor=anchor)
    return Shape("text", {**plain.attrs, "font-family": "sans-serif", "font-size": size, "fill": "#222"}, text)
