"""What can happen in a session: a class a kind, with what it carries.

On its way and in the record an event carries texts; `read_event` makes the class of them, `carried` the texts of the
class.
Reading takes every event: a text that cannot be read counts as not said, so that a session is never lost over one.
"""

import math
from dataclasses import dataclass, field, fields
from datetime import datetime
from functools import cached_property
from typing import Any

from chirotend.core.errors import check_word

BY_CLOCK = "clock"  # payload `by`: the page turned by itself
BAR_DIGITS = 4


@dataclass(frozen=True)
class Start:
    """The session began.

    `instrument` and `block_kind` of its first block; `preset` of rests; `planned`: with the blocks planned for today;
    `bars`: its blocks as they were laid out, JSON.
    """

    instrument: str = ""
    block_kind: str = ""
    preset: str = ""
    planned: bool = False
    bars: str = ""


@dataclass(frozen=True)
class NextBar:
    """Playing goes on: the same, another instrument, or the bar of that number. "" and None = as before."""

    instrument: str = ""
    block_kind: str = ""
    bar: int | None = None


@dataclass(frozen=True)
class Rest(NextBar):
    """A rest."""


@dataclass(frozen=True)
class Pause:
    """Something came between."""


@dataclass(frozen=True)
class Resume:
    """It goes on where it paused."""


@dataclass(frozen=True)
class Marked:
    """Something was felt, at a place that has a button: a kind of symptom, tightness where none was said."""

    place: str = ""
    feeling: str = "tension"


@dataclass(frozen=True)
class Unmarked:
    """A mark was made by mistake: its event."""

    mark: str = ""


@dataclass(frozen=True)
class Stretch:
    """This bar takes more minutes, or fewer."""

    minutes: float = 0.0


@dataclass(frozen=True)
class LadderSet:
    """A tempo ladder begins: tempo and ceiling in beats per minute (0 = no ceiling), and its school."""

    tempo: float = 0.0
    school: str = "soft"
    ceiling: float = 0.0


@dataclass(frozen=True)
class Run:
    """A run of the ladder: clean or not."""

    clean: bool = False


@dataclass(frozen=True)
class Said:
    """A silent question was answered; "tight" also marks a place."""

    prompt: str = ""
    said: str = ""
    place: str = ""


@dataclass(frozen=True)
class Held:
    """From here on it is held so: a grip, a seat or support, by their ids; "" = as before."""

    grip: str = ""
    posture: str = ""


@dataclass(frozen=True)
class Noted:
    """A word in passing: an error, something good."""


@dataclass(frozen=True)
class Stop:
    """It ended."""


@dataclass(frozen=True)
class Close:
    """It was written into the record."""


What = (
    Start
    | NextBar
    | Rest
    | Pause
    | Resume
    | Marked
    | Unmarked
    | Stretch
    | LadderSet
    | Run
    | Said
    | Held
    | Noted
    | Stop
    | Close
)
EVENT_CLASSES: dict[str, type[What]] = {
    "start": Start,
    "block": NextBar,
    "rest": Rest,
    "pause": Pause,
    "resume": Resume,
    "mark": Marked,
    "unmark": Unmarked,
    "stretch": Stretch,
    "ladder": LadderSet,
    "run": Run,
    "answer": Said,
    "hold": Held,
    "note": Noted,
    "stop": Stop,
    "close": Close,
}
EVENT_KINDS = tuple(EVENT_CLASSES)
#: every text an event may carry
CARRIED = (*dict.fromkeys(f.name for kind in EVENT_CLASSES.values() for f in fields(kind)), "by")


@dataclass(frozen=True)
class Event:
    """Something that happened in a session. `at_utc` is when, `seq` breaks ties of one device."""

    uid: str
    session: str
    device: str
    seq: int
    at_utc: datetime
    kind: str
    payload: dict[str, str] = field(default_factory=dict)
    monotonic_ms: float | None = None

    def __post_init__(self) -> None:
        check_word("kind", self.kind, EVENT_KINDS)

    @cached_property
    def what(self) -> What:
        return read_event(self.kind, self.payload)

    @property
    def by_clock(self) -> bool:
        """True when the page turned by itself: no sign of her."""
        return isinstance(self.payload, dict) and self.payload.get("by") == BY_CLOCK


def read_event(kind: str, payload: object) -> What:
    """Return what happened; what cannot be read of `payload` counts as not said. KeyError for an unknown kind."""
    made = EVENT_CLASSES[kind]
    texts = payload if isinstance(payload, dict) else {}
    said = {f.name: texts[f.name] for f in fields(made) if isinstance(texts.get(f.name), str)}
    return made(**{f.name: _value(f.type, said[f.name], f.default) for f in fields(made) if f.name in said})


def _value(kind: Any, text: str, default: Any) -> Any:
    if kind is bool:
        return text == "yes"
    if kind is float:
        return _number(text)
    if kind == int | None:
        return int(text) if text.isascii() and text.isdigit() and len(text) <= BAR_DIGITS else None
    return text or default


def _number(text: str) -> float:
    try:
        value = float(text)
    except ValueError:
        return 0.0
    return 0.0 if math.isnan(value) else value


def carried(what: What) -> dict[str, str]:
    """Return the texts that carry `what`; what is not said is left out."""
    found = {}
    for f in fields(what):
        value = getattr(what, f.name)
        if value != f.default:
            found[f.name] = "yes" if value is True else f"{value:g}" if isinstance(value, float) else str(value)
    return found
