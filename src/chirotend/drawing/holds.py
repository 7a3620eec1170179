"""Line drawings of holds: a hand in profile from its joints, on a stick, a tube, a neck, a bow, a key.

All are drawn on one scale in one view, the thumb side towards the reader, so that only the hold differs. A limb is a
wide rounded stroke in ink with a narrower one in paper on it; limbs further away are drawn first.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache

from chirotend.core.tables import rows
from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Point, Shape, circle, line, path, polyline, rect, words

WIDTH, HEIGHT = 300.0, 244.0
_LINE = 4.0
#: lengths of the parts of fingers, in the order base to tip, and widths
FINGERS = ("little", "ring", "middle", "index")
LENGTHS: Mapping[str, tuple[float, float, float]] = {
    "index": (42, 27, 22),
    "middle": (46, 30, 23),
    "ring": (43, 28, 22),
    "little": (34, 21, 19),
}
WIDTHS: Mapping[str, float] = {"index": 17, "middle": 17, "ring": 16, "little": 14}
THUMB, THUMB_WIDTH = (40.0, 32.0, 26.0), 20.0
PALM, FOREARM, ARM_WIDTH = 62.0, 96.0, 40.0
#: where on the end of the palm each finger begins, across it
ACROSS: Mapping[str, float] = {"index": -10, "middle": -3, "ring": 5, "little": 12}


@dataclass(frozen=True)
class Hold:
    """A hold as it is drawn: the wrist's place, directions of forearm and palm (degrees, 0 = right, 90 = down), the
    bends of fingers and thumb, what is held and where, and the place that bears."""

    id: str
    wrist: Point
    forearm_deg: float
    palm_deg: float
    fingers: Mapping[str, tuple[float, float, float]]
    thumb: tuple[float, float, float]
    thing: str
    at: Point
    turn_deg: float
    bears: Point
    bears_words: str


def _numbers(text: str) -> tuple[float, ...]:
    return tuple(float(part) for part in text.split())


@cache
def holds() -> Mapping[str, Hold]:
    """Return the drawn holds by the id of their grip."""
    found = {}
    for r in rows("hold_drawings"):
        bends = {name: _numbers(r[name]) for name in FINGERS}
        found[r["id"]] = Hold(
            r["id"],
            _point(r["wrist"]),
            float(r["forearm"]),
            float(r["palm"]),
            {name: (b[0], b[1], b[2]) for name, b in bends.items()},
            _three(r["thumb"]),
            r["thing"],
            _point(r["at"]),
            float(r["turn"]),
            _point(r["bears"]),
            r["bears_words"],
        )
    return found


def _point(text: str) -> Point:
    x, y = _numbers(text)
    return x, y


def _three(text: str) -> tuple[float, float, float]:
    a, b, c = _numbers(text)
    return a, b, c


def hold_picture(grip: str) -> Picture | None:
    """Return the drawing of a grip; None where there is none."""
    hold = holds().get(grip)
    return Picture(WIDTH, HEIGHT, tuple(_drawn(hold))) if hold else None


def _drawn(hold: Hold) -> list[Shape]:
    palm = _on(hold.wrist, hold.palm_deg, PALM)
    back = _on(hold.wrist, hold.forearm_deg + 180, FOREARM)
    shapes: list[Shape] = []
    thing = _thing(hold)
    if hold.thing in BEHIND:
        shapes += thing
    across = hold.palm_deg + 90
    limbs = {
        name: _finger(_on(palm, across, ACROSS[name]), hold.palm_deg, hold.fingers[name], LENGTHS[name])
        for name in FINGERS
    }
    for name in ("little", "ring"):
        shapes += _limb(limbs[name], WIDTHS[name])
    if hold.thing not in BEHIND and hold.thing not in FRONT:
        shapes += thing
    shapes += _arm([back, hold.wrist, palm])
    for name in ("middle", "index"):
        shapes += _limb(limbs[name], WIDTHS[name])
    if hold.thing in FRONT:
        shapes += thing
    root = _on(_on(hold.wrist, hold.palm_deg, 14), across, 10)
    shapes += _limb(_finger(root, hold.palm_deg, hold.thumb, THUMB), THUMB_WIDTH)
    return shapes + _bears(hold)


def _on(start: Point, deg: float, far: float) -> Point:
    a = math.radians(deg)
    return start[0] + far * math.cos(a), start[1] + far * math.sin(a)


def _finger(root: Point, deg: float, bends: Sequence[float], lengths: Sequence[float]) -> list[Point]:
    """The joints of a finger from its root on: each bend turns it further towards the palm."""
    points = [root]
    for bend, length in zip(bends, lengths, strict=True):
        deg += bend
        points.append(_on(points[-1], deg, length))
    return points


def _limb(points: Sequence[Point], width: float) -> list[Shape]:
    d = polyline(points)
    return [path(d, "limb-edge", **{"stroke-width": width + _LINE}), path(d, "limb", **{"stroke-width": width})]


def _arm(points: Sequence[Point]) -> list[Shape]:
    """Forearm and palm in one; the forearm goes on beyond the picture, so it has no round end there."""
    (ax, ay), (bx, by) = points[0], points[1]
    out = math.degrees(math.atan2(ay - by, ax - bx))
    cut = polyline([_on(points[0], out, -2), _on(points[0], out, ARM_WIDTH)])
    return [*_limb(points, ARM_WIDTH), path(cut, "limb-cut", **{"stroke-width": ARM_WIDTH + 2 * _LINE})]


#: what lies behind the whole hand, and what lies before it but for the thumb
BEHIND = ("board", "drum", "table", "chair", "bag")
FRONT = ("stick", "sticks", "bow", "bow_under", "pick", "bell")


def _thing(hold: Hold) -> list[Shape]:
    x, y = hold.at
    a = hold.turn_deg
    match hold.thing:
        case "stick":
            return [_rod(_on((x, y), a + 180, 70), _on((x, y), a, 170), 9)]
        case "sticks":
            return [
                _rod(_on((x, y), a + 172, 60), _on((x, y), a - 14, 165), 7),
                _rod(_on((x, y), a + 188, 60), _on((x, y), a + 14, 165), 7),
            ]
        case "bow":
            frog = _on((x, y), a, 8)
            return [
                _rod(_on((x, y), a + 180, 40), _on((x, y), a, 200), 8),
                _rod(_on(frog, a + 90, 9), _on(_on(frog, a + 90, 9), a + 180, 34), 13),
                line(*_on(frog, a + 90, 15), *_on(_on((x, y), a, 200), a + 90, 12), "hold-hair"),
            ]
        case "tube":
            return [
                circle(x, y, 34, "hold-thing"),
                circle(x - 11, y, 10, "hold-bore"),
                circle(x + 13, y, 10, "hold-bore"),
            ]
        case "pipe":
            return [circle(x, y, 26, "hold-thing"), circle(x, y, 10, "hold-bore")]
        case "rest":
            end = _on((x, y), a, 62)
            return [
                circle(x, y, 34, "hold-thing"),
                circle(x - 11, y, 10, "hold-bore"),
                circle(x + 13, y, 10, "hold-bore"),
                _rod(_on((x, y), a, 34), end, 12),
                _rod(_on(end, a + 90, 13), _on(end, a - 90, 13), 12),
            ]
        case "neck":
            return [
                path(f"M{x - 30:.0f} {y:.0f}h60v14q-30 40 -60 0z", "hold-thing"),
                *(circle(x - 22 + 11 * n, y - 5, 2.6, "ink-fill") for n in range(5)),
            ]
        case "key":
            return [rect(x, y, 150, 20, "hold-thing"), rect(x, y + 20, 150, 8, "hold-thing")]
        case "strings":
            return [line(x + 16 * n, 10, x + 16 * n, 234, "hold-string") for n in range(5)]
        case "board" | "table":
            return [rect(x, y, 200, 14, "hold-thing")]
        case "drum":
            return [rect(x, y, 180, 8, "hold-thing"), rect(x, y + 8, 180, 60, "hold-thing")]
        case "bell":
            return [_rod((x, y), _on((x, y), a, 46), 12), path(_cup(_on((x, y), a, 46), a), "hold-thing")]
        case "pick":
            return [path(f"M{x:.0f} {y:.0f}l26 8l-22 16z", "hold-thing")]
        case _:
            raise KeyError(f"nothing is drawn for a {hold.thing}")


def _rod(start: Point, end: Point, width: float) -> Shape:
    across = math.atan2(end[1] - start[1], end[0] - start[0]) + math.pi / 2
    dx, dy = width / 2 * math.cos(across), width / 2 * math.sin(across)
    corners = [
        (start[0] + dx, start[1] + dy),
        (end[0] + dx, end[1] + dy),
        (end[0] - dx, end[1] - dy),
        (start[0] - dx, start[1] - dy),
    ]
    return path(polyline(corners) + "Z", "hold-thing")


def _cup(at: Point, deg: float) -> str:
    left, right = _on(at, deg - 90, 16), _on(at, deg + 90, 16)
    far_left, far_right = _on(_on(at, deg, 62), deg - 90, 40), _on(_on(at, deg, 62), deg + 90, 40)
    return polyline([left, far_left, far_right, right]) + "Z"


def _bears(hold: Hold) -> list[Shape]:
    """Four short pencil strokes across the place that bears, and what it is."""
    if not hold.bears_words:
        return []
    x, y = hold.bears
    shapes = [line(x - 7, y - 9 + 6 * n, x + 7, y - 12 + 6 * n, "pencil-line") for n in range(4)]
    end = (min(max(x, 70), WIDTH - 70), 18.0)
    shapes += [line(x, y - 14, end[0], 26, "pencil-thin"), words(*end, hold.bears_words, "pencil-word", "middle")]
    return shapes
