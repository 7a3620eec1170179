"""Reading in a process of its own: what others wrote may ask for any amount of work or memory.

Two files are read at once and two more may wait, so that files never occupy all the threads of a server.
"""

import atexit
import json
import os
import shutil
import socket
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from chirotend.formats.cells import UnreadableFile
from chirotend.formats.sandbox_server import NAME_BYTES

#: what a file may take: CPU time, and memory beside what its reader takes empty
CPU_S, MEMORY_BYTES = 20, 1024**3
#: files that are read at one time, and those that are read or wait to be
AT_ONCE, IN_LINE = 2, 4
#: a process that is silent for so many times its CPU time has come to a stop
PATIENCE, START_S, LOADS_S = 12, 30.0, 120.0
#: libraries of numbers would start threads of their own, which a copy of the process has not
ONE_THREAD = {"OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"}

_reading, _line = threading.BoundedSemaphore(AT_ONCE), threading.BoundedSemaphore(IN_LINE)


@dataclass
class _Server:
    """The process that waits beside this one; none until the first file is read."""

    process: subprocess.Popen[bytes] | None = None
    folder: Path | None = None

    def address(self) -> str:
        """Return where it listens; it is started when it is not there (any more)."""
        with _starting:
            if self.process is None or self.process.poll() is not None:
                self.end()
                self._start()
            return str(self._socket)

    @property
    def _socket(self) -> Path:
        assert self.folder is not None
        return self.folder / "readers"

    def _start(self) -> None:
        self.folder = Path(tempfile.mkdtemp(prefix="chirotend-"))
        command = [sys.executable, "-m", "chirotend.formats.sandbox_server", str(self._socket), str(os.getpid())]
        self.process = subprocess.Popen(command, stdin=subprocess.DEVNULL, env={**os.environ, **ONE_THREAD})
        until = time.monotonic() + START_S
        while not self._socket.exists() and self.process.poll() is None and time.monotonic() < until:
            time.sleep(0.01)

    def end(self) -> None:
        if self.process is not None:
            self.process.kill()
            self.process.wait()
        if self.folder is not None:
            shutil.rmtree(self.folder, ignore_errors=True)


_starting = threading.Lock()
_server = _Server()
atexit.register(_server.end)


def load(modules: Iterable[str]) -> None:
    """Let the readers be loaded where files are read, before the first one is brought."""
    for module in modules:
        with _connection(module) as line:
            line.shutdown(socket.SHUT_WR)
            line.settimeout(LOADS_S)
            line.recv(1)  # the end comes once it is loaded


def read_file(
    module: str,
    name: str,
    request: dict[str, Any],
    data: bytes = b"",
    seconds: int = CPU_S,
    step: Callable[[float], None] | None = None,
) -> dict[str, Any]:
    """Return what `module.answered(request, data, step)` finds in a file that is called `name`.

    `seconds`: the most CPU time the reader gets. `step(share)` is called with the share that is read (0-1) and may
    raise to stop the reader; a caller with a `step` waits for its turn as long as it takes. Raises `UnreadableFile`
    when the reader refuses the file, when it reaches a limit of time or memory, or when too many files wait already;
    RuntimeError when the reader itself fails.
    """
    if not _line.acquire(blocking=step is not None):
        raise UnreadableFile(f"This server is reading other files. Bring {name} again in a minute.")
    try:
        with _reading, _connection(module) as asked:
            asked.settimeout(seconds * PATIENCE)
            head = {"module": module, "request": request, "bytes": len(data)}
            head |= {"seconds": seconds, "memory": MEMORY_BYTES}
            answer = _answer(asked, json.dumps(head).encode() + b"\n" + data, step)
    finally:
        _line.release()
    if "fault" in answer:
        raise RuntimeError(f"{module} failed:\n{answer['fault']}")
    if "refused" in answer:
        raise UnreadableFile(answer["refused"])
    if "found" not in answer:
        raise UnreadableFile(f"{name} asks for more work than this server gives one file. Bring less of it.")
    found: dict[str, Any] = answer["found"]
    return found


def _connection(module: str) -> socket.socket:
    """A connection to the process that waits, over which the reader's module is named."""
    line = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
    line.settimeout(START_S)
    line.connect(_server.address())
    line.sendall(module.encode().ljust(NAME_BYTES))
    return line


def _answer(asked: socket.socket, request: bytes, step: Callable[[float], None] | None) -> dict[str, Any]:
    """The last line; {} when the process ended without one: it was stopped at a limit."""
    try:
        asked.sendall(request)
        with asked.makefile("rb") as lines:
            for line in lines:
                said: dict[str, Any] = json.loads(line)
                if "share" not in said:
                    return said
                if step is not None:
                    step(said["share"])
    except (TimeoutError, ConnectionError):
        pass
    return {}
