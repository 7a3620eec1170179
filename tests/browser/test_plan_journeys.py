"""A player moves her week and writes in what is over."""

from playwright.sync_api import Page, expect

from tests.browser.conftest import assert_accessible


def test_the_week_is_moved_by_keys_and_by_hand_and_answers_a_date(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/plan/?week=2026-11-16")
    block = page.locator(".plan-desk .blk.own").first
    uid = block.get_attribute("data-uid")
    block.focus()
    page.keyboard.press("ArrowRight")
    expect(page.locator("#held")).to_contain_text("09.15")
    expect(page.locator(f'.plan-desk .blk.own[data-uid="{uid}"]')).to_be_focused()
    page.keyboard.press("ArrowDown")
    expect(page.get_by_role("alert")).to_contain_text("“Thirds in A flat” stands there")
    page.keyboard.press("ArrowUp")
    expect(page.locator("#held")).to_contain_text("Monday 16")
    loads = page.locator(".plan-desk .load-value").all_text_contents()
    page.keyboard.press("+")
    expect(page.locator("#held")).to_contain_text("25 minutes")
    assert page.locator(".plan-desk .load-value").all_text_contents() != loads
    box = page.locator(f'.plan-desk .blk.own[data-uid="{uid}"] .hit').bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 + 64, box["y"] + box["height"] / 2, steps=4)
    page.mouse.up()
    expect(page.locator("#held")).to_contain_text("11.15")
    page.keyboard.press("r")
    expect(page.locator(f'.plan-desk .blk.own[data-uid="{uid}"]')).to_have_count(0)
    expect(page.get_by_text("Deleted.")).to_be_visible()
    page.get_by_label("The date").fill("Sa 21, 9.00, octet, contra, 3 h")
    page.get_by_role("button", name="See what it does").click()
    expect(page.locator(".verdict")).to_contain_text("Yes, with")
    expect(page.locator(".plan-desk .blk.asked")).to_be_visible()
    assert_accessible(page)
    page.get_by_role("button", name="Take it so").click()
    expect(page.locator("#held")).to_contain_text("octet")
    expect(page.get_by_text("Contrabassoon", exact=False).first).to_be_visible()


def test_what_is_over_is_written_in_with_one_touch(serve, page: Page):
    server = serve("bassoonist")
    server.clock.on(hours=7)
    page.goto(server.url)
    expect(page.get_by_text("Section rehearsal").first).to_be_visible()
    page.get_by_role("button", name="It was as planned").click()
    expect(page.get_by_role("button", name="It was as planned")).to_have_count(0)
    expect(page.locator(".session-row-label")).to_contain_text("60 min, effort 4")
    page.get_by_text("Add to today").click()
    page.get_by_text("Typing").click()
    page.get_by_role("button", name="60 min").click()
    expect(page.locator(".session-row-label").first).to_contain_text("60 min, effort 2")


CALENDAR = """BEGIN:VCALENDAR
VERSION:2.0
PRODID:-//invented//EN
BEGIN:VEVENT
UID:quintet-1
DTSTART:20261118T180000Z
DTEND:20261118T200000Z
SUMMARY:Wind quintet, rehearsal
END:VEVENT
END:VCALENDAR
"""


def test_a_calendar_is_brought_told_from_no_calendar_and_taken_back(serve, page: Page, tmp_path):
    server = serve("bassoonist")
    good, bad = tmp_path / "my.ics", tmp_path / "letter.ics"
    good.write_text(CALENDAR)
    bad.write_text("Dear Ilse")

    def bring(file) -> None:
        page.goto(f"{server.url}/plan/?week=2026-11-16")
        page.get_by_text("Calendar, hours, rests").click()
        page.get_by_label("Bring a calendar").set_input_files(file)
        page.get_by_role("button", name="Read the calendar").click()

    bring(bad)
    expect(page.get_by_role("alert")).to_contain_text("letter.ics")
    bring(good)
    expect(page.get_by_role("status")).to_contain_text("1 new")
    assert_accessible(page)
    bring(good)
    expect(page.get_by_role("status")).to_contain_text("0 new, 0 changed, 1 known before")
    page.goto(f"{server.url}/plan/?week=2026-11-16")
    quintet = page.locator('.plan-desk .blk[aria-label*="quintet"]')
    expect(quintet).to_have_count(1)
    changed = tmp_path / "moved.ics"
    changed.write_text(CALENDAR.replace("T200000Z", "T210000Z"))
    bring(changed)
    expect(page.get_by_role("status")).to_contain_text("1 changed")
    page.get_by_role("button", name="Take these dates back").click()
    page.goto(f"{server.url}/plan/?week=2026-11-16")
    expect(quintet).to_have_count(0)
