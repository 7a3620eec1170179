"""A completed question "anything?" and the symptoms it brought. A check without entries means "no symptom"."""

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from functools import cached_property
from typing import Annotated

from chirotend.core.body.zones import zone
from chirotend.core.errors import OutOfRange
from chirotend.core.record import words
from chirotend.core.record.shape import ID_MAX, check_fields, number, text, word

Place = tuple[str, str]  # region, side


@dataclass(frozen=True)
class Entry:
    """One symptom: where, which side, what kind, how strong (0-10), how long after stopping, with which flags.

    `eased` says what eased it; None = not said.
    """

    zone: str
    side: Annotated[str, word(words.SIDES, column="side")]
    kind: Annotated[str, word(words.SYMPTOM_KINDS, column="kind")]
    intensity: Annotated[float, number(0, words.INTENSITY_MAX, column="intensity")]
    lasting: Annotated[str | None, word(words.LASTING, missing="not said", column="lasting")] = None
    flags: Annotated[tuple[str, ...], word(words.FLAGS, missing="none of them", column="flags", several=True)] = ()
    eased: Annotated[str | None, word(words.EASED, missing="not said", column="eased")] = None

    def __post_init__(self) -> None:
        place = zone(self.zone)
        check_fields(self)
        if place.sided == (self.side == "none"):
            wanted = ("left", "right") if place.sided else ("none",)
            raise OutOfRange("side", self.side, words=wanted)

    @property
    def region(self) -> str:
        return zone(self.zone).region


@dataclass(frozen=True)
class Mark:
    """A symptom entry with the day, timing and (if known) instant at which it was felt."""

    day: date
    timing: str
    at_utc: datetime | None
    entry: Entry

    @cached_property
    def place(self) -> Place:
        return self.entry.region, self.entry.side

    @property
    def night(self) -> date | None:
        """The night it belongs to, named by the practice day before it; None when not of the night."""
        if self.timing == "night":
            return self.day
        return self.day - timedelta(days=1) if self.timing == "waking" else None


@dataclass(frozen=True)
class Check:
    """A completed question "anything?" for one timing of one practice day, with every entry it brought."""

    uid: Annotated[str, text(ID_MAX)]
    day: date
    timing: Annotated[str, word(words.TIMINGS, column="timing")]
    entries: tuple[Entry, ...] = ()
    red_flags: tuple[str, ...] = ()
    other_uses: Annotated[str | None, word(words.OTHER_USES, missing="not said")] = None
    at_utc: datetime | None = None

    def __post_init__(self) -> None:
        check_fields(self)

    @cached_property
    def marks(self) -> tuple[Mark, ...]:
        """What was felt; an entry of strength 0 is none."""
        return tuple(Mark(self.day, self.timing, self.at_utc, e) for e in self.entries if e.intensity > 0)
