"""A player makes a page for a clinician, shows it on a second screen by a code, and takes it back."""

import re

from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import assert_accessible


def test_a_page_is_made_shown_by_code_on_a_second_browser_and_taken_back(serve, browser: Browser, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/record/")
    page.get_by_role("link", name="One page for someone").click()
    page.get_by_label("Why I come").fill("My left thumb has woken tight since October.")
    page.get_by_label("Question 1").fill("May I play the contra nights?")
    page.get_by_role("button", name="Make the page").click()
    expect(page.get_by_text("My left thumb has woken tight since October.")).to_be_visible()
    expect(page.locator(".report")).to_contain_text("not a medical record")
    assert_accessible(page)
    page.get_by_role("button", name="Show it on another screen").click()
    code = page.locator(".share-code").inner_text()
    server.app.config["DEMO"] = False  # nobody else is signed in by itself
    other = browser.new_context().new_page()
    other.goto(f"{server.url}/shown")
    other.get_by_label("Code").fill("1111 1111")
    other.get_by_role("button", name="Open it").click()
    expect(other.get_by_role("alert")).to_contain_text("No page opens with this code now")
    other.get_by_label("Code").fill(code)
    other.get_by_role("button", name="Open it").click()
    expect(other.get_by_text("May I play the contra nights?")).to_be_visible()
    expect(other.locator("nav")).to_have_count(0)
    assert_accessible(other)
    server.app.config["DEMO"] = True
    page.goto(page.url.removesuffix("/show"))
    expect(page.get_by_text(re.compile("Looked at 1 time"))).to_be_visible()
    page.get_by_role("button", name="Stop sharing").click()
    expect(page.get_by_text("Taken back.")).to_be_visible()
    other.goto(f"{server.url}/shown")
    other.get_by_label("Code").fill(code)
    other.get_by_role("button", name="Open it").click()
    expect(other.get_by_role("alert")).to_contain_text("No page opens with this code now")
    other.context.close()
