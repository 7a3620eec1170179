"""The wrap-up: a stopped session is written into the record, with what was marked while playing."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import timedelta

from chirotend.core.days import practice_day
from chirotend.core.record import Block, Session
from chirotend.core.record.words import EFFORT_MAX, SYMPTOM_KINDS
from chirotend.core.session.fold import Running
from chirotend.services.body import checks
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.kit import own_library
from chirotend.services.plan import week_aims
from chirotend.services.play.bars import laid_bars
from chirotend.services.play.made_marks import Answered, answered, made_marks
from chirotend.services.play.running_session import LAST_SEQ, TOP_TEMPO, own_event, state_now
from chirotend.services.record import corrections, measured

NOTHING = "nothing"


@dataclass(frozen=True)
class WrapUp:
    """The answers after playing: effort 0-10, whether anything is there, what the marks were, and texts for later."""

    effort: float | None
    #: "nothing", or the kind of what is there
    anything: str
    settled: Sequence[Answered]
    texts: Mapping[str, str] = field(default_factory=dict)
    aims_done: Sequence[str] = ()
    #: how it was mostly held, where nothing was said while playing; "" = not said
    grip: str = ""
    posture: str = ""


def write_in(context: Context, wrap: WrapUp) -> Session:
    """Write the stopped session into the record: blocks from its events, marks as a check, effort as said."""
    uid = context.store.running_session_uid()
    if uid is None:
        raise NotThere("session")
    if wrap.effort is None or not 0 <= wrap.effort <= EFFORT_MAX:
        raise FieldError("effort", "Say how hard it was, from 0 (nothing) to 10 (all you have).")
    if wrap.anything not in (NOTHING, *SYMPTOM_KINDS):
        raise FieldError("anything", "Say whether anything is there: nothing, or what kind.")
    for name, hold in (("grip", wrap.grip), ("posture", wrap.posture)):
        if hold and hold not in own_library.grips(context):
            raise FieldError(name, "Choose one of the holds shown, or leave it open.")
    with corrections.as_one(context):
        return _written_in(context, uid, wrap)


def _written_in(context: Context, uid: str, wrap: WrapUp) -> Session:
    for aim in wrap.aims_done:
        week_aims.finish_aim(context, aim)
    state = state_now(context, uid)
    if state.live:
        own_event(context, uid, "stop", LAST_SEQ)
        state = state_now(context, uid)
    if state.too_long:
        raise FieldError("minutes", "More than 24 hours were counted. Say first when you stopped.")
    marks = answered(made_marks(state), wrap.settled)
    session = _as_written(context, uid, state, wrap)
    corrections.put(context, session)
    for mark in marks:
        checks.write_marks(context, mark, session.day)
    if wrap.anything == NOTHING and session.day == context.today:
        checks.nothing(context, "after")
    _keep_tempo(context, state)
    own_event(context, uid, "close", LAST_SEQ + 1)
    return session


def _keep_tempo(context: Context, state: Running) -> None:
    """Keep the top tempo that held, if a ladder found one."""
    if state.ladder is None or state.ladder.top_clean is None:
        return
    measured.keep(context, TOP_TEMPO, state.ladder.top_clean, instrument=state.spans[-1].instrument)


def _as_written(context: Context, uid: str, state: Running, wrap: WrapUp) -> Session:
    blocks: list[Block] = []
    for block in _played(state, wrap):
        last = blocks[-1] if blocks else None
        if last and replace(last, minutes=block.minutes) == block:
            blocks[-1] = replace(last, minutes=round(last.minutes + block.minutes, 2))
        else:
            blocks.append(block)
    if state.began_utc is None or state.ended_utc is None:
        raise NotThere(uid)
    end = max(state.ended_utc, state.began_utc + timedelta(seconds=1))
    day = practice_day(state.began_utc, context.zone)
    return Session(uid, day, tuple(blocks), wrap.effort, state.began_utc, end, **wrap.texts)


def _played(state: Running, wrap: WrapUp) -> Iterator[Block]:
    """Yield what was played, a block a hold: as it was said while playing, else by its aim, else as mostly so."""
    scheduled = laid_bars(state)
    for span in (s for s in state.spans if s.kind == "play"):
        bar = scheduled[span.bar] if span.bar is not None and span.bar < len(scheduled) else None
        lasted = [h for h in span.holds if h.seconds >= 1] or span.holds[-1:]
        for hold in lasted:
            yield Block(
                round(hold.seconds / 60, 2),
                span.instrument,
                span.block_kind,
                planned=bar.planned if bar else "",
                grip=hold.grip or (bar.grip if bar else "") or wrap.grip,
                posture=hold.posture or (bar.posture if bar else "") or wrap.posture,
            )
