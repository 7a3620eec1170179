"""While playing and after, in a real browser: the planned stand by pedal, a bad day's wrap-up, a pattern, the card."""

import re

from playwright.sync_api import Page, expect

from chirotend.services import accounts
from tests.browser.conftest import assert_accessible
from tests.conftest import add_player


def test_a_planned_session_with_rests_by_the_pedal_alone(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/plan/?week=2026-11-09")
    page.get_by_role("button", name="Lay the week").click()
    expect(page.locator(".plan-desk .blk.own").first).to_be_visible()
    page.goto(f"{server.url}/warm-up")
    page.get_by_role("button", name="Start it on the stand").click()
    title = page.locator(".stand-title")
    seen = [title.inner_text()]
    page.wait_for_load_state()
    for _ in range(24):
        page.keyboard.press("PageDown")
        expect(title).not_to_have_text(seen[-1])
        seen.append(title.inner_text())
        if page.locator(".resting").count():
            break
    assert page.locator(".resting").count() and len(seen) > 5
    assert_accessible(page)
    page.wait_for_timeout(1800)
    page.keyboard.press("PageDown")
    expect(page.locator(".resting")).to_have_count(0)
    page.keyboard.press("PageUp")
    expect(page.get_by_text("paused")).to_be_visible()
    page.keyboard.press("PageUp")
    expect(page.get_by_text("paused")).to_have_count(0)


def test_a_bad_day_is_written_in_with_twelve_touches(serve, page: Page):
    server = serve("steady")
    page.goto(f"{server.url}/play/")
    page.get_by_role("radio", name="Technique").check()
    page.get_by_role("button", name="Start").click()
    for place in ("Thumb", "Forearm"):
        page.get_by_role("button", name=place).click()
    server.clock.on(minutes=30)
    page.reload()
    page.get_by_role("button", name="Stop").click()
    taps = 0
    for touch in (
        page.get_by_role("radio", name="8", exact=True),
        page.get_by_role("radio", name="Tingling"),
        page.get_by_role("radio", name="left", exact=True).first,
        page.get_by_role("radio", name="right", exact=True).last,
    ):
        touch.check()
        taps += 1
    for strength in page.get_by_label("strength").all():
        strength.select_option("4")
        taps += 1
    page.get_by_role("button", name="Write it in").click()
    page.locator('.zone[data-key="index_tip_palm.left"]').click()
    page.get_by_role("radio", name="3", exact=True).check()
    page.get_by_role("radio", name="gone within 10 minutes").check()
    page.get_by_role("button", name="Write it in").click()
    taps += 5
    expect(page.locator(".marked")).to_contain_text("left index finger tip")
    assert taps <= 12, taps


def test_three_fingers_are_told_as_an_area_and_a_spread_is_painted(serve, page: Page):
    server = serve("steady")
    page.goto(f"{server.url}/body/")
    first = page.locator('.zone[data-key="index_tip_palm.left"]').bounding_box()
    page.mouse.move(first["x"] + first["width"] / 2, first["y"] + first["height"] / 2)
    page.mouse.down()
    for box in page.locator('.zone[data-key^="index_"][data-key$="_palm.left"]').all():
        inside = box.bounding_box()
        page.mouse.move(inside["x"] + inside["width"] / 2, inside["y"] + inside["height"] / 2, steps=3)
    page.mouse.up()
    expect(page.locator("#tell-title")).to_contain_text("left index finger middle segment")
    page.reload()
    for zone in ("thumb_tip_palm.left", "index_tip_palm.left", "middle_tip_palm.left"):
        page.locator(f'.zone[data-key="{zone}"]').click()
    page.get_by_role("radio", name="Tingling").check()
    page.get_by_role("radio", name="3", exact=True).check()
    page.get_by_role("checkbox", name="Night, woke me").check()
    page.get_by_role("button", name="Write it in").click()
    expect(page.get_by_text("the usual area of the median nerve").first).to_be_visible()
    expect(page.get_by_text("Could also be").first).to_be_visible()
    assert_accessible(page)


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
    card.get_by_role("button", name="Play with that, write it in").click()
    expect(page.get_by_role("heading", name="Written in")).to_be_visible()
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
    card.get_by_role("button", name="I hand it over, write it in").click()
    expect(page.get_by_role("heading", name="Give the part to a colleague tonight.")).to_be_visible()
    assert_accessible(page)
    page.goto(f"{server.url}/warm-up")
    expect(page.get_by_role("heading", name="Hand it over")).to_be_visible()
    assert_accessible(page)


def test_a_yes_on_the_card_opens_the_urgent_page_also_without_a_network(serve, page: Page):
    server = serve("bassoonist")
    page.goto(server.url)
    page.evaluate("() => navigator.serviceWorker.ready.then(() => true)")
    page.reload()
    page.get_by_role("link", name="Ten minutes to curtain").click()
    page.get_by_role("button", name=re.compile("Yes: dropping")).wait_for()
    page.context.set_offline(True)
    page.get_by_role("button", name=re.compile("Yes: pain or pressure in the chest")).click()
    expect(page.get_by_role("heading", name="Put it down.")).to_be_visible()
    page.context.set_offline(False)
    page.goto(f"{server.url}/curtain/")  # what was kept is written in as soon as the card is open with a link
    page.wait_for_timeout(1000)
    page.goto(f"{server.url}/urgent")
    expect(page.get_by_text("pain or pressure in the chest").first).to_be_visible()
    page.get_by_role("button", name="I ticked this by mistake").click()
    page.goto(f"{server.url}/curtain/")
    page.wait_for_load_state("networkidle")
    expect(page.get_by_role("heading", name="Ten minutes to curtain")).to_be_visible()  # it is not sent a second time
    assert page.evaluate("() => localStorage.length") == 0


def test_the_card_works_without_a_network_and_says_written_in_only_when_it_is(serve, page: Page):
    server = serve("bassoonist")
    page.goto(server.url)
    page.evaluate("() => navigator.serviceWorker.ready.then(() => true)")
    page.reload()
    page.get_by_role("link", name="Ten minutes to curtain").click()
    page.wait_for_load_state("networkidle")
    page.context.set_offline(True)
    page.reload()
    answer_the_card(page, "Thumb hurts", "thumb base joint", "left")
    page.locator(".problem[open]").get_by_role("button", name="Play with that, write it in").click()
    expect(page.get_by_text("No link: kept on this device")).to_be_visible()
    # the session ends in another tab before the link is back
    with server.app.extensions["database"].open_db() as db:
        accounts.sign_out_everywhere(db, accounts.the_only_account(db))
        db.commit()
    server.app.config["DEMO"] = False
    page.context.set_offline(False)
    expect(page.get_by_text("Kept on this device: sign in")).to_be_visible()
    assert page.get_by_text("Written in.", exact=True).count() == 0
    server.app.config["DEMO"] = True
    page.goto(server.url)
    page.goto(f"{server.url}/curtain/")
    expect(page.get_by_text("Written in.", exact=True)).to_be_visible()
    page.goto(f"{server.url}/score/2026-11-12")
    expect(page.get_by_text("Before the curtain: left thumb base joint, thumb hurts")).to_be_visible()


def test_what_one_player_left_on_a_device_is_never_sent_by_another(serve, page: Page):
    server = serve("bassoonist")
    add_player(server.app, "jonas")
    page.goto(f"{server.url}/curtain/")
    page.wait_for_load_state("networkidle")
    page.context.set_offline(True)
    answer_the_card(page, "Thumb hurts", "thumb base joint", "left")
    page.locator(".problem[open]").get_by_role("button", name="Play with that, write it in").click()
    expect(page.get_by_text("No link: kept on this device")).to_be_visible()
    page.context.set_offline(False)
    server.app.config["DEMO"] = False
    page.context.clear_cookies()
    page.goto(f"{server.url}/sign-in?next=/curtain/")
    page.get_by_label("Name").fill("jonas")
    page.get_by_label("Password").fill("bars and rests")
    page.get_by_role("button", name="Sign in").click()
    page.wait_for_load_state("networkidle")
    assert page.request.get(f"{server.url}/record/export.json").json()["checks"] == []
    assert page.evaluate("() => localStorage.length") == 1, "it waits for its own player"


def test_a_stand_whose_session_ended_keeps_its_touches_and_sends_them_after_the_sign_in(serve, page: Page):
    server = serve("steady")
    page.goto(f"{server.url}/play/")
    page.get_by_role("radio", name="Technique").check()
    page.get_by_role("button", name="Start").click()
    expect(page.locator(".stand-title")).to_be_visible()
    page.wait_for_load_state()
    with server.app.extensions["database"].open_db() as db:
        accounts.sign_out_everywhere(db, accounts.the_only_account(db))
        db.commit()
    server.app.config["DEMO"] = False
    page.get_by_role("button", name="Thumb").click()
    page.get_by_role("button", name="Forearm").click()
    expect(page.locator("#unsent")).to_have_text("signed out: 2 kept on this device")
    server.app.config["DEMO"] = True
    second = page.context.new_page()  # signing in on another page gives this browser a session, and a new token
    second.goto(server.url)
    second.goto(f"{server.url}/play/")
    second.wait_for_load_state("networkidle")
    second.get_by_role("button", name="Wrist").click()
    expect(second.get_by_text("marked 1×")).to_have_count(3)
    page.get_by_role("button", name="Shoulder").click()
    expect(page.get_by_text("marked 1×")).to_have_count(4)
    expect(page.locator("#unsent")).to_have_text("")
    devices = page.request.get(f"{server.url}/record/export.json").json()["events"]
    assert len({e["device"] for e in devices if e["kind"] == "mark"}) == 2


def test_a_refused_microphone_is_said_and_an_allowed_one_records(serve, page: Page):
    server = serve("steady")
    page.goto(f"{server.url}/play/takes")
    page.get_by_role("button", name="Record 5 minutes").click()
    expect(page.locator("#take-say")).to_contain_text("Nothing was recorded.")
    page.context.grant_permissions(["microphone"], origin=server.url)
    page.get_by_label("What you play").fill("Low F, slowly")
    page.get_by_role("button", name="Record 5 minutes").click()
    expect(page.get_by_role("timer", name="left of this take")).to_contain_text("4:5")
    page.get_by_role("button", name="Stop").click()
    expect(page.get_by_role("button", name="Keep it in the archive")).to_be_visible()
    page.get_by_role("button", name="Keep it in the archive").click()
    expect(page.locator(".takes")).to_contain_text("kept")
    assert_accessible(page)
