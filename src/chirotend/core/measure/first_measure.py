"""Which measure is worth taking first today: what is left out, what is due, what belongs to what is marked.

Common practice, no source: a hand that is numb or spared is asked for nothing, and a Muted day for no force.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal

Asks = Literal["force", "fingers", "looks"]
FORCE: Asks = "force"
LOOKS: Asks = "looks"


@dataclass(frozen=True)
class Candidate:
    """A measure that suits her: what it asks of her, the regions it belongs to, days after which it is due, the day it
    was taken last (None = never); `device` = it needs something she may not have."""

    id: str
    asks: Asks
    regions: tuple[str, ...]
    again: int
    last: date | None
    device: bool = False

    def age(self, today: date) -> int | None:
        return None if self.last is None else (today - self.last).days


@dataclass(frozen=True)
class Hands:
    """How her hands are today: one is numb or tingles, one is spared, the day is Muted."""

    numb: bool = False
    spared: bool = False
    muted: bool = False

    def allows(self, asks: Asks) -> bool:
        """Whether a measure that asks so much may be offered."""
        if asks == LOOKS:
            return True
        return not (self.numb or self.spared or (asks == FORCE and self.muted))


@dataclass(frozen=True)
class First:
    """The measure offered first, and why: "marked" (with the region), "never", "due" or "oldest"."""

    candidate: Candidate
    why: Literal["marked", "never", "due", "oldest"]
    region: str = ""


def first_measure(
    candidates: Sequence[Candidate], hands: Hands, marked_days: Mapping[str, int], today: date
) -> First | None:
    """Return the measure to offer first; None when nothing may be offered.

    Of what is allowed, and due or never taken, in their order: first what belongs to the region marked on most days
    (`marked_days`, by region), then what was never taken, then the one taken longest ago. When nothing is due, the one
    taken longest ago of all. One that needs a device is offered only to who has used it.
    """
    allowed = [c for c in candidates if hands.allows(c.asks) and (c.last is not None or not c.device)]
    due = [c for c in allowed if (age := c.age(today)) is None or age >= c.again]
    for region in sorted(marked_days, key=lambda r: -marked_days[r]):
        belong = [c for c in due if region in c.regions]
        if belong:
            return First(belong[0], "marked", region)
    never = [c for c in due if c.last is None]
    if never:
        return First(never[0], "never")
    oldest = min(due or allowed, key=lambda c: c.last or date.min, default=None)
    return None if oldest is None else First(oldest, "due" if due else "oldest")
