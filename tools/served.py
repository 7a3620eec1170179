"""A served data folder and a browser signed in to it, for tools that try the server from outside."""

import json
import os
import random
import re
import signal
import socket
import subprocess
import sys
import time
import urllib.parse
import urllib.request
from contextlib import closing, suppress
from dataclasses import dataclass, field
from http.cookiejar import CookieJar
from pathlib import Path
from typing import Any

SERVE = "from chirotend.cli import main; main()"
#: as above, with the application's clock moved by the seconds in CLOCK_OFFSET
SHIFTED = """
import os
from datetime import datetime, timedelta, UTC
import chirotend.web.app as app, chirotend.cli as cli
moved = timedelta(seconds=float(os.environ["CLOCK_OFFSET"]))
app.real_clock = lambda: datetime.now(UTC) + moved
app.create_app.__defaults__ = (app.real_clock, *app.create_app.__defaults__[1:])
cli.real_clock = app.real_clock
cli.main()
"""
#: looks at a server that starts, 50 ms apart: a machine under load takes its time
STARTS_WITHIN = 1200
FORM = {
    "player": "Ilse",
    "zone": "Europe/Vienna",
    "instruments": "bassoon",
    "name": "ilse",
    "password": "bars and rests",
}


def free_port() -> int:
    with closing(socket.socket()) as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@dataclass
class Server:
    """A served data folder, and a browser signed in to it."""

    folder: Path
    port: int = field(default_factory=free_port)
    offset: float | None = None
    code: str = SERVE
    process: subprocess.Popen[bytes] | None = None

    def __post_init__(self) -> None:
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))
        self.token = ""

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> str:
        """Start and wait until it answers; returns what it printed so far. Raises TimeoutError when it does not."""
        env = {**os.environ, "CLOCK_OFFSET": str(self.offset or 0)}
        code = self.code if self.offset is None else SHIFTED
        log = (self.folder.parent / "server.log").open("ab")
        command = [sys.executable, "-u", "-c", code, "serve", "--data", str(self.folder), "--port", str(self.port)]
        with log:
            self.process = subprocess.Popen(command, stdout=log, stderr=log, env=env)
        for _ in range(STARTS_WITHIN):
            with suppress(OSError), urllib.request.urlopen(f"{self.url}/health", timeout=2):
                return (self.folder.parent / "server.log").read_text(errors="replace")
            if self.process.poll() is not None:
                break
            time.sleep(0.05)
        raise TimeoutError("the server does not start")

    def kill(self) -> None:
        if self.process is not None:
            self.process.send_signal(signal.SIGKILL)
            self.process.wait()

    def set_up(self) -> None:
        link = re.findall(r"/first-run/\S+", self.start())[-1]
        self.read(link)
        self.send(link, FORM)
        self.read("/")

    def read(self, path: str) -> str:
        text: str = self.opener.open(self.url + path, timeout=30).read().decode()
        if found := re.search(r'name="csrf-token" content="([^"]+)"', text):
            self.token = found[1]
        return text

    def read_bytes(self, path: str) -> bytes:
        return bytes(self.opener.open(self.url + path, timeout=30).read())

    def send(self, path: str, form: dict[str, str] | None = None, events: list[dict[str, Any]] | None = None) -> str:
        """Post a form, or events; raises unless the server acknowledged it."""
        kind = "application/json" if events is not None else "application/x-www-form-urlencoded"
        body = json.dumps(events).encode() if events is not None else urllib.parse.urlencode(form or {}).encode()
        return str(self._post(path, body, kind, {"HX-Request": "true"} if events is not None else {}).read().decode())

    def bring(self, path: str, form: dict[str, str], field: str, name: str, data: bytes) -> str:
        """Post a form with a file; returns where it leads. Raises unless the server acknowledged it."""
        edge = f"edge{random.getrandbits(64):x}"
        parts = [f'--{edge}\r\nContent-Disposition: form-data; name="{k}"\r\n\r\n{v}\r\n' for k, v in form.items()]
        head = f'--{edge}\r\nContent-Disposition: form-data; name="{field}"; filename="{name}"\r\n'
        body = "".join(parts).encode() + head.encode() + b"Content-Type: application/octet-stream\r\n\r\n" + data
        body += f"\r\n--{edge}--\r\n".encode()
        return str(self._post(path, body, f"multipart/form-data; boundary={edge}", {}).url).removeprefix(self.url)

    def _post(self, path: str, body: bytes, kind: str, more: dict[str, str]) -> Any:
        headers = {"Content-Type": kind, "X-CSRFToken": self.token, **more}
        return self.opener.open(urllib.request.Request(self.url + path, body, headers), timeout=180)

    def everything(self) -> dict[str, Any]:
        found: dict[str, Any] = json.loads(self.read("/record/export.json"))
        return found
