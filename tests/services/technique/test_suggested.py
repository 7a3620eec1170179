"""Points suggested by a worker beside the server: as it sees them, never kept, and what happens when it does not."""

import socket
import threading
from pathlib import Path

import numpy as np
import pytest

from chirotend.camera.worker import NAME, Worker
from chirotend.core.measure.landmarks import Landmark
from chirotend.devices import camera
from chirotend.formats.probe_data import Posture
from chirotend.services.context import Context, FieldError
from chirotend.services.technique import posture, probes, suggested
from chirotend.services.technique.plugged import folder_of
from tests.reference.landmarks import landmarks_of

POSE = camera.Pose(trunk=12, head=30, arm=25, elbow=80, wrist_back=41)
FORM = {"template": "side", "hand": "right", "instrument": "bassoon"}


def begun(context: Context, folder: Path, **typed: str) -> str:
    return posture.begin(context, folder, {**FORM, **typed}, posture.read_picture(camera.picture(POSE)))


def worker(folder: Path, near: str = "right") -> Worker:
    """A worker whose model makes no mistake, if it is shown the picture that was taken."""

    def find(picture: np.ndarray) -> list[Landmark]:
        assert picture.shape == (camera.HEIGHT, camera.WIDTH, 3)
        return landmarks_of(POSE, near)

    return Worker(folder_of(folder), find).in_background()


def test_points_are_drawn_where_they_are_seen_and_not_kept(context: Context, folder: Path):
    uid = begun(context, folder)
    assert not suggested.plugged_in(folder)
    eye = worker(folder)
    assert suggested.plugged_in(folder)
    found = suggested.suggest(context, folder, uid)
    assert found.said.startswith("8 points are suggested.") and found.said.endswith("Not moved: base of the neck.")
    angles = {a.id: a.value for a in posture.posture_page(context, uid, found.typed).angles}
    for name, true in (("trunk_forward", 12), ("arm_raised", 25), ("elbow_bend", 80), ("wrist_extension", 41)):
        assert angles[name] == pytest.approx(true, abs=0.1)
    kept = probes.probe(context, uid, Posture)
    assert not kept.done and kept.data.points["elbow"] == (0.46, 0.58)
    eye.stop()
    assert not suggested.plugged_in(folder)


def test_left_is_right_in_a_mirror(context: Context, folder: Path):
    eye = worker(folder, near="left")
    assert "elbow.x" not in suggested.suggest(context, folder, begun(context, folder)).typed
    found = suggested.suggest(context, folder, begun(context, folder, mirrored="yes"))
    assert float(found.typed["elbow.x"]) == pytest.approx(100 * camera.shares_of(POSE)["elbow"][0], abs=0.01)
    eye.stop()


@pytest.mark.parametrize("says", [b"luck\n", b"left_ear 0.5 0.5\n", b"# this is no picture\n", b""])
def test_what_it_does_not_see_is_left_to_her(context: Context, folder: Path, says: bytes):
    uid, where = begun(context, folder), folder_of(folder)
    with pytest.raises(FieldError, match="Start it again"):
        suggested.suggest(context, folder, uid)
    where.mkdir(exist_ok=True)
    server = socket.socket(socket.AF_UNIX)
    server.bind(str(where / NAME))
    server.listen(1)

    def answer() -> None:
        asker, _ = server.accept()
        while asker.recv(1 << 16):
            pass
        asker.sendall(says)
        asker.close()

    threading.Thread(target=answer, daemon=True).start()
    with pytest.raises(FieldError, match="yourself") as refused:
        suggested.suggest(context, folder, uid)
    assert refused.value.field == "points"
    server.close()


def test_the_worker_answers_on_after_what_is_no_picture(folder: Path):
    eye = worker(folder)
    for sent, said in ((b"not a picture", b"# this is no picture"), (camera.picture(POSE), b"right_ear ")):
        with socket.socket(socket.AF_UNIX) as asked:
            asked.connect(str(eye.path))
            asked.sendall(sent)
            asked.shutdown(socket.SHUT_WR)
            assert asked.recv(1 << 12).startswith(said)
    eye.stop()
