"""Make docs/screenshots/ from the demo data: `make screenshots`. Needs Debian's chromium on the PATH."""

import shutil
import threading
from pathlib import Path
from tempfile import TemporaryDirectory

from playwright.sync_api import Page, sync_playwright
from waitress.server import create_server

from chirotend.cli import running_clock
from chirotend.demo.scenario import DEMO_NOW, make_demo
from chirotend.web import create_app

OUT = Path(__file__).parents[1] / "docs/screenshots"
CHROMIUM = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
SIZES = {"": (1280, 800), "-390": (390, 844)}


def shot(page: Page, name: str) -> None:
    page.wait_for_timeout(300)
    page.screenshot(path=OUT / f"{name}.png", full_page=name not in ("play", "rest"))


def shots(page: Page, name: str, *narrower: str) -> None:
    """One view as it stands, at the named narrower sizes and then at the usual one."""
    for size in (*narrower, ""):
        width, height = SIZES[size]
        page.set_viewport_size({"width": width, "height": height})
        shot(page, name + size)


def tour(page: Page, base: str) -> None:
    """Walk through the main views once and take their pictures."""
    for name, path in (("today", "/"), ("score", "/score/"), ("record", "/record/")):
        page.goto(base + path)
        shot(page, name)
    for name, path in (
        ("plan", "/plan/?week=2026-11-16&line=Sa+21%2C+10.00%2C+octet%2C+contra%2C+3+h"),
        ("kit", "/kit/?strap=120"),
        ("years", "/score/years"),
        ("load", "/score/load"),
        ("week", "/score/week?of=2026-11-08"),
        ("warmup", "/warm-up"),
        ("place", "/body/place/wrist%20&%20thumb/left"),
    ):
        page.goto(base + path)
        shot(page, name)
    page.goto(base + "/body/")
    for zone in ("index_tip_palm.left", "middle_tip_palm.left"):
        page.locator(f'.zone[data-key="{zone}"]').click()
    page.get_by_role("radio", name="Tingling").check()
    shot(page, "body")
    page.goto(base + "/play/")
    page.get_by_role("radio", name="Repertoire").check()
    page.get_by_role("button", name="Start").click()
    page.wait_for_load_state()
    page.get_by_role("button", name="Thumb", exact=True).click()
    shots(page, "play", "-390")
    page.get_by_role("button", name="rest", exact=True).click()
    page.wait_for_selector(".resting")
    page.wait_for_timeout(1800)
    shot(page, "rest")
    page.get_by_role("button", name="Stop").click()
    page.wait_for_selector("#wrap-form")
    shot(page, "wrapup")
    page.goto(base + "/urgent")
    shot(page, "urgent")
    page.goto(base + "/curtain/")
    page.get_by_text("None of these").click()
    page.get_by_text("Thumb hurts", exact=True).click()
    card = page.locator(".problem[open]")
    for chosen in ("thumb base joint", "left", "clearly", "no"):
        card.get_by_role("radio", name=chosen, exact=True).check()
    shot(page, "curtain")


def narrow(page: Page, base: str) -> None:
    for name, path in (("today", "/"), ("score", "/score/")):
        page.goto(base + path)
        shot(page, f"{name}-390")


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    with TemporaryDirectory() as folder:
        make_demo(Path(folder))
        app = create_app(Path(folder), clock=running_clock(DEMO_NOW), demo=True)
        server = create_server(app, host="127.0.0.1", port=0)
        threading.Thread(target=server.run, daemon=True).start()
        base = f"http://127.0.0.1:{server.effective_port}"
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=CHROMIUM)
            for size, walk in (("-390", narrow), ("", tour)):
                width, height = SIZES[size]
                page = browser.new_page(viewport={"width": width, "height": height})
                walk(page, base)
                page.close()
            browser.close()
        server.close()


if __name__ == "__main__":
    main()
