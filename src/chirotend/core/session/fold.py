"""A running session is a fold over appended events: the state is computed, never stored.

Events may arrive twice and out of order; the page gives each its own id, and the instants put them in order.
"""

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime, timedelta

from chirotend.core.errors import MethodError, check_word
from chirotend.core.session import ladder as ladders
from chirotend.core.session.ladder import Ladder
from chirotend.core.session.prompts import SAID, Answer
from chirotend.core.words import BLOCK_KINDS, SESSION_MAX_MIN

EVENT_KINDS = (
    "start",
    "block",
    "rest",
    "pause",
    "resume",
    "mark",
    "unmark",
    "stretch",
    "ladder",
    "run",
    "answer",
    "note",
    "stop",
    "close",
)
STRETCH_MAX_MIN = 60.0
SKIPPED_BELOW_S = 60.0  # a rest shorter than this was skipped
ENDS = ("stop", "close")
BY_CLOCK = "clock"  # payload `by`: the page turned by itself
BAR_DIGITS = 4
FORGOTTEN_AFTER = timedelta(hours=3)  # without any event (ours, common practice)


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


@dataclass(frozen=True)
class Span:
    """A stretch of playing or rest with the seconds it lasted so far (pauses excluded).

    `bar` is its place in the planned session (None = not planned), `extra_min` what was added to it while playing.
    """

    kind: str  # play | rest
    instrument: str
    block_kind: str
    began_utc: datetime
    seconds: float
    bar: int | None = None
    extra_min: float = 0.0


@dataclass(frozen=True)
class MadeMark:
    """A mark made while playing: where, and when; side and strength are settled afterwards."""

    uid: str
    place: str
    at_utc: datetime


@dataclass(frozen=True)
class Running:
    """The state of a session: idle, playing, resting, paused, stopped or closed."""

    phase: str = "idle"
    spans: tuple[Span, ...] = ()
    marks: tuple[MadeMark, ...] = ()
    began_utc: datetime | None = None
    phase_since: datetime | None = None
    ended_utc: datetime | None = None
    last_utc: datetime | None = None
    preset: str = ""
    #: the session as it was laid out when it began, as the start event carries it; "" = not laid out
    laid_out: str = ""
    resume_to: str = ""
    ladder: Ladder | None = None
    answers: tuple[Answer, ...] = ()

    @property
    def live(self) -> bool:
        return self.phase in ("playing", "resting", "paused")

    @property
    def played_minutes(self) -> float:
        return sum(s.seconds for s in self.spans if s.kind == "play") / 60

    @property
    def skipped_rests(self) -> int:
        """Rests that were left again within a minute."""
        return sum(1 for s in self.spans[:-1] if s.kind == "rest" and s.seconds < SKIPPED_BELOW_S)

    def forgotten(self, now_utc: datetime) -> bool:
        """True when the session still runs though she has done nothing for three hours: a page that turns by itself
        is no sign of her."""
        return self.live and self.last_utc is not None and now_utc - self.last_utc > FORGOTTEN_AFTER

    @property
    def too_long(self) -> bool:
        """True when more was counted than one session can hold: she must say when she stopped."""
        return sum(s.seconds for s in self.spans) / 60 > SESSION_MAX_MIN


def state_of(events: Iterable[Event]) -> Running:
    """Return the state after `events`, in whatever order and number of copies they came. Nothing: idle."""
    once = {e.uid: e for e in events}
    state = Running()
    for event in sorted(_forward(once.values()), key=_order):
        state = _apply(state, event)
    return state


def _forward(events: Iterable[Event]) -> Iterable[Event]:
    """Lift instants so that each device's own count never runs back: a clock set back must not undo what it counted.

    Events without a count (0) keep their instant.
    """
    latest: dict[str, datetime] = {}
    for event in sorted(events, key=lambda e: (e.device, e.seq, e.at_utc)):
        if event.seq > 0:
            at = max(event.at_utc, latest.get(event.device, event.at_utc))
            latest[event.device] = at
            event = replace(event, at_utc=at)
        yield event


def _order(event: Event) -> tuple[datetime, int, int, str]:
    """By instant, then by the device's own count; an end at the same instant comes last."""
    return event.at_utc, event.seq, ENDS.index(event.kind) + 1 if event.kind in ENDS else 0, event.uid


def state_at(events: Iterable[Event], now_utc: datetime) -> Running:
    """Return the state with the running span grown up to `now_utc`."""
    state = state_of(events)
    return _grow(state, now_utc) if state.phase in ("playing", "resting") else state


def _grow(state: Running, until: datetime) -> Running:
    if state.phase not in ("playing", "resting") or not state.spans or state.phase_since is None:
        return state
    last = state.spans[-1]
    seconds = max(0.0, (until - state.phase_since).total_seconds())
    return replace(state, spans=(*state.spans[:-1], replace(last, seconds=last.seconds + seconds)), phase_since=until)


def _apply(state: Running, event: Event) -> Running:
    at = event.at_utc.astimezone(UTC)
    if state.phase == "closed":
        return state
    if state.phase == "stopped" and event.kind not in ("close", "note"):
        return state
    payload = _texts(event.payload)
    state = replace(_grow(state, at), last_utc=state.last_utc if payload.get("by") == BY_CLOCK else at)
    match event.kind:
        case "start" if state.phase == "idle":
            bar = 0 if payload.get("planned") == "yes" else None
            span = Span("play", payload.get("instrument", ""), _kind(payload, "repertoire"), at, 0.0, bar)
            return replace(
                state,
                phase="playing",
                began_utc=at,
                phase_since=at,
                spans=(span,),
                preset=payload.get("preset", ""),
                laid_out=payload.get("bars", ""),
            )
        case "block" | "rest" if state.live:
            playing = [s for s in state.spans if s.kind == "play"]
            before = playing[-1] if playing else None
            span = Span(
                "play" if event.kind == "block" else "rest",
                payload.get("instrument") or (before.instrument if before else ""),
                _kind(payload, before.block_kind if before else "repertoire"),
                at,
                0.0,
                _bar(state, payload),
            )
            return replace(
                state,
                phase="playing" if event.kind == "block" else "resting",
                phase_since=at,
                spans=(*state.spans, span),
            )
        case "pause" if state.phase in ("playing", "resting"):
            return replace(state, phase="paused", resume_to=state.phase, phase_since=at)
        case "resume" if state.phase == "paused":
            return replace(state, phase=state.resume_to, phase_since=at)
        case "mark" if state.live:
            return replace(state, marks=(*state.marks, MadeMark(event.uid, payload.get("place", ""), at)))
        case "unmark":
            return replace(state, marks=tuple(m for m in state.marks if m.uid != payload.get("mark", "")))
        case "stretch" if state.live:
            extra = max(-STRETCH_MAX_MIN, min(STRETCH_MAX_MIN, _number(payload.get("minutes"))))
            last = replace(state.spans[-1], extra_min=state.spans[-1].extra_min + extra)
            return replace(state, spans=(*state.spans[:-1], last))
        case "ladder" if state.live:
            return replace(state, ladder=_ladder(payload))
        case "run" if state.live and state.ladder is not None:
            return replace(state, ladder=ladders.after(state.ladder, payload.get("clean") == "yes"))
        case "answer" if state.live and payload.get("said") in SAID:
            answer = Answer(state.played_minutes, payload.get("prompt", ""), payload["said"])
            tight = payload["said"] == "tight" and payload.get("place")
            marks = (*state.marks, MadeMark(event.uid, payload["place"], at)) if tight else state.marks
            return replace(state, answers=(*state.answers, answer), marks=marks)
        case "stop" if state.live:
            return replace(state, phase="stopped", ended_utc=at)
        case "close" if state.phase != "idle":
            return replace(state, phase="closed", ended_utc=state.ended_utc or at)
        case _:
            return state


def _bar(state: Running, payload: dict[str, str]) -> int | None:
    """The place of the next bar: the one named, else the one after the last."""
    named = payload.get("bar", "")
    if named.isascii() and named.isdigit() and len(named) <= BAR_DIGITS:
        return int(named)
    before = next((s.bar for s in reversed(state.spans) if s.bar is not None), None)
    return None if before is None else before + 1


def _kind(payload: dict[str, str], otherwise: str) -> str:
    """The kind of block that was named; one that is none of the list counts as the one before."""
    named = payload.get("block_kind", "")
    return named if named in BLOCK_KINDS else otherwise


def _texts(payload: object) -> dict[str, str]:
    """What can be read of a payload: its texts. Anything else is passed over, so that the fold takes every event."""
    if not isinstance(payload, dict):
        return {}
    return {k: v for k, v in payload.items() if isinstance(k, str) and isinstance(v, str)}


def _number(text: str | None) -> float:
    try:
        value = float(text or "nan")
    except ValueError:
        return 0.0
    return value if value == value else 0.0


def _ladder(payload: dict[str, str]) -> Ladder | None:
    """A ladder from what was typed; a tempo that cannot be leaves none."""
    ceiling = _number(payload.get("ceiling")) or None
    try:
        return ladders.begin(_number(payload.get("tempo")), payload.get("school", "soft"), ceiling)
    except MethodError:
        return None
