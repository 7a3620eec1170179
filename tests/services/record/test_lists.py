"""Lists of what she wrote."""

from datetime import date, time

import pytest

from chirotend.services.context import FieldError
from chirotend.services.record import lists, log


def test_lists_are_newest_first_and_can_be_searched(context):
    for day, question, well in (
        (1, "Why does low F crack?", ""),
        (2, "", "Thirds were even"),
        (3, "How high the chair?", "Slow and even"),
    ):
        typed = log.TypedSession(
            date(2026, 11, day), 30, time(10), 4, "bassoon", texts={"question": question, "went_well": well}
        )
        log.write_session(context, typed)
    assert [w.text for w in lists.written(context, "question")] == ["How high the chair?", "Why does low F crack?"]
    assert [w.text for w in lists.written(context, search="EVEN")] == ["Slow and even", "Thirds were even"]
    assert lists.written(context, "was_hard") == [] and lists.written(context, search="cello") == []
    with pytest.raises(FieldError):
        lists.written(context, "secrets")
