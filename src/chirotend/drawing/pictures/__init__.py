"""Drawings made by hand, as SVG files: named pictures whose paths carry the classes of the style sheet."""

import re
import xml.etree.ElementTree as ET
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from chirotend.drawing.shapes import Point, Shape, path

SVG = "{http://www.w3.org/2000/svg}"


@dataclass(frozen=True)
class Drawn:
    """One picture: what is filled as skin, the lines over it, the zones by their key, in units of its own."""

    width: float
    height: float
    skin: tuple[str, ...]
    lines: tuple[Shape, ...]
    zones: dict[str, list[Point]]


@cache
def drawn(file: str) -> dict[str, Drawn]:
    """Return the pictures of a file of this folder, by name. FileNotFoundError for a file that is not there."""
    root = ET.fromstring(files(__package__).joinpath(f"{file}.svg").read_text(encoding="utf-8"))
    return {picture.attrib["id"]: _picture(picture) for picture in root.iter(f"{SVG}svg") if "id" in picture.attrib}


def _picture(element: ET.Element) -> Drawn:
    width, height = (float(v) for v in element.attrib["viewBox"].split()[2:])
    skin: list[str] = []
    lines: list[Shape] = []
    zones: dict[str, list[Point]] = {}
    for each in element.iter(f"{SVG}path"):
        d, cls = each.attrib["d"], each.attrib["class"]
        if cls == "zone":
            zones[each.attrib["id"]] = _points(d)
        elif cls == "skin" and not lines:
            skin.append(d)
        else:
            lines.append(path(d, cls))
    return Drawn(width, height, tuple(skin), tuple(lines), zones)


def _points(d: str) -> list[Point]:
    return [(float(x), float(y)) for x, y in re.findall(r"(-?[\d.]+) (-?[\d.]+)", d)]
