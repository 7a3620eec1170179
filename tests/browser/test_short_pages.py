"""Pages stay short, and what a player looks for is two touches from Today."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import assert_accessible
from tests.browser.states import Visit

#: visible words and controls of a page, without its letters; what lies in a closed fold or a drawing is not seen
SEEN = """() => {
    const main = document.querySelector("main");
    const seen = (e) => e.checkVisibility() && !e.closest("svg, .visually-hidden, .phone-urgent")
        && (e.tagName === "SUMMARY" || !e.closest("details:not([open])") || e.closest("summary"));
    const walker = document.createTreeWalker(main, NodeFilter.SHOW_TEXT);
    let words = 0;
    while (walker.nextNode()) {
        const text = walker.currentNode;
        if (!text.parentElement.closest("option") && seen(text.parentElement)) {
            words += text.textContent.split(/\\s+/).filter((word) => /[\\p{L}\\p{N}]/u.test(word)).length;
        }
    }
    const touched = "a[href], button, input:not([type=hidden]), select, textarea, summary";
    return { words, controls: [...main.querySelectorAll(touched)].filter(seen).length };
}"""
SIZES = [{"width": 1280, "height": 800}, {"width": 390, "height": 844}]
#: what a player wants to do, what she touches at a desk and on a phone, and the heading of the page she comes to
WAYS = {
    "log afterwards": (("Add to today", "Add a session"), None, "What did you play|Add"),
    "is it getting worse": (("Body", "Is it getting worse?"), None, "Is it getting worse"),
    "warm up": (("Add to today", "Warm up"), None, "Warm-up"),
    "note a tingle": (("Body",), None, "Body"),
    "plan the week": (("Plan",), None, "November"),
    "show a doctor": (("Record", "One page for someone"), ("More", "One page for someone"), "One page for someone"),
    "change a hold and see": (("Technique", "Did it help?"), ("More", "Did it help?"), "Did it help"),
    "how to hold it": (("Technique", "Grips and holds"), ("More", "Grips and holds"), "Grips and holds"),
    "bring a diary": (("Record",), ("More", "Bring my diary"), "Record"),
    "an operation": (("Something happened?", "An operation"), None, "An operation"),
}


def busy(visit: Visit) -> None:
    """A day with a date that does not fit, an open matter, a programme, and yesterday's playing not asked after."""
    visit.server.clock.on(days=1)
    visit.post("/plan/engagement", day="2026-11-13", start="19:00", end="22:30", title="Premiere", kind="performance")
    visit.post("/body/", places="thumb_base_joint.left", kind="pain", intensity="3", timings="waking")


def test_today_is_short_on_a_busy_day(serve, page: Page):
    visit = Visit(serve("bassoonist"), page)
    busy(visit)
    visit.go("/")
    expect(page.locator(".over-dose")).to_be_visible()
    expect(page.locator(".matter-today")).to_be_visible()
    for size in SIZES:
        page.set_viewport_size(size)
        found = page.evaluate(SEEN)
        assert found["words"] <= 220 and found["controls"] <= 14, (size, found)


def test_a_phone_shows_the_question_the_call_the_limit_and_the_next_step_at_once(serve, page: Page):
    visit = Visit(serve("bassoonist"), page)
    page.set_viewport_size(SIZES[1])
    visit.server.clock.on(days=4)
    visit.go("/")
    bar = page.locator("nav.letters").bounding_box()
    question = page.locator(".on-waking").bounding_box()
    word = page.locator("#call-word").bounding_box()
    step = page.locator(".call-actions").get_by_role("link").first.bounding_box()
    assert bar and question and word and step
    assert question["y"] < word["y"] < step["y"] and step["y"] + step["height"] <= bar["y"]


@pytest.mark.parametrize("size", SIZES, ids=["desk", "phone"])
def test_the_ten_ways_are_two_touches_from_today_at_most(serve, page: Page, size):
    visit = Visit(serve("bassoonist"), page)
    page.set_viewport_size(size)
    for way, (desk, phone, heading) in WAYS.items():
        touches = (phone or desk) if size["width"] < 700 else desk
        assert len(touches) <= 2, way
        visit.go("/")
        for name in touches:
            named = page.get_by_role("link", name=name, exact=True).or_(page.locator("summary", has_text=name))
            named.or_(page.get_by_role("button", name=name, exact=True)).filter(visible=True).first.click()
        expect(page.get_by_role("heading", name=re.compile(heading)).first).to_be_visible()


def test_a_phone_has_all_pages_behind_one_touch(serve, page: Page):
    visit = Visit(serve("bassoonist"), page)
    page.set_viewport_size(SIZES[1])
    visit.go("/")
    page.locator(".more summary").click()
    sheet, bar = page.locator(".more ul").bounding_box(), page.locator("nav.letters").bounding_box()
    assert sheet and bar and sheet["y"] > 0 and sheet["y"] + sheet["height"] <= bar["y"] + 2
    for name in ("Technique", "Hands & kit", "Record", "Ten minutes to curtain", "Settings", "Help"):
        expect(page.locator(".more").get_by_role("link", name=name, exact=True)).to_be_visible()
    assert_accessible(page)


def test_the_score_begins_at_once_and_says_what_it_shows(serve, page: Page):
    visit = Visit(serve("bassoonist"), page)
    visit.go("/score/")
    picture = page.locator(".score.wide-only svg").first.bounding_box()
    assert picture and picture["y"] <= 122
    assert page.evaluate(SEEN)["controls"] <= 7
