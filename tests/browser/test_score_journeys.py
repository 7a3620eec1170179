"""A player reads her weeks."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import assert_accessible


def test_a_week_is_read_back_from_the_score_and_offered_on_sunday_evening(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/score/")
    page.get_by_role("link", name="The week, read back").click()
    expect(page.get_by_text("not over yet: read as far as it is lived")).to_be_visible()
    page.get_by_role("link", name="The week before").click()
    expect(page.get_by_text("4 performances: a dense week.").first).to_be_visible()
    expect(page.get_by_role("heading", name="One change")).to_be_visible()
    expect(page.get_by_text("The right neck and shoulder: marked on 2 days this week").first).to_be_visible()
    assert page.locator(".read-lines li").count() <= 10
    page.get_by_text("Where each line comes from").click()
    expect(page.get_by_text("three or more in a week are dense")).to_be_visible()
    assert_accessible(page)
    page.get_by_role("link", name="open it").first.click()
    expect(page.get_by_role("heading", name="Left wrist and thumb")).to_be_visible()
    page.goto(server.url)
    expect(page.get_by_text("The week is over.")).to_have_count(0)
    server.clock.on(days=3, hours=9)
    page.goto(server.url)
    page.get_by_role("link", name="Read it back").click()
    expect(page.get_by_role("heading", name="The week, read back")).to_be_visible()


def test_a_correction_in_the_past_changes_what_would_be_said_and_not_what_was_said(serve, page: Page):
    """The marks of a place are rubbed out of the days behind a sign: today's sign goes, the calls said stay."""
    server = serve("bassoonist")
    page.goto(f"{server.url}/score/2026-11-11")
    said = page.locator("main").get_by_text(re.compile("has been higher than your usual")).first
    expect(said).to_be_visible()
    sentence = said.inner_text()
    for day in range(25, 32 + 12):
        date = f"2026-10-{day:02d}" if day <= 31 else f"2026-11-{day - 31:02d}"
        page.goto(f"{server.url}/body/?day={date}")
        while (out := page.locator(".marked li").filter(has_text=re.compile("left (thumb|wrist)"))).count():
            left = out.count()
            out.first.get_by_role("button", name="Rub out").click()
            page.goto(f"{server.url}/body/?day={date}")
            expect(out).to_have_count(left - 1)
    page.goto(server.url)
    expect(page.get_by_text("left wrist and thumb has been higher")).to_have_count(0)
    page.goto(f"{server.url}/score/2026-11-11")
    expect(page.get_by_text(sentence).first).to_be_visible()
