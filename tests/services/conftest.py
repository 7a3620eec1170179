"""What the tests of the services share."""

from datetime import date, time, timedelta

import pytest

from chirotend.services.body.checks import as_usual
from chirotend.services.context import Context
from chirotend.services.record import log
from tests.player_context import context as context

HAND = {
    "span": "198",
    "1-2.ease": "58",
    "1-2.most": "66",
    "2-3.ease": "40",
    "2-3.most": "50",
    "1-3.ease": "82",
    "1-3.most": "98",
}


@pytest.fixture
def played(context: Context) -> Context:
    """Eight weeks of an hour and a half a day on the bassoon: a usual range, a usual week."""
    for back in range(60, 0, -1):
        day = context.today - timedelta(days=back)
        minutes = 80 + (back * 7) % 30
        log.write_session(context, log.TypedSession(day, minutes, time(10), 5, "bassoon"))
    as_usual(context)
    return context


NEXT = date(2026, 11, 16)
