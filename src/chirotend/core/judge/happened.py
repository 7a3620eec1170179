"""What happened to a player beside the playing: an operation, a fever, a fall … and what someone licensed allowed.

Each changes the call from its day until it ends. Common practice put together with care, no source; not yet reviewed
by a clinician.
"""

from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.record.check import Place

OPERATION, CAST, FALL, FEVER, PREGNANT, AWAY, INSTRUMENT, MEDICINE, LIMIT = (
    "operation",
    "cast",
    "fall",
    "fever",
    "pregnant",
    "away",
    "instrument",
    "medicine",
    "limit",
)
HAPPENING_KINDS = (OPERATION, CAST, FALL, FEVER, PREGNANT, AWAY, INSTRUMENT, "tour", MEDICINE, LIMIT)
#: what someone licensed said of playing: so many minutes a day, no limit, nothing yet
MINUTES, NO_LIMIT, NOT_YET = ALLOWED = ("minutes", "no_limit", "not_yet")
#: how a hand that was hit moves and feels
AS_BEFORE, NOT_AS_BEFORE, NOT_SURE = ("as_before", "not_as_before", "not_sure")
OTHER_ANSWERS = ("yes", "no", "rest", "no_instrument", "other", "reach", "weight", "force")
HOW_MUCH_MORE = ("a_little", "half", "double")
ANSWERS = ("", *ALLOWED, AS_BEFORE, NOT_AS_BEFORE, NOT_SURE, *OTHER_ANSWERS, *HOW_MUCH_MORE)
FEVER_FREE_DAYS = 1


@dataclass(frozen=True)
class Happening:
    """One thing that happened, as the call reads it.

    `day`: when it was or began. `until`: the last day it counts; None = it has not ended. `answer`: one of `ALLOWED`
    (operation, cast, limit), how it moves and feels (fall), "yes", "no" or "not_sure" (medicine), "" otherwise.
    `allowed_min`: minutes a day from `allowed_from` to `allowed_until` (None = until she changes it).
    `not_on`: instruments that were ruled out. `place`: (region, side), where it has one. `instrument`: which is new.
    """

    uid: str
    kind: str
    day: date
    until: date | None = None
    answer: str = ""
    allowed_min: float | None = None
    allowed_from: date | None = None
    allowed_until: date | None = None
    not_on: tuple[str, ...] = ()
    place: Place | None = None
    instrument: str = ""

    def lasts_on(self, day: date) -> bool:
        return self.day <= day and (self.until is None or day <= self.until)

    def allows_on(self, day: date) -> bool:
        """True when what was allowed holds on `day`."""
        return (
            self.answer == MINUTES
            and self.allowed_from is not None
            and self.allowed_from <= day
            and (self.allowed_until is None or day <= self.allowed_until)
        )

    def stops_on(self, day: date) -> bool:
        """True when nothing may be played on `day` because of it."""
        if self.kind == FEVER:
            free = self.until + timedelta(days=FEVER_FREE_DAYS) if self.until is not None else None
            return self.day <= day and (free is None or day <= free)
        if not self.lasts_on(day):
            return False
        if self.kind in (OPERATION, CAST):
            return self.answer == NOT_YET or (
                self.answer == MINUTES and self.allowed_from is not None and day < self.allowed_from
            )
        return self.kind == FALL and self.answer in (NOT_AS_BEFORE, NOT_SURE)
