"""Weeks on one line for print: signs by region, performances, and the load on her usual range. Black on white."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, line, rect, words
from chirotend.drawing.signs import fermata, sign_radius, symptom

WIDTH, _LEFT = 1000.0, 118.0
_ROW, _TOP, _LOAD = 26.0, 26.0, 60.0


@dataclass(frozen=True)
class ReportDay:
    """A day: the strongest sign of each region (kind, intensity; None = none), load in AU, usual range, performance."""

    day: date
    signs: tuple[tuple[str, float] | None, ...]
    load: float | None
    usual: tuple[float, float] | None
    performance: bool


def report_weeks(days: Sequence[ReportDay], rows: Sequence[str]) -> Picture:
    """Return the days side by side, a line a region; at least one day."""
    step = (WIDTH - _LEFT) / len(days)
    staff = _TOP + _ROW * max(1, len(rows))
    base = staff + 14 + _LOAD * 1.35
    high = max([d.load for d in days if d.load is not None] + [d.usual[1] for d in days if d.usual] + [1.0])
    shapes: list[Shape] = []
    for n, name in enumerate(rows):
        y = _TOP + _ROW * (n + 0.5)
        shapes += [line(_LEFT, y, WIDTH, y, "staff"), words(_LEFT - 10, y + 5, name, "report-word", "end")]
    shapes.append(words(_LEFT - 10, base - 22, "load, usual", "report-word", "end"))
    for n, d in enumerate(days):
        x = _LEFT + (n + 0.5) * step
        if d.day.weekday() == 0:
            shapes.append(line(x - step / 2, _TOP, x - step / 2, base, "report-week"))
        if d.day.day == 1 or n == 0:
            shapes.append(words(x - step / 2 + 2, base + 18, f"{d.day.day} {d.day:%b}", "report-word"))
        if d.usual is not None:
            low, top = (_LOAD * 1.3 * v / high for v in d.usual)
            shapes.insert(0, rect(x - step / 2, base - top, step + 0.3, top - low, "report-usual"))
        if d.load:
            height = _LOAD * 1.3 * d.load / high
            shapes.append(rect(x - step * 0.33, base - height, step * 0.66, height, "ink-fill"))
        if d.performance:
            shapes += fermata(x, 16, 6)
        for row, sign in enumerate(d.signs):
            if sign is not None:
                shapes += symptom(sign[0], x, _TOP + _ROW * (row + 0.5), sign_radius(sign[1], 0.85))
    shapes.append(line(_LEFT, base, WIDTH, base, "axis"))
    return Picture(WIDTH, base + 26, tuple(shapes))
