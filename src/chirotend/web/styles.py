"""The one style sheet of the pages: what all share, and the rules of each subject, which reach its own pages alone."""

from collections.abc import Iterable, Iterator
from itertools import groupby
from pathlib import Path
from typing import Any

import tinycss2

#: in the order the rules count: what all pages share, what a subject has of its own, what screens and paper change
SHARED = (
    *("vendor/bootstrap.min.css", "css/tokens.css", "css/shared/base.css", "css/shared/common.css"),
    *("css/shared/touched.css", "css/shared/drawn.css", "css/shared/maps.css"),
)
#: the sheets of a subject: the folder of a page's template
OF_SUBJECTS = {
    "today": ("css/today.css", "css/warmup.css"),
    "matters": ("css/matters.css",),
    "happened": ("css/happened.css",),
    "body": ("css/body.css",),
    "play": ("css/play.css",),
    "score": ("css/score.css",),
    "trials": ("css/trials.css",),
    "kit": ("css/kit.css",),
    "technique": ("css/technique.css",),
    "plan": ("css/plan.css",),
    "parts": ("css/parts.css",),
    "record": ("css/add_session.css", "css/bring.css"),
    "report": ("css/report.css",),
}
AT_LAST = ("css/narrow.css", "css/paper.css")


def sheets() -> tuple[str, ...]:
    """Return the sheets that make up the one, in their order."""
    return (*SHARED, *(sheet for own in OF_SUBJECTS.values() for sheet in own), *AT_LAST)


def bundle(folder: Path) -> str:
    """Return the one style sheet, made of the sheets of a folder."""
    read = {sheet: (folder / sheet).read_text(encoding="utf-8") for sheet in sheets()}
    own = [of_subject(subject, read[sheet]) for subject, mine in OF_SUBJECTS.items() for sheet in mine]
    return "\n".join((*(read[sheet] for sheet in SHARED), *own, *(read[sheet] for sheet in AT_LAST)))


# a rule that is written for one subject reached pages of others: decision 162
def of_subject(subject: str, sheet: str) -> str:
    """Return the rules of a sheet so that they reach the pages of `subject` alone, and weigh no more than before.

    ValueError where a sheet cannot be read, or names what has no selectors (fonts, movements): all pages share those.
    """
    rules = tinycss2.parse_stylesheet(sheet, skip_comments=True, skip_whitespace=True)
    return "\n".join(_rule(f":where([data-subject={subject}])", rule) for rule in rules)


def _rule(where: str, rule: Any) -> str:
    if rule.type == "qualified-rule":
        selectors = ",".join(f"{where} {selector}" for selector in _selectors(rule.prelude))
        return f"{selectors}{{{tinycss2.serialize(rule.content)}}}"
    if rule.type == "at-rule" and rule.at_keyword == "media":
        inside = tinycss2.parse_rule_list(rule.content, skip_comments=True, skip_whitespace=True)
        asked = tinycss2.serialize(rule.prelude)
        return f"@media{asked}{{{' '.join(_rule(where, each) for each in inside)}}}"
    raise ValueError(f"line {rule.source_line}: a subject has rules and @media alone")


def _selectors(prelude: Iterable[Any]) -> Iterator[str]:
    """Each selector of a rule: what lies between its commas; those inside of :is() and :not() are within a block."""
    for comma, tokens in groupby(prelude, key=lambda token: token == ","):
        if not comma:
            yield tinycss2.serialize(list(tokens)).strip()
