"""What a model without fault would see of a pose."""

from chirotend.core.measure.landmarks import SIDES, Landmark
from chirotend.devices.camera import Pose, shares_of


def landmarks_of(pose: Pose, near: str = "right") -> list[Landmark]:
    """Return what a model without fault would see of a pose whose `near` side is towards the camera: no base of the
    neck, and of the hand its joints."""
    at, far = shares_of(pose), SIDES[1 - SIDES.index(near)]
    names = {f"{near}_{n}": n for n in ("ear", "elbow", "hip")} | {f"{near}_shoulder": "near", f"{far}_shoulder": "far"}
    hand = {"wrist": "wrist", "middle_finger_mcp": "knuckle", "thumb_mcp": "palm"}
    names |= {f"{near}_hand.{joint}": n for joint, n in hand.items()}
    return [Landmark(name, at[n], 0.9) for name, n in names.items()]
