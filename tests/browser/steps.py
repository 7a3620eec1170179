"""Steps that the journeys share."""

import re
import time
from collections.abc import Callable

from playwright.sync_api import Page

MUTED = re.compile(r"^\s*Muted")


def call(page: Page):
    return page.locator("#call-word")


def wait_until(holds: Callable[[], bool], seconds: float = 30) -> None:
    """What no element of the page shows: a cache, a row, a file. AssertionError when it never comes to hold."""
    end = time.monotonic() + seconds
    while not holds():
        assert time.monotonic() < end, "it never came to hold"
        time.sleep(0.05)
