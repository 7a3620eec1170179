"""`chirotend serve` as a process: the set-up link, the hosts it answers, and a kill in the middle of a session."""

import http.cookiejar
import json
import re
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.parse
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import pytest


class Served:
    """A served process and a browser-like client that keeps cookies and sends the page's CSRF token."""

    def __init__(self, data: Path) -> None:
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.data = data
        self.url = f"http://127.0.0.1:{self.port}"
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar()))
        self.process: subprocess.Popen[str] | None = None

    def start(self) -> str:
        """Start the process; returns what it printed before the address."""
        command = [
            sys.executable,
            "-u",
            "-m",
            "chirotend.cli",
            "serve",
            "--data",
            str(self.data),
            "--port",
            str(self.port),
        ]
        self.process = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
        printed = ""
        while "Chirotend: http" not in printed:
            printed += self.process.stdout.readline()
        for _ in range(100):
            with socket.socket() as probe:
                if probe.connect_ex(("127.0.0.1", self.port)) == 0:
                    return printed
            time.sleep(0.1)
        raise TimeoutError(printed)

    def kill(self) -> None:
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()
        self.process.stdout.close()

    def get(self, path: str, **headers: str) -> str:
        return self.opener.open(urllib.request.Request(self.url + path, headers=headers), timeout=10).read().decode()

    def post(self, path: str, form: dict | None = None, events: list | None = None) -> str:
        token = re.search(r'name="csrf-token" content="([^"]+)"', self.page or self.get("/play/")).group(1)
        if events is not None:
            body, kind = json.dumps(events).encode(), "application/json"
        else:
            body, kind = urllib.parse.urlencode(form or {}, doseq=True).encode(), "application/x-www-form-urlencoded"
        headers = {"Content-Type": kind, "X-CSRFToken": token, "HX-Request": "true"}
        return self.opener.open(urllib.request.Request(self.url + path, body, headers), timeout=10).read().decode()

    page = ""


@pytest.fixture
def served(tmp_path: Path) -> Iterator[Served]:
    server = Served(tmp_path)
    yield server
    server.kill()


def test_a_kill_in_the_middle_of_a_session_loses_nothing_that_was_acknowledged(served: Served):
    link = re.search(r"/first-run/\S+", served.start()).group(0)
    with pytest.raises(urllib.error.HTTPError, match="400"):
        served.get("/sign-in", Host="evil.example")
    served.page = served.get(link)
    form = {
        "player": "Ilse",
        "zone": "Europe/Vienna",
        "instruments": ["bassoon"],
        "name": "ilse",
        "password": "bars and rests",
    }
    served.post(link, form)
    served.page = ""
    served.post("/play/start", {"instrument": "bassoon", "block_kind": "lesson"})
    session = re.search(r'data-session="(\w+)"', served.get("/play/")).group(1)
    marks = [
        {"uid": f"m{n}", "session": session, "device": "t", "seq": n, "kind": "mark", "payload": {"place": "thumb"}}
        for n in range(20)
    ]
    told = json.loads(served.post("/play/events", events=marks[::-1]))
    assert "marked 20×" in told["part"] and sorted(told["stored"]) == sorted(m["uid"] for m in marks)
    served.kill()
    served.start()
    assert "marked 20×" in served.get("/play/")  # still signed in, still running
    assert "marked 20×" in json.loads(served.post("/play/events", events=marks + marks))["part"]
    everything = json.loads(served.get("/record/export.json"))
    assert len(everything["events"]) == 21 and everything["player"]["name"] == "Ilse"
    assert (served.data / "secret.key").stat().st_mode & 0o077 == 0
