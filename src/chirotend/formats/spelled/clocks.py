"""Times of day as people write them: 10:30, 10.30, 10h30, 9:30 AM, 10:00:00, 24:00."""

import re
from datetime import time

from chirotend.core.memos import by_value

_CLOCK = re.compile(
    r"(?P<hour>\d{1,2})(?:\s?(?:[:.h]|uhr)\s?(?P<minute>\d{2})?)?(?:[:.](?P<second>\d{2}))?\s?(?P<half>[ap]\.?m\.?|uhr|h)?",
    re.IGNORECASE,
)


def clock_of(text: str) -> time | None:
    """Return the time of day that `text` spells, to the second; 24:00 is midnight. None when it spells none.

    A number alone ("10") is no time: it could be minutes.
    """
    found = _CLOCK.fullmatch(text.strip())
    if found is None or text.strip().isdigit():
        return None
    hour, minute, second = (int(found[name] or 0) for name in ("hour", "minute", "second"))
    half = (found["half"] or "").lower().replace(".", "")
    if half in ("am", "pm"):
        if not 1 <= hour <= 12:
            return None
        hour = hour % 12 + (12 if half == "pm" else 0)
    if (hour, minute, second) == (24, 0, 0):
        hour = 0
    return time(hour, minute, second) if hour < 24 and minute < 60 and second < 60 else None


_BETWEEN = re.compile(r"\s*(?:-|–|—|\bto\b|\bbis\b|\bà\b|\ba\b)\s*")


@by_value(20_000)
def clocks_of(text: str) -> tuple[time, time | None] | None:
    """Return the start, and the end where two times are written ("23:00–00:30"); a bare hour ("10") counts here."""
    parts = [_hour(part) or clock_of(part) for part in _BETWEEN.split(text.strip(), maxsplit=1)]
    if parts[0] is None or parts[-1] is None:
        return None
    return parts[0], parts[1] if len(parts) == 2 else None


def _hour(text: str) -> time | None:
    return time(int(text) % 24) if text.isdecimal() and len(text) < 3 and int(text) <= 24 else None
