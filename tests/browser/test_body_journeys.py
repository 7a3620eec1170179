"""A player marks her body."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import assert_accessible
from tests.browser.steps import call


def test_a_phone_shows_one_hand_at_a_time_with_zones_a_finger_can_meet(serve, page: Page):
    server = serve("steady")
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{server.url}/body/")
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
    page.get_by_role("button", name="Write it in").click()
    page.get_by_role("link", name="Today").first.click()
    expect(call(page)).to_have_text(re.compile(r"Muted\s+pp"))
    expect(page.get_by_text("Book someone within two weeks.")).to_be_visible()
    page.goto(f"{server.url}/body/")
    page.locator(".marked li").filter(has_text="right thumb base joint").get_by_role("button", name="Rub out").click()
    expect(page.locator(".marked li").filter(has_text="right thumb base joint")).to_have_count(0)
    page.get_by_role("link", name="Today").first.click()
    expect(call(page)).to_have_text("Open")


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
