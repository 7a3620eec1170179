"""A player brings a part, lays its heaviest bars into the week, and plays one on the stand."""

from playwright.sync_api import Page, expect

from tests.browser.conftest import assert_accessible
from tests.parts import score, simple


def test_a_part_is_brought_its_heaviest_bars_laid_and_played_on_the_stand(serve, page: Page):
    server = serve("steady")
    page.goto(f"{server.url}/plan/")
    page.get_by_role("link", name="Parts").click()
    file = page.get_by_label("MusicXML")
    file.set_input_files({"name": "x.mxl", "mimeType": "application/zip", "buffer": b"PK\x03\x04 cut off"})
    page.get_by_role("button", name="Read the part").click()
    expect(page.get_by_role("alert")).to_contain_text("damaged zip")
    part = score(simple(16, range(4, 7), "Violin"), title="Serenade")
    file.set_input_files({"name": "serenade.musicxml", "mimeType": "text/xml", "buffer": part})
    page.get_by_label("For", exact=True).select_option("violin")
    page.get_by_role("button", name="Read the part").click()
    expect(page.get_by_role("heading", name="Serenade")).to_be_visible()
    expect(page.get_by_text("6.4 notes a second").first).to_be_visible()
    assert_accessible(page)
    page.get_by_role("button", name="Make them aims of this week").click()
    expect(page.locator(".aims").get_by_text("Serenade").first).to_be_visible()
    page.get_by_role("button", name="Plan the week").click()
    expect(page.locator(".plan-desk .blk.own").first).to_be_visible()
    page.goto(f"{server.url}/play/")
    page.get_by_role("button", name="Play what is planned for today").click()
    expect(page.locator(".stand")).to_contain_text("Serenade")
