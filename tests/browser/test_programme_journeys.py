"""A player comes back in steps: a step back with its reason, a date above the dose, the end and its review."""

import re
from datetime import time, timedelta

from playwright.sync_api import Page, expect

from chirotend.core.record import Check
from chirotend.formats.csv_log import check_uid
from chirotend.services.account import accounts
from chirotend.services.body.checks import as_usual
from chirotend.services.record import corrections, log
from tests.browser.conftest import Server, assert_accessible


def a_quiet_day(server: Server, minutes: float) -> None:
    """Today is played within its dose with nothing felt; the next morning is asked too."""
    with server.app.extensions["database"].open_db() as db:
        context = accounts.context_of(db, accounts.the_only_account(db), server.clock())
        log.write_session(context, log.TypedSession(context.today, minutes, time(8), 3, "violin"))
        corrections.put(context, Check(check_uid(context.today, "after"), context.today, "after"))
        db.commit()
        server.clock.on(days=1)
        as_usual(accounts.context_of(db, accounts.the_only_account(db), server.clock()))
        db.commit()


def begin(page: Page, server: Server) -> None:
    page.goto(f"{server.url}/plan/")
    page.get_by_role("link", name="Programmes").click()
    page.get_by_role("link", name="Back after time off").click()
    offered = page.locator("#begin")
    offered.get_by_label("I come back from").select_option("illness")
    offered.get_by_label("Minutes a day to start with").fill("0")
    offered.get_by_label("Minutes a day to reach").fill("14")
    offered.get_by_role("button", name="Begin").click()
    expect(page.get_by_role("alert")).to_contain_text("0 minutes is no playing")
    offered.get_by_label("Minutes a day to start with").fill("10")
    offered.get_by_role("button", name="Begin").click()


def test_a_return_steps_back_with_its_reason_and_ends_with_a_review(serve, page: Page):
    server = serve("steady")
    begin(page, server)
    expect(page.get_by_text("Today 10 minutes, the first step.")).to_be_visible()
    page.goto(server.url)
    expect(page.locator(".limit-said")).to_have_text("At most 10 min today. That is what your programme allows.")
    a_quiet_day(server, 10)
    a_quiet_day(server, 10)
    page.goto(f"{server.url}/plan/programmes/")
    expect(page.get_by_text("Today 12 minutes, the second step.")).to_be_visible()
    a_quiet_day(server, 12)
    page.goto(f"{server.url}/body/")
    page.locator('.zone[data-key="thumb_ball.left"]').click()
    page.get_by_role("radio", name="Tightness").check()
    page.get_by_role("radio", name="4", exact=True).check()
    page.get_by_role("checkbox", name="Waking").check()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.locator(".marked li", has_text="left thumb ball")).to_be_visible()
    page.goto(f"{server.url}/plan/programmes/")
    expect(page.get_by_text("Today 10 minutes, the first step.")).to_be_visible()
    expect(page.get_by_text("You woke 4 above your usual: one step back.")).to_be_visible()
    assert_accessible(page)
    for minutes in (10, 10, 12, 12, 14, 14):
        a_quiet_day(server, minutes)
    page.reload()
    expect(page.get_by_text("Its end is here.")).to_be_visible()
    page.get_by_label("What came of it").fill("As before the flu.")
    page.get_by_role("button", name="Write the review and end it").click()
    expect(page.get_by_text("As before the flu.")).to_be_visible()
    expect(page.get_by_text("No programme is running.")).to_be_visible()


def test_a_date_above_the_dose_is_a_clash_with_three_ways_out(serve, page: Page):
    server = serve("steady")
    begin(page, server)
    day = server.clock().date() + timedelta(days=2)
    page.goto(f"{server.url}/plan/engagement?day={day.isoformat()}&title=Octet&kind=performance")
    page.get_by_label("Begins").fill("19:00")
    page.get_by_label("Ends").fill("21:00")
    page.get_by_role("button", name="Save").first.click()
    expect(page).not_to_have_url(re.compile("engagement"))
    page.goto(f"{server.url}/plan/programmes/")
    clash = page.locator(".clash", has_text="Octet")
    expect(clash).to_contain_text("That day’s limit is 12")
    clash.get_by_text("Take it, with a reason").click()
    clash.get_by_role("button", name="Take it").click()
    expect(page.get_by_role("alert")).to_contain_text("Write why you take it")
    page.locator(".clash", has_text="Octet").get_by_role("button", name="Only 12 minutes of it").click()
    expect(page.locator(".clash")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(page.locator(".clash", has_text="Octet")).to_be_visible()
