"""A player at the stand: pedal, marks, lost link, recordings."""

import re

import pytest
from playwright.sync_api import Page, expect

from chirotend.services.account import accounts
from tests.browser.conftest import assert_accessible
from tests.browser.steps import wait_until_all_is_sent


def test_a_warm_up_is_changed_and_played_with_the_pedal_alone(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/warm-up")
    expect(page.get_by_text("Left out because of your left").first).to_be_visible()
    first = page.locator(".step-name").first.inner_text()
    page.locator(".step-change").first.get_by_text("change").click()
    page.get_by_role("button", name="Swap").first.click()
    expect(page.locator(".step-name").first).not_to_have_text(first)
    steps = page.locator(".step-name").all_inner_texts()
    page.get_by_role("button", name="Start it on the stand").click()
    expect(page.locator(".stand-title")).to_contain_text(steps[0])
    page.wait_for_load_state()
    for name in steps[1:4]:
        page.keyboard.press("PageDown")
        expect(page.locator(".stand-title")).to_contain_text(name)
    assert_accessible(page)


def test_a_bar_turns_into_a_rest_and_back_by_itself(serve, page: Page):
    server = serve("steady")
    page.clock.install()
    page.goto(f"{server.url}/play/")
    page.get_by_role("radio", name="Technique").check()
    page.get_by_role("button", name="Start").click()
    expect(page.locator("#stand")).to_have_attribute("data-phase", "playing")
    let_the_bar_end(server, page)
    expect(page.locator("#stand")).to_have_attribute("data-phase", "resting")
    expect(page.get_by_role("heading", name=re.compile("Hands down|Lie down if you can"))).to_be_visible()
    let_the_bar_end(server, page)
    expect(page.locator("#stand")).to_have_attribute("data-phase", "playing")


def let_the_bar_end(server, page: Page) -> None:
    """Move the server's clock and the page's past the end of what runs; each page timer fires once."""
    page.wait_for_load_state()
    seconds = int(float(page.locator("#stand").get_attribute("data-left"))) + 5
    server.clock.on(seconds=seconds)
    page.clock.fast_forward(seconds * 1000)


def test_a_tingling_finger_is_marked_in_two_touches_and_settled_afterwards(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/play/")
    page.get_by_role("button", name="Start").click()
    page.wait_for_load_state()
    page.locator(".feelings summary", has_text="tingling").click()
    page.locator(".feelings [open]").get_by_role("button", name="Ring finger").click()
    expect(page.locator(".feelings summary", has_text="tingling 1×")).to_be_visible()
    assert_accessible(page)
    server.clock.on(minutes=5)
    page.get_by_role("button", name="Stop").click()
    made = page.locator(".settle").filter(has_text="Ring finger")
    expect(made).to_contain_text("tingling")
    page.wait_for_load_state()
    page.keyboard.press("4")
    page.get_by_role("radio", name="Nothing more").check()
    save = page.get_by_role("button", name="Save", exact=True)
    save.click()
    expect(made.get_by_role("alert")).to_have_text("Say how strong this was, or that it was nothing.")
    made.get_by_role("checkbox", name="right").check()
    made.get_by_label("strength").select_option("2")
    save.click()
    page.goto(f"{server.url}/body/")
    expect(page.locator(".marked li").filter(has_text="right ring finger middle joint")).to_contain_text("tingling")


def test_switching_the_instrument_and_rubbing_a_mark_out_while_playing(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/play/")
    page.get_by_role("button", name="Start").click()
    server.clock.on(minutes=10)
    page.get_by_role("button", name="Jaw, breath").click()
    expect(page.get_by_text("marked 1×")).to_be_visible()
    page.get_by_role("button", name="Good").click()
    expect(page.get_by_role("button", name="Good 1×")).to_be_visible()
    page.get_by_text("Change the session").click()
    page.get_by_role("button", name=re.compile("delete jaw")).click()
    expect(page.get_by_text("marked 1×")).to_have_count(0)
    page.get_by_role("button", name="Contrabassoon").click()
    expect(page.locator(".play-now .stand-say")).to_contain_text("Contrabassoon")
    server.clock.on(minutes=5)
    page.reload()
    page.get_by_role("button", name="Stop").click()
    expect(page.get_by_role("heading", name="After playing")).to_be_visible()
    page.wait_for_load_state()
    page.keyboard.press("5")
    page.get_by_role("radio", name="Nothing", exact=True).check()
    page.get_by_label("Question for your teacher").fill("Where does the thumb live?")
    page.get_by_role("button", name="Save", exact=True).click()
    page.get_by_text("Add to today").click()
    expect(page.locator(".fold .session-row")).to_contain_text("15 min, effort 5")
    page.get_by_role("link", name="edit").click()
    expect(page.get_by_label("Question for your teacher")).to_have_value("Where does the thumb live?")


@pytest.mark.parametrize(("width", "height", "last"), [(1280, 800, ".stand-foot"), (390, 844, ".feelings")])
def test_all_that_can_be_marked_is_on_the_first_screen_of_the_stand(serve, page: Page, width, height, last):
    server = serve("bassoonist")
    page.set_viewport_size({"width": width, "height": height})
    page.goto(f"{server.url}/play/")
    page.get_by_role("button", name="Start").click()
    assert bottom_of(page, last) <= height
    if width > 390:
        page.locator(".marks .next").click()
        expect(page.locator("#stand")).to_have_attribute("data-phase", "resting")
        assert bottom_of(page, last) <= height


def bottom_of(page: Page, selector: str) -> float:
    box = page.locator(selector).bounding_box()
    return box["y"] + box["height"]


def test_the_touch_targets_of_the_stand_are_large(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/play/")
    page.get_by_role("button", name="Start").click()
    for width in (390, 1280):
        page.set_viewport_size({"width": width, "height": 800})
        for button in page.locator(".marks button, .stop").all():
            box = button.bounding_box()
            assert box and box["height"] >= 64 and box["width"] >= 64
    clock = page.locator("#left").evaluate("e => parseFloat(getComputedStyle(e).fontSize)")
    title = page.locator("h1.stand-title").evaluate("e => parseFloat(getComputedStyle(e).fontSize)")
    assert clock >= 150 and title >= 96  # read from one metre (design: 152 and 100 px)


def test_a_planned_session_with_rests_by_the_pedal_alone(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/plan/?week=2026-11-09")
    page.get_by_role("button", name="Plan the week").click()
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
        page.get_by_role("button", name=place, exact=True).click()
    server.clock.on(minutes=30)
    page.reload()
    page.get_by_role("button", name="Stop").click()
    taps = 0
    for touch in (
        page.get_by_role("radio", name="8", exact=True),
        page.get_by_role("radio", name="Tingling"),
        page.get_by_role("checkbox", name="left", exact=True).first,
        page.get_by_role("checkbox", name="right", exact=True).last,
    ):
        touch.check()
        taps += 1
    for strength in page.get_by_label("strength").all():
        strength.select_option("4")
        taps += 1
    page.get_by_role("button", name="Save", exact=True).click()
    page.wait_for_url("**/body/**")  # loaded whole: a zone answers once its script has run
    page.locator('.zone[data-key="index_tip_palm.left"]').click()
    page.get_by_role("radio", name="3", exact=True).check()
    page.get_by_role("radio", name="gone within 10 minutes").check()
    page.get_by_role("button", name="Save", exact=True).click()
    taps += 5
    expect(page.locator(".marked")).to_contain_text("left index finger tip")
    assert taps <= 12, taps


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
    page.get_by_role("button", name="Thumb", exact=True).click()
    page.get_by_role("button", name="Forearm").click()
    expect(page.locator("#unsent")).to_have_text("signed out: 2 kept on this device")
    server.app.config["DEMO"] = True
    second = page.context.new_page()  # signing in on another page gives this browser a session, and a new token
    second.goto(server.url)
    second.goto(f"{server.url}/play/")
    second.wait_for_load_state()
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
    expect(page.get_by_role("button", name="Keep this take")).to_be_visible()
    page.get_by_role("button", name="Keep this take").click()
    expect(page.locator(".takes")).to_contain_text("kept")
    assert_accessible(page)


def test_with_the_keyboard_and_the_pedal_alone(serve, page: Page):
    server = serve("bassoonist")
    page.goto(server.url)
    page.keyboard.press("e")
    expect(page.get_by_role("heading", name="Score", exact=True)).to_be_visible()
    page.wait_for_load_state()  # the keys are heard once the page’s scripts are there
    page.locator(".score.wide-only .bar[data-today]").focus()
    page.keyboard.press("ArrowLeft")
    assert "Wednesday 11 November, Muted mp: shorter and softer today, performance" in page.evaluate(
        "document.activeElement.getAttribute('aria-label')"
    )
    page.keyboard.press("ArrowDown")
    expect(page.locator("#spoken")).not_to_be_empty()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Wednesday 11 November")).to_be_visible()
    page.wait_for_load_state()
    page.keyboard.press("d")
    zone = page.get_by_role("button", name="left thumb tip, pad side")
    zone.focus()
    page.wait_for_load_state()
    page.keyboard.press("Space")
    expect(zone).to_have_attribute("aria-pressed", "true")
    expect(page.locator("#tell-title")).to_have_text("left thumb tip, pad side")
    page.keyboard.press("c")
    page.get_by_role("button", name="Start").focus()
    page.keyboard.press("Enter")
    expect(page.locator("#stand")).to_have_attribute("data-phase", "playing")
    page.wait_for_load_state()
    page.keyboard.press("PageDown")
    expect(page.locator("#stand")).to_have_attribute("data-phase", "resting")
    assert_accessible(page)
    page.keyboard.press("PageDown")
    expect(page.locator("#stand")).to_have_attribute("data-phase", "playing")
    page.keyboard.press("PageUp")
    expect(page.locator("#stand")).to_have_attribute("data-phase", "paused")


def test_marks_made_without_a_link_are_kept_and_sent_once(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/play/")
    page.get_by_role("button", name="Start").click()
    expect(page.locator("#stand")).to_be_visible()
    page.wait_for_load_state()  # the stand is drawn before its script can catch a mark
    page.context.set_offline(True)
    page.get_by_role("button", name="Thumb", exact=True).click()
    page.get_by_role("button", name="Wrist").click()
    expect(page.locator("#unsent")).to_have_text("no connection: 2 kept on this device")
    page.context.set_offline(False)
    expect(page.get_by_text("marked 1×")).to_have_count(2)
    expect(page.locator("#unsent")).to_be_empty()
    page.reload()
    expect(page.get_by_text("marked 1×")).to_have_count(2)
    assert_accessible(page)


def test_a_session_that_was_forgotten_asks_when_it_ended_and_is_written_in(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/play/")
    page.get_by_role("button", name="Start", exact=True).click()
    expect(page.locator("h1.stand-title")).to_be_visible()
    server.clock.on(hours=5)
    page.goto(server.url)
    page.get_by_role("link", name="Say when you stopped").click()
    expect(page.get_by_role("heading", name="Still running?")).to_be_visible()
    assert_accessible(page)
    page.get_by_label("Minutes from its start").fill("until lunch")
    page.get_by_role("button", name="Save: it ended then").click()
    expect(page.get_by_role("alert")).to_contain_text("“until lunch” is not a number")
    expect(page.get_by_label("Minutes from its start")).to_have_value("until lunch")
    page.get_by_label("Minutes from its start").fill("35")
    page.get_by_role("button", name="Save: it ended then").click()
    page.get_by_role("radio", name="4", exact=True).check()
    page.get_by_role("radio", name="Nothing", exact=True).check()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.locator(".session-row-label").first).to_contain_text("35 min, effort 4")


def test_the_tempo_ladder_climbs_after_clean_runs_and_keeps_what_held(serve, page: Page):
    server = serve("steady")
    page.goto(f"{server.url}/play/")
    page.get_by_role("button", name="Start", exact=True).click()
    page.get_by_text("Change the session").click()
    page.get_by_label("Tempo ladder from").fill("80")
    page.get_by_role("button", name="Climb").click()
    tempo = page.locator(".stand-tempo")
    expect(tempo).to_contain_text("80")
    seen = [80.0]
    for touch in ("clean", "clean", "clean", "not clean", "not clean"):
        server.clock.on(seconds=20)
        page.get_by_role("button", name=touch, exact=True).click()
        wait_until_all_is_sent(page)
        seen.append(float(re.match(r"\s*([\d.]+)", tempo.inner_text())[1]))
    assert seen[:3] == [80, 80, 80] and seen[3] == 83 and seen[-1] < 83
    expect(tempo).to_contain_text("held")
    assert_accessible(page)
