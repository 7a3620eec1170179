"""The first day, the call day by day, the urgent page, the morning on a phone."""

import re
from dataclasses import replace
from datetime import timedelta
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from chirotend.services.account import accounts
from chirotend.services.body import checks
from chirotend.services.record import log
from tests.browser.conftest import assert_accessible
from tests.browser.steps import MUTED, Taps, call


def test_the_morning_on_a_phone_takes_four_taps_when_nothing_hurts(serve, page: Page):
    server = serve("steady")
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(server.url)
    page.get_by_text("The night, cold hands, urgent signs").click()
    page.get_by_role("radio", name="warm").check()
    page.get_by_role("radio", name="sound").check()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("Saved.", exact=False).first).to_be_visible()
    expect(call(page)).to_have_text("Open")
    assert_accessible(page)


DEMO = Path(__file__).parents[2] / "src/chirotend/demo/data/bassoonist"


def setup_link(server) -> str:
    with server.app.extensions["database"].open_db() as db:
        secret = accounts.make_setup_link(db, server.clock())
        db.commit()
    return f"{server.url}/first-run/{secret}"


def first_run(server, page: Page) -> Taps:
    """From the set-up link to Today, counting touches; what is typed into a field is one."""
    taps = Taps()
    page.goto(setup_link(server))
    taps.fill(page.get_by_label("Your name, as on your part"), "Ilse Varnholt")
    find = page.get_by_label("Find an instrument by its name")
    for name in ("contrabassoon", "bassoon"):
        taps.fill(find, name)
        taps.press(find, "Enter")
    taps.click(page.get_by_role("button", name="Bassoon: one place earlier"))
    taps.fill(page.get_by_label("A password"), "bars and rests")
    assert_accessible(page)
    taps.click(page.get_by_role("button", name="Begin"))
    expect(call(page)).to_have_text("No call yet")
    return taps


@pytest.mark.parametrize("size", [(1280, 800), (390, 844)])
def test_a_new_player_comes_from_the_link_to_a_saved_session_in_twenty_five_touches(serve, page: Page, size):
    server = serve()
    page.set_viewport_size({"width": size[0], "height": size[1]})
    taps = first_run(server, page)
    expect(page.locator(".heading .inst")).to_have_text("Bassoon, doubling contrabassoon")
    expect(page.get_by_role("heading", name="What will be here")).to_be_visible()
    assert_accessible(page)
    taps.click(page.get_by_role("button", name="Nothing there now"))
    expect(page.get_by_text("From tomorrow on you are asked how you woke")).to_be_visible()
    taps.click(page.get_by_role("link", name="A warm-up for the bassoon"))
    taps.click(page.get_by_role("button", name="Start").first)
    expect(page.get_by_role("button", name="Stop")).to_be_visible()
    server.clock.on(minutes=14)
    page.reload()
    page.wait_for_load_state()  # the stand is drawn anew once its script has run
    taps.click(page.get_by_role("button", name="Stop"))
    taps.click(page.get_by_role("radio", name="4", exact=True))
    taps.click(page.get_by_role("radio", name="Nothing", exact=True))
    taps.click(page.get_by_role("button", name="Save"))
    expect(page.locator(".session-row")).to_have_count(1)
    assert taps.count <= 25, taps.count


def test_the_clock_of_the_first_run_is_the_browser_s_and_can_be_changed(serve, browser):
    server = serve()
    page = browser.new_context(timezone_id="Asia/Tokyo").new_page()
    page.goto(setup_link(server))
    expect(page.locator("[data-zone-said]")).to_have_text("Asia/Tokyo")
    page.get_by_text("Your clock:").click()
    page.get_by_label("Home time zone").select_option("America/Sao_Paulo")
    expect(page.locator("[data-zone-said]")).to_have_text("America/Sao Paulo")
    page.get_by_role("button", name="Begin").click()  # what is refused comes back as it was chosen
    expect(page.get_by_label("Home time zone")).to_have_value("America/Sao_Paulo")


def test_empty_pages_say_what_they_will_show_and_that_the_picture_is_an_example(serve, page: Page):
    server = serve()
    first_run(server, page)
    for path in ("/score/", "/plan/", "/body/", "/technique/"):
        page.goto(server.url + path)
        shown = page.locator("figure.example")
        expect(shown).to_contain_text("The picture is an example, not yours.")
        assert shown.locator("img").evaluate("async (img) => { await img.decode(); return img.naturalWidth }") > 300
        assert_accessible(page)


def test_an_instrument_is_found_by_keyboard_alone_taken_away_and_kept_in_order(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/settings")
    find, chips = page.get_by_label("Find an instrument by its name"), page.locator("[data-chips] li")
    before = chips.count()
    find.fill("viola")
    find.press("Enter")
    expect(chips).to_have_count(before + 1)
    expect(chips.last).to_contain_text("Viola")
    find.fill("flugel")
    find.press("ArrowDown")
    page.keyboard.press("Space")
    expect(chips.last).to_contain_text("Flugelhorn")
    find.fill("no such thing")
    expect(page.locator("[data-told]")).to_contain_text("None of that name")
    find.fill("")
    find.press("Backspace")
    expect(chips.last).to_contain_text("Viola")
    page.get_by_role("button", name="Viola: one place earlier").click()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("Saved.")).to_be_visible()
    expect(chips.nth(before - 1)).to_contain_text("Viola")
    assert_accessible(page)


def test_a_fresh_server_a_log_and_the_first_call_with_its_reasons(serve, page: Page):
    server = serve()
    first_run(server, page)
    page.get_by_role("link", name="Bring my diary").click()
    expect(page.get_by_role("heading", name="Record")).to_be_visible()
    page.locator("#files").set_input_files([DEMO / f for f in ("sessions.csv", "symptoms.csv", "days.csv")])
    page.get_by_role("button", name="Read the diary").click()
    expect(page.get_by_role("heading", name="The first fortnight", exact=False)).to_be_visible()
    assert_accessible(page)
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("heading", name="It is saved.")).to_be_visible()
    page.get_by_role("link", name="See today’s call").click()
    expect(call(page)).to_have_text(MUTED)
    page.locator("#why > summary").click()
    page.get_by_text("How this is worked out").first.click()
    expect(page.locator(".why").get_by_text("common practice, no source").first).to_be_visible()


def test_a_diary_of_two_years_gives_its_usual_range_score_and_call_on_the_first_day(serve, page: Page, tmp_path):
    server = serve()
    taps = first_run(server, page)
    rows = ["Datum;Dauer;Instr.;Anstrengung;Daumen li"]
    rows += [
        f"{server.clock().date() - timedelta(days=back):%d.%m.%Y};{45 + back % 5 * 15} min;Fg;{3 + back % 5};{back % 3}"
        for back in range(730, 0, -1)
        if back % 7
    ]
    diary = tmp_path / "Übetagebuch.csv"
    diary.write_text("\n".join(rows), encoding="cp1252")
    taps.click(page.get_by_role("link", name="Bring my diary"))
    page.locator("#files").set_input_files(diary)
    taps.count += 1
    taps.click(page.get_by_role("button", name="Read the diary"))
    expect(page.get_by_text("Your usual range on its last day", exact=False)).to_be_visible()
    expect(page.locator(".bring .score svg").first).to_be_visible()
    taps.click(page.get_by_role("button", name="Save", exact=True))
    taps.click(page.get_by_role("link", name="See today’s call"))
    taps.click(page.get_by_role("button", name="As usual, nothing there"))
    expect(call(page)).to_have_text("Open")
    expect(page.locator(".limit-drawn").first).to_contain_text("your usual")
    assert taps.count <= 16, taps.count


def test_a_steady_player_is_open_then_muted_with_the_reason_and_back_after_two_clear_days(serve, page: Page):
    server = serve("steady")
    page.goto(server.url)
    page.get_by_role("button", name="As usual, nothing there").click()
    expect(call(page)).to_have_text("Open")
    page.get_by_role("link", name="Start playing").click()
    page.get_by_role("radio", name="Technique").check()
    page.get_by_role("button", name="Start").click()
    page.get_by_role("button", name="Forearm").click()
    expect(page.get_by_text("marked 1×")).to_be_visible()
    server.clock.on(minutes=40)
    page.reload()
    page.get_by_role("button", name="Stop").click()
    page.get_by_role("radio", name="4", exact=True).check()
    page.get_by_role("radio", name="Pain").check()
    page.get_by_role("checkbox", name="left", exact=True).check()
    page.get_by_label("strength").select_option("3")
    assert_accessible(page)
    page.get_by_role("button", name="Save", exact=True).click()
    page.get_by_role("button", name="Body and face").click()
    page.get_by_role("button", name="right front of the upper arm").click()
    page.get_by_role("radio", name="4", exact=True).check()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.locator(".marked")).to_contain_text("front of the upper arm")
    page.get_by_role("link", name="Today").click()
    expect(call(page)).to_have_text(MUTED)
    expect(page.locator(".the-call .lead")).to_contain_text(
        "you marked pain 4 of 10 at your right front of the upper arm"
    )
    for _ in range(3):
        server.clock.on(days=1)
        page.goto(f"{server.url}/record/session/new")
        page.get_by_label("The day").fill(f"{server.clock.now:%Y-%m-}{server.clock.now.day - 1:02d}")
        page.get_by_role("radio", name="30", exact=True).check()
        page.get_by_role("radio", name="3 moderate").check()
        page.get_by_role("radio", name="Nothing", exact=True).check()
        page.get_by_role("button", name="Save", exact=True).click()
        page.goto(server.url)
        page.get_by_role("button", name="As usual, nothing there").click()
    expect(call(page)).to_have_text("Open")
    page.goto(f"{server.url}/score/")
    expect(page.locator(".score.wide-only .remark-text").last).to_contain_text("pain 4 ✓")
    assert_accessible(page)


def test_an_urgent_answer_comes_first_and_works_without_a_network(serve, page: Page):
    server = serve("steady")
    page.goto(server.url)
    page.evaluate("() => navigator.serviceWorker.ready.then(() => true)")
    page.evaluate("() => caches.open('urgent-1').then((kept) => kept.add('/urgent/offline'))")
    page.reload()  # from now on under the service worker
    page.get_by_text("The night, cold hands, urgent signs").click()
    page.get_by_text("Anything on the urgent list?").click()
    page.get_by_role("checkbox", name="one side of the face droops").check()
    expect(page.get_by_role("heading", name="Put it down. Ring now.")).to_be_visible()
    expect(page.get_by_role("link", name="0 00 00")).to_be_visible()
    assert_accessible(page)
    page.get_by_role("link", name="Back to Today").click()
    expect(call(page)).to_have_text("Tacet")
    expect(page.get_by_role("link", name="Start playing")).to_have_count(0)
    assert_accessible(page)
    page.context.set_offline(True)
    page.get_by_role("link", name="When not to wait").first.click()
    expect(page.get_by_role("heading", name="Put it down. Ring now.")).to_be_visible()
    expect(page.get_by_role("link", name="0 00 00")).to_be_visible()
    page.context.set_offline(False)


def test_a_call_is_overruled_with_a_reason_undone_and_answered_by_a_clinician(serve, page: Page):
    page.goto(serve("steady").url)
    page.get_by_role("button", name="As usual, nothing there").click()
    page.goto(page.url.split("?")[0] + "body/?timing=playing")
    page.get_by_role("button", name="Body and face").click()
    page.get_by_role("button", name="right front of the upper arm").click()
    page.get_by_role("radio", name="Pain").check()
    page.get_by_role("radio", name="3", exact=True).check()
    page.get_by_role("button", name="Save", exact=True).click()
    page.get_by_role("link", name="Today", exact=False).first.click()
    expect(call(page)).to_have_text(MUTED)
    page.get_by_text("Change the call").click()
    page.get_by_role("button", name="Make it Open").click()
    expect(page.get_by_text("Write the reason in a few words", exact=False)).to_be_visible()
    page.get_by_label("Why lighter?", exact=False).fill("A bruise from the case.")
    page.get_by_role("button", name="Make it Open").click()
    expect(call(page)).to_have_text("Open")
    expect(page.get_by_text("A bruise from the case.")).to_be_visible()
    assert_accessible(page)
    page.get_by_role("button", name="Take the change back").click()
    expect(call(page)).to_have_text(MUTED)
    page.get_by_text("Add to today").click()
    page.get_by_role("button", name="Day off", exact=True).click()
    page.get_by_text("Add to today").click()
    expect(page.get_by_role("button", name="Not a day off")).to_be_visible()


def test_the_week_s_habits_an_aim_done_and_a_setting_are_kept(serve, page: Page):
    server = serve("bassoonist")
    page.goto(f"{server.url}/plan/")
    page.get_by_text("Calendar, hours, rests").click()
    page.locator("select[name=rest_preset]").select_option("listen")
    page.get_by_role("button", name="Save", exact=True).click()
    page.get_by_text("Calendar, hours, rests").click()
    expect(page.locator("select[name=rest_preset]")).to_have_value("listen")
    page.locator(".aim-more summary").first.click()
    page.get_by_role("button", name="Done", exact=True).first.click()
    expect(page.locator(".aim-done").first).to_contain_text("done")
    page.goto(f"{server.url}/settings")
    page.get_by_label("Your local emergency number").fill("0 11 22")
    page.get_by_role("button", name="Save", exact=True).click()
    page.goto(f"{server.url}/urgent")
    expect(page.get_by_text("0 11 22").first).to_be_visible()
    assert_accessible(page)


def test_a_sign_is_opened_from_the_call_and_shows_its_days_and_what_went_before(serve, page: Page):
    server = serve("bassoonist")
    page.goto(server.url)
    page.locator("#why > summary").click()
    sign = page.locator(".why li").filter(has_text="have been above your usual since")
    sign.get_by_role("link", name="See its days").click()
    expect(page.get_by_role("heading", name="Left wrist and thumb")).to_be_visible()
    expect(page.get_by_role("img", name="Strongest mark of each day").first).to_be_visible()
    expect(page.get_by_text("In these twelve weeks soreness came and passed", exact=False)).to_be_visible()
    expect(page.get_by_text("Much as before.")).to_be_visible()
    expect(page.get_by_text("short or broken nights", exact=True)).to_be_visible()
    page.get_by_text("The days as a table").click()
    expect(page.get_by_role("row").last).to_contain_text("5")
    page.get_by_text("How this is worked out").click()
    expect(page.get_by_text("It shows what went together, not what brought what.")).to_be_visible()
    assert_accessible(page)
    expect(page.get_by_text("This sign changes no call until you say", exact=False)).to_be_visible()
    page.get_by_label("A few words, if you like").fill("Two programmes at once.")
    page.get_by_role("button", name="A cause I know").click()
    expect(page.get_by_text("is watched until that has ended", exact=False)).to_be_visible()
    expect(page.get_by_text("Two programmes at once.")).to_be_visible()
    assert_accessible(page)
    page.goto(server.url)
    expect(page.locator(".why li").filter(has_text="is watched, because you answered its early sign")).to_have_count(1)
    expect(call(page)).to_have_text(re.compile(r"Muted"))


#: from the first tingling to a named sign, one a day at an untouched place
DAYS_TO_A_SIGN = 2


def live_days(server, days: range, marked: str = "") -> None:
    """Write days before today: asked on waking, played a little, with `marked` tingling afterwards if it is named."""
    with server.app.extensions["database"].open_db() as db:
        context = accounts.context_of(db, accounts.the_only_account(db), server.clock())
        for back in days:
            then = replace(context, now=context.now - timedelta(days=back))
            checks.as_usual(then)
            if not context.store.sessions(then.today, then.today):
                log.write_session(then, log.TypedSession(then.today, 25, effort=3, instrument="violin"))
            if marked:
                checks.write_marks(then, checks.TypedMarks([marked], "tingling", 3, ["after"], lasting="brief"))
        db.commit()


def test_the_first_tingling_of_her_life_is_a_named_sign_within_days_and_a_plan_is_one_touch(serve, page: Page):
    """Steady for weeks, then tingling after playing each day: the second one is a named sign."""
    server = serve("steady")
    named = page.locator(".why li").filter(has_text="left fingers have been above your usual since")
    days = 0
    while days < 8 and not named.count():
        live_days(server, [0], "index_tip_palm.left")
        days += 1
        server.clock.on(days=1)
        page.goto(server.url)
        page.get_by_role("button", name="As usual, nothing there").click()
        expect(call(page)).to_have_text(re.compile("Muted|Open"))
    assert days <= DAYS_TO_A_SIGN
    page.locator("#why > summary").click()
    named.get_by_role("link", name="See its days").click()
    plan = page.get_by_role("region", name="A plan for two weeks")
    expect(plan.get_by_role("listitem").first).to_be_visible()
    assert_accessible(page)
    plan.get_by_role("button", name="Take this plan").click()
    expect(plan).to_have_count(0)
    expect(page.get_by_text("you will read here what became of it")).to_be_visible()
    server.clock.on(days=15)
    live_days(server, range(14, -1, -1))
    page.goto(f"{server.url}/body/place/fingers/left")
    expect(page.get_by_text("In the two weeks after it: on 0 of 14.")).to_be_visible()
    expect(page.get_by_text("Once, the sign was right")).to_be_visible()
    page.goto(f"{server.url}/score/week")
    expect(page.get_by_text("You changed something about your left fingers.").first).to_be_visible()


def test_a_tingling_sign_is_raised_answered_and_ends(serve, page: Page):
    server = serve("steady")
    live_days(server, range(10, 0, -1), "index_tip_palm.left")
    page.goto(server.url)
    page.get_by_role("button", name="As usual, nothing there").click()
    sign = page.locator(".why li").filter(has_text="left fingers have been above your usual since")
    page.locator("#why > summary").click()
    expect(sign).to_be_visible()
    expect(call(page)).to_have_text(re.compile("Muted"))
    assert_accessible(page)
    sign.get_by_role("link", name="See its days").click()
    expect(page.get_by_role("heading", name="Left fingers")).to_be_visible()
    page.get_by_label("A few words, if you like").fill("A new keyboard at the day job.")
    page.get_by_role("button", name="A cause I know").click()
    expect(page.get_by_text("is watched until that has ended", exact=False)).to_be_visible()
    page.goto(server.url)
    expect(sign).to_have_count(0)
    expect(call(page)).to_have_text(re.compile("Muted"))  # an answer makes no call lighter
    page.goto(f"{server.url}/body/place/fingers/left")
    page.get_by_role("button", name="The cause has ended").click()
    server.clock.on(days=30)
    live_days(server, range(29, -1, -1))
    page.goto(server.url)
    expect(call(page)).to_have_text("Open")
    expect(page.get_by_text("left fingers have been above")).to_have_count(0)
    page.goto(f"{server.url}/body/place/fingers/left")
    expect(page.get_by_text("A new keyboard at the day job.")).to_be_visible()  # what she said is kept
