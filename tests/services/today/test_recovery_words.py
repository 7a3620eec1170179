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
        (
            {"still": "over_dose", "played": 200, "dose": 70},
            "You played 200 minutes; the limit was 70. Yesterday does not count.",
        ),
        ({"still": "not_asked"}, "Answer this morning’s question first."),
        ({"still": "not_played"}, "You did not play yesterday. This morning counts half."),
        ({}, "After one clear morning the call gets one step lighter."),
    ],
)
def test_why_a_way_back_stands_still_is_said(values, said):
    found = Finding("way_back", 0, 1, {"level": "muted_mp", "clear": 1, "needed": 2, "held": 0, **values})
    assert reason(found).sentence.endswith(said)
