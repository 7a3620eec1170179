"""A real server on loopback with a clock the test moves, and Debian's chromium. Any policy violation fails the test."""

import fcntl
import os
import shutil
import threading
from collections.abc import Callable, Iterator
from contextlib import ExitStack
from dataclasses import dataclass
from pathlib import Path

import pytest
from axe_playwright_python.sync_playwright import Axe
from flask import Flask
from playwright.sync_api import Page, expect
from waitress.server import create_server

from chirotend.demo.scenario import make_demo
from chirotend.web import create_app
from tests.conftest import Clock, over_record
from tests.strict_templates import strict

PATIENCE_MS = 30_000  # a busy machine is no fault of the page
expect.set_options(timeout=PATIENCE_MS)

# A page hears no touch before its deferred scripts ran. A hand never comes that soon, a test does: to it the page is
# hidden until then, so that every click and every look waits.
HIDDEN_UNTIL_SCRIPTS_RAN = """
const hidden = new CSSStyleSheet();
hidden.replaceSync("html { visibility: hidden !important }");
document.adoptedStyleSheets = [hidden];
document.addEventListener("DOMContentLoaded", () => { document.adoptedStyleSheets = []; });
"""


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict:
    flags = (
        "--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking "
        "--disable-component-update --disable-sync --use-fake-device-for-media-stream"
    )
    return {"executable_path": shutil.which("chromium"), "args": flags.split()}


@pytest.fixture(scope="session")
def browser_context_args() -> dict:
    return {"viewport": {"width": 1280, "height": 800}}


@dataclass
class Server:
    """A running server: its address, its application, the clock it lives by."""

    url: str
    app: Flask
    clock: Clock


def _run(server, closing: threading.Event) -> None:  # type: ignore[no-untyped-def]
    """Serve until closed; a page that still asks while its server goes away is no fault of either."""
    try:
        server.run()
    except OSError:
        if not closing.is_set():
            raise


@pytest.fixture(scope="session")
def demo_record(tmp_path_factory: pytest.TempPathFactory) -> Callable[[str], Path]:
    """The record of a demo player, made once for all workers and copied for each test."""
    base = tmp_path_factory.getbasetemp()
    shared = base.parent if "PYTEST_XDIST_WORKER" in os.environ else base

    def of(player: str) -> Path:
        made = shared / f"demo {player}"
        with (shared / f"demo {player}.lock").open("w") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            if not (made / "whole").exists():
                make_demo(made / "data", player)
                (made / "whole").touch()
        return made / "data"

    return of


@pytest.fixture(scope="session")
def one_served_app(tmp_path_factory: pytest.TempPathFactory, empty_record: Path) -> Flask:
    """One application for all journeys of a worker, as it is served."""
    folder = tmp_path_factory.mktemp("served") / "data"
    shutil.copytree(empty_record, folder)
    app = strict(create_app(folder, clock=Clock()))
    app.extensions["database"].engine.dispose()
    return app


@pytest.fixture
def serve(
    tmp_path: Path, clock: Clock, empty_record: Path, demo_record: Callable[[str], Path], one_served_app: Flask
) -> Iterator[Callable[..., Server]]:
    """Start a server over an empty folder, or over the record of a demo player."""
    running = []
    over = ExitStack()

    def start(player: str | None = None) -> Server:
        shutil.copytree(demo_record(player) if player else empty_record, tmp_path / "data")
        app = over.enter_context(over_record(one_served_app, tmp_path / "data", clock, DEMO=player is not None))
        server = create_server(app, host="127.0.0.1", port=0, threads=4)
        closing = threading.Event()
        loop = threading.Thread(target=_run, args=(server, closing), daemon=True)
        loop.start()
        running.append((server, closing, loop))
        return Server(f"http://127.0.0.1:{server.effective_port}", app, clock)

    yield start
    for server, closing, loop in running:
        closing.set()
        # an answer still being written would go into whatever file is opened next under its socket's number
        server.task_dispatcher.shutdown()
        server.close()
        loop.join(timeout=5)
    over.close()


@pytest.fixture
def page(page: Page) -> Iterator[Page]:
    """A page on which a script error, or anything a browser says of our policies, fails the test."""
    faults: list[str] = []
    page.on("pageerror", lambda error: faults.append(str(error)))
    policies = ("Content Security Policy", "Permissions-Policy")
    page.on("console", lambda m: faults.append(m.text) if any(p in m.text for p in policies) else None)
    page.set_default_timeout(PATIENCE_MS)
    page.context.add_init_script(HIDDEN_UNTIL_SCRIPTS_RAN)
    yield page
    assert faults == []


def assert_accessible(page: Page) -> None:
    """axe finds nothing on the page as it stands."""
    found = Axe().run(page)
    assert found.violations_count == 0, found.generate_report()
