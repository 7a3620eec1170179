"""A player marks her body."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import assert_accessible
from tests.browser.steps import call, kept_for_no_network, wait_until


def test_a_phone_shows_one_hand_at_a_time_with_zones_a_finger_can_meet(serve, page: Page):
    server = serve("steady")
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{server.url}/body/")
    page.get_by_role("button", name="Left", exact=True).click()
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
    page.get_by_role("button", name="Save", exact=True).click()
    page.get_by_role("link", name="Today").first.click()
    expect(call(page)).to_have_text(re.compile(r"Muted\s+pp"))
    expect(page.get_by_role("heading", name="See a doctor or hand therapist")).to_be_visible()
    page.goto(f"{server.url}/body/")
    page.locator(".marked li").filter(has_text="right thumb base joint").get_by_role("button", name="Delete").click()
    expect(page.locator(".marked li").filter(has_text="right thumb base joint")).to_have_count(0)
    page.get_by_role("link", name="Today").first.click()
    expect(call(page)).to_have_text("Open")


def test_three_fingers_are_told_as_an_area_and_a_spread_is_painted(serve, page: Page):
    server = serve("steady")
    page.goto(f"{server.url}/body/")
    page.get_by_role("button", name="Hands", exact=True).click()
    first = page.locator('.zone[data-key="index_tip_palm.left"]').bounding_box()
    page.mouse.move(first["x"] + first["width"] / 2, first["y"] + first["height"] / 2)
    page.mouse.down()
    for box in page.locator('.zone[data-key^="index_"][data-key$="_palm.left"]').all():
        inside = box.bounding_box()
        page.mouse.move(inside["x"] + inside["width"] / 2, inside["y"] + inside["height"] / 2, steps=3)
    page.mouse.up()
    expect(page.locator("#tell-title")).to_contain_text("left index finger middle segment")
    page.reload()
    page.get_by_role("button", name="Hands", exact=True).click()
    for zone in ("thumb_tip_palm.left", "index_tip_palm.left", "middle_tip_palm.left"):
        page.locator(f'.zone[data-key="{zone}"]').click()
    page.get_by_role("radio", name="Tingling").check()
    page.get_by_role("radio", name="3", exact=True).check()
    page.get_by_role("checkbox", name="Night, woke me").check()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("the usual area of the median nerve").first).to_be_visible()
    expect(page.get_by_text("Could also be").first).to_be_visible()
    assert_accessible(page)


def test_a_known_complaint_is_left_unsaid_until_something_is_above_it_or_its_review_is_due(serve, page: Page):
    server = serve("steady")

    def tingles(strength: str) -> None:
        page.goto(f"{server.url}/body/")
        page.get_by_role("button", name="Hands", exact=True).click()
        page.locator('.zone[data-key="index_tip_palm.left"]').first.click()
        page.get_by_role("radio", name="Tingling").check()
        page.get_by_role("radio", name=strength, exact=True).check()
        page.locator("input[name=timings][value=after]").check()
        page.get_by_role("radio", name="gone within 10 minutes").check()
        page.get_by_role("button", name="Save", exact=True).click()
        page.goto(server.url)

    tingles("2")
    expect(call(page)).to_have_text(re.compile(r"Muted\s+mp"))
    page.goto(f"{server.url}/body/known")
    assert_accessible(page)
    page.get_by_label("what it is").select_option(label="tingling, left fingers")
    page.get_by_label("its usual strength").fill("6")
    page.get_by_label("a clinician saw it on").fill("2026-11-09")
    page.get_by_label("review with one by").fill("2026-11-26")
    page.get_by_role("button", name="A clinician has seen this").click()
    expect(page.get_by_role("alert")).to_contain_text("from 1 to 4")
    expect(page.get_by_label("a clinician saw it on")).to_have_value("2026-11-09")
    page.get_by_label("its usual strength").fill("2")
    page.get_by_role("button", name="A clinician has seen this").click()
    expect(page.get_by_text("Not spoken of until the review on Thu 26 Nov")).to_be_visible()
    page.goto(server.url)
    expect(call(page)).to_have_text("Open")
    page.get_by_text("Add to today").click()
    expect(page.get_by_text("Known and stable: tingling, left fingers up to 2")).to_be_visible()
    assert_accessible(page)
    tingles("3")
    expect(call(page)).to_have_text(re.compile(r"Muted\s+mp"))
    server.clock.on(days=14)
    page.goto(server.url)
    page.get_by_text("Add to today").click()
    expect(page.get_by_text("its review was due on Thu 26 Nov")).to_be_visible()
    page.get_by_role("link", name="Was it seen again, or has it ended?").click()
    page.get_by_role("button", name="It has ended or changed").click()
    expect(page.get_by_text("up to 2")).to_have_count(0)


def test_the_morning_and_a_mark_are_kept_without_a_network_and_sent_later(serve, page: Page):
    server = serve("steady")
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(server.url)
    page.evaluate("() => navigator.serviceWorker.ready.then(() => true)")
    page.reload()
    wait_until(lambda: kept_for_no_network(page, "/away/"))
    page.context.set_offline(True)
    page.goto(server.url)
    expect(page.get_by_role("heading", name="Without a network")).to_be_visible()
    assert_accessible(page)
    page.get_by_role("radio", name="cold", exact=True).check()
    page.get_by_role("button", name="As usual, nothing there").click()
    expect(page.get_by_text("No link: kept on this device")).to_be_visible()
    page.get_by_label("Where").select_option("thumb_ball")
    for name in ("left", "tightness", "2", "after"):
        page.get_by_role("radio", name=name, exact=True).or_(
            page.get_by_role("checkbox", name=name, exact=True)
        ).check()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("No link: kept on this device")).to_be_visible()
    page.context.set_offline(False)
    page.goto(server.url)
    expect(page.get_by_text("Your hands are cold.").first).to_be_visible()
    page.goto(f"{server.url}/body/")
    expect(page.locator(".marked li")).to_contain_text("left thumb ball")


def test_it_can_be_put_on_a_phone_s_home_screen(serve, page: Page):
    server = serve("steady")
    page.goto(server.url)
    manifest = page.request.get(page.locator("link[rel=manifest]").evaluate("(link) => link.href")).json()
    assert (manifest["display"], manifest["start_url"]) == ("standalone", "/")
    for icon in manifest["icons"]:
        answer = page.request.get(server.url + icon["src"])
        assert answer.ok and answer.headers["content-type"].startswith(icon["type"])
