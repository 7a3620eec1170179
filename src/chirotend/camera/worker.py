"""A socket that takes a picture and answers with the landmarks on it, a line each; one picture at a time."""

import socket
import threading
from collections.abc import Callable
from io import BytesIO
from pathlib import Path

import numpy as np
from PIL import Image, UnidentifiedImageError

from chirotend.core.measure.landmarks import Landmark, line_of

NAME, BYTES_MAX, WAIT_S = "points.eye", 32 * 1024 * 1024, 5.0
Finder = Callable[[np.ndarray], list[Landmark]]


class Worker:
    """Answers at `folder`/points.eye until it is stopped; `find` sees the landmarks of an RGB picture."""

    def __init__(self, folder: Path, find: Finder) -> None:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        self.path, self.find, self.stopped = folder / NAME, find, False
        self.path.unlink(missing_ok=True)
        self.server = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
        self.server.bind(str(self.path))
        self.path.chmod(0o600)
        self.server.listen(1)

    def serve(self) -> None:
        """Answer one after another. What cannot be read as a picture is answered with a remark, and serves on."""
        while not self.stopped:
            try:
                asker, _ = self.server.accept()
            except OSError:
                return
            with asker:
                try:
                    asker.settimeout(WAIT_S)
                    asker.sendall(self._answer(_picture(asker)).encode())
                except OSError:
                    continue  # whoever asked has gone

    def in_background(self) -> "Worker":
        threading.Thread(target=self.serve, name="points", daemon=True).start()
        return self

    def _answer(self, sent: bytes) -> str:
        try:
            picture = np.asarray(Image.open(BytesIO(sent)).convert("RGB"))
        except (UnidentifiedImageError, OSError, ValueError):
            return "# this is no picture\n"
        return "".join(line_of(found) + "\n" for found in self.find(picture))

    def stop(self) -> None:
        """Stop answering."""
        self.stopped = True
        self.server.close()
        self.path.unlink(missing_ok=True)


def _picture(asker: socket.socket) -> bytes:
    """All that is sent until the asker has no more to say."""
    sent = bytearray()
    while piece := asker.recv(1 << 16):
        sent += piece
        if len(sent) > BYTES_MAX:
            raise OSError("more than a picture")
    return bytes(sent)
