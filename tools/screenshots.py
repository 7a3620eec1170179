"""Make docs/screenshots/ and the examples of empty pages from the demo: `make screenshots`. Needs Debian's chromium."""

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
EXAMPLES = Path(__file__).parents[1] / "src/chirotend/web/static/examples"
#: what an empty page shows faintly of a full one: the page, and the part of it
EXAMPLE_PARTS = {
    "score": ("/score/?weeks=2", ".score.wide-only svg"),
    "plan": ("/plan/?week=2026-11-09", ".plan-desk"),
    "body": ("/body/place/wrist%20&%20thumb/left", "figure svg"),
    "technique": ("/technique/", ".probe-line"),
}
WIDTH, HEIGHT = 1280, 800


def shot(page: Page, name: str) -> None:
    page.wait_for_timeout(300)
    page.screenshot(path=OUT / f"{name}.png", full_page=name not in ("play", "record"))


def tour(page: Page, base: str) -> None:
    """Walk through the main views once and take their pictures."""
    for name, path in (
        ("today", "/"),
        ("score", "/score/"),
        ("record", "/record/"),
        ("matters", "/matters/?told=30+minutes+a+day+until+20+December%2C+no+contra"),
        ("happened", "/happened/operation"),
        ("add", "/record/session/new"),
        ("worse", "/body/getting-worse"),
    ):
        page.goto(base + path)
        shot(page, name)
    for name, path in (
        ("plan", "/plan/?week=2026-11-16&line=Sa+21%2C+10.00%2C+octet%2C+contra%2C+3+h"),
        ("kit", "/kit/?strap=120"),
        ("warmup", "/warm-up"),
        ("programme", "/plan/programmes/"),
        ("trial", "/score/trials/hand-rest"),
        ("part", "/plan/parts/salzfahrer"),
        ("report", "/record/reports/"),
    ):
        page.goto(base + path)
        if name == "report":
            page.get_by_role("link", name="A player’s record").click()
            page.wait_for_load_state()
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
    shot(page, "play")
    page.get_by_role("button", name="Stop").click()
    page.wait_for_selector("#wrap-form")
    page.goto(base + "/urgent")
    shot(page, "urgent")
    page.goto(base + "/curtain/")
    page.get_by_text("None of these").click()
    page.get_by_text("Thumb hurts", exact=True).click()
    card = page.locator(".problem[open]")
    for chosen in ("thumb base joint", "left", "clearly", "no"):
        card.get_by_role("radio", name=chosen, exact=True).check()
    shot(page, "curtain")


def technique(page: Page, base: str) -> None:
    """F, with its one measure of today."""
    page.goto(f"{base}/technique/")
    shot(page, "technique")


def examples(page: Page, base: str) -> None:
    EXAMPLES.mkdir(parents=True, exist_ok=True)
    for name, (path, part) in EXAMPLE_PARTS.items():
        page.goto(base + path)
        page.wait_for_timeout(300)
        page.locator(part).first.screenshot(path=EXAMPLES / f"{name}.png")


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
            page = browser.new_page(viewport={"width": WIDTH, "height": HEIGHT})
            tour(page, base)
            page.set_viewport_size({"width": WIDTH, "height": HEIGHT})
            examples(page, base)
            technique(page, base)
            browser.close()
        server.close()


if __name__ == "__main__":
    main()
