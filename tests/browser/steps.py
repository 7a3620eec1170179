"""Steps that the journeys share."""

import re
import time
from collections.abc import Callable

from playwright.sync_api import Page

MUTED = re.compile(r"^\s*Muted")


def call(page: Page):
    return page.locator("#call-word")


def wait_until_all_is_sent(page: Page) -> None:
    """Until nothing that was touched waits on this device: the server has it, and the page shows what came back."""
    page.wait_for_function("() => !Object.keys(localStorage).some((k) => /^chirotend-(event|card)/.test(k))")


def kept_for_no_network(page: Page, path: str) -> bool:
    return page.evaluate("(path) => caches.match(path).then(Boolean)", path)


def wait_until(holds: Callable[[], bool], seconds: float = 30) -> None:
    """What no element of the page shows: a cache, a row, a file. AssertionError when it never comes to hold."""
    end = time.monotonic() + seconds
    while not holds():
        assert time.monotonic() < end, "it never came to hold"
        time.sleep(0.05)


class Taps:
    """Counts what a hand does: clicks and fields filled."""

    def __init__(self) -> None:
        self.count = 0

    def click(self, target) -> None:
        target.click()
        self.count += 1

    def fill(self, target, text: str) -> None:
        target.fill(text)
        self.count += 1

    def press(self, target, key: str) -> None:
        target.press(key)
        self.count += 1
