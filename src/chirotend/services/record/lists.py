"""What was written of sessions in words, a list a field: what went well, what was hard, questions for the teacher."""

from dataclasses import dataclass
from datetime import date

from chirotend.core.record.session import SESSION_TEXTS
from chirotend.services.context import Context, FieldError

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
    if kind and kind not in SESSION_TEXTS:
        raise FieldError("kind", f"Choose one of {', '.join(SESSION_TEXTS.values())}.")
    kinds = (kind,) if kind else tuple(SESSION_TEXTS)
    words = search.lower().split()
    found = [
        Written(day, uid, k, text)
        for day, uid, texts in context.store.words_written(kinds)
        for k, text in zip(kinds, texts, strict=True)
        if text and all(w in text.lower() for w in words)
    ]
    return found[:MOST]
