"""A wrist over a clip: its angle as a band as wide as a camera's error, and the published angles around it."""

from collections.abc import Sequence

from chirotend.core.measure.angles import PICTURE_ERROR_DEG
from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Point, Shape, line, path, polygon, polyline, rect, words

_LEFT, _TOP, _HIGH, _FOOT = 50.0, 24.0, 150.0, 30.0
Angles = Sequence[tuple[float, float | None]]


def wrist_band(angles: Angles, plus: float, minus: float, ways: tuple[str, str], width: float) -> Picture:
    """Return the angles (second, degrees; None = not seen) between `plus` above 0 and `minus` below it.

    `ways` = what an angle above and below 0 is, in words.
    """
    seen = [deg for _, deg in angles if deg is not None]
    top = max(plus + 10, *(deg + PICTURE_ERROR_DEG for deg in seen))
    low = min(-minus - 10, *(deg - PICTURE_ERROR_DEG for deg in seen))
    first, last = angles[0][0], angles[-1][0]

    def at(second: float) -> float:
        return _LEFT + 8 + (second - first) / max(last - first, 1e-9) * (width - _LEFT - 16)

    def down(deg: float) -> float:
        return _TOP + _HIGH * (top - deg) / (top - low)

    shapes: list[Shape] = [rect(_LEFT, down(plus), width - 8 - _LEFT, down(-minus) - down(plus), "zone-within")]
    for run in _runs(angles):
        above = [(at(s), down(deg + PICTURE_ERROR_DEG)) for s, deg in run]
        below = [(at(s), down(deg - PICTURE_ERROR_DEG)) for s, deg in reversed(run)]
        shapes += [
            path(polygon([*above, *below]), "wrist-band"),
            path(polyline([(at(s), down(deg)) for s, deg in run]), "wrist-line"),
        ]
    for deg, edge in ((plus, "limit-line"), (0.0, "staff"), (-minus, "limit-line")):
        shapes += [line(_LEFT, down(deg), width - 8, down(deg), edge)]
        shapes += [words(_LEFT - 8, down(deg) + 5, f"{abs(deg):.0f}°", "tick", "end")]
    shapes += [words(_LEFT + 8, _TOP - 8, ways[0], "tick"), words(_LEFT + 8, _TOP + _HIGH + 18, ways[1], "tick")]
    shapes.append(words(width - 8, _TOP + _HIGH + 18, f"{last - first:.0f} s", "tick", "end"))
    return Picture(width, _TOP + _HIGH + _FOOT, tuple(shapes))


def _runs(angles: Angles) -> list[list[Point]]:
    """The stretches in which the wrist is seen, of two frames at least."""
    runs: list[list[Point]] = [[]]
    for second, deg in angles:
        if deg is None:
            runs.append([])
        else:
            runs[-1].append((second, deg))
    return [run for run in runs if len(run) > 1]
