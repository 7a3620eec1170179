"""The process that waits beside a server with the readers of files loaded, and makes another one of itself for each.

`python -m chirotend.formats.sandbox_server SOCKET PID` listens at a socket of its own folder. A request names a module,
whose `answered` reads the file under limits of CPU time and memory. What it answers, and how far it is, goes back as
lines of JSON. The process ends with PID, which started it.
"""

import importlib
import json
import os
import resource
import signal
import socket
import socketserver
import sys
import traceback
from pathlib import Path
from typing import Any

from chirotend.core.late import load_all
from chirotend.formats.cells import UnreadableFile

#: the name of a module comes first, in so many bytes, filled up with blanks
NAME_BYTES = 80
#: who reads a file gives way to who answers a player
NICE = 10
#: where Linux says how many pages of memory a process has
SIZES, PAGE_BYTES = Path("/proc/self/statm"), resource.getpagesize()


class _Reading(socketserver.StreamRequestHandler):
    """One file, read in a process of its own."""

    def handle(self) -> None:
        head = self.rfile.readline()
        if not head:
            return  # it was only to be loaded
        try:
            asked = json.loads(head)
            data = self.rfile.read(asked["bytes"])
            _limit(asked["seconds"], asked["memory"])
            found = {"found": sys.modules[asked["module"]].answered(asked["request"], data, self._step)}
        except UnreadableFile as error:
            found = {"refused": str(error)}
        except MemoryError:
            found = {}
        except Exception:  # a fault of ours: whoever asked raises it
            found = {"fault": traceback.format_exc()}
        self._say(found)

    def _step(self, share: float) -> None:
        self._say({"share": share})

    def _say(self, line: dict[str, Any]) -> None:
        try:
            self.wfile.write(json.dumps(line).encode() + b"\n")
        except OSError:  # nobody waits for it any more
            os._exit(0)


def _limit(seconds: int, memory: int) -> None:
    """Limit what this process may take from here on: CPU time, and memory beside what is loaded already."""
    if SIZES.exists():  # a system without it keeps no limit of memory either
        loaded = int(SIZES.read_text().split()[0]) * PAGE_BYTES
        resource.setrlimit(resource.RLIMIT_AS, (loaded + memory, loaded + memory))
    resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds))


class _Waiting(socketserver.ForkingMixIn, socketserver.UnixStreamServer):
    """Loads the reader that is asked for here, where it stays loaded, and reads in another process."""

    request_queue_size = 64
    started_by = 0

    def server_activate(self) -> None:
        """Listen first, then rename the socket to its name, so that nobody connects before it listens."""
        super().server_activate()
        there = Path(str(self.server_address))
        self.server_address = str(there.with_suffix(""))
        there.rename(self.server_address)

    def process_request(self, request: Any, client_address: Any) -> None:
        name = request.recv(NAME_BYTES, socket.MSG_WAITALL).decode().strip()
        if name:
            importlib.import_module(name)
            load_all()
            super().process_request(request, client_address)
        else:
            self.shutdown_request(request)

    def service_actions(self) -> None:
        super().service_actions()
        if os.getppid() != self.started_by:
            Path(str(self.server_address)).unlink(missing_ok=True)
            os._exit(0)


def main() -> None:
    os.nice(NICE)
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl-C ends the server, and that ends this one
    with _Waiting(f"{sys.argv[1]}.part", _Reading) as waiting:
        waiting.started_by = int(sys.argv[2])
        waiting.serve_forever()


if __name__ == "__main__":
    main()
