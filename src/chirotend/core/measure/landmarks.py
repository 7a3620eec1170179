"""Landmarks a model saw on a picture, and the points of a template they suggest. Shares of the picture, 0 to 1.

A landmark is told by its anatomical name: `left_shoulder`, `right_hand.middle_finger_mcp`. `left` is the player's own.
"""

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from chirotend.core.errors import Inconsistent, check_word
from chirotend.core.measure.angles import Point

SIDES = ("left", "right")
_OF_A_SIDE = ("ear", "shoulder", "elbow", "wrist", "thumb", "index", "pinky", "hip", "knee", "ankle")
_OF_A_HAND = (
    "wrist",
    "thumb_mcp",
    *(f"{finger}_{joint}" for finger in ("index_finger", "middle_finger") for joint in ("mcp", "pip", "dip", "tip")),
)
#: every landmark that is read; others a model knows are passed over
NAMES = frozenset(
    f"{side}{rest}" for side in SIDES for rest in (*(f"_{n}" for n in _OF_A_SIDE), *(f"_hand.{n}" for n in _OF_A_HAND))
)
#: a landmark its model is less sure of than this is not used
SURE = 0.5
_LINE = re.compile(r"^([a-z_.]{1,40}) (-?\d{1,3}\.\d{1,6}) (-?\d{1,3}\.\d{1,6}) (\d\.\d{1,6})$")


@dataclass(frozen=True)
class Landmark:
    """Where a model sees a landmark (shares of the picture; it may lie outside), and how sure it is (0-1)."""

    name: str
    at: Point
    sure: float


def line_of(landmark: Landmark) -> str:
    """Return a landmark as a line, without its end: `left_shoulder 0.4120 0.3310 0.980`."""
    return f"{landmark.name} {landmark.at[0]:.4f} {landmark.at[1]:.4f} {landmark.sure:.3f}"


def landmark_of(line: str) -> Landmark:
    """Return the landmark of a line; `Inconsistent` when it is none."""
    found = _LINE.match(line.strip())
    if found is None:
        raise Inconsistent("line", f"“{line.strip()[:60]}” is no landmark: name across down sure")
    return Landmark(found[1], (float(found[2]), float(found[3])), float(found[4]))


def other_side(side: str) -> str:
    """Return the other one of left and right."""
    return SIDES[1 - SIDES.index(side)]


def suggested(
    marks: Mapping[str, Sequence[Sequence[str]]], found: Iterable[Landmark], near: str = "right"
) -> dict[str, Point]:
    """Return where the points of a template may lie.

    Parameters
    ----------
    marks : by point, ways to place it: each the landmarks whose middle it is, the first way that was seen counts.
        `{near}` and `{far}` in a name stand for the sides.
    found : what the model saw; what it is less than half sure of, or what lies outside of the picture, is not used.
    near : the side that is towards the camera.

    A point that none of its landmarks was seen of is not among them: it stays where it was.
    """
    sides = {"near": check_word("near", near, SIDES), "far": other_side(near)}
    seen = {f.name: f.at for f in found if f.sure >= SURE and all(0 <= v <= 1 for v in f.at)}
    points = {}
    for point, ways in marks.items():
        for way in ways:
            at = [seen.get(name.format(**sides)) for name in way]
            known = [p for p in at if p is not None]
            if known and len(known) == len(at):
                points[point] = (sum(x for x, _ in known) / len(known), sum(y for _, y in known) / len(known))
                break
    return points
