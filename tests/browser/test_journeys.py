"""What a player does, in a real browser, as she would do it."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from chirotend.services import accounts
from tests.browser.conftest import assert_accessible

DEMO = Path(__file__).parents[2] / "src/chirotend/demo/data/bassoonist"
MUTED = re.compile("^Muted")


def call(page: Page):
    return page.locator("#call-word")


def test_a_fresh_server_a_log_and_the_first_call_with_its_reasons(serve, page: Page):
    server = serve()
    with server.app.extensions["database"].open_db() as db:
        secret = accounts.make_setup_link(db, server.clock())
        db.commit()
    page.goto(f"{server.url}/first-run/{secret}")
    assert_accessible(page)
    page.get_by_label("Your name, as on your part").fill("Ilse Varnholt")
    page.get_by_label("What you play").select_option(["bassoon", "contrabassoon"])
    page.get_by_label("A name to sign in with").fill("ilse")
    page.get_by_label("A password").fill("bars and rests")
    page.get_by_role("button", name="Begin").click()
    expect(page.get_by_role("heading", name="Bring a log")).to_be_visible()
    page.locator("#files").set_input_files([DEMO / f for f in ("sessions.csv", "symptoms.csv", "days.csv")])
    page.get_by_role("button", name="Read it").click()
    expect(page.get_by_role("heading", name="What was read")).to_be_visible()
    assert_accessible(page)
    page.get_by_role("button", name="Write it in").click()
    expect(page.get_by_role("heading", name="It is written in.")).to_be_visible()
    page.get_by_role("link", name="See today’s call").click()
    expect(call(page)).to_have_text(MUTED)
    page.get_by_text("the rule and its source").first.click()
    expect(page.get_by_text("common practice, no source", exact=False).first).to_be_visible()


def test_a_steady_player_is_open_then_muted_with_the_reason_and_back_after_two_clear_days(serve, page: Page):
    server = serve("steady")
    page.goto(server.url)
    page.get_by_role("button", name="As usual, nothing there").click()
    expect(call(page)).to_have_text("Open")
    page.get_by_role("link", name="Start playing").click()
    page.get_by_role("radio", name="Technique").check()
    page.get_by_role("button", name="Start").click()
    page.get_by_role("button", name="Forearm").click()
    expect(page.get_by_text("marked 1×")).to_be_visible()
    server.clock.on(minutes=40)
    page.reload()
    page.get_by_role("button", name="Stop").click()
    page.get_by_role("radio", name="4", exact=True).check()
    page.get_by_role("radio", name="Pain").check()
    page.get_by_role("radio", name="left", exact=True).check()
    page.get_by_label("strength").select_option("3")
    assert_accessible(page)
    page.get_by_role("button", name="Write it in").click()
    page.get_by_role("button", name="Body and face").click()
    page.get_by_role("button", name="right front of the upper arm").click()
    page.get_by_role("radio", name="4", exact=True).check()
    page.get_by_role("button", name="Write it in").click()
    expect(page.locator(".marked")).to_contain_text("front of the upper arm")
    page.get_by_role("link", name="Today").click()
    expect(call(page)).to_have_text(MUTED)
    expect(page.locator(".the-call .lead")).to_contain_text("Pain 4 of 10 at the right front of the upper arm")
    for _ in range(3):
        server.clock.on(days=1)
        page.goto(f"{server.url}/record/session/new")
        page.get_by_label("Day", exact=True).fill(f"{server.clock.now:%Y-%m-}{server.clock.now.day - 1:02d}")
        page.get_by_label("Began at").fill("18:00")
        page.get_by_label("Minutes played").fill("30")
        page.get_by_label("Effort, 0–10").fill("3")
        page.get_by_role("button", name="Write it in").click()
        page.goto(server.url)
        page.get_by_role("button", name="As usual, nothing there").click()
    expect(call(page)).to_have_text("Open")
    page.goto(f"{server.url}/score/")
    expect(page.locator(".score.wide-only .remark-text").last).to_contain_text("pain 4 ✓")
    assert_accessible(page)


def test_an_urgent_answer_comes_first_and_works_without_a_network(serve, page: Page):
    server = serve("steady")
    page.goto(server.url)
    page.evaluate("() => navigator.serviceWorker.ready.then(() => true)")
    page.evaluate("() => caches.open('urgent-1').then((kept) => kept.add('/urgent/offline'))")
    page.reload()  # from now on under the service worker
    page.get_by_text("Something", exact=True).click()
    page.get_by_text("Anything on the urgent list?").click()
    page.get_by_role("checkbox", name="one side of the face droops").check()
    expect(page.get_by_role("heading", name="Put it down. Ring now.")).to_be_visible()
    expect(page.get_by_role("link", name="0 00 00")).to_be_visible()
    assert_accessible(page)
    page.get_by_role("link", name="Back to Today").click()
    expect(call(page)).to_have_text("Tacet")
    expect(page.get_by_role("link", name="Start playing")).to_have_count(0)
    assert_accessible(page)
    page.context.set_offline(True)
    page.get_by_role("link", name="When not to wait").first.click()
    expect(page.get_by_role("heading", name="Put it down. Ring now.")).to_be_visible()
    expect(page.get_by_role("link", name="0 00 00")).to_be_visible()
    page.context.set_offline(False)


def test_with_the_keyboard_and_the_pedal_alone(serve, page: Page):
    server = serve("bassoonist")
    page.goto(server.url)
    page.keyboard.press("e")
    expect(page.get_by_role("heading", name="Score", exact=True)).to_be_visible()
    page.wait_for_load_state()  # the keys are heard once the page’s scripts are there
    page.locator(".score.wide-only .bar[data-today]").focus()
    page.keyboard.press("ArrowLeft")
    assert "Wednesday 11 November, Muted, performance" in page.evaluate(
        "document.activeElement.getAttribute('aria-label')"
    )
    page.keyboard.press("ArrowDown")
    expect(page.locator("#spoken")).not_to_be_empty()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Wednesday 11 November")).to_be_visible()
    page.wait_for_load_state()
    page.keyboard.press("d")
    zone = page.get_by_role("button", name="left thumb tip, pad side")
    zone.focus()
    page.wait_for_load_state()
    page.keyboard.press("Space")
    expect(zone).to_have_attribute("aria-pressed", "true")
    expect(page.locator("#tell-title")).to_have_text("left thumb tip, pad side")
    page.keyboard.press("c")
    page.get_by_role("button", name="Start").focus()
    page.keyboard.press("Enter")
    expect(page.locator("#stand")).to_have_attribute("data-phase", "playing")
    page.wait_for_load_state()
    page.keyboard.press("PageDown")
    expect(page.locator("#stand")).to_have_attribute("data-phase", "resting")
    assert_accessible(page)
    page.keyboard.press("PageDown")
    expect(page.locator("#stand")).to_have_attribute("data-phase", "playing")
    page.keyboard.press("PageUp")
    expect(page.locator("#stand")).to_have_attribute("data-phase", "paused")


def test_marks_made_without_a_link_are_kept_and_sent_once(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/play/")
    page.get_by_role("button", name="Start").click()
    expect(page.locator("#stand")).to_be_visible()
    page.context.set_offline(True)
    page.get_by_role("button", name="Thumb").click()
    page.get_by_role("button", name="Wrist").click()
    expect(page.locator("#unsent")).to_have_text("no link: 2 kept on this device")
    page.context.set_offline(False)
    expect(page.get_by_text("marked 1×")).to_have_count(2)
    expect(page.locator("#unsent")).to_be_empty()
    page.reload()
    expect(page.get_by_text("marked 1×")).to_have_count(2)
    assert_accessible(page)


def test_take_everything_away_delete_it_and_bring_it_back(serve, page: Page, tmp_path: Path):
    server = serve("bassoonist")
    page.goto(f"{server.url}/record/")
    with page.expect_download() as taken:
        page.get_by_role("link", name="Everything as JSON").click()
    saved = tmp_path / "all.json"
    taken.value.save_as(saved)
    page.get_by_role("link", name="Delete everything").click()
    page.get_by_label("Type the word delete").fill("delete")
    page.get_by_role("button", name="Delete everything").click()
    expect(page.get_by_text("Bring the log you kept")).to_be_visible()
    page.locator("#files").set_input_files(saved)
    page.get_by_role("button", name="Read it").click()
    page.get_by_role("button", name="Write it in").click()
    expect(page.get_by_role("heading", name="It is written in.")).to_be_visible()
    page.goto(server.url)
    expect(call(page)).to_have_text(MUTED)
    page.goto(f"{server.url}/record/")
    with page.expect_download() as again:
        page.get_by_role("link", name="Everything as JSON").click()
    assert Path(again.value.path()).read_bytes() == saved.read_bytes()


@pytest.mark.parametrize("width", [390, 1024, 1280])
def test_no_page_is_wider_than_the_screen_and_axe_is_content(serve, page: Page, width: int):
    server = serve("bassoonist")
    page.set_viewport_size({"width": width, "height": 800})
    for path in (
        "/",
        "/body/",
        "/score/",
        "/score/table",
        "/score/2026-11-11",
        "/record/",
        "/record/session/new",
        "/record/day",
        "/settings",
        "/help",
        "/urgent",
        "/play/",
        "/plan/?week=2026-11-16",
        "/plan/?week=2026-11-16&line=Sa+21%2C+10.00%2C+octet%2C+3+h",
        "/plan/engagement",
        "/kit/",
        "/kit/bench/string",
        "/kit/bench/holes",
        "/kit/bench/sticks",
        "/kit/hands",
        "/kit/room",
        "/kit/thing",
        "/kit/library/grip",
        "/kit/library/exercise/new",
        "/warm-up",
        "/warm-up/cycles",
        "/curtain/",
        "/body/self-checks",
        "/record/lists",
    ):
        page.goto(server.url + path)
        assert page.evaluate("document.documentElement.scrollWidth <= innerWidth"), path
        assert_accessible(page)


def test_the_urgent_page_stands_when_the_server_fails_and_after_a_sign_out(serve, page: Page):
    server = serve("bassoonist")
    page.goto(server.url)
    page.evaluate("() => navigator.serviceWorker.ready.then(() => true)")
    page.reload()
    page.wait_for_load_state("networkidle")
    real = server.app.view_functions["help.urgent"]
    server.app.view_functions["help.urgent"] = lambda: ("out of order", 503)
    page.goto(f"{server.url}/urgent")
    expect(page.get_by_role("heading", name="Put it down.")).to_be_visible()
    expect(page.get_by_text("one side of the face droops")).to_be_visible()
    server.app.view_functions["help.urgent"] = real
    page.goto(f"{server.url}/settings")
    server.app.config["DEMO"] = False
    page.get_by_role("button", name="Sign out here").click()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    page.wait_for_load_state("networkidle")
    page.context.set_offline(True)
    page.goto(f"{server.url}/urgent")
    heading = page.get_by_role("heading", name="Put it down.")
    expect(heading).to_be_visible()
    assert "Literata" in heading.evaluate("e => getComputedStyle(e).fontFamily"), "still in its own dress"
    expect(page.get_by_text("your local emergency number is not entered yet")).to_be_visible()
    page.context.set_offline(False)
