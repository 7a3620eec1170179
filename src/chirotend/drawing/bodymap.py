"""The body maps: hands (palm and back), upper body (front and back), face, with every zone of the list as a shape."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache

from chirotend.core.body.zones import zone
from chirotend.drawing import hands
from chirotend.drawing.pictures import drawn
from chirotend.drawing.shapes import Point, Shape, curve, polygon
from chirotend.drawing.signs import sign_radius, symptom

HAND_SCALE = 1.75
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


def maps(marked: Sequence[Marked] = (), scale: float = 1.1) -> list[Map]:
    """Return every map with the marks on it, drawn at `scale`."""
    return [replace(blank, marks=_marks(outlines, marked, scale)) for blank, outlines in _blank_maps()]


def part_of(asked: frozenset[str]) -> str:
    """Return the part that is shown first, where `asked` names what concerns her: "left" (the hands) or "rest"."""
    return "rest" if asked and not asked & _on_hands() else "left"


def part_holding(place: str) -> str:
    """Return where a place ("thumb_ball.left") is drawn: "left" or "right" (the hands), or "rest"; "left" for none."""
    if place in _on_hands():
        return place.split(".")[1]
    return "rest" if any(z.key == place for blank, _ in _blank_maps() for z in blank.zones) else "left"


def _on_hands() -> set[str]:
    return {z.key for blank, _ in _blank_maps() if blank.kind == "hand" for z in blank.zones}


@cache
def _blank_maps() -> tuple[tuple[Map, Outlines], ...]:
    """Every map without marks, with the outlines of its zones: always the same, so drawn once."""
    found = [_hand(side, view) for view in ("palm", "back") for side in ("left", "right")]
    return (
        *found,
        _figure("front", "body-palm", "Upper body", "palm", "body"),
        _figure("back", "body-back", "Upper body, from behind", "back", "body"),
        _figure("face", "face", "Face", "palm", "face"),
    )


def _hand(side: str, view: str) -> tuple[Map, Outlines]:
    s, flip = HAND_SCALE, (side == "right") != (view == "back")
    at = (160.0 if not flip else 110.0, 328.0)
    areas = hands.palm_zones() if view == "palm" else hands.back_zones()
    outlines = {f"{zid}.{side}": hands.placed(p, s, flip, at) for zid, p in areas.items()}
    clip = curve(hands.placed(hands.outline(), s, flip, at)) + "Z"
    return Map(
        f"hand-{side}-{view}",
        f"{side.capitalize()} hand, {view}",
        view,
        "hand",
        270,
        442,
        (clip,),
        _zones(outlines),
        tuple(hands.hand_lines(s, flip, at, view == "back")),
        (),
    ), outlines


def _figure(picture: str, id_: str, title: str, view: str, kind: str) -> tuple[Map, Outlines]:
    """A picture of the figure: from the front as in a looking-glass, so that the left stays on the left."""
    found = drawn("figure")[picture]
    return Map(
        id_, title, view, kind, found.width, found.height, found.skin, _zones(found.zones), found.lines, ()
    ), found.zones


def _zones(outlines: Outlines) -> tuple[ZoneShape, ...]:
    shapes = []
    for key, points in outlines.items():
        zid, side = key.split(".")
        shapes.append(ZoneShape(key, zone(zid).spoken(side), polygon(points)))
    return tuple(shapes)


def _marks(outlines: Outlines, marked: Sequence[Marked], scale: float) -> tuple[Shape, ...]:
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
            shapes += symptom(kind, x + 13 * scale * (i - (len(kinds) - 1) / 2), y, sign_radius(intensity, scale))
    return tuple(shapes)
