"""The card before the curtain, with and without a network."""

import re

from playwright.sync_api import Page, expect

from chirotend.services.account import accounts
from tests.browser.conftest import assert_accessible
from tests.browser.steps import kept_for_no_network, wait_until, wait_until_all_is_sent
from tests.conftest import add_player


def answer_the_card(page: Page, problem: str, place: str, side: str, still: str = "no") -> None:
    page.get_by_text("None of these").click()
    page.get_by_text(problem, exact=True).click()
    card = page.locator(".problem[open]")
    card.get_by_role("radio", name=place, exact=True).check()
    card.get_by_role("radio", name=side).check()
    card.get_by_role("radio", name="clearly").check()
    card.get_by_role("radio", name=still, exact=True).check()


def test_the_curtain_card_asks_where_and_how_long_and_ends_in_play(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/curtain/")
    page.wait_for_load_state()
    expect(page.get_by_text("What you can do tonight").first).to_be_hidden()
    answer_the_card(page, "Thumb hurts", "thumb base joint", "left")
    card = page.locator(".problem[open]")
    card.get_by_role("checkbox", name="Hang it on your harness, borrowed.").check()
    assert_accessible(page)
    card.get_by_role("button", name="Save, and play with that").click()
    expect(page.get_by_role("heading", name="Saved")).to_be_visible()
    expect(page.get_by_text("Numb, weak, or stronger than 5 of 10: hand over")).to_be_visible()
    assert_accessible(page)
    page.goto(f"{server.url}/score/2026-11-12")
    expect(page.get_by_text("Before the curtain: left thumb base joint, thumb hurts, clearly, gone")).to_be_visible()


def test_the_curtain_card_ends_in_a_hand_over_when_it_stays_numb(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/curtain/")
    page.wait_for_load_state()
    answer_the_card(page, "Numb or tingling", "index finger tip, pad side", "left", "yes")
    card = page.locator(".problem[open]")
    expect(card.get_by_role("button", name="Play with that")).to_be_hidden()
    expect(card.get_by_role("checkbox").first).to_be_hidden()
    card.get_by_role("button", name="Save, and hand it over").click()
    expect(page.get_by_role("heading", name="Give the part to a colleague tonight.")).to_be_visible()
    assert_accessible(page)
    page.goto(f"{server.url}/warm-up")
    expect(page.get_by_role("heading", name="Hand it over")).to_be_visible()
    assert_accessible(page)


def open_the_card(server, page: Page) -> None:
    """Open the card from Today, once the browser can keep it."""
    page.goto(server.url)
    page.evaluate("() => navigator.serviceWorker.ready.then(() => true)")
    page.reload()
    page.get_by_role("link", name="Ten minutes to curtain").click()


def test_a_yes_on_the_card_opens_the_urgent_page_also_without_a_network(serve, page: Page):
    server = serve("bassoonist")
    open_the_card(server, page)
    page.get_by_role("button", name=re.compile("Yes: dropping")).wait_for()
    page.context.set_offline(True)
    page.get_by_role("button", name=re.compile("Yes: pain or pressure in the chest")).click()
    expect(page.get_by_role("heading", name="Put it down.")).to_be_visible()
    page.context.set_offline(False)
    page.goto(server.url)  # what was kept is sent as soon as any page is open with a link
    expect(page.get_by_text("You wrote: pain or pressure in the chest").first).to_be_visible()
    page.goto(f"{server.url}/urgent")
    page.get_by_role("button", name="I ticked this by mistake").click()
    page.goto(f"{server.url}/curtain/")
    wait_until_all_is_sent(page)
    page.reload()
    expect(page.get_by_role("heading", name="Ten minutes to curtain")).to_be_visible()  # it does not come back


def test_the_card_works_without_a_network_and_says_written_in_only_when_it_is(serve, page: Page):
    server = serve("bassoonist")
    open_the_card(server, page)
    wait_until(lambda: kept_for_no_network(page, "/curtain/"))
    page.context.set_offline(True)
    page.reload()
    answer_the_card(page, "Thumb hurts", "thumb base joint", "left")
    page.locator(".problem[open]").get_by_role("button", name="Save, and play with that").click()
    expect(page.get_by_text("No link: kept on this device")).to_be_visible()
    # the session ends in another tab before the link is back
    with server.app.extensions["database"].open_db() as db:
        accounts.sign_out_everywhere(db, accounts.the_only_account(db))
        db.commit()
    server.app.config["DEMO"] = False
    page.context.set_offline(False)
    expect(page.get_by_text("Kept on this device: sign in")).to_be_visible()
    assert page.get_by_text("Saved.", exact=True).count() == 0
    server.app.config["DEMO"] = True
    page.goto(f"{server.url}/curtain/")
    expect(page.get_by_text("Saved.", exact=True)).to_be_visible()
    page.goto(f"{server.url}/score/2026-11-12")
    expect(page.get_by_text("Before the curtain: left thumb base joint, thumb hurts")).to_be_visible()


def test_what_one_player_left_on_a_device_is_never_sent_by_another(serve, page: Page):
    server = serve("bassoonist")
    add_player(server.app, "jonas")
    page.goto(f"{server.url}/curtain/")
    page.context.set_offline(True)
    answer_the_card(page, "Thumb hurts", "thumb base joint", "left")
    page.locator(".problem[open]").get_by_role("button", name="Save, and play with that").click()
    expect(page.get_by_text("No link: kept on this device")).to_be_visible()
    # signed out before the link is back: else it is sent by its own player, at once and rightly
    server.app.config["DEMO"] = False
    page.context.clear_cookies()
    page.context.set_offline(False)
    page.goto(f"{server.url}/sign-in?next=/curtain/")
    page.get_by_label("Name").fill("jonas")
    page.get_by_label("Password").fill("bars and rests")
    page.get_by_role("button", name="Sign in").click()
    page.wait_for_load_state("networkidle")
    assert page.request.get(f"{server.url}/record/export.json").json()["checks"] == []
    assert page.evaluate("() => localStorage.length") == 1, "it waits for its own player"
