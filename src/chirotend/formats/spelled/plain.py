"""A word as it is looked up: small letters, no accents, no dots, one space between."""

import re
import unicodedata
from collections.abc import Iterator, Sequence

from chirotend.core.memos import by_value

_APART = re.compile(r"[^\w&+]+|_+")


@by_value(20_000)
def plain(text: str) -> str:
    """Return `text` in small letters without accents and punctuation: "Übe-Zeit (min.)" becomes "ube zeit min".

    What is nothing but signs ("–") stays as it is.
    """
    letters = unicodedata.normalize("NFKD", text.casefold())
    kept = "".join(c for c in letters if not unicodedata.combining(c))
    return _APART.sub(" ", kept).strip() or text.strip()


def runs_of(words: Sequence[str], longest: int) -> Iterator[str]:
    """Yield every run of up to `longest` words that stand together, the longest first."""
    return (" ".join(words[n : n + size]) for size in range(longest, 0, -1) for n in range(len(words) - size + 1))
