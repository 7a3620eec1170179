"""What happened beside the playing: on which days nothing may be played because of it."""

from datetime import date, timedelta

import pytest

from chirotend.core.judge.happened import (
    CAST,
    FALL,
    FEVER,
    MINUTES,
    NO_LIMIT,
    NOT_AS_BEFORE,
    NOT_YET,
    OPERATION,
    Happening,
)

DAY = date(2026, 11, 2)


def stopped(happening: Happening) -> list[int]:
    return [n for n in range(-1, 8) if happening.stops_on(DAY + timedelta(days=n))]


@pytest.mark.parametrize("kind", [OPERATION, CAST])
def test_an_operation_or_a_cast_stops_playing_until_it_was_allowed(kind):
    assert stopped(Happening("h", kind, DAY, answer=NOT_YET)) == list(range(8))
    from_friday = Happening("h", kind, DAY, answer=MINUTES, allowed_min=10, allowed_from=DAY + timedelta(days=4))
    assert stopped(from_friday) == [0, 1, 2, 3]
    assert stopped(Happening("h", kind, DAY, answer=NO_LIMIT)) == []


def test_a_fever_stops_playing_and_the_days_after_it():
    assert stopped(Happening("h", FEVER, DAY)) == list(range(8))
    assert stopped(Happening("h", FEVER, DAY, until=DAY + timedelta(days=1)))[:3] == [0, 1, 2]


def test_a_hand_that_is_not_as_before_a_fall_does_not_play():
    assert stopped(Happening("h", FALL, DAY, answer=NOT_AS_BEFORE)) == list(range(8))
