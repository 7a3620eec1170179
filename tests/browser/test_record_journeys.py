"""A player writes in, mends, brings and takes along her record."""

from pathlib import Path

from playwright.sync_api import Page, expect

from tests.browser.conftest import assert_accessible
from tests.browser.steps import MUTED, call


def test_a_session_is_written_mended_deleted_and_brought_back(serve, page: Page):
    server = serve("steady")
    page.goto(f"{server.url}/record/session/new")
    assert_accessible(page)
    page.get_by_label("or minutes").fill("27 hours")
    page.get_by_role("radio", name="4", exact=True).check()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("type a number from 1 to 1440", exact=False)).to_be_visible()
    expect(page.get_by_label("or minutes")).to_have_value("27 hours")
    expect(page.get_by_role("radio", name="4", exact=True)).to_be_checked()
    page.get_by_label("or minutes").fill("25")
    page.get_by_text("Add the kind of playing").click()
    page.get_by_label("Went well").fill("quiet shoulders")
    page.get_by_role("radio", name="Nothing", exact=True).check()
    page.get_by_role("button", name="Save", exact=True).click()
    page.goto(f"{server.url}/score/2026-11-12")
    expect(page.get_by_text("quiet shoulders")).to_be_visible()
    page.get_by_role("link", name="Edit").click()
    page.get_by_label("Effort, 0–10").fill("4,5")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("effort 4.5")).to_be_visible()
    page.get_by_role("button", name="Delete", exact=True).click()
    expect(page.get_by_text("Deleted.")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    page.goto(f"{server.url}/score/2026-11-12")
    expect(page.get_by_text("quiet shoulders")).to_be_visible()


def test_an_import_with_bad_rows_can_be_left_alone(serve, page: Page, tmp_path):
    server = serve("steady")
    log = tmp_path / "sessions.csv"
    log.write_text("day,minutes,effort\n2026-02-30,60,4\n2026-03-01,60,14\n2026-03-02,60,4\n")
    page.goto(f"{server.url}/record/")
    before = page.locator(".facts").inner_text()
    page.locator("#files").set_input_files(log)
    page.get_by_role("button", name="Read the diary").click()
    expect(page.get_by_role("heading", name="2 rows cannot be read")).to_be_visible()
    expect(page.get_by_role("heading", name="day: a day that exists", exact=False)).to_be_visible()
    expect(page.get_by_role("button", name="Save, leave 2 out")).to_be_visible()
    page.get_by_role("button", name="Cancel").click()
    expect(page.get_by_role("heading", name="Cancelled.")).to_be_visible()
    page.goto(f"{server.url}/record/")
    assert page.locator(".facts").inner_text() == before


def test_paper_shows_the_score_alone(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/score/")
    page.emulate_media(media="print")
    expect(page.locator(".letters")).to_be_hidden()
    expect(page.locator(".score.wide-only svg").first).to_be_visible()
    expect(page.get_by_text("Written by the player; not a medical record.")).to_be_visible()
    assert page.locator(".pencil-ring").first.evaluate("e => getComputedStyle(e).stroke") == "rgb(0, 0, 0)"


def test_take_everything_away_delete_it_and_bring_it_back(serve, page: Page, tmp_path: Path):
    server = serve("bassoonist")
    page.goto(f"{server.url}/record/")
    with page.expect_download() as taken:
        page.get_by_role("link", name="Download everything").click()
    saved = tmp_path / "all.json"
    taken.value.save_as(saved)
    page.get_by_role("link", name="Delete everything").click()
    page.get_by_label("Type the word delete").fill("delete")
    page.get_by_role("button", name="Delete everything").click()
    expect(page.get_by_text("Bring the diary you kept")).to_be_visible()
    page.locator("#files").set_input_files(saved)
    page.get_by_role("button", name="Read the diary").click()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("heading", name="It is saved.")).to_be_visible()
    page.goto(server.url)
    expect(call(page)).to_have_text(MUTED)
    page.goto(f"{server.url}/record/")
    with page.expect_download() as again:
        page.get_by_role("link", name="Download everything").click()
    assert Path(again.value.path()).read_bytes() == saved.read_bytes()


def test_an_entry_is_found_by_its_words_and_mended_with_one_touch(serve, page: Page):
    page.goto(f"{serve('bassoonist').url}/record/")
    page.get_by_text("Look for an entry").click()
    page.get_by_label("Words").fill("effort")
    page.get_by_label("Kind", exact=True).select_option("performance")
    page.get_by_role("button", name="Search").click()
    entries = page.locator(".entries li")
    assert_accessible(page)
    page.get_by_role("link", name="Older").click()
    expect(page.get_by_label("Kind", exact=True)).to_have_value("performance")
    entries.first.get_by_role("link").click()
    expect(page.get_by_label("Kind", exact=True)).to_have_value("performance")
    page.get_by_label("Minutes played").fill("77")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("77 min").first).to_be_visible()
