"""A player tries one change: to "it helped" and keeps it, and to "still going on"."""

import re
from datetime import time

from playwright.sync_api import Page, expect

from chirotend.services.account import accounts
from chirotend.services.body.checks import as_usual
from chirotend.services.record import log
from chirotend.services.trial import trials
from tests.browser.conftest import Server, assert_accessible


def days_lived(server: Server, efforts: dict[str, float], days: int) -> None:
    """Live `days` of the trial: the usual length each day, as hard as its letter has it, two days alike in turn."""
    with server.app.extensions["database"].open_db() as db:
        for n in range(days):
            server.clock.on(days=1)
            context = accounts.context_of(db, accounts.the_only_account(db), server.clock())
            letter = trials.all_trials(context)[0].letter(context.today)
            as_usual(context)
            if letter:
                effort = efforts[letter] + n // 2 % 2 / 2
                log.write_session(context, log.TypedSession(context.today, 100, time(8), effort, "violin"))
        db.commit()


def begin(page: Page, server: Server, order: str, days: str) -> None:
    page.goto(f"{server.url}/score/")
    page.get_by_text("View", exact=True).click()
    page.get_by_role("link", name="Did it help?").click()
    page.get_by_text("What each order of the days can show").click()
    shown = page.get_by_role("img", name=re.compile("In pairs, drawn by lot: finds a change as large .*, 80,")).first
    expect(shown).to_be_visible()
    page.get_by_label("The one change").fill("the thumb rest")
    page.get_by_label("What kind of change").select_option("rest")
    page.get_by_label("Measured by").select_option("effort||||")
    page.get_by_label("Order of the days").select_option(order)
    page.get_by_label("Days in all").fill(days)
    page.get_by_label("At least so many of each").fill("3")
    page.get_by_role("button", name="See what it can show").click()
    expect(page.locator("#looked")).to_contain_text("of your own last 42 days")
    assert_accessible(page)
    page.get_by_role("button", name="Draw the lot, begin tomorrow").click()
    expect(page.get_by_text(re.compile("Still going on. The answer stands once .* is over."))).to_be_visible()


def test_a_change_that_helped_is_found_and_kept(serve, page: Page):
    server = serve("steady")
    begin(page, server, "pairs", "20")
    days_lived(server, {"A": 4, "B": 2}, 21)
    page.reload(wait_until="networkidle")  # after two weeks the demo signs in anew, with all that the page loads
    page.reload()
    expect(page.get_by_text("Better with it, as far as 20 days can tell.")).to_be_visible()
    expect(page.locator(".trial-share")).to_contain_text("100 in 100")
    assert_accessible(page)
    page.get_by_role("button", name="Keep the change").click()
    expect(page.get_by_text("You kept it.")).to_be_visible()


def test_a_trial_that_goes_on_says_when_its_answer_stands(serve, page: Page):
    server = serve("steady")
    begin(page, server, "turn", "12")
    page.goto(server.url)
    days_lived(server, {"A": 3, "B": 3}, 9)
    page.goto(server.url)
    page.get_by_text("Add to today").click()
    expect(page.get_by_text("Trial, day 9 of 12")).to_be_visible()
    page.get_by_role("link", name="How it goes").click()
    page.get_by_role("link", name="Did the thumb rest help?").click()
    expect(page.locator(".trial-answer")).to_contain_text("Still going on")
    expect(page.get_by_text("Nothing was drawn by lot, so only the pairs speak.")).to_be_visible()
    page.get_by_role("button", name="Ten more days, to be surer").click()
    expect(page.get_by_text("Changed.")).to_be_visible()
