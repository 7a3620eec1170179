"""Why a way back stands still, in words."""

import pytest

from chirotend.core.judge.findings import Finding
from chirotend.services.words import reason


@pytest.mark.parametrize(
    ("values", "said"),
    [
        (
            {"still": "over_limit", "played": 200, "limit": 70},
            "You played 200 minutes; the limit was 70. This morning counts half.",
        ),
        ({"still": "over_dose", "played": 200, "dose": 70}, "yesterday’s 200 minutes passed the 70 of the dose."),
        ({"still": "not_asked"}, "It waits for this morning’s check."),
        ({"still": "not_played"}, "You did not play yesterday. This morning counts half."),
        ({}, "one more clear morning at this level, then one level lighter."),
    ],
)
def test_why_a_way_back_stands_still_is_said(values, said):
    found = Finding("way_back", 0, 1, {"level": "muted_mp", "clear": 1, "needed": 2, "held": 0, **values})
    assert reason(found).sentence.endswith(said)
