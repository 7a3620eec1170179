"""Steps that tests of the pages share."""

import re

HTMX = {"HX-Request": "true"}


def words_of(page: str) -> str:
    """What a page says: without its tags, with single spaces."""
    return " ".join(re.sub(r"<[^>]*>", " ", page).split())


def plan_uid(client, pattern: str, text: str) -> str:
    found = re.search(pattern, text)
    assert found, pattern
    return found[1]


def a_laid_block(client) -> str:
    client.post(
        "/plan/aim",
        data={"week": "2026-11-16", "aim_title": "Thirds", "aim_minutes": "40", "aim_instrument": "bassoon"},
    )
    text = client.post("/plan/lay", data={"week": "2026-11-16"}, headers=HTMX).text
    return plan_uid(client, r'data-uid="(\w+)"', text)
