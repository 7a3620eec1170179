"""Nothing overlaps, falls apart, is cut, leaves the page or is too small to touch, on any page in any state."""

from pathlib import Path

import pytest
from playwright.sync_api import Page

from tests.browser.states import TOURS, Visit

LAYOUT = (Path(__file__).parent / "layout.js").read_text(encoding="utf-8")
WIDTHS = (1280, 1024, 390)
#: opens what is folded, or folds it again
FOLDED = """(open) => {
  for (const fold of document.querySelectorAll(open ? "details:not([open], .letters *)" : "details.unfolded")) {
    fold.open = open;
    fold.classList.toggle("unfolded", open);
  }
  return document.querySelectorAll("details.unfolded").length;
}"""


@pytest.mark.parametrize("tour", TOURS)
def test_every_page_stands_in_every_state_at_every_width(serve, page: Page, tour: str):
    player, states = TOURS[tour]
    visit = Visit(serve(player), page)
    wrong: dict[str, list[str]] = {}
    seen = 0
    for state in states(visit):
        seen += 1
        for width in WIDTHS:
            page.set_viewport_size({"width": width, "height": 800})
            for unfolded in (False, True):
                if unfolded and not page.evaluate(FOLDED, True):
                    continue  # nothing is folded: it was seen whole
                for fault in page.evaluate(LAYOUT):
                    told = f"{fault['kind']}: {fault['text']} ({fault['at']})"
                    wrong.setdefault(told, []).append(f"{state} at {width}{', unfolded' if unfolded else ''}")
            page.evaluate(FOLDED, False)
    assert seen and not wrong, "\n".join(
        f"{told}\n    {len(where)} times: {where[:3]}" for told, where in wrong.items()
    )
