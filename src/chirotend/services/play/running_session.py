"""A session while it runs: begun, touched, forgotten, thrown away. Its state is a fold over appended events."""

import json
from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from datetime import UTC, datetime, timedelta
from uuid import uuid4

from chirotend.core.record.words import BLOCK_KINDS, SESSION_MAX_MIN, SYMPTOM_KINDS
from chirotend.core.session.events import EVENT_KINDS, Event, LadderSet, Marked, Start, Stretch, carried
from chirotend.core.session.fold import Running, state_at
from chirotend.core.texts import can_be_kept, clean
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.kit.profile import profile
from chirotend.services.play.bars import PLAN, WARMUP, laid_out, todays_blocks
from chirotend.services.record import measured
from chirotend.services.record.from_device import KEPT_FOR
from chirotend.services.today import warmups
from chirotend.services.today.happened import ruled_out
from chirotend.services.today.stop import stopped

TEXT_MAX = 2000
LAST_SEQ = 10**6
TOP_TEMPO = "tempo.top_clean"
CLOCKS_MAY_DIFFER = timedelta(minutes=2)
ID_MAX, SEQ_MAX, MONOTONIC_MAX_MS = 64, 2**31 - 1, 10**13
#: what a page may send; a session begins and is written in by forms of its own
TOUCHES = tuple(k for k in EVENT_KINDS if k not in ("start", "close"))


@dataclass(frozen=True)
class RunningSession:
    """The running session: its id (None = none is open), its state now, whether it seems forgotten."""

    uid: str | None
    state: Running
    forgotten: bool


def start_warmup(context: Context, uid: str | None = None) -> str:
    """Begin a session with today's warm-up, step by step, then today's own blocks. Returns its id."""
    if (begun := _begun(context, uid)) is not None:
        return begun
    warmup = warmups.keep(context)
    if not warmup.steps:
        raise FieldError("warm_minutes", "Nothing is left to warm up with: the limit is played, or all is spared.")
    return start(context, warmups.instrument_of(context), "warm-up", uid, WARMUP)


def start_plan(context: Context, uid: str | None = None) -> str:
    """Begin a session with the blocks that are laid for today. Returns its id."""
    if (begun := _begun(context, uid)) is not None:
        return begun
    blocks = todays_blocks(context)
    if not blocks:
        raise FieldError("instrument", "Nothing is planned for today. Plan it under B, or start without.")
    return start(context, blocks[0].instrument, "repertoire", uid, PLAN)


def start(context: Context, instrument: str, block_kind: str, uid: str | None = None, preset: str = "") -> str:
    """Begin a session; without a preset hers holds. Returns its id.

    `uid` is the touch: the same touch twice is one session. `FieldError` when another is open already.
    """
    if (begun := _begun(context, uid)) is not None:
        return begun
    if context.store.running_session_uid() is not None:
        raise _open_already()
    if instrument in ruled_out(context):
        raise FieldError(
            "instrument", "You were told not to play this one now. What you played can be added afterwards."
        )
    if block_kind not in BLOCK_KINDS:
        raise FieldError("block_kind", f"Choose one of {', '.join(BLOCK_KINDS)}.")
    if uid is not None and not 0 < len(uid) <= ID_MAX:
        raise FieldError("instrument", "This page was changed on its way. Reload it and start again.")
    session_uid = uuid4().hex
    planned = preset in (WARMUP, PLAN)
    bars = laid_out(context, instrument, preset, todays_call(context).issued) if planned else ()
    first = Start(
        instrument[:80],
        block_kind,
        preset or profile(context).rest_preset or "fixed",
        planned,
        json.dumps([asdict(bar) for bar in bars]) if planned else "",
    )
    store_event(context, Event(uid or uuid4().hex, session_uid, "page", 0, context.now, "start", carried(first)))
    if context.store.running_sessions() != [session_uid]:
        raise _open_already()  # another page began one at the same instant; this one is rolled back
    return session_uid


def _begun(context: Context, uid: str | None) -> str | None:
    """The session that this touch began before; None when it is new."""
    return context.store.session_of_event(uid) if uid else None


def _open_already() -> FieldError:
    return FieldError("instrument", "A session is open already. Go on with it, or save it first.")


@dataclass(frozen=True)
class AppendedEvents:
    """What became of sent events: ids that stand in the record, how many of them are new, and why others do not."""

    stored: tuple[str, ...]
    new: int
    refused: tuple[tuple[str, str], ...]  # uid, sentence


def append(context: Context, sent: Sequence[object]) -> AppendedEvents:
    """Append events the page made; one sent before is passed over. One that cannot be taken holds no other back.

    Each is a dictionary with uid, session, device, seq, kind, payload and (if the page kept it) at_utc, the
    instant by the page's clock; an instant in the future, or none, becomes now. A session begins and is written in
    by its own forms only.
    """
    stored, refused, new = [], [], 0
    for each in sent:
        uid = str(each.get("uid", ""))[:ID_MAX] if isinstance(each, dict) else ""
        try:
            event = _event(context, each)
            if isinstance(event.what, Marked) and event.what.feeling not in SYMPTOM_KINDS:
                raise FieldError("feeling", "Choose what kind it is: one of those shown.")
            if context.store.session_of_event(event.uid) is None:
                if not context.store.has_events_of(event.session):
                    raise FieldError("session", "The session this belongs to is no longer in your record.")
                store_event(context, _under_the_call(context, event))
                new += 1
            stored.append(event.uid)
        except FieldError as error:
            refused.append((uid, error.sentence))
    return AppendedEvents(tuple(stored), new, tuple(refused))


def _under_the_call(context: Context, event: Event) -> Event:
    """A tempo ladder begun under Muted goes no higher than the share of her top clean tempo that the call allows.

    Where no top tempo is kept, the tempo it begins at is the ceiling: nothing climbs on a Muted day, nor under Tacet.
    No bar is stretched under Tacet: what is played on is kept, and nothing more is offered.
    """
    if isinstance(event.what, Stretch) and event.what.minutes > 0 and stopped(context) is not None:
        return replace(event, payload=carried(Stretch(0.0)))
    ladder = event.what
    if not isinstance(ladder, LadderSet):
        return event
    today, ceiling = todays_call(context).issued, 0.0
    if today.effective.startswith("muted"):
        top = _top_tempo(context, running_session(context).state)
        ceiling = ladder.tempo if top is None else float(round(top * today.dose.tempo_pct / 100))
        ladder = replace(ladder, school="soft")
    elif today.effective == "tacet":
        ceiling, ladder = ladder.tempo, replace(ladder, school="soft")
    return replace(event, payload=carried(replace(ladder, ceiling=ceiling)))


def _top_tempo(context: Context, state: Running) -> float | None:
    """The fastest tempo that ever held on the instrument that is played now; None when none is kept."""
    instrument = state.spans[-1].instrument if state.spans else ""
    rows = measured.kept(context, TOP_TEMPO, instrument=instrument) if instrument else []
    return max((row.value for row in rows), default=None)


def store_event(context: Context, event: Event) -> None:
    context.store.add_event(
        uid=event.uid,
        session_uid=event.session,
        device=event.device,
        seq=event.seq,
        at_utc=event.at_utc,
        monotonic_ms=event.monotonic_ms,
        kind=event.kind,
        payload=event.payload,
    )


def own_event(context: Context, session: str, kind: str, seq: int, at: datetime | None = None) -> None:
    """Append an event of the server's own."""
    store_event(context, Event(uuid4().hex, session, "server", seq, at or context.now, kind, {}))


def _event(context: Context, each: object) -> Event:
    """Return a sent event, checked: every number in its range, every text short, the instant a possible one."""
    if not isinstance(each, dict):
        raise FieldError("events", "An event is an object with uid, session and kind.")
    uid, session, kind = (each.get(name) for name in ("uid", "session", "kind"))
    for name, value in (("uid", uid), ("session", session)):
        if not isinstance(value, str) or not 0 < len(value) <= ID_MAX or not can_be_kept(value):
            raise FieldError("events", f"An event’s {name} has 1 to {ID_MAX} characters.")
    if kind not in TOUCHES:
        raise FieldError("kind", f"An event is one of {', '.join(TOUCHES)}.")
    payload = each.get("payload") or {}
    if not isinstance(payload, dict):
        raise FieldError("events", "An event’s payload is an object of texts.")
    texts = {clean(str(k))[:40]: clean(str(v))[:200] for k, v in list(payload.items())[:20]}
    seq = _whole(each.get("seq", 0), "seq", SEQ_MAX)
    ms = each.get("monotonic_ms")
    counted = None if ms is None else float(_whole(ms, "monotonic_ms", MONOTONIC_MAX_MS))
    device = clean(str(each.get("device", "")))[:ID_MAX]
    return Event(str(uid), str(session), device, seq, _instant(context, each.get("at_utc")), str(kind), texts, counted)


def _whole(value: object, name: str, most: int) -> int:
    if isinstance(value, bool) or not isinstance(value, int | float) or not 0 <= value <= most:
        raise FieldError("events", f"An event’s {name} is a number from 0 to {most}.")
    return int(value)


def _instant(context: Context, text: object) -> datetime:
    """The instant an event was made; one that cannot be read, lies ahead or long ago counts as now."""
    try:
        at = datetime.fromisoformat(text) if isinstance(text, str) else context.now
        possible = at.tzinfo is not None and context.now - KEPT_FOR <= at <= context.now + CLOCKS_MAY_DIFFER
    except (ValueError, OverflowError):
        return context.now
    return min(at, context.now).astimezone(UTC) if possible else context.now


def running_session(context: Context) -> RunningSession:
    """Return the running session, idle when none is open."""
    uid = context.store.running_session_uid()
    state = state_now(context, uid) if uid else Running()
    return RunningSession(uid, state, state.forgotten(context.now) or state.too_long)


def state_now(context: Context, uid: str) -> Running:
    return state_at(events_of(context, uid), context.now)


def events_of(context: Context, session: str) -> list[Event]:
    """Return the stored events of a session; a kind that no version of this program knows is passed over."""
    return [
        Event(e.uid, e.session_uid, e.device, e.seq, e.at_utc, e.kind, e.payload, e.monotonic_ms)
        for e in context.store.events(session)
        if e.kind in EVENT_KINDS
    ]


def close_forgotten(context: Context, minutes: float | None) -> None:
    """Stop a forgotten session after `minutes` from its start, as the player says. Never silently."""
    uid = context.store.running_session_uid()
    if uid is None:
        raise NotThere("session")
    state = state_now(context, uid)
    if state.began_utc is None:
        raise NotThere("session")
    most = (context.now - state.began_utc).total_seconds() / 60
    if minutes is None or not 1 <= minutes <= min(most, SESSION_MAX_MIN):
        raise FieldError(
            "minutes", f"Type the minutes from the start until you stopped, from 1 to {min(most, 1440):.0f}."
        )
    own_event(context, uid, "stop", 0, state.began_utc + timedelta(minutes=minutes))


def discard(context: Context) -> None:
    """Throw the running session away, with its events."""
    uid = context.store.running_session_uid()
    if uid is None:
        raise NotThere("session")
    context.store.drop_events(uid)
