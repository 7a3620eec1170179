"""`python -m chirotend.camera [FOLDER]`: suggest points to the server of that data folder until stopped."""

import os
import sys
from math import dist
from pathlib import Path

import mediapipe  # in the environment of this worker alone
import numpy as np

from chirotend.camera.worker import Worker
from chirotend.core.measure.landmarks import Landmark

POSE, HANDS = mediapipe.solutions.pose, mediapipe.solutions.hands


class Models:
    """The packaged models: one of the whole body, one of hands."""

    def __init__(self) -> None:
        # the middle one of three models is the one that ships with the package
        self.pose = POSE.Pose(static_image_mode=True, model_complexity=1)
        self.hands = HANDS.Hands(static_image_mode=True, max_num_hands=2)

    def __call__(self, picture: np.ndarray) -> list[Landmark]:
        """Return what is seen on an RGB picture."""
        body = self._body(picture)
        return [*body, *self._hands(picture, {f.name: f.at for f in body})]

    def _body(self, picture: np.ndarray) -> list[Landmark]:
        seen = self.pose.process(picture).pose_landmarks
        if seen is None:
            return []
        return [
            Landmark(which.name.lower(), (p.x, p.y), min(1.0, max(0.0, p.visibility)))
            for which, p in zip(POSE.PoseLandmark, seen.landmark, strict=True)
        ]

    def _hands(self, picture: np.ndarray, body: dict[str, tuple[float, float]]) -> list[Landmark]:
        seen = self.hands.process(picture)
        found = []
        for hand, said in zip(seen.multi_hand_landmarks or (), seen.multi_handedness or (), strict=True):
            wrist = hand.landmark[HANDS.HandLandmark.WRIST]
            # the model tells hands as in a mirror; the nearest wrist of the body tells better
            side = {"Left": "right", "Right": "left"}[said.classification[0].label]
            near = {s: dist((wrist.x, wrist.y), body[f"{s}_wrist"]) for s in ("left", "right") if f"{s}_wrist" in body}
            side = min(near, key=lambda s: near[s]) if near else side
            found += [
                Landmark(f"{side}_hand.{which.name.lower()}", (p.x, p.y), said.classification[0].score)
                for which, p in zip(HANDS.HandLandmark, hand.landmark, strict=True)
            ]
        return found


def main() -> None:
    """Serve beside the devices of a data folder: the one named, else the usual one."""
    usual = os.environ.get("CHIROTEND_DATA") or Path.home() / ".local/share/chirotend"
    folder = Path(sys.argv[1] if len(sys.argv) > 1 else usual) / "devices"
    worker = Worker(folder, Models())
    print("Points are suggested now, on every picture under F, Posture. Stop with Ctrl-C.", flush=True)
    try:
        worker.serve()
    except KeyboardInterrupt:
        worker.stop()


main()
