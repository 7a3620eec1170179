"""A device on a local socket: it sends its readings, a line each, to whoever listens, at their own pace or at once."""

import contextlib
import socket
import threading
import time
from collections.abc import Callable, Iterable
from pathlib import Path

from chirotend.core.measure.readings import Reading, line_of

END = ".sock"


class Plug:
    """A stand-in plugged in at `folder`/`name`.sock until it is pulled out."""

    def __init__(self, folder: Path, name: str, shows: Callable[[], Iterable[Reading]], paced: bool = True) -> None:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        self.path = folder / (name + END)
        self.path.unlink(missing_ok=True)
        self.shows, self.paced, self.pulled = shows, paced, False
        self.server = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
        self.server.bind(str(self.path))
        self.path.chmod(0o600)
        self.server.listen(1)

    def serve(self) -> None:
        """Send the readings to one listener after another, until it is pulled out."""
        while not self.pulled:
            try:
                listener, _ = self.server.accept()
            except OSError:
                return
            with listener, contextlib.suppress(OSError):  # a listener that has heard enough goes
                began = time.monotonic()
                for reading in self.shows():
                    late = reading.at_ms / 1000 - (time.monotonic() - began)
                    if self.paced and late > 0.02:
                        time.sleep(late)
                    listener.sendall((line_of(reading) + "\n").encode())

    def in_background(self) -> "Plug":
        threading.Thread(target=self.serve, name=f"device {self.path.stem}", daemon=True).start()
        return self

    def pull(self) -> None:
        """Take it out."""
        self.pulled = True
        self.server.close()
        self.path.unlink(missing_ok=True)
