"""A limit that someone licensed gave, in the player's own words: read back to her, kept once she confirmed it."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from chirotend.core.judge.happened import LIMIT, MINUTES
from chirotend.core.record.words import SESSION_MAX_MIN
from chirotend.formats.spelled import length_of
from chirotend.formats.spelled.days import day_of
from chirotend.formats.spelled.plain import plain
from chirotend.library.loader import instrument_name
from chirotend.services.context import Context, FieldError
from chirotend.services.record import corrections
from chirotend.services.today.happened import new_row
from chirotend.services.words import capital, no_instrument, short_day_words

WORDS_MAX, NAME_MAX = 500, 120

_UNTIL = re.compile(r"\b(?:until|till|to|by|bis)\b\s*(?:the\s+)?(?P<day>[^,;.]+)", re.IGNORECASE)
_BESIDE_MINUTES = re.compile(
    r"\b(?:a|per|each|every|day|daily|at|most|max|maximum|only|up|am|pro|tag)\b\.?", re.IGNORECASE
)
_NO = re.compile(r"\b(?:no|not|without|kein|keine)\b\s*(?:the\s+|on\s+)*(?P<what>[a-zäöüß -]+)", re.IGNORECASE)


@dataclass(frozen=True)
class ToldLimit:
    """A limit in free words as it is read: minutes a day (None = not understood), instruments ruled out, its end."""

    words: str
    minutes: float | None
    not_on: tuple[str, ...] = ()
    until: date | None = None

    @property
    def read_back(self) -> str:
        """What it is read as, to be confirmed: "At most 30 min a day, no contrabassoon, until Sun 20 December"."""
        parts = [f"at most {self.minutes:g} min a day"] if self.minutes is not None else []
        parts += [no_instrument(i) for i in self.not_on]
        parts += [f"until {short_day_words(self.until)}"] if self.until is not None else []
        return capital(", ".join(parts))


def read_limit(context: Context, words: str) -> ToldLimit:
    """Return how a limit in free words is read; what cannot be read stays words."""
    until, rest = _until(context, words)
    not_on = tuple(i for i in context.player.instruments if any(_named(i, m["what"]) for m in _NO.finditer(rest)))
    minutes = next((m for part in re.split(r"[,;.]", rest) if (m := _minutes(part)) is not None), None)
    return ToldLimit(words, minutes, not_on, until)


def _until(context: Context, words: str) -> tuple[date | None, str]:
    found = _UNTIL.search(words)
    spelled = day_of(found["day"].strip()) if found else None
    day = spelled.as_date(True, context.today.year) if spelled else None
    if found is None or day is None:
        return None, words
    if day < context.today and spelled is not None and spelled.year is None:
        day = spelled.as_date(True, context.today.year + 1) or day
    return day, words.replace(found.group(), " ")


def _named(instrument: str, what: str) -> bool:
    name, said = plain(instrument_name(instrument)), plain(what).split()
    return any(len(word) > 3 and (word == name or name.startswith(word)) for word in said)


def _minutes(part: str) -> float | None:
    """The length that a part names: "30 minutes a day", "max 1 h"."""
    bare = _BESIDE_MINUTES.sub(" ", part)
    found = length_of(bare.strip())
    if found is None or not found.said or not 1 <= found.minutes() <= SESSION_MAX_MIN:
        return None
    return float(int(found.minutes()))


def keep_confirmed(context: Context, typed: Mapping[str, str]) -> None:
    """Write a limit in free words that was read back and confirmed; the call keeps to it. `FieldError` at "told"."""
    told = read_limit(context, typed.get("told", "").strip()[:WORDS_MAX])
    if told.minutes is None and not told.not_on:
        raise FieldError(
            "told", "No minutes and no instrument were understood. Write it as: 30 minutes a day until 20 Dec."
        )
    keep_limit(context, told, typed.get("said_by", "").strip()[:NAME_MAX])


def keep_limit(context: Context, told: ToldLimit, said_by: str = "") -> None:
    """Write a limit that someone licensed gave, from today on."""
    until = {"until": told.until, "allowed_from": context.today, "allowed_until": told.until}
    limit = {"answer": MINUTES, "allowed_min": told.minutes, "not_on": list(told.not_on)}
    row = new_row(LIMIT, context.today, **until, **limit, said_by=said_by, words=told.words)
    corrections.put_row(context, "happening", row)
