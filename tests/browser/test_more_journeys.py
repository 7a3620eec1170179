"""Smaller journeys: a phone in the morning, the stand by itself, mending and undoing, an import left alone."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import assert_accessible
from tests.browser.test_journeys import call


def test_the_morning_on_a_phone_takes_four_taps_when_nothing_hurts(serve, page: Page):
    server = serve("steady")
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(server.url)
    page.get_by_text("Something", exact=True).click()
    page.get_by_role("radio", name="warm").check()
    page.get_by_role("radio", name="sound").check()
    page.get_by_role("button", name="Write it in", exact=True).click()
    expect(page.get_by_text("Written in.", exact=False).first).to_be_visible()
    expect(call(page)).to_have_text("Open")
    assert_accessible(page)


def test_a_phone_shows_one_hand_at_a_time_with_zones_a_finger_can_meet(serve, page: Page):
    server = serve("steady")
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{server.url}/body/")
    expect(page.locator(".map-hand-left-palm")).to_be_visible()
    expect(page.locator(".map-hand-right-palm")).to_be_hidden()
    page.get_by_role("button", name="Right", exact=True).click()
    page.get_by_role("button", name="Back", exact=True).click()
    expect(page.locator(".map-hand-right-back")).to_be_visible()
    for key in ("thumb_base_joint.right", "little_end_back.right", "wrist_thumb_side.right"):
        box = page.locator(f'.zone[data-key="{key}"]').bounding_box()
        assert box and min(box["width"], box["height"]) >= 24, key
    page.get_by_role("button", name="right thumb base joint").click()
    page.get_by_role("radio", name="Tingling").check()
    page.get_by_role("radio", name="2", exact=True).check()
    page.get_by_role("checkbox", name="Night, woke me").check()
    page.get_by_role("button", name="Write it in").click()
    page.get_by_role("link", name="Today").first.click()
    expect(call(page)).to_have_text(re.compile("Muted pp"))
    expect(page.get_by_text("Book someone within two weeks.")).to_be_visible()


def test_a_bar_turns_into_a_rest_and_back_by_itself(serve, page: Page):
    server = serve("steady")
    page.clock.install()
    page.goto(f"{server.url}/play/")
    page.get_by_role("radio", name="Technique").check()
    page.get_by_role("button", name="Start").click()
    expect(page.locator("#stand")).to_have_attribute("data-phase", "playing")
    let_the_bar_end(server, page)
    expect(page.locator("#stand")).to_have_attribute("data-phase", "resting")
    expect(page.get_by_role("heading", name=re.compile("Hands down|Lie down if you can"))).to_be_visible()
    let_the_bar_end(server, page)
    expect(page.locator("#stand")).to_have_attribute("data-phase", "playing")


def let_the_bar_end(server, page: Page) -> None:
    """Move the server's clock and the page's past the end of what runs; each page timer fires once."""
    page.wait_for_load_state()
    seconds = int(float(page.locator("#stand").get_attribute("data-left"))) + 5
    server.clock.on(seconds=seconds)
    page.clock.fast_forward(seconds * 1000)


def test_switching_the_instrument_and_rubbing_a_mark_out_while_playing(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/play/")
    page.get_by_role("button", name="Start").click()
    server.clock.on(minutes=10)
    page.get_by_role("button", name="Jaw, breath").click()
    expect(page.get_by_text("marked 1×")).to_be_visible()
    page.get_by_role("button", name="Good").click()
    expect(page.get_by_role("button", name="Good 1×")).to_be_visible()
    page.get_by_text("Change the session").click()
    page.get_by_role("button", name=re.compile("rub out jaw")).click()
    expect(page.get_by_text("marked 1×")).to_have_count(0)
    page.get_by_role("button", name="Contrabassoon").click()
    expect(page.locator(".play-now .stand-say")).to_contain_text("Contrabassoon")
    server.clock.on(minutes=5)
    page.reload()
    page.get_by_role("button", name="Stop").click()
    expect(page.get_by_role("heading", name="After playing")).to_be_visible()
    page.wait_for_load_state()
    page.keyboard.press("5")
    page.get_by_role("radio", name="Nothing more").check()
    page.get_by_label("a question for your teacher").fill("Where does the thumb live?")
    page.get_by_role("button", name="Write it in").click()
    expect(page.locator(".today-part")).to_contain_text("15 min, effort 5")
    page.get_by_role("link", name="edit").click()
    expect(page.get_by_label("A question")).to_have_value("Where does the thumb live?")


def test_the_touch_targets_of_the_stand_are_large(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/play/")
    page.get_by_role("button", name="Start").click()
    for width in (390, 1280):
        page.set_viewport_size({"width": width, "height": 800})
        for button in page.locator(".marks button, .stop").all():
            box = button.bounding_box()
            assert box and box["height"] >= 64 and box["width"] >= 64
    clock = page.locator("#left").evaluate("e => parseFloat(getComputedStyle(e).fontSize)")
    title = page.locator("h1.stand-title").evaluate("e => parseFloat(getComputedStyle(e).fontSize)")
    assert clock >= 150 and title >= 96  # read from one metre (design: 152 and 100 px)


def test_a_session_is_written_mended_deleted_and_brought_back(serve, page: Page):
    server = serve("steady")
    page.goto(f"{server.url}/record/session/new")
    page.get_by_label("Minutes played").fill("27 hours")
    page.get_by_role("button", name="Write it in").click()
    expect(page.get_by_text("This is not a number.", exact=False)).to_be_visible()
    expect(page.get_by_label("Minutes played")).to_have_value("27 hours")
    assert_accessible(page)
    page.get_by_label("Minutes played").fill("25")
    page.get_by_label("Went well").fill("quiet shoulders")
    page.get_by_role("button", name="Write it in").click()
    expect(page.get_by_text("quiet shoulders")).to_be_visible()
    page.get_by_role("link", name="Edit").click()
    page.get_by_label("Effort, 0–10").fill("4,5")
    page.get_by_role("button", name="Write it in").click()
    expect(page.get_by_text("effort 4.5")).to_be_visible()
    page.get_by_role("button", name="Delete", exact=True).click()
    expect(page.get_by_text("Deleted.")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    page.goto(f"{server.url}/score/2026-11-12")
    expect(page.get_by_text("quiet shoulders")).to_be_visible()


def test_an_import_with_bad_rows_can_be_left_alone(serve, page: Page, tmp_path):
    server = serve("steady")
    log = tmp_path / "sessions.csv"
    log.write_text("day,minutes,effort\n2026-02-30,60,4\n2026-03-01,60,14\n2026-03-02,60,4\n")
    page.goto(f"{server.url}/record/")
    before = page.locator(".facts").inner_text()
    page.locator("#files").set_input_files(log)
    page.get_by_role("button", name="Read it").click()
    expect(page.get_by_role("heading", name="2 rows cannot be taken")).to_be_visible()
    expect(page.get_by_text("line 2, day")).to_be_visible()
    page.get_by_role("button", name="Write it in").click()
    expect(page.get_by_text("tick that they may be left out", exact=False)).to_be_visible()
    page.get_by_role("button", name="Leave it").click()
    expect(page.get_by_role("heading", name="Cancelled.")).to_be_visible()
    page.goto(f"{server.url}/record/")
    assert page.locator(".facts").inner_text() == before


@pytest.mark.parametrize(
    "path", ["/", "/body/", "/record/session/new", "/score/", "/plan/", "/kit/?strap=100", "/warm-up"]
)
def test_pages_work_without_scripts(serve, browser, path: str):
    server = serve("bassoonist")
    page = browser.new_context(java_script_enabled=False).new_page()
    page.goto(server.url + path)
    expect(page.locator("h1")).to_be_visible()
    if path == "/body/":
        page.get_by_text("The same as a list").click()
        page.get_by_role("checkbox", name="left thumb ball", exact=True).check()
        page.get_by_role("radio", name="Pain").check()
        page.get_by_role("radio", name="2", exact=True).check()
        page.get_by_role("checkbox", name="After").check()
        page.get_by_role("button", name="Write it in").click()
        expect(page.locator(".marked")).to_contain_text("left thumb ball")
    page.context.close()


def test_paper_shows_the_score_alone(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/score/")
    page.emulate_media(media="print")
    expect(page.locator(".letters")).to_be_hidden()
    expect(page.locator(".score.wide-only svg").first).to_be_visible()
    expect(page.get_by_text("Written by the player; not a medical record.")).to_be_visible()
    assert page.locator(".pencil-ring").first.evaluate("e => getComputedStyle(e).stroke") == "rgb(0, 0, 0)"


def test_browsers_are_signed_out_and_the_new_pages_are_for_everyone(serve, page: Page):
    server = serve("bassoonist")
    for path in ("/settings", "/kit/left-out", "/urgent", "/record/day"):
        page.goto(server.url + path)
        assert_accessible(page)
    phone = page.context.browser.new_context(user_agent="A Mobile browser").new_page()
    phone.goto(server.url)
    page.goto(f"{server.url}/settings")
    expect(page.locator(".browsers")).to_contain_text("Another on a phone or tablet")
    page.get_by_role("button", name="Sign it out").click()
    expect(page.locator(".browsers li")).to_have_count(1)
    server.app.config["DEMO"] = False
    phone.goto(f"{server.url}/settings")
    expect(phone.get_by_role("heading", name="Sign in")).to_be_visible()
    phone.context.close()
    page.goto(f"{server.url}/kit/left-out")
    page.get_by_role("group", name="Were you told that your bones are thin?").get_by_role("radio", name="yes").check()
    page.get_by_role("button", name="Write it in").click()
    page.get_by_role("link", name="Warm up", exact=True).click()
    expect(page.get_by_text("by what you said of yourself (thin bones)")).to_be_visible()
