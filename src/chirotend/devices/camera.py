"""A camera before a posed player: a seated figure from the side with known angles, and its true points."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from io import BytesIO

from PIL import Image, ImageDraw

from chirotend.core.measure.angles import Point
from chirotend.devices.film import webm

WIDTH, HEIGHT = 900, 1100
#: lengths of the figure, in pixels
TRUNK, HEAD, UPPER_ARM, FOREARM, HAND = 300.0, 120.0, 180.0, 150.0, 62.0
#: shoulder breadth against the trunk, as people are usually built. Drillis & Contini 1966, from memory
BREADTH = TRUNK * 0.259 / 0.288


@dataclass(frozen=True)
class Pose:
    """Angles in degrees: trunk and head forward of upright, upper arm raised forwards, elbow bent, wrist bent back, and
    the camera turned from the side."""

    trunk: float = 5.0
    head: float = 20.0
    arm: float = 15.0
    elbow: float = 95.0
    wrist_back: float = 30.0
    turned: float = 0.0


def points_of(pose: Pose) -> dict[str, Point]:
    """Return the true points of a pose that faces right, in pixels, by the names of the side template."""
    hip = (330.0, 860.0)
    near = _lean(hip, TRUNK, pose.trunk)
    neck = _lean(hip, TRUNK * 1.06, pose.trunk)
    ear = _lean(neck, HEAD, pose.head)
    arm = 90.0 - pose.arm  # from the right, downwards: 90 hangs
    elbow = _on(near, UPPER_ARM, arm)
    wrist = _on(elbow, FOREARM, arm - pose.elbow)
    forward = arm - pose.elbow
    knuckle = _on(wrist, HAND, forward - pose.wrist_back)
    palm = _on(((wrist[0] + knuckle[0]) / 2, (wrist[1] + knuckle[1]) / 2), 40, forward - pose.wrist_back + 90)
    far = (near[0] + BREADTH * math.sin(math.radians(pose.turned)), near[1])
    names = ("hip", "near", "neck", "ear", "elbow", "wrist", "knuckle", "palm", "far")
    return dict(zip(names, (hip, near, neck, ear, elbow, wrist, knuckle, palm, far), strict=True))


def _lean(start: Point, far: float, deg: float) -> Point:
    a = math.radians(deg)
    return start[0] + far * math.sin(a), start[1] - far * math.cos(a)


def _on(start: Point, far: float, deg: float) -> Point:
    a = math.radians(deg)
    return start[0] + far * math.cos(a), start[1] + far * math.sin(a)


def shares_of(pose: Pose) -> dict[str, Point]:
    """Return the true points as shares of the picture, as they are kept."""
    return {name: (x / WIDTH, y / HEIGHT) for name, (x, y) in points_of(pose).items()}


def picture(pose: Pose) -> bytes:
    """Return the drawn figure as a PNG."""
    out = BytesIO()
    _drawn(pose).save(out, "PNG")
    return out.getvalue()


def clip(poses: Sequence[Pose], a_second: int = 5) -> bytes:
    """Return a film of one pose after another as WebM, as a telephone would make it."""
    return webm((_drawn(pose) for pose in poses), (WIDTH, HEIGHT), a_second)


def _drawn(pose: Pose) -> Image.Image:
    at = points_of(pose)
    image = Image.new("RGB", (WIDTH, HEIGHT), "#efe7d9")
    draw = ImageDraw.Draw(image)
    draw.line([(120, 1060), (780, 1060)], fill="#857c6c", width=5)
    draw.line([(250, 880), (470, 880), (470, 1060)], fill="#857c6c", width=14)
    knee = (at["hip"][0] + 200, at["hip"][1] + 10)
    limbs = (
        ([at["hip"], knee, (knee[0], 1050.0), (knee[0] + 50, 1050.0)], 84, "#b9b0a0"),
        ([at["hip"], at["near"]], 130, "#cbbfae"),
        ([at["neck"], at["ear"]], 48, "#fdf9f0"),
        ([at["near"], at["elbow"], at["wrist"]], 54, "#bdb09d"),
        ([at["wrist"], at["knuckle"], _on(at["knuckle"], 46, 20)], 34, "#fdf9f0"),
    )
    for points, width, colour in limbs:
        for edge, fill in ((width + 8, "#22211f"), (width, colour)):
            draw.line(points, fill=fill, width=edge, joint="curve")
            for x, y in points:
                draw.ellipse((x - edge / 2, y - edge / 2, x + edge / 2, y + edge / 2), fill=fill)
    x, y = _lean(at["ear"], 24, pose.head)
    draw.ellipse((x - 62, y - 70, x + 74, y + 66), fill="#fdf9f0", outline="#22211f", width=4)
    return image
