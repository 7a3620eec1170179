"""Two hands from their joints, in millimetres: a left hand with its palm to the reader, thumb on the left, y upwards,
origin in the middle of the wrist crease. The right hand, and the backs, are mirror images of it.
"""

import math
from functools import cache

from chirotend.drawing.shapes import Point, Shape, curve, path

#: joints of each finger (web level, middle crease, end crease, tip) and half widths there, mm
FINGERS: dict[str, tuple[tuple[Point, ...], tuple[float, ...]]] = {
    "index": (((-27.5, 95), (-32.5, 121), (-36, 143), (-38.5, 166)), (10.4, 9.5, 8.6, 7.2)),
    "middle": (((-5.5, 100), (-7, 130), (-7.5, 155), (-7, 180)), (10.4, 9.9, 8.9, 7.4)),
    "ring": (((15.8, 97), (19.5, 125), (22.5, 149), (24.5, 172)), (10.0, 9.4, 8.4, 7.0)),
    "little": (((35.5, 86), (43, 107), (48, 123.5), (52.5, 142.5)), (9.0, 8.1, 7.2, 6.0)),
}
WRIST_AND_THUMB: tuple[Point, ...] = (
    (-29.5, -62),
    (-27.5, -40),
    (-26, -18),
    (-26.2, -4),
    (-29.3, 5),
    (-37, 15.5),
    (-45.2, 28),
    (-52, 40.5),
    (-58.6, 53),
    (-65.6, 65),
    (-71.8, 75),
    (-77.4, 84.5),
    (-82, 93),
    (-85.2, 101.5),
    (-85.2, 108),
    (-81.6, 112.8),
    (-76, 113.4),
    (-70.8, 109.6),
    (-66.8, 102.5),
    (-62.6, 93.5),
    (-57.2, 84.2),
    (-52, 76.5),
    (-47.6, 70),
    (-43.6, 66.4),
    (-40.9, 67.6),
    (-39.8, 73),
    (-39.2, 81),
    (-38.6, 89),
)
WEBS: dict[str, Point] = {"middle": (-16.4, 98.6), "ring": (5.3, 98.6), "little": (25.9, 91.2)}
LITTLE_EDGE: tuple[Point, ...] = (
    (45.2, 75),
    (45.0, 59),
    (43.6, 42),
    (40.2, 27),
    (35, 14),
    (30.5, 4),
    (27.6, -5),
    (26.8, -18),
    (28.5, -40),
    (31, -62),
)
NAIL_THUMB: Point = (-76.2, 103)


def _unit(a: Point, b: Point) -> Point:
    d = math.hypot(b[0] - a[0], b[1] - a[1])
    return (b[0] - a[0]) / d, (b[1] - a[1]) / d


def _along(p: Point, d: Point, k: float) -> Point:
    return p[0] + d[0] * k, p[1] + d[1] * k


def _between(a: Point, b: Point, t: float) -> Point:
    return a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t


def _finger(name: str) -> list[Point]:
    j, h = FINGERS[name]
    d = [_unit(j[i], j[i + 1]) for i in range(3)]
    stations = [
        (_between(j[0], j[1], 0.16), d[0], h[0] * 0.965),
        (_between(j[0], j[1], 0.55), d[0], (h[0] + h[1]) * 0.4775),
        (j[1], _unit((0, 0), (d[0][0] + d[1][0], d[0][1] + d[1][1])), h[1] * 1.035),
        (_between(j[1], j[2], 0.5), d[1], (h[1] + h[2]) * 0.4825),
        (j[2], _unit((0, 0), (d[1][0] + d[2][0], d[1][1] + d[2][1])), h[2] * 1.02),
        (_between(j[2], j[3], 0.36), d[2], h[2] * 0.985),
    ]
    left = [_along(p, (-v[1], v[0]), w) for p, v, w in stations]
    right = [_along(p, (-v[1], v[0]), -w) for p, v, w in stations]
    c = _along(j[3], d[2], -h[3] * 1.12)
    n = (-d[2][1], d[2][0])
    tip = [
        _along(_along(c, n, -h[3] * 1.06 * math.cos(math.radians(a))), d[2], h[3] * 1.12 * math.sin(math.radians(a)))
        for a in (168, 140, 112, 90, 68, 40, 12)
    ]
    return [*left, *tip, *right[::-1]]


@cache
def outline() -> tuple[Point, ...]:
    """Return the outline of the left hand, palm view, from the thumb side of the forearm round to the little side."""
    points = list(WRIST_AND_THUMB)
    for name in FINGERS:
        if name in WEBS:
            points.append(WEBS[name])
        points += _finger(name)
    return (*points, *LITTLE_EDGE)


def _segment(name: str, i: int) -> list[Point]:
    """A four-cornered piece of a finger from joint i on, wider than the finger: the outline clips it."""
    j, h = FINGERS[name]

    def ends(k: int) -> tuple[Point, Point]:
        d = _unit(j[max(0, k - 1)], j[min(3, k + 1)])
        return _along(j[k], (-d[1], d[0]), h[k] * 1.22), _along(j[k], (-d[1], d[0]), -h[k] * 1.22)

    a, b = ends(i)
    if i == 2:
        d = _unit(j[2], j[3])
        e, n = _along(j[3], d, 4), (-d[1], d[0])
        return [a, _along(e, n, h[2] * 1.22), _along(e, n, -h[2] * 1.22), b]
    c, e = ends(i + 1)
    return [a, c, e, b]


def _halves(quad: list[Point]) -> tuple[list[Point], list[Point]]:
    a, c, e, b = quad
    low, high = _between(a, b, 0.5), _between(c, e, 0.5)
    return [a, c, high, low], [low, high, e, b]


THUMB_END: list[Point] = [(-86, 84), (-70.5, 88.5), (-56, 92), (-60, 118), (-92, 118)]
THUMB_LOW: list[Point] = [(-78, 70), (-58, 60), (-46, 68), (-56, 92), (-70.5, 88.5), (-86, 84)]


@cache
def palm_zones() -> dict[str, list[Point]]:
    """Return the zones of the palm side by id, as polygons in millimetres of the left hand."""
    found: dict[str, list[Point]] = {"thumb_tip_palm": THUMB_END, "thumb_base_palm": THUMB_LOW}
    for name in FINGERS:
        for i, part in enumerate(("base", "mid", "tip")):
            quad = _segment(name, i)
            if name == "ring":
                found[f"ring_{part}_palm_thumbhalf"], found[f"ring_{part}_palm_littlehalf"] = _halves(quad)
            else:
                found[f"{name}_{part}_palm"] = quad
    edges = (-44.0, -16.4, 5.3, 25.9, 48.0)
    for i, name in enumerate(FINGERS):
        found[f"{name}_pulley"] = [(edges[i], 70), (edges[i], 99), (edges[i + 1], 99), (edges[i + 1], 70)]
    found["thumb_ball"] = [
        (-76, 68),
        (-58, 60),
        (-46, 68),
        (-36, 62),
        (-24, 50),
        (-15, 32),
        (-11, 14),
        (-11, 4),
        (-30, 3),
        (-46, 14),
        (-66, 46),
    ]
    found["palm_centre"] = [
        (-44, 70),
        (24, 70),
        (11, 50),
        (4, 30),
        (0, 4),
        (-11, 4),
        (-11, 14),
        (-15, 32),
        (-24, 50),
        (-36, 62),
        (-44, 67),
    ]
    found["little_ball"] = [(48, 70), (24, 70), (11, 50), (4, 30), (0, 4), (31, 3), (48, 30)]
    for name, x1, x2 in (("thumb", -45, -9), ("mid", -9, 9), ("little", 9, 45)):
        found[f"wrist_crease_{name}"] = [(x1, 4), (x2, 4), (x2, -14), (x1, -14)]
    found["forearm_inner_low"] = [(-45, -14), (45, -14), (45, -38), (-45, -38)]
    found["forearm_inner_high"] = [(-45, -38), (45, -38), (45, -64), (-45, -64)]
    return found


@cache
def back_zones() -> dict[str, list[Point]]:
    """Return the zones of the back of the hand by id, in the same millimetres (the drawing mirrors them)."""
    found: dict[str, list[Point]] = {"thumb_end_back": THUMB_END, "thumb_knuckle": THUMB_LOW}
    edges = (-44.0, -16.4, 5.3, 25.9, 48.0)
    for i, name in enumerate(FINGERS):
        base, mid, tip = (_segment(name, k) for k in range(3))
        found[f"{name}_end_back"], found[f"{name}_mid_back"] = tip, mid
        found[f"{name}_knuckle"] = [(edges[i], 78), base[0], base[1], base[2], base[3], (edges[i + 1], 78)]
    found["web_thumb"] = [(-58, 60), (-46, 70), (-36, 78), (-30, 60), (-40, 44), (-52, 44)]
    found["hand_back_thumb"] = [(-36, 78), (2, 78), (2, 20), (-20, 20), (-30, 36), (-40, 44), (-30, 60)]
    found["hand_back_little"] = [(2, 78), (48, 78), (48, 24), (32, 12), (2, 20)]
    found["thumb_base_joint"] = [(-58, 60), (-52, 44), (-40, 44), (-30, 36), (-26, 26), (-40, 14), (-66, 46)]
    found["snuffbox"] = [(-40, 14), (-26, 26), (-20, 20), (-16, 4), (-38, 4)]
    found["wrist_thumb_side"] = [(-45, 4), (-16, 4), (-16, -14), (-45, -14)]
    found["wrist_back_mid"] = [(-20, 20), (2, 20), (16, 16), (14, -14), (-16, -14), (-16, 4)]
    found["wrist_little_side"] = [(16, 16), (32, 12), (45, 4), (45, -14), (14, -14)]
    found["forearm_thumb_edge"] = [(-45, -14), (-16, -14), (-16, -64), (-45, -64)]
    found["forearm_outer_low"] = [(-16, -14), (14, -14), (14, -38), (-16, -38)]
    found["forearm_outer_high"] = [(-16, -38), (14, -38), (14, -64), (-16, -64)]
    found["forearm_little_edge"] = [(14, -14), (45, -14), (45, -64), (14, -64)]
    return found


def creases(back: bool) -> list[list[Point]]:
    """Return the fine lines inside the outline: creases of the palm, or nails and knuckles of the back."""
    return _back_lines() if back else _palm_lines()


def _cross(name: str, i: int, k: float, up: float = 0.0) -> list[Point]:
    j, h = FINGERS[name]
    d = _unit(j[max(0, i - 1)], j[min(3, i + 1)])
    n, p = (-d[1], d[0]), _along(j[i], d, up)
    return [_along(p, n, h[i] * k), _along(p, d, -1.1), _along(p, n, -h[i] * k)]


def _palm_lines() -> list[list[Point]]:
    lines = [_cross(name, i, 0.9, up) for name in FINGERS for i, up in ((0, -1.5), (1, 0), (2, 0))]
    return [
        *lines,
        [(-78, 86), (-70.5, 88.5), (-62, 93)],
        [(-60, 59), (-52.5, 60.5), (-47.5, 65.5)],
        [(-39.4, 71.5), (-30, 68), (-20.5, 58), (-14, 44), (-11, 28), (-11.5, 14), (-14, 6)],
        [(-39.2, 73), (-24, 69.5), (-6, 63), (12, 55), (27, 45)],
        [(44, 69.5), (32, 69), (16, 71), (2, 76), (-8, 83), (-13, 90)],
        [(-25, 2.5), (-10, 0.2), (8, 0), (28, 2.5)],
    ]


def _back_lines() -> list[list[Point]]:
    lines: list[list[Point]] = []
    for name, (j, h) in FINGERS.items():
        d = _unit(j[2], j[3])
        lines.append(_nail(_along(j[3], d, -h[3] * 1.32), d, h[3] * 0.68, h[3] * 1.12))
        lines += [_cross(name, i, 0.6, up) for i in (1, 2) for up in (-2.4, -0.6)]
    lines.append(_nail(NAIL_THUMB, _unit((-71, 90), (-77, 107)), 5.6, 9.2))
    lines += [
        [(x - 6.5, y - 0.6), (x, y + 2.7), (x + 6.5, y - 0.6)] for x, y in ((-27, 84), (-5.5, 89), (16, 86), (35, 75))
    ]
    lines += [
        [a, _between(a, b, 0.5), b]
        for a, b in (((-26, 80), (-10, 24)), ((-5, 84), (-3, 24)), ((16, 81), (4, 24)), ((34, 70), (11, 24)))
    ]
    return lines


def _nail(c: Point, d: Point, w: float, length: float) -> list[Point]:
    n = (-d[1], d[0])
    return [
        _along(_along(c, n, w), d, -length * 0.75),
        _along(_along(c, n, w), d, length * 0.5),
        _along(c, d, length),
        _along(_along(c, n, -w), d, length * 0.5),
        _along(_along(c, n, -w), d, -length * 0.75),
    ]


def placed(points: list[Point] | tuple[Point, ...], scale: float, mirrored: bool, at: Point) -> list[Point]:
    """Return millimetres as viewBox units: scaled, y downwards, mirrored where the hand is."""
    return [(at[0] + x * scale * (-1 if mirrored else 1), at[1] - y * scale) for x, y in points]


def hand_lines(scale: float, mirrored: bool, at: Point, back: bool) -> list[Shape]:
    """Return creases and outline of a hand, to be drawn above its zones."""
    fine = [path(curve(placed(c, scale, mirrored, at)), "crease") for c in creases(back)]
    return [*fine, path(curve(placed(outline(), scale, mirrored, at)), "outline")]
