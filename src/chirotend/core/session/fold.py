"""A running session is a fold over appended events: the state is computed, never stored.

Events may arrive twice and out of order; the page gives each its own id, and the instants put them in order.
"""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta

from chirotend.core.errors import MethodError
from chirotend.core.record.words import BLOCK_KINDS, SESSION_MAX_MIN
from chirotend.core.session import ladder as ladders
from chirotend.core.session.events import (
    Close,
    Event,
    Held,
    LadderSet,
    Marked,
    NextBar,
    Noted,
    Pause,
    Rest,
    Resume,
    Run,
    Said,
    Start,
    Stop,
    Stretch,
    Unmarked,
)
from chirotend.core.session.ladder import Ladder
from chirotend.core.session.prompts import SAID, Answer

STRETCH_MAX_MIN = 60.0
SKIPPED_BELOW_S = 60.0  # a rest shorter than this was skipped
ENDS = ("stop", "close")
FORGOTTEN_AFTER = timedelta(hours=3)  # without any event (ours, common practice)


@dataclass(frozen=True)
class Hold:
    """How it was held for so many seconds of a span: grip and posture by their ids, "" = not said."""

    grip: str
    posture: str
    seconds: float


@dataclass(frozen=True)
class Span:
    """A stretch of playing or rest with the seconds it lasted so far (pauses excluded).

    `bar` is its place in the planned session (None = not planned), `extra_min` what was added to it while playing,
    `holds` the ways it was held, in their order: their seconds add up to those of the span.
    """

    kind: str  # play | rest
    instrument: str
    block_kind: str
    began_utc: datetime
    seconds: float
    bar: int | None = None
    extra_min: float = 0.0
    holds: tuple[Hold, ...] = (Hold("", "", 0.0),)


@dataclass(frozen=True)
class MadeMark:
    """A mark made while playing: where, when, what kind; side and strength are said afterwards."""

    uid: str
    place: str
    at_utc: datetime
    feeling: str = "tension"


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


# a clock that is set back in the middle must not undo what was touched: decision 26
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
    held = (*last.holds[:-1], replace(last.holds[-1], seconds=last.holds[-1].seconds + seconds))
    grown = replace(last, seconds=last.seconds + seconds, holds=held)
    return replace(state, spans=(*state.spans[:-1], grown), phase_since=until)


def _apply(state: Running, event: Event) -> Running:
    at, what = event.at_utc.astimezone(UTC), event.what
    if state.phase == "closed" or (state.phase == "stopped" and not isinstance(what, Close | Noted)):
        return state
    state = replace(_grow(state, at), last_utc=state.last_utc if event.by_clock else at)
    match what:
        case Start() if state.phase == "idle":
            return _begun(state, what, at)
        case NextBar() if state.live:
            return _next_bar(state, what, at)
        case Pause() if state.phase in ("playing", "resting"):
            return replace(state, phase="paused", resume_to=state.phase, phase_since=at)
        case Resume() if state.phase == "paused":
            return replace(state, phase=state.resume_to, phase_since=at)
        case Marked() if state.live:
            return replace(state, marks=(*state.marks, MadeMark(event.uid, what.place, at, what.feeling)))
        case Unmarked():
            return replace(state, marks=tuple(m for m in state.marks if m.uid != what.mark))
        case Held() if state.live:
            return _held(state, what)
        case Stretch() if state.live:
            return _stretched(state, what)
        case LadderSet() if state.live:
            return replace(state, ladder=_ladder(what))
        case Run() if state.live and state.ladder is not None:
            return replace(state, ladder=ladders.after(state.ladder, what.clean))
        case Said() if state.live and what.said in SAID:
            return _answered(state, what, event.uid, at)
        case Stop() if state.live:
            return replace(state, phase="stopped", ended_utc=at)
        case Close() if state.phase != "idle":
            return replace(state, phase="closed", ended_utc=state.ended_utc or at)
        case _:
            return state


# the bars travel in the start event, so that no later change moves the player elsewhere: decision 47
def _begun(state: Running, what: Start, at: datetime) -> Running:
    span = Span("play", what.instrument, _kind(what.block_kind, "repertoire"), at, 0.0, 0 if what.planned else None)
    return replace(
        state,
        phase="playing",
        began_utc=at,
        phase_since=at,
        spans=(span,),
        preset=what.preset,
        laid_out=what.bars,
    )


def _next_bar(state: Running, what: NextBar, at: datetime) -> Running:
    """A bar or a rest; what it does not say is as in the last bar that was played."""
    before = next((s for s in reversed(state.spans) if s.kind == "play"), None)
    resting = isinstance(what, Rest)
    span = Span(
        "rest" if resting else "play",
        what.instrument or (before.instrument if before else ""),
        _kind(what.block_kind, before.block_kind if before else "repertoire"),
        at,
        0.0,
        _bar(state, what.bar),
        holds=(replace(state.spans[-1].holds[-1], seconds=0.0),),
    )
    return replace(state, phase="resting" if resting else "playing", phase_since=at, spans=(*state.spans, span))


def _held(state: Running, what: Held) -> Running:
    """From here on it is held so; what is not said stays as it was."""
    last = state.spans[-1]
    now = last.holds[-1]
    new = Hold(what.grip or now.grip, what.posture or now.posture, 0.0)
    return replace(state, spans=(*state.spans[:-1], replace(last, holds=(*last.holds, new))))


def _stretched(state: Running, what: Stretch) -> Running:
    extra = max(-STRETCH_MAX_MIN, min(STRETCH_MAX_MIN, what.minutes))
    last = replace(state.spans[-1], extra_min=state.spans[-1].extra_min + extra)
    return replace(state, spans=(*state.spans[:-1], last))


def _answered(state: Running, what: Said, uid: str, at: datetime) -> Running:
    answer = Answer(state.played_minutes, what.prompt, what.said)
    tight = what.said == "tight" and what.place
    marks = (*state.marks, MadeMark(uid, what.place, at)) if tight else state.marks
    return replace(state, answers=(*state.answers, answer), marks=marks)


def _bar(state: Running, named: int | None) -> int | None:
    """The place of the next bar: the one named, else the one after the last."""
    if named is not None:
        return named
    before = next((s.bar for s in reversed(state.spans) if s.bar is not None), None)
    return None if before is None else before + 1


def _kind(named: str, otherwise: str) -> str:
    """The kind of block that was named; one that is none of the list counts as the one before."""
    return named if named in BLOCK_KINDS else otherwise


def _ladder(what: LadderSet) -> Ladder | None:
    """A ladder from what was typed; a tempo that cannot be leaves none."""
    try:
        return ladders.begin(what.tempo, what.school, what.ceiling or None)
    except MethodError:
        return None
