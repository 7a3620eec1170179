"""A session and its parts. `None` means "not said". Minutes; effort 0-10; tempo in beats per minute."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date, datetime
from functools import cached_property
from typing import Annotated

from chirotend.core.errors import OutOfRange, check_range
from chirotend.core.record import words
from chirotend.core.record.shape import ID_MAX, NAME_MAX, check_fields, number, shapes, text, word


@dataclass(frozen=True)
class Block:
    """A part of a session: minutes played (rests excluded), its own effort if it was rated by itself.

    `planned` is the laid block it was played as; `grip` how the hands held it and `posture` the seat or support, by ids
    of the library or her own.
    """

    minutes: Annotated[float, number(0, words.SESSION_MAX_MIN, "minutes", column="minutes")]
    instrument: Annotated[str, text(NAME_MAX, missing="not said", column="instrument")] = ""
    kind: Annotated[str, word(words.BLOCK_KINDS, missing="repertoire", column="kind")] = "repertoire"
    effort: Annotated[
        float | None, number(0, words.EFFORT_MAX, missing="the session's effort holds", column="block_effort")
    ] = None
    dynamic: Annotated[str | None, word(words.DYNAMICS, missing="not said", column="dynamic")] = None
    tempo_bpm: Annotated[float | None, number(10, 400, "beats per minute", missing="not said", column="tempo_bpm")] = (
        None
    )
    planned: Annotated[str, text(ID_MAX, missing="not played as planned", column="planned")] = ""
    grip: Annotated[str, text(ID_MAX, missing="not said", column="grip")] = ""
    posture: Annotated[str, text(ID_MAX, missing="not said", column="posture")] = ""

    def __post_init__(self) -> None:
        check_fields(self)


@dataclass(frozen=True)
class Session:
    """One session on practice day `day`; `start_utc` is None in diaries that kept no times."""

    uid: Annotated[str, text(ID_MAX)]
    day: date
    blocks: tuple[Block, ...]
    effort: Annotated[float | None, number(0, words.EFFORT_MAX, missing="not rated", column="effort")] = None
    start_utc: datetime | None = None
    end_utc: datetime | None = None
    went_well: Annotated[str, text(column="went_well", label="Went well")] = ""
    was_hard: Annotated[str, text(column="was_hard", label="Was hard")] = ""
    question: Annotated[str, text(column="question", label="Question for your teacher")] = ""

    def __post_init__(self) -> None:
        if not self.blocks:
            raise OutOfRange("minutes", 0, words=("at least one block with minutes",))
        check_range("minutes", self.minutes, 0, words.SESSION_MAX_MIN, "min")
        check_fields(self)

    @cached_property
    def minutes(self) -> float:
        return sum(block.minutes for block in self.blocks)

    @cached_property
    def playing_minutes(self) -> float:
        """Minutes without other uses of the hands."""
        return sum(block.minutes for block in self.blocks if block.kind != "other")

    def effort_of(self, block: Block) -> float | None:
        """Return the effort of one of its blocks: its own rating, else that of the whole session; None = not rated."""
        return block.effort if block.effort is not None else self.effort

    def texts(self) -> dict[str, str]:
        """Return what was written of it in words, by field; "" = nothing."""
        return {name: getattr(self, name) for name in SESSION_TEXTS}

    def minutes_on(self, instrument: str) -> float:
        """Minutes played on one instrument."""
        return sum(block.minutes for block in self.blocks if block.instrument == instrument and block.kind != "other")


#: what is written of a session in words: the field, and what the screen calls it
SESSION_TEXTS = {name: shape.label for name, shape in shapes(Session).items() if shape.label}


def filled(first: Session, second: Session) -> Session:
    """Return `first` with what only `second` says: its effort, times and texts; id, day and blocks are those of
    `first`."""
    names = ("effort", "start_utc", "end_utc", *SESSION_TEXTS)
    return replace(first, **{name: getattr(second, name) for name in names if getattr(first, name) in (None, "")})


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
