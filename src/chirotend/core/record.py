"""The day model: what a player wrote, as frozen values.

`None` always means "not said". A check that was completed with no entries means "no symptom"; a day without a check
means nothing at all. A session or an explicit day off makes a day's load known; anything else is "not logged".
"""

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import date, datetime

from chirotend.core import words
from chirotend.core.body.zones import zone
from chirotend.core.errors import OutOfRange, check_range, check_word


@dataclass(frozen=True)
class Block:
    """A part of a session: minutes played (rests excluded), its own effort 0-10 if it was rated by itself."""

    minutes: float
    instrument: str = ""
    kind: str = "repertoire"
    effort: float | None = None
    dynamic: str | None = None
    tempo_bpm: float | None = None

    def __post_init__(self) -> None:
        check_range("minutes", self.minutes, 0, words.SESSION_MAX_MIN, "min")
        check_word("kind", self.kind, words.BLOCK_KINDS)
        if self.effort is not None:
            check_range("effort", self.effort, 0, words.EFFORT_MAX)
        if self.dynamic is not None:
            check_word("dynamic", self.dynamic, words.DYNAMICS)
        if self.tempo_bpm is not None:
            check_range("tempo_bpm", self.tempo_bpm, 10, 400, "beats per minute")


@dataclass(frozen=True)
class Session:
    """One sitting on practice day `day`; `start_utc` is None in diaries that kept no times."""

    uid: str
    day: date
    blocks: tuple[Block, ...]
    effort: float | None = None
    start_utc: datetime | None = None
    end_utc: datetime | None = None
    went_well: str = ""
    was_hard: str = ""
    question: str = ""

    def __post_init__(self) -> None:
        if not self.blocks:
            raise OutOfRange("minutes", 0, words=("at least one block with minutes",))
        check_range("minutes", self.minutes, 0, words.SESSION_MAX_MIN, "min")
        if self.effort is not None:
            check_range("effort", self.effort, 0, words.EFFORT_MAX)

    @property
    def minutes(self) -> float:
        return sum(block.minutes for block in self.blocks)

    @property
    def playing_minutes(self) -> float:
        """Minutes without other uses of the hands."""
        return sum(block.minutes for block in self.blocks if block.kind != "other")


@dataclass(frozen=True)
class Entry:
    """One symptom: where, which side, what kind, how strong (0-10), how long after stopping, with which flags.

    `eased` says what eased it; None = not said.
    """

    zone: str
    side: str
    kind: str
    intensity: float
    lasting: str | None = None
    flags: tuple[str, ...] = ()
    eased: str | None = None

    def __post_init__(self) -> None:
        place = zone(self.zone)
        check_word("side", self.side, words.SIDES)
        if place.sided == (self.side == "none"):
            wanted = ("left", "right") if place.sided else ("none",)
            raise OutOfRange("side", self.side, words=wanted)
        check_word("kind", self.kind, words.KINDS)
        check_range("intensity", self.intensity, 0, words.INTENSITY_MAX)
        if self.lasting is not None:
            check_word("lasting", self.lasting, words.LASTING)
        for flag in self.flags:
            check_word("flags", flag, words.FLAGS)
        if self.eased is not None:
            check_word("eased", self.eased, words.EASED)

    @property
    def region(self) -> str:
        return zone(self.zone).region


@dataclass(frozen=True)
class Check:
    """A completed question "anything?" for one timing of one practice day, with every entry it brought."""

    uid: str
    day: date
    timing: str
    entries: tuple[Entry, ...] = ()
    red_flags: tuple[str, ...] = ()
    other_uses: str | None = None
    at_utc: datetime | None = None

    def __post_init__(self) -> None:
        check_word("timing", self.timing, words.TIMINGS)
        if self.other_uses is not None:
            check_word("other_uses", self.other_uses, words.OTHER_USES)


@dataclass(frozen=True)
class DayNote:
    """What belongs to a whole practice day: an explicit day off, last night's sleep, hands on waking."""

    day: date
    off: bool = False
    sleep: str | None = None
    hands: str | None = None
    note: str = ""

    def __post_init__(self) -> None:
        if self.sleep is not None:
            check_word("sleep", self.sleep, words.SLEEP)
        if self.hands is not None:
            check_word("hands", self.hands, words.HANDS)


@dataclass(frozen=True)
class Record:
    """Everything one player wrote in a span of days."""

    sessions: tuple[Session, ...] = ()
    checks: tuple[Check, ...] = ()
    notes: tuple[DayNote, ...] = ()
    _by_day: dict[date, list[Check]] = field(default_factory=dict, init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        for check in self.checks:
            self._by_day.setdefault(check.day, []).append(check)

    def checks_on(self, day: date) -> list[Check]:
        return self._by_day.get(day, [])

    @property
    def asked_days(self) -> set[date]:
        """Days on which at least one check was completed."""
        return set(self._by_day)

    @property
    def load_days(self) -> set[date]:
        """Days whose load is known: a session, or an explicit day off."""
        return {s.day for s in self.sessions} | {n.day for n in self.notes if n.off}

    @property
    def logged_days(self) -> set[date]:
        return self.asked_days | self.load_days

    def note(self, day: date) -> DayNote | None:
        return next((n for n in self.notes if n.day == day), None)

    def until_morning(self, day: date) -> "Record":
        """Return what was known on the morning of `day`: all before it, and its waking check and note."""
        return Record(
            tuple(s for s in self.sessions if s.day < day),
            tuple(c for c in self.checks if c.day < day or (c.day == day and c.timing == "waking")),
            tuple(n for n in self.notes if n.day <= day),
        )


def overlap(a: Session, others: Iterable[Session]) -> Session | None:
    """Return the first of `others` that shares time with `a`; sessions without a start cannot overlap."""
    if a.start_utc is None or a.end_utc is None:
        return None
    for b in others:
        if b.start_utc is None or b.end_utc is None or b.uid == a.uid:
            continue
        if a.start_utc < b.end_utc and b.start_utc < a.end_utc:
            return b
    return None
