"""A player reads her weeks."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import assert_accessible


def test_a_week_is_read_back_from_the_score_and_offered_on_sunday_evening(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/score/")
    expect(page.get_by_role("heading", name=re.compile("Left wrist and thumb: above your usual since"))).to_be_visible()
    page.get_by_text("View", exact=True).click()
    page.get_by_role("link", name="The week, read back").click()
    expect(page.get_by_text("The week so far.")).to_be_visible()
    page.get_by_role("link", name="The week before").click()
    expect(page.get_by_text("4 performances: a dense week.").first).to_be_visible()
    expect(page.get_by_role("heading", name="One change")).to_be_visible()
    expect(page.get_by_text("You marked your right neck and shoulder on one day this week").first).to_be_visible()
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
    page.get_by_text("Add to today").click()
    page.get_by_role("link", name="Read it back").click()
    expect(page.get_by_role("heading", name="The week, read back")).to_be_visible()


def test_a_correction_in_the_past_changes_what_would_be_said_and_not_what_was_said(serve, page: Page):
    """The marks of a place are rubbed out of the days behind a sign: today's sign goes, the calls said stay."""
    server = serve("bassoonist")
    page.goto(f"{server.url}/score/2026-11-11")
    said = page.locator("main").get_by_text(re.compile("have been above your usual")).first
    expect(said).to_be_visible()
    sentence = said.inner_text()
    for day in range(25, 32 + 12):
        date = f"2026-10-{day:02d}" if day <= 31 else f"2026-11-{day - 31:02d}"
        page.goto(f"{server.url}/body/?day={date}")
        while (out := page.locator(".marked li").filter(has_text=re.compile("left (thumb|wrist)"))).count():
            left = out.count()
            out.first.get_by_role("button", name="Delete").click()
            page.goto(f"{server.url}/body/?day={date}")
            expect(out).to_have_count(left - 1)
    page.goto(server.url)
    expect(page.get_by_text("left wrist and thumb have been above")).to_have_count(0)
    page.goto(f"{server.url}/score/2026-11-11")
    expect(page.get_by_text(sentence).first).to_be_visible()


def test_what_is_shown_is_chosen_and_two_spans_are_laid_side_by_side(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/score/")
    page.get_by_text("View", exact=True).click()
    page.get_by_label("Place", exact=True).select_option("wrist & thumb")
    page.get_by_label("Instrument", exact=True).select_option("contrabassoon")
    page.get_by_role("button", name="Show").click()
    expect(page.get_by_text("Only symptoms of one place and the load of one instrument")).to_be_visible()
    spoken = page.locator(".score.wide-only .bar").evaluate_all("bars => bars.map(b => b.ariaLabel).join(' ')")
    assert "wrist" in spoken and "neck" not in spoken
    page.get_by_role("link", name="Earlier").click()
    page.get_by_text("View", exact=True).click()
    expect(page.get_by_label("Place", exact=True)).to_have_value("wrist & thumb")
    page.locator("summary", has_text="6 weeks").click()
    page.get_by_role("link", name="5 years").click()
    expect(page.get_by_role("heading", name="Two spans, side by side")).to_be_visible()
    page.get_by_text("Choose other spans").click()
    page.get_by_label("The first, from").fill("2026-07-01")
    page.get_by_label("to", exact=True).first.fill("2026-06-01")
    page.get_by_role("button", name="Show them").click()
    expect(page.get_by_text("ends after it begins")).to_be_visible()
    page.get_by_label("to", exact=True).first.fill("2026-07-31")
    page.get_by_role("button", name="Show them").click()
    expect(page.get_by_text("Wed 1 Jul 2026 to Fri 31 Jul 2026")).to_be_visible()
    expect(page.locator(".pair").filter(has_text="performances a week").get_by_role("img")).to_have_accessible_name(
        "performances a week: 0.0, then 3.6"
    )
    with page.expect_download() as taken:
        page.get_by_text("Take away").click()
        page.get_by_role("link", name="A page, as PDF").click()
    assert taken.value.suggested_filename == "score.pdf"
    page.locator("a.quarter").last.click()
    expect(page.get_by_role("heading", name="Score")).to_be_visible()


def test_both_hands_have_their_load_and_rules_for_other_work_say_what_they_are(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/score/")
    page.get_by_text("View", exact=True).click()
    page.get_by_role("link", name="Load, both hands").click()
    more = re.compile("These places had more to do than in your usual weeks: .*wrist and thumb")
    expect(page.get_by_text(more).first).to_be_visible()
    page.get_by_text("Read as a table").click()
    expect(page.get_by_role("row", name=re.compile("left wrist and thumb"))).to_be_visible()
    page.get_by_role("link", name="Rules made for other work").click()
    expect(page.get_by_text("have not been tested on people playing instruments")).to_be_visible()
    hand = page.locator("#hand_activity")
    hand.get_by_label("Exertions of the hand").fill("8")
    hand.get_by_role("button").click()
    expect(hand.get_by_role("status")).to_contain_text("Faster than the rule was made for")
    hand.get_by_label("Time the hand works").fill("all of it")
    hand.get_by_role("button").click()
    expect(hand.get_by_role("alert")).to_contain_text("type a number from 0.1 to 100 % of the time")
    assert hand.get_by_label("Exertions of the hand").input_value() == "8"
