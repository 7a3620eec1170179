"""The page of promises says what the tests hold, and no more."""

import re

from tools.promises import PAGE, promises


def test_the_page_of_promises_names_every_law_property_and_pinned_number_and_no_other():
    lines = re.findall(r"^\| (.+?) \| `(\S+)` \| (\S.*?) \|$", PAGE.read_text(encoding="utf-8"), re.MULTILINE)
    assert [(sentence, file) for sentence, file, _ in lines] == [(p.sentence, p.file) for p in promises()], (
        "run `make promises`"
    )
    assert len(lines) > 100
