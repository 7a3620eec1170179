"""Steps that the journeys share."""

import re

from playwright.sync_api import Page

MUTED = re.compile("^Muted")


def call(page: Page):
    return page.locator("#call-word")
