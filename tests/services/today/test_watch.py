"""How readily early signs speak is hers to choose, and reaches the judgement."""

import pytest

from chirotend.core.judge.recovery import Recovery
from chirotend.services.context import FieldError
from chirotend.services.kit.profile import say
from chirotend.services.today.days_call import evidence_on


def test_the_watch_she_chose_is_the_one_that_judges(context):
    assert evidence_on(context, context.today, Recovery()).watch == "usual"
    say(context, watch="earlier")
    assert evidence_on(context, context.today, Recovery()).watch == "earlier"
    with pytest.raises(FieldError):
        say(context, watch="never")
