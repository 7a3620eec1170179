"""What holds on every page: widths, axe, without scripts, when the server fails."""

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import assert_accessible
from tests.browser.states import PAGES
from tests.browser.steps import wait_until


@pytest.mark.parametrize(
    "path",
    ["/", "/body/", "/record/session/new", "/score/", "/plan/", "/plan/programmes/", "/kit/?strap=100", "/warm-up"],
)
def test_pages_work_without_scripts(serve, browser, path: str):
    server = serve("bassoonist")
    page = browser.new_context(java_script_enabled=False).new_page()
    page.goto(server.url + path)
    expect(page.locator("h1")).to_be_visible()
    if path == "/body/":
        page.get_by_text("The same as a list").click()
        page.get_by_role("checkbox", name="left thumb ball", exact=True).check()
        page.get_by_role("radio", name="Pain").check()
        page.get_by_role("radio", name="2", exact=True).check()
        page.get_by_role("checkbox", name="After").check()
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.locator(".marked")).to_contain_text("left thumb ball")
    page.context.close()


def test_browsers_are_signed_out_and_the_new_pages_are_for_everyone(serve, page: Page):
    server = serve("bassoonist")
    for path in ("/settings", "/kit/left-out", "/urgent", "/record/day"):
        page.goto(server.url + path)
        assert_accessible(page)
    phone = page.context.browser.new_context(user_agent="A Mobile browser").new_page()
    phone.goto(server.url)
    page.goto(f"{server.url}/settings")
    expect(page.locator(".browsers")).to_contain_text("Another on a phone or tablet")
    page.get_by_role("button", name="Sign out there").click()
    expect(page.locator(".browsers li")).to_have_count(1)
    server.app.config["DEMO"] = False
    phone.goto(f"{server.url}/settings")
    expect(phone.get_by_role("heading", name="Sign in")).to_be_visible()
    phone.context.close()
    page.goto(f"{server.url}/kit/left-out")
    page.get_by_role("group", name="Were you told that your bones are thin?").get_by_role("radio", name="yes").check()
    page.get_by_role("button", name="Save", exact=True).click()
    page.get_by_text("Add to today").click()
    page.get_by_role("link", name="Warm up", exact=True).click()
    expect(page.get_by_text("because of what you said of yourself (thin bones)")).to_be_visible()


def test_a_second_page_asks_for_nothing_that_ships(serve, page: Page):
    server = serve("bassoonist")
    asked, answer = [], server.app.wsgi_app
    server.app.wsgi_app = lambda environ, start: (asked.append(environ["PATH_INFO"]), answer(environ, start))[1]
    page.goto(server.url)
    assert sum(path.startswith("/assets/") for path in asked) > 3
    wait_until(lambda: "/urgent/offline" in asked)  # the page for when there is no server fetches what it needs, once
    page.wait_for_load_state("networkidle")
    asked.clear()
    for path in ("/record/", "/"):
        page.goto(server.url + path)
        page.wait_for_load_state("networkidle")
    assert "/record/" in asked and not [path for path in asked if path.startswith("/assets/")]


@pytest.mark.parametrize("part", [0, 1])
def test_no_page_is_wider_than_the_screen_and_axe_is_content(serve, page: Page, part: int):
    server = serve("bassoonist")
    for path in PAGES[part::2]:
        page.goto(server.url + path)
        for width in (1280, 1024, 390):
            page.set_viewport_size({"width": width, "height": 800})
            assert page.evaluate("document.documentElement.scrollWidth <= innerWidth"), path
            if width != 1024:  # what is on the page is there as at 1280
                assert_accessible(page)


KEPT_URGENT_PAGE = "() => caches.match('/urgent/offline').then((kept) => kept.text())"


def test_the_urgent_page_stands_when_the_server_fails_and_after_a_sign_out(serve, page: Page):
    server = serve("bassoonist")
    page.goto(server.url)
    page.evaluate("() => navigator.serviceWorker.ready.then(() => true)")
    page.reload()
    real = server.app.view_functions["help.urgent"]
    server.app.view_functions["help.urgent"] = lambda: ("out of order", 503)
    page.goto(f"{server.url}/urgent")
    expect(page.get_by_role("heading", name="Put it down.")).to_be_visible()
    expect(page.get_by_text("one side of the face droops")).to_be_visible()
    server.app.view_functions["help.urgent"] = real
    page.goto(f"{server.url}/settings")
    wait_until(lambda: "entered for here" in page.evaluate(KEPT_URGENT_PAGE))
    server.app.config["DEMO"] = False
    page.get_by_role("button", name="Sign out here").click()
    expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
    wait_until(lambda: "is not entered yet" in page.evaluate(KEPT_URGENT_PAGE))
    page.context.set_offline(True)
    page.goto(f"{server.url}/urgent")
    heading = page.get_by_role("heading", name="Put it down.")
    expect(heading).to_be_visible()
    assert "Literata" in heading.evaluate("e => getComputedStyle(e).fontFamily"), "still in its own dress"
    expect(page.get_by_text("your local emergency number is not entered yet")).to_be_visible()
    page.context.set_offline(False)
