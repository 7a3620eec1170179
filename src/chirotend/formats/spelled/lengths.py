"""How long: 1h30, 1:30, 01:30:00, 90', 90 min, 1,5 h, 1½ Std, 45 + 30, and a number alone, whose unit is not said."""

import re
from dataclasses import dataclass

from chirotend.core.memos import by_value
from chirotend.formats.spelled.numbers import NUMBER, as_number, tidied

_HOURS = r"(?:h|hr|hrs|hours?|std|stdn?|stunden?|heures?|ore|ora|horas?)\b\.?"
_MINUTES = r"(?:'|′|’|m\b|mn\b|mins?\b\.?|minutes?\b|minuten?\b|minuti\b|minutos?\b)"
_SAID = re.compile(
    rf"(?:(?P<hours>{NUMBER})\s*(?P<h>{_HOURS}|h(?=\s*\d)))?\s*(?:(?P<minutes>{NUMBER})\s*(?P<m>{_MINUTES})?)?",
    re.IGNORECASE,
)
_CLOCK = re.compile(r"(\d{1,2}):([0-5]\d)(?::([0-5]\d))?(?:\s*h)?", re.IGNORECASE)


@dataclass(frozen=True)
class Length:
    """A number and its unit: minutes, or "" where none was said."""

    number: float
    said: bool

    def minutes(self, unit: str = "minutes") -> float:
        """Return the minutes; a number without a unit is taken in `unit`: minutes, hours, or "looks"."""
        if self.said or unit == "minutes" or (unit == "looks" and self.number > LOOKS_LIKE_HOURS):
            return self.number
        return self.number * 60


#: up to here a number without a unit looks like hours
LOOKS_LIKE_HOURS = 8


@by_value(20_000)
def length_of(text: str) -> Length | None:
    """Return the length that `text` spells, or None; sums ("45 + 30") are added up."""
    parts = [_one(part) for part in tidied(text).split("+")]
    found = [part for part in parts if part is not None]
    if len(found) < len(parts) or len({part.said for part in found}) > 1:
        return None
    return Length(sum(part.number for part in found), found[0].said)


def _one(text: str) -> Length | None:
    text = text.strip()
    clock = _CLOCK.fullmatch(text)
    if clock is not None:
        hours, minutes, seconds = (int(part or 0) for part in clock.groups())
        return Length(hours * 60 + minutes + seconds / 60, said=True)
    found = _SAID.fullmatch(text)
    if found is None or not (found["hours"] or found["minutes"]):
        return None
    if not found["hours"]:
        return Length(as_number(found["minutes"]), said=bool(found["m"]))
    over = as_number(found["minutes"]) if found["minutes"] else 0.0
    return Length(as_number(found["hours"]) * 60 + over, said=True) if over < 60 else None
