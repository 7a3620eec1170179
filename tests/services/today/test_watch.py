"""How readily early signs speak is hers to choose, and reaches the judgement."""

import pytest

from chirotend.services.call.inputs import load_inputs
from chirotend.services.context import FieldError
from chirotend.services.kit.profile import say


def test_the_watch_she_chose_is_the_one_that_judges(context):
    assert load_inputs(context).evidence.watch == "usual"
    say(context, watch="earlier")
    assert load_inputs(context).evidence.watch == "earlier"
    with pytest.raises(FieldError):
        say(context, watch="never")
