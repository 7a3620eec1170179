"""Small drawings of the self-checks: a hand flat, a soft fist, two hands, a ring, two arms raised. Figures only."""

from chirotend.drawing.hands import outline, placed
from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, circle, curve, line, path

WIDTH, HEIGHT = 200.0, 130.0


def _hand(x: float, mirrored: bool, scale: float = 0.42) -> Shape:
    return path(curve(placed(list(outline()), scale, mirrored, (x, 98.0))), "outline")


def _fist(x: float, mirrored: bool) -> list[Shape]:
    side = -1 if mirrored else 1
    d = f"M{x - 18} 100V66C{x - 18} 48 {x + 18} 48 {x + 18} 66V100"
    knuckles = [path(f"M{x - 12 + i * 9} 56q3 -5 6 0", "outline") for i in range(3)]
    return [
        path(d, "outline"),
        *knuckles,
        path(f"M{x - 18 * side} 78C{x - 30 * side} 74 {x - 24 * side} 60 {x} 66", "outline"),
    ]


def picture(name: str) -> Picture:
    """Return the drawing called `name`: flat, fist, side_by_side, ring or reach. KeyError for another."""
    flat = [path("M16 104H184", "table-line"), _hand(100, False)]
    drawings: dict[str, list[Shape]] = {
        "flat": flat,
        "fist": [*_fist(62, False), *_fist(138, True)],
        "side_by_side": [_hand(58, False), _hand(142, True)],
        "ring": [
            circle(84, 54, 25, "outline"),
            circle(84, 54, 13, "outline"),
            *(path(f"M{104 + i * 11} {66 + i * 3}V{16 + i * 9}q5 -9 10 0V{66 + i * 3}", "outline") for i in range(3)),
            path("M76 78C80 96 84 108 84 122M138 72C138 94 130 106 128 122", "outline"),
        ],
        "reach": [
            circle(100, 34, 11, "outline"),
            line(100, 46, 100, 96, "outline"),
            path("M100 54C82 46 72 30 66 10", "outline"),
            path("M100 54C118 46 128 30 134 10", "outline"),
            path("M100 96L84 124M100 96L116 124", "outline"),
            path("M58 40A48 48 0 0 1 66 10M142 40A48 48 0 0 0 134 10", "dim-bow"),
        ],
    }
    return Picture(WIDTH, HEIGHT, tuple(drawings[name]))
