"""What she wrote down after playing, kept as lists: questions for the teacher, what went well, what was hard."""

from dataclasses import dataclass
from datetime import date

from chirotend.services.context import Context, FieldError

LIST_TITLES = {"question": "Questions", "went_well": "Went well", "was_hard": "Was hard"}
MOST = 300


@dataclass(frozen=True)
class Written:
    """A line she wrote: when, in which session, which list, the words."""

    day: date
    session: str
    kind: str
    text: str


def written(context: Context, kind: str = "", search: str = "") -> list[Written]:
    """Return the lines of one list (or all), newest first, that hold the words of `search`; at most 300."""
    if kind and kind not in LIST_TITLES:
        raise FieldError("kind", f"Choose one of {', '.join(LIST_TITLES.values())}.")
    kinds = (kind,) if kind else tuple(LIST_TITLES)
    words = search.lower().split()
    found = [
        Written(day, uid, k, text)
        for day, uid, texts in context.store.words_written(kinds)
        for k, text in zip(kinds, texts, strict=True)
        if text and all(w in text.lower() for w in words)
    ]
    return found[:MOST]
