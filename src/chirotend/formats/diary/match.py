"""What she says of a diary: the meaning of each column, and the answers to what its cells leave open.

Kept as JSON with the job, and remembered for the next file with the same first line.
"""

import hashlib
from collections.abc import Mapping, Sequence
from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from chirotend.core.body.zones import zones
from chirotend.core.days import zone_named
from chirotend.core.record.session import SESSION_TEXTS
from chirotend.core.record.words import SYMPTOM_KINDS, TIMINGS
from chirotend.formats.spelled import plain

#: what a column can mean, as it is said on screen
MEANINGS = {
    "day": "the day",
    "start": "began at",
    "end": "ended at",
    "minutes": "how long, in minutes",
    "hours": "how long, in hours",
    "instrument": "the instrument",
    "kind": "the kind of playing",
    "effort": "the effort",
    **{name: label.lower() for name, label in SESSION_TEXTS.items()},
    "note": "the day’s note",
    "sleep": "the night’s sleep",
    "off": "a day off",
    "place": "a place on the body",
    "symptom": "complaints, in words",
    "side": "their side",
    "symptom_kind": "their kind",
    "intensity": "how strong they were",
    "timing": "when they were felt",
    "add_note": "add to the note",
    "leave_out": "leave out",
}
#: meanings that several columns may share
SHARED = ("place", "symptom", "note", "add_note", "leave_out")
LENGTHS = ("minutes", "hours")


def _known_zone(zone: str) -> str:
    if zone and zone not in zones():
        raise ValueError("a zone of the list is wanted")
    return zone


def _known_zone_or_note(zone: str) -> str:
    return zone if zone == "note" else _known_zone(zone)


def _known_clock(zone: str) -> str:
    if zone:
        zone_named(zone)
    return zone


class Answered(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Column(Answered):
    """The meaning of one column. A place has its zone, side ("" = not said), kind and timing ("" = as the row says)."""

    meaning: Literal[tuple(MEANINGS)]  # type: ignore[valid-type]
    zone: Annotated[str, AfterValidator(_known_zone)] = ""
    side: Literal["", "left", "right", "both"] = ""
    kind: Literal[("", *SYMPTOM_KINDS)] = ""  # type: ignore[valid-type]
    timing: Literal[("", *TIMINGS)] = ""  # type: ignore[valid-type]


class Match(Answered):
    """Her answers for one table; what is None or "" is not answered, and the likeliest reading holds."""

    columns: dict[int, Column] = Field(default_factory=dict)
    order: Literal["", "day", "month"] = ""
    year: Annotated[int, Field(ge=1900, le=2200)] | None = None
    #: the zone whose clock the times are read by, "" = her own
    zone: Annotated[str, AfterValidator(_known_clock)] = ""
    lengths: Literal["", "looks", "minutes", "hours"] = ""
    effort_of: Literal[0, 5, 6, 10, 20, 100] = 0
    strength_of: Literal[0, 3, 5, 10, 100] = 0
    unsaid_strength: Literal["", "note", "2", "3", "5"] = ""
    #: the kind and the place of complaints that say none: pain until she says otherwise, and only the note
    unsaid_kind: Literal["", "pain", "tension", "stiffness", "note"] = ""
    unsaid_place: Annotated[str, AfterValidator(_known_zone_or_note)] = ""
    unsaid_side: Literal["", "both", "left", "right", "note"] = ""
    pairs: Literal["", "middle", "out"] = ""
    doubles: Literal["", "once", "both"] = ""
    #: cells she wrote anew, as "line:column"
    mended: dict[str, Annotated[str, Field(max_length=20_000)]] = Field(default_factory=dict)
    #: what she said of odd rows, by line
    odd: dict[int, Literal["right", "out"]] = Field(default_factory=dict)

    def habits(self, columns: Sequence[Column], chosen: Mapping[str, str]) -> "Match":
        """Return what holds for the next file of this shape too: its columns, and what was `chosen` by question.

        What is said of single rows, of its year and its doubles is not of that kind.
        """
        said = {k: int(v) if k in ("effort_of", "strength_of") else v for k, v in chosen.items()}
        once: dict[str, object] = {"mended": {}, "odd": {}, "year": None, "doubles": ""}
        return Match.model_validate({**self.model_dump(), **said, **once, "columns": dict(enumerate(columns))})


def shape_of(header: Sequence[str]) -> str:
    """Return the mark of a first line: the same for the next file with these columns."""
    names = "\n".join(plain(name) for name in header)
    return hashlib.sha256(names.encode()).hexdigest()[:40]
