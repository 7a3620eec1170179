"""How readily early signs speak is hers to choose, and reaches the judgement."""

import pytest

from chirotend.core.judge.way_back import Standing
from chirotend.services.desk import Refused
from chirotend.services.kit.profile import say
from chirotend.services.today.days_call import evidence_on


def test_the_watch_she_chose_is_the_one_that_judges(desk):
    assert evidence_on(desk, desk.today, Standing()).watch == "usual"
    say(desk, watch="earlier")
    assert evidence_on(desk, desk.today, Standing()).watch == "earlier"
    with pytest.raises(Refused):
        say(desk, watch="never")
