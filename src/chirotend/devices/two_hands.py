"""A camera above two hands at a keyboard: known angles, a coloured point at each joint, and an eye for them."""

import math
from collections.abc import Sequence

import numpy as np
from PIL import Image, ImageDraw

from chirotend.core.measure.angles import Point
from chirotend.core.measure.landmarks import Landmark
from chirotend.devices.film import webm

WIDTH, HEIGHT = 640, 480
FOREARM, HAND, RADIUS = 150.0, 90.0, 12
#: by landmark: pure colours that no other part of the picture has
COLOURS = {
    "left_elbow": (230, 20, 20),
    "left_hand.wrist": (20, 200, 20),
    "left_hand.middle_finger_mcp": (20, 20, 230),
    "right_elbow": (220, 220, 0),
    "right_hand.wrist": (0, 210, 210),
    "right_hand.middle_finger_mcp": (220, 0, 220),
}
#: a point whose colours are further from a pixel's than this is not there
_NEAR, _LEAST_PIXELS = 70.0, 60
#: wrists of one frame: degrees to the little finger (− to the thumb), left and right; None = out of the picture
Wrists = tuple[float | None, float | None]


def points_of(wrists: Wrists) -> dict[str, Point]:
    """Return the true points (pixels) of the wrists that are in the picture, by landmark."""
    found: dict[str, Point] = {}
    for side, deg, x in (("left", wrists[0], 200.0), ("right", wrists[1], 440.0)):
        if deg is None:
            continue
        # seen from above: the little finger of a left hand lies to the left, that of a right hand to the right
        turn = math.radians(deg) * (1 if side == "right" else -1)
        wrist = (x, 250.0)
        found[f"{side}_elbow"] = (x, wrist[1] + FOREARM)
        found[f"{side}_hand.wrist"] = wrist
        knuckle = (x + HAND * math.sin(turn), wrist[1] - HAND * math.cos(turn))
        found[f"{side}_hand.middle_finger_mcp"] = knuckle
    return found


def clip(frames: Sequence[Wrists], a_second: int = 2) -> bytes:
    """Return a film of one frame after another as WebM, as a telephone would make it."""
    return webm((drawn(wrists) for wrists in frames), (WIDTH, HEIGHT), a_second)


def drawn(wrists: Wrists) -> Image.Image:
    """Return the picture of both arms."""
    image = Image.new("RGB", (WIDTH, HEIGHT), "#efe7d9")
    draw = ImageDraw.Draw(image)
    draw.rectangle((40, 20, WIDTH - 40, 140), fill="#fdf9f0", outline="#22211f", width=3)
    at = points_of(wrists)
    for side in ("left", "right"):
        arm = [at[n] for n in at if n.startswith(side)]
        if arm:
            draw.line(arm, fill="#bdb09d", width=46, joint="curve")
    for name, (x, y) in at.items():
        draw.ellipse((x - RADIUS, y - RADIUS, x + RADIUS, y + RADIUS), fill=COLOURS[name])
    return image


def eye(picture: np.ndarray) -> list[Landmark]:
    """Return the coloured points of an RGB picture, as a model without fault would see joints."""
    height, width = picture.shape[:2]
    found = []
    for name, colour in COLOURS.items():
        rows, columns = np.nonzero(np.linalg.norm(picture.astype(float) - colour, axis=2) < _NEAR)
        if len(rows) >= _LEAST_PIXELS:
            found.append(Landmark(name, (float(columns.mean()) / width, float(rows.mean()) / height), 0.95))
    return found
