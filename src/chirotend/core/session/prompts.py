"""Which silent question stands on the stand now, if any. Rare, by her own weak spots, rarer when not answered.

A pure function of the minutes played and the answers given, so that a reload shows the same. Minutes of playing. All
numbers ours, common practice.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

FIRST_AT_MIN, SHOWN_FOR_MIN = 8.0, 4.0
AFTER_FINE_MIN, AFTER_TIGHT_MIN = 15.0, 8.0
UNANSWERED_FACTOR, LONGEST_MIN = 2.0, 60.0
SAID = ("tight", "fine")


@dataclass(frozen=True)
class Answer:
    """An answer given after so many minutes of playing."""

    at_min: float
    prompt: str
    said: str


def due(played_min: float, answers: Sequence[Answer], weights: Mapping[str, float]) -> str | None:
    """Return the id of the question that stands now; None for none, and always None without questions.

    `weights`: how much each question concerns her (marks of the last weeks); the weightiest that was asked least
    comes next. A question stands for 4 minutes; "fine" gives 15 minutes of quiet, "tight" 8, no answer doubles it.
    """
    if not weights:
        return None
    asked = dict.fromkeys(weights, 0)
    at, quiet = FIRST_AT_MIN, AFTER_FINE_MIN
    while at <= played_min:
        prompt = min(weights, key=lambda p: ((asked[p] + 1) / (1 + weights[p]), p))
        asked[prompt] += 1
        given = next((a for a in answers if a.prompt == prompt and at <= a.at_min < at + SHOWN_FOR_MIN), None)
        if given is None and played_min < at + SHOWN_FOR_MIN:
            return prompt
        if given is None:
            quiet = min(quiet * UNANSWERED_FACTOR, LONGEST_MIN)
            at += SHOWN_FOR_MIN + quiet
        else:
            quiet = AFTER_TIGHT_MIN if given.said == "tight" else AFTER_FINE_MIN
            at = given.at_min + quiet
    return None
