"""The body maps: hands (palm and back), upper body (front and back), face, with every zone of the list as a shape."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache

from chirotend.core.body.zones import zone
from chirotend.drawing import figure, hands
from chirotend.drawing.shapes import Point, Shape, curve, polygon
from chirotend.drawing.signs import sign_radius, symptom

HAND_SCALE, BODY_SCALE, FACE_SCALE = 1.75, 1.5, 1.7
Marked = tuple[str, str, str, float]  # zone, side, kind, intensity
Outlines = dict[str, list[Point]]  # by "zone.side"


@dataclass(frozen=True)
class ZoneShape:
    """A zone that can be touched: its key "zone.side", its spoken name, its outline."""

    key: str
    name: str
    d: str


@dataclass(frozen=True)
class Map:
    """One drawing: its zones, clipped to `clip`, the lines over them and the signs of what is marked."""

    id: str
    title: str
    view: str  # palm | back: which of the two sets it belongs to
    kind: str  # hand | body | face
    width: float
    height: float
    clip: tuple[str, ...]
    zones: tuple[ZoneShape, ...]
    lines: tuple[Shape, ...]
    marks: tuple[Shape, ...]


def maps(marked: Sequence[Marked] = ()) -> list[Map]:
    """Return every map with today's marks on it."""
    return [replace(blank, marks=_marks(outlines, marked)) for blank, outlines in _blank_maps()]


@cache
def _blank_maps() -> tuple[tuple[Map, Outlines], ...]:
    """Every map without marks, with the outlines of its zones: always the same, so drawn once."""
    found = [_hand(side, view) for view in ("palm", "back") for side in ("left", "right")]
    return (*found, _body("palm"), _body("back"), _face())


def _hand(side: str, view: str) -> tuple[Map, Outlines]:
    s, flip = HAND_SCALE, (side == "right") != (view == "back")
    at = (160.0 if not flip else 110.0, 328.0)
    areas = hands.palm_zones() if view == "palm" else hands.back_zones()
    outlines = {f"{zid}.{side}": hands.placed(p, s, flip, at) for zid, p in areas.items()}
    clip = curve(hands.placed(hands.outline(), s, flip, at)) + "Z"
    return Map(
        f"hand-{side}-{view}",
        f"{side.capitalize()} hand",
        view,
        "hand",
        270,
        442,
        (clip,),
        _zones(outlines),
        tuple(hands.hand_lines(s, flip, at, view == "back")),
        (),
    ), outlines


def _body(view: str) -> tuple[Map, Outlines]:
    s, at = BODY_SCALE, (160.0, 8.0)
    back = view == "back"
    outlines = _both_sides(figure.BACK if back else figure.FRONT, s, at)
    return Map(
        f"body-{view}",
        "Upper body, from behind" if back else "Upper body",
        view,
        "body",
        320,
        416,
        figure.body_outline(s, at),
        _zones(outlines),
        tuple(figure.body_lines(s, at, back)),
        (),
    ), outlines


def _face() -> tuple[Map, Outlines]:
    s, at = FACE_SCALE, (100.0, 2.0)
    outlines = _both_sides(figure.FACE, s, at)
    return Map(
        "face",
        "Face",
        "palm",
        "face",
        200,
        230,
        (figure.face_outline(s, at),),
        _zones(outlines),
        tuple(figure.face_lines(s, at)),
        (),
    ), outlines


def _both_sides(areas: dict[str, list[Point]], scale: float, at: Point) -> Outlines:
    found = {}
    for zid, points in areas.items():
        if zid in figure.CENTRE:
            found[f"{zid}.none"] = figure.placed(points, scale, at)
        else:
            found[f"{zid}.left"] = figure.placed(figure.mirrored(points), scale, at)
            found[f"{zid}.right"] = figure.placed(points, scale, at)
    return found


def _zones(outlines: Outlines) -> tuple[ZoneShape, ...]:
    shapes = []
    for key, points in outlines.items():
        zid, side = key.split(".")
        shapes.append(ZoneShape(key, zone(zid).spoken(side), polygon(points)))
    return tuple(shapes)


def _marks(outlines: Outlines, marked: Sequence[Marked]) -> tuple[Shape, ...]:
    """The signs of one zone stand side by side about its middle."""
    by_zone: dict[str, list[Marked]] = {}
    for mark in marked:
        key = f"{mark[0]}.{mark[1]}"
        if key in outlines and mark[3] > 0:
            by_zone.setdefault(key, []).append(mark)
    shapes: list[Shape] = []
    for key, found in by_zone.items():
        points = outlines[key]
        x, y = sum(p[0] for p in points) / len(points), sum(p[1] for p in points) / len(points)
        kinds = {m[2]: m for m in sorted(found, key=lambda m: m[3])}
        for i, (_, _, kind, intensity) in enumerate(kinds.values()):
            shapes += symptom(kind, x + 14 * (i - (len(kinds) - 1) / 2), y, sign_radius(intensity, 1.1))
    return tuple(shapes)
