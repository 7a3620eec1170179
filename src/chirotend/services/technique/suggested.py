"""Points on a picture, suggested by a worker that is plugged in: asked for, looked at, never kept by themselves."""

import socket
from dataclasses import dataclass
from pathlib import Path

from chirotend.camera.worker import NAME
from chirotend.core.errors import MethodError
from chirotend.core.measure.landmarks import Landmark, landmark_of, other_side, suggested
from chirotend.formats.probe_data import Posture
from chirotend.library.probes import templates
from chirotend.services.context import Context, FieldError
from chirotend.services.technique import probes
from chirotend.services.technique.plugged import folder_of
from chirotend.services.words import amount, listed, sentence

ANSWER_MAX = 1 << 16
#: models take a second at first; one that is silent for longer has stopped
SILENT_S = 10.0


@dataclass(frozen=True)
class Suggestion:
    """Points as they would be typed (% of the picture), and what is said of them."""

    typed: dict[str, str]
    said: str


def plugged_in(blobs: Path) -> bool:
    """Return whether a worker that suggests points runs now."""
    return (folder_of(blobs) / NAME).is_socket()


def suggest(context: Context, blobs: Path, uid: str) -> Suggestion:
    """Return where the points of a picture may lie; `FieldError` when nobody answers, or nothing it knows is seen."""
    found = probes.probe(context, uid, Posture)
    template, data = templates()[found.data.template], found.data
    picture, _ = probes.file_of(context, blobs, uid)
    near = found.about.hand or ("right" if data.facing == "right" else "left")
    if data.mirrored:
        near = other_side(near)
    points = suggested({p.id: p.marks for p in template.points}, landmarks(blobs, picture.read_bytes()), near)
    if not points:
        raise FieldError("points", "Nothing it knows is seen in this picture. Set the points yourself.")
    typed = {f"{p}.{axis}": f"{100 * v:.2f}" for p, at in points.items() for axis, v in zip("xy", at, strict=True)}
    stayed = [p.name for p in template.points if p.id not in points]
    said = [sentence("technique", "suggested", points=amount(len(points), "point"))]
    said += [sentence("technique", "suggested_not", names=listed(stayed))] if stayed else []
    return Suggestion(typed, " ".join(said))


def landmarks(blobs: Path, jpeg: bytes) -> list[Landmark]:
    """Return what the worker sees on a picture; `FieldError` when nobody answers."""
    answer = b""
    try:
        with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as asked:
            asked.settimeout(SILENT_S)
            asked.connect(str(folder_of(blobs) / NAME))
            asked.sendall(jpeg)
            asked.shutdown(socket.SHUT_WR)
            while len(answer) < ANSWER_MAX and (piece := asked.recv(1 << 14)):
                answer += piece
        lines = answer.decode("utf-8", "replace").splitlines()
        return [landmark_of(line) for line in lines if line.strip() and not line.startswith("#")]
    except (OSError, MethodError) as error:
        raise FieldError("points", "No points come from it. Start it again, or set them yourself.") from error
