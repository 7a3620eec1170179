"""A player sets up her hands and kit and uses the bench."""

import re

from playwright.sync_api import Page, expect

from chirotend.services.account import accounts
from tests.browser.conftest import assert_accessible
from tests.browser.steps import Taps


def test_a_new_player_sets_up_hands_one_instrument_and_a_week(serve, page: Page):
    """Under five minutes: 45 touches at most, a few seconds each."""
    server = serve()
    with server.app.extensions["database"].open_db() as db:
        accounts.add_account(
            db,
            server.app.extensions["passwords"],
            "ilse",
            "bars and rests",
            "Ilse Varnholt",
            "Europe/Vienna",
            ["bassoon"],
            server.clock(),
        )
        db.commit()
    page.goto(server.url)
    page.get_by_label("Name").fill("ilse")
    page.get_by_label(re.compile("assword")).fill("bars and rests")
    page.get_by_role("button", name="Sign in").click()
    taps = Taps()
    taps.click(page.get_by_role("link", name="Hands & kit").first)
    taps.click(page.get_by_role("link", name="Measure", exact=True))
    for side, span, gaps in (
        ("left", "198", ((58, 66), (46, 54), (57, 64))),
        ("right", "204", ((60, 69), (49, 57), (61, 69))),
    ):
        taps.fill(page.get_by_label(f"{side} hand, span"), span)
        for name, (ease, most) in zip(("index to middle", "middle to ring", "ring to little"), gaps, strict=True):
            taps.fill(page.get_by_label(f"{side} hand, {name} at ease"), str(ease))
            taps.fill(page.get_by_label(f"{side} hand, {name} at most"), str(most))
    taps.click(page.get_by_role("button", name="Save", exact=True))
    expect(page.get_by_text("Measured 12 November.")).to_be_visible()
    taps.click(page.get_by_role("link", name="Add", exact=True))
    taps.fill(page.get_by_label("Name"), "My bassoon")
    taps.fill(page.get_by_label("Mass"), "3,4 kg")
    taps.click(page.get_by_role("button", name="Save", exact=True))
    expect(page.locator(".kit-list")).to_contain_text("3.40 kg")
    taps.click(page.get_by_role("link", name="Plan").first)
    for title, day in (("Rehearsal", "2026-11-14"), ("Concert", "2026-11-15")):
        taps.click(page.get_by_role("link", name="Add a date"))
        taps.fill(page.get_by_label("What"), title)
        taps.fill(page.get_by_label("Day"), day)
        taps.fill(page.get_by_label("Begins"), "19:00")
        taps.fill(page.get_by_label("Ends"), "22:00")
        taps.click(page.get_by_role("button", name="Save", exact=True))
    for title in ("Low F, softly", "Thirds"):
        expect(page.get_by_text("A new aim")).to_be_visible()  # the page is there: what is looked at next is on it
        if not page.get_by_label("Aim", exact=True).is_visible():
            taps.click(page.get_by_text("A new aim"))
        taps.fill(page.get_by_label("Aim", exact=True), title)
        taps.fill(page.get_by_label("Minutes this week"), "40")
        taps.click(page.get_by_role("button", name="Save", exact=True))
        expect(page.locator(".aims")).to_contain_text(title)
    taps.click(page.get_by_role("button", name="Plan the week"))
    expect(page.locator(".plan-desk .blk.own").first).to_be_visible()
    assert taps.count <= 45, taps.count


def test_the_strap_is_moved_on_the_bench_and_the_drawing_answers(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/kit/")
    expect(page.get_by_role("img", name=re.compile("Bassoon on a seat strap"))).to_be_visible()
    ruler = page.get_by_role("slider", name="Strap hook, from the end")
    ruler.focus()
    for _ in range(4):
        page.keyboard.press("PageUp")  # a ruler is turned by keys too
    expect(page.locator(".remark")).to_contain_text("off the left hand: 17.4 N →")
    expect(page.locator(".force-was")).not_to_have_count(0)
    typed = page.locator("#k-strap")
    typed.fill("9000")
    expect(page.get_by_role("alert")).to_contain_text("Strap hook, from the end: type a number from 0 to 200 mm")
    typed.fill("120")
    expect(page.locator(".remark")).to_contain_text("17.4 N → 13.1 N")
    assert_accessible(page)
    page.get_by_role("button", name="Save how it hangs now").click()
    expect(page.locator(".remark")).to_contain_text("Try next: moving")


def test_reach_holes_and_sticks_follow_what_is_chosen(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/kit/bench/string")
    page.get_by_label("Fingering").select_option("1234")
    expect(page.locator(".numbers")).to_contain_text("1 2 3 4 here")
    page.wait_for_load_state()  # choosing loads the page anew: its scripts must be there before a value is typed
    page.locator("#k-first").fill("9")
    expect(page.locator(".remark")).to_contain_text("1 2 3 4 is comfortable here")
    page.get_by_role("link", name="Reach on holes and keys").click()
    page.wait_for_load_state()
    page.locator("#k-extension").fill("6")
    expect(page.locator(".remark")).to_contain_text("comfortable instead of stretched")
    page.get_by_role("link", name="Sticks and mallets").click()
    page.get_by_label("Stick B").select_option("training")
    expect(page.locator(".numbers")).to_contain_text("B: Training stick")
    expect(page.locator(".remark")).to_contain_text("feels")
