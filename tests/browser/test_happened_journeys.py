"""Something happened: the place is touched on the drawing, and today follows from it."""

from playwright.sync_api import Page, expect

from tests.browser.conftest import assert_accessible


def test_an_operation_is_told_with_four_touches_and_the_day_is_tacet(serve, page: Page):
    server = serve("steady")
    page.goto(server.url)
    page.get_by_role("link", name="Something happened").first.click()
    page.get_by_role("link", name="An operation").click()
    page.wait_for_url("**/happened/operation#door")  # loaded whole: a zone answers once its script has run
    expect(page.locator(".map:visible")).to_have_count(2)
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("Choose one: Yes, so many minutes")).to_be_visible()
    page.get_by_role("button", name="Right hand").click()
    page.locator('.zone[data-key="thumb_ball.right"]').press("Enter")
    expect(page.get_by_text("Chosen: right thumb ball")).to_be_visible()
    page.get_by_role("radio", name="Not yet").check()
    expect(page.get_by_text("the call stays at Tacet")).to_be_visible()
    expect(page.get_by_text("Yes, without a limit.")).to_be_hidden()
    assert_accessible(page)
    page.get_by_label("When was it?").fill("")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("Chosen: right thumb ball")).to_be_visible()
    expect(page.get_by_role("button", name="Right hand")).to_have_attribute("aria-pressed", "true")
    page.get_by_label("When was it?").fill("2026-11-10")
    page.get_by_role("button", name="Save").click()
    page.goto(server.url)
    expect(page.get_by_text("Why Tacet")).to_be_visible()


def test_on_a_phone_the_sheet_of_a_door_is_what_is_seen_first(serve, page: Page):
    server = serve("steady")
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{server.url}/happened/")
    page.get_by_role("link", name="A fall or a knock").click()
    expect(page.get_by_role("heading", name="A fall or a knock")).to_be_in_viewport()
    expect(page.locator(".map-hand-left-palm")).to_be_in_viewport()
