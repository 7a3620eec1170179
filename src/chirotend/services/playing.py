"""A sitting while it runs: appended events, the state they fold to, and the wrap-up that writes it in."""

import json
from collections import Counter
from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from datetime import UTC, datetime, timedelta
from itertools import takewhile
from uuid import uuid4

from chirotend.core.days import practice_day
from chirotend.core.judge.evidence import Evidence
from chirotend.core.plan.rests import bar_and_rest, presets
from chirotend.core.plan.suits import Condition, unsuitable
from chirotend.core.plan.week import PlannedBlock
from chirotend.core.record import Block, Session
from chirotend.core.session.fold import EVENT_KINDS, Event, Running, state_at
from chirotend.core.session.prompts import due
from chirotend.core.texts import can_be_kept, clean
from chirotend.core.words import BLOCK_KINDS, EFFORT_MAX, KINDS, SESSION_MAX_MIN
from chirotend.library.loader import prompts, rest_guides
from chirotend.library.schema import PromptEntry, RestGuide
from chirotend.services import checks, corrections, own_library, plan, warmups
from chirotend.services.condition import condition, terms_of
from chirotend.services.desk import Desk, NotThere, Refused
from chirotend.services.profile import profile
from chirotend.services.stop import Stop, stop_of
from chirotend.services.today import Said, issue, said
from chirotend.store.models import MeasurementRow

#: what can be marked with one touch while playing, and the zone a settled mark is written to
PLACES = {
    "thumb": ("Thumb", "thumb_base_joint", True),
    "wrist": ("Wrist", "wrist_back_mid", True),
    "forearm": ("Forearm", "forearm_outer_high", True),
    "shoulder": ("Shoulder", "shoulder_top", True),
    "jaw": ("Jaw, breath", "jaw_joint", True),
}
#: marked by an answered question only
MORE_PLACES = {"back": ("Back", "low_back_side", True)}
#: marked too, but not on the body
NOTES = {"error": "Error", "good": "Good"}
#: the preset of a sitting that runs through today's warm-up first, bar by bar without rests
WARMUP, PLAN = "warm-up", "plan"
PROMPT_DAYS, REST_MIN, LONG_REST_MIN = 28, 5.0, 8.0
TEXT_MAX = 2000
LAST_SEQ = 10**6
NOTHING, TOP_TEMPO = "nothing", "tempo.top_clean"
CLOCKS_MAY_DIFFER = timedelta(minutes=2)
KEPT_FOR = timedelta(days=30)  # how long a device without a link may keep an event
ID_MAX, SEQ_MAX, MONOTONIC_MAX_MS = 64, 2**31 - 1, 10**13
#: what a page may send; a session begins and is written in by forms of its own
TOUCHES = tuple(k for k in EVENT_KINDS if k not in ("start", "close"))


@dataclass(frozen=True)
class StandBar:
    """A bar or rest of the planned session. Minutes; `title` "" for a rest."""

    kind: str  # play | rest
    title: str
    minutes: float
    how: str = ""
    instrument: str = ""
    block_kind: str = ""
    effort: float | None = None


@dataclass(frozen=True)
class Sitting:
    """The open sitting: its id (None = none is open), its state now, whether it seems forgotten."""

    uid: str | None
    state: Running
    forgotten: bool


@dataclass(frozen=True)
class Stand:
    """What the stand shows: the session, its state, the minutes of this bar and the next, today's ceiling."""

    uid: str | None
    state: Running
    forgotten: bool
    bar_min: float
    next_kind: str
    next_min: float
    left_s: float
    call: str
    dynamic: str
    tempo_pct: float
    dose_min: float | None
    played_today_min: float
    #: what the bar is called and how it goes; "" = the kind of block says it
    title: str = ""
    how: str = ""
    next_title: str = ""
    #: the planned session with the place of this bar; none = not planned
    bars: tuple[StandBar, ...] = ()
    bar: int | None = None
    prompt: PromptEntry | None = None
    guide: RestGuide | None = None
    #: rows 1 and 2 of the call: nothing to play is offered, the sitting can only be stopped
    stop: Stop | None = None


def start_warmup(desk: Desk, uid: str | None = None) -> str:
    """Begin a sitting with today's warm-up, step by step, then today's own blocks. Returns its id."""
    if (begun := _begun(desk, uid)) is not None:
        return begun
    warmup = warmups.keep(desk)
    if not warmup.steps:
        raise Refused("warm_minutes", "Nothing is offered today: under Tacet the hands rest.")
    return start(desk, warmups.instrument_of(desk), "warm-up", uid, WARMUP)


def start_plan(desk: Desk, uid: str | None = None) -> str:
    """Begin a sitting with the blocks that are laid for today. Returns its id."""
    if (begun := _begun(desk, uid)) is not None:
        return begun
    blocks = _todays_blocks(desk, desk.now)
    if not blocks:
        raise Refused("instrument", "Nothing is laid for today. Lay it under B, or start without.")
    return start(desk, blocks[0].instrument, "repertoire", uid, PLAN)


def _todays_blocks(desk: Desk, since: datetime) -> list[PlannedBlock]:
    day = practice_day(since, desk.zone)
    return [b for b in plan.blocks_between(desk, day, day) if b.end_utc > since]


def start(desk: Desk, instrument: str, block_kind: str, uid: str | None = None, preset: str = "") -> str:
    """Begin a sitting; without a preset hers holds. Returns its id.

    `uid` is the touch: the same touch twice is one sitting. `Refused` when another is open already.
    """
    if (begun := _begun(desk, uid)) is not None:
        return begun
    if desk.store.open_session_uid() is not None:
        raise _open_already()
    if block_kind not in BLOCK_KINDS:
        raise Refused("block_kind", f"Choose one of {', '.join(BLOCK_KINDS)}.")
    if uid is not None and not 0 < len(uid) <= ID_MAX:
        raise Refused("instrument", "This page was changed on its way. Reload it and start again.")
    session_uid = uuid4().hex
    payload = {
        "instrument": instrument[:80],
        "block_kind": block_kind,
        "preset": preset or profile(desk).rest_preset or "fixed",
        "planned": "yes" if preset in (WARMUP, PLAN) else "",
    }
    if preset in (WARMUP, PLAN):
        bars = laid_out(desk, instrument, preset, said(issue(desk)[0]))
        payload["bars"] = json.dumps([asdict(bar) for bar in bars])
    _store(desk, Event(uid or uuid4().hex, session_uid, "page", 0, desk.now, "start", payload))
    if desk.store.open_sessions() != [session_uid]:
        raise _open_already()  # another page began one at the same instant; this one is rolled back
    return session_uid


def _begun(desk: Desk, uid: str | None) -> str | None:
    """The sitting that this touch began before; None when it is new."""
    return desk.store.session_of_event(uid) if uid else None


def _open_already() -> Refused:
    return Refused("instrument", "A session is open already. Go on with it, or write it in first.")


@dataclass(frozen=True)
class Taken:
    """What became of sent events: ids that stand in the record, how many of them are new, and why others do not."""

    stored: tuple[str, ...]
    new: int
    refused: tuple[tuple[str, str], ...]  # uid, sentence


def append(desk: Desk, sent: Sequence[object]) -> Taken:
    """Append events the page made; one sent before is passed over. One that cannot be taken holds no other back.

    Each is a dictionary with uid, session, device, seq, kind, payload and (if the page kept it) at_utc, the
    instant by the page's clock; an instant in the future, or none, becomes now. A session begins and is written in
    by its own forms only.
    """
    stored, refused, new = [], [], 0
    for each in sent:
        uid = str(each.get("uid", ""))[:ID_MAX] if isinstance(each, dict) else ""
        try:
            event = _event(desk, each)
            if desk.store.session_of_event(event.uid) is None:
                if not desk.store.has_events_of(event.session):
                    raise Refused("session", "The session this belongs to is no longer in your record.")
                _store(desk, _under_the_call(desk, event))
                new += 1
            stored.append(event.uid)
        except Refused as error:
            refused.append((uid, error.sentence))
    return Taken(tuple(stored), new, tuple(refused))


def _under_the_call(desk: Desk, event: Event) -> Event:
    """A tempo ladder begun under Muted goes no higher than the share of her top clean tempo that the call allows.

    Where no top tempo is kept, the tempo it begins at is the ceiling: nothing climbs on a Muted day.
    """
    if event.kind != "ladder":
        return event
    payload = {k: v for k, v in event.payload.items() if k != "ceiling"}
    today = said(issue(desk)[0])
    if today.effective.startswith("muted"):
        top = _top_tempo(desk, sitting(desk).state)
        payload["ceiling"] = payload.get("tempo", "") if top is None else f"{top * today.dose.tempo_pct / 100:.0f}"
        payload["school"] = "soft"
    return replace(event, payload=payload)


def _top_tempo(desk: Desk, state: Running) -> float | None:
    """The fastest tempo that ever held on the instrument that is played now; None when none is kept."""
    instrument = state.spans[-1].instrument if state.spans else ""
    rows = desk.store.shelf(MeasurementRow).all(
        MeasurementRow.method == TOP_TEMPO, MeasurementRow.instrument == instrument
    )
    return max((row.value for row in rows), default=None)


def _store(desk: Desk, event: Event) -> None:
    desk.store.add_event(
        uid=event.uid,
        session_uid=event.session,
        device=event.device,
        seq=event.seq,
        at_utc=event.at_utc,
        monotonic_ms=event.monotonic_ms,
        kind=event.kind,
        payload=event.payload,
    )


def _own(desk: Desk, session: str, kind: str, seq: int, at: datetime | None = None) -> None:
    """Append an event of the server's own."""
    _store(desk, Event(uuid4().hex, session, "server", seq, at or desk.now, kind, {}))


def _event(desk: Desk, each: object) -> Event:
    """Return a sent event, checked: every number in its range, every text short, the instant a possible one."""
    if not isinstance(each, dict):
        raise Refused("events", "An event is an object with uid, session and kind.")
    uid, session, kind = (each.get(name) for name in ("uid", "session", "kind"))
    for name, value in (("uid", uid), ("session", session)):
        if not isinstance(value, str) or not 0 < len(value) <= ID_MAX or not can_be_kept(value):
            raise Refused("events", f"An event’s {name} has 1 to {ID_MAX} characters.")
    if kind not in TOUCHES:
        raise Refused("kind", f"An event is one of {', '.join(TOUCHES)}.")
    payload = each.get("payload") or {}
    if not isinstance(payload, dict):
        raise Refused("events", "An event’s payload is an object of texts.")
    texts = {clean(str(k))[:40]: clean(str(v))[:200] for k, v in list(payload.items())[:20]}
    seq = _whole(each.get("seq", 0), "seq", SEQ_MAX)
    ms = each.get("monotonic_ms")
    counted = None if ms is None else float(_whole(ms, "monotonic_ms", MONOTONIC_MAX_MS))
    device = clean(str(each.get("device", "")))[:ID_MAX]
    return Event(str(uid), str(session), device, seq, _instant(desk, each.get("at_utc")), str(kind), texts, counted)


def _whole(value: object, name: str, most: int) -> int:
    if isinstance(value, bool) or not isinstance(value, int | float) or not 0 <= value <= most:
        raise Refused("events", f"An event’s {name} is a number from 0 to {most}.")
    return int(value)


def _instant(desk: Desk, text: object) -> datetime:
    """The instant an event was made; one that cannot be read, lies ahead or long ago counts as now."""
    try:
        at = datetime.fromisoformat(text) if isinstance(text, str) else desk.now
        possible = at.tzinfo is not None and desk.now - KEPT_FOR <= at <= desk.now + CLOCKS_MAY_DIFFER
    except (ValueError, OverflowError):
        return desk.now
    return min(at, desk.now).astimezone(UTC) if possible else desk.now


def sitting(desk: Desk) -> Sitting:
    """Return the open sitting, idle when none is open."""
    uid = desk.store.open_session_uid()
    state = _state(desk, uid) if uid else Running()
    return Sitting(uid, state, state.forgotten(desk.now) or state.too_long)


def stand(desk: Desk) -> Stand:
    """Return the open sitting as the stand shows it, with today's call."""
    open_sitting = sitting(desk)
    uid, state = open_sitting.uid, open_sitting.state
    resting = state.phase == "resting" or (state.phase == "paused" and state.resume_to == "resting")
    row, evidence = issue(desk)
    today = said(row)
    played = sum(s.playing_minutes for s in evidence.record.sessions if s.day == desk.today) + state.played_minutes
    # a switch of instrument does not begin a new bar: what was played since the last rest counts
    same = takewhile(lambda s: s.kind == state.spans[-1].kind, reversed(state.spans))
    span_s = sum(s.seconds for s in same)
    found = Stand(
        uid,
        state,
        open_sitting.forgotten,
        *_bars(desk, state, today, resting, played),
        0.0,
        today.effective,
        today.dose.dynamic,
        today.dose.tempo_pct,
        today.dose.minutes,
        played,
    )
    stop = stop_of(today)
    if stop is not None:
        return replace(found, stop=stop)
    now = condition(
        desk, evidence, own_library.instruments(desk).get(state.spans[-1].instrument if state.spans else "")
    )
    found = replace(found, prompt=_prompt(evidence, state), guide=_guide(found, now) if resting else None)
    if state.spans:
        found = _with_plan(desk, found, today)
        if found.bar is not None and not resting:
            span_s = state.spans[-1].seconds
        found = replace(found, bar_min=max(0.5, found.bar_min + state.spans[-1].extra_min))
    return replace(found, left_s=max(0.0, found.bar_min * 60 - span_s))


def _with_plan(desk: Desk, found: Stand, today: Said) -> Stand:
    """Put the planned bar in the place of the preset's, as long as the session runs by its plan."""
    bars = bars_of(found.state, today)
    here = found.state.spans[-1].bar
    if here is None or here >= len(bars):
        return replace(found, bars=bars)
    bar = bars[here]
    following = bars[here + 1] if here + 1 < len(bars) else None
    return replace(
        found,
        bars=bars,
        bar=here,
        bar_min=bar.minutes,
        title=bar.title,
        how=bar.how,
        next_kind=following.kind if following else "rest" if bar.kind == "play" else "play",
        next_min=following.minutes if following else found.next_min,
        next_title=following.title if following else "",
    )


def bars_of(state: Running, today: Said) -> tuple[StandBar, ...]:
    """Return the session as it was laid out when it began: what is marked since moves her to no other bar.

    Under Muted a bar is cut to the call's length and a rest takes at least the call's.
    """
    try:
        bars = tuple(StandBar(**bar) for bar in json.loads(state.laid_out or "[]"))
    except (ValueError, TypeError):
        return ()  # an odd start event: the session goes on by the preset
    if not today.effective.startswith("muted"):
        return bars
    return tuple(
        replace(bar, minutes=max(bar.minutes, today.dose.rest_min))
        if bar.kind == "rest"
        else replace(
            bar, minutes=bar.minutes if bar.block_kind == "warm-up" else min(bar.minutes, today.dose.block_min)
        )
        for bar in bars
    )


def laid_out(desk: Desk, instrument: str, preset: str, today: Said) -> tuple[StandBar, ...]:
    """Return a session as bars and rests: the warm-up's steps, then today's own blocks cut by her rest preset."""
    bars: list[StandBar] = []
    if preset == WARMUP:
        for s in warmups.kept_steps(desk, desk.today):
            bars.append(StandBar("play", s.name, s.minutes, s.how, instrument, "warm-up", 2.0))
    played = sum(b.minutes for b in bars)
    grips = _grips_by_aim(desk)
    muted = today.effective.startswith("muted")
    for block in _todays_blocks(desk, desk.now):
        if bars and bars[-1].block_kind != "warm-up" and bars[-1].kind == "play":
            bars.append(StandBar("rest", "", max(REST_MIN, today.dose.rest_min if muted else 0.0)))
        left, title = block.minutes, block.title or "Own practice"
        while left > 0:
            play, rest = bar_and_rest(profile(desk).rest_preset or "fixed", 0, played, _factor(desk, block.instrument))
            play = min(left, play, today.dose.block_min if muted else play)
            bars.append(
                StandBar(
                    "play", title, play, grips.get(block.aim_uid, ""), block.instrument, "repertoire", block.effort
                )
            )
            left, played = left - play, played + play
            if left > 0:
                bars.append(StandBar("rest", "", max(rest, today.dose.rest_min if muted else 0.0)))
    return tuple(bars)


def _grips_by_aim(desk: Desk) -> dict[str, str]:
    """How to hold it, by aim, where an aim names a grip or seat."""
    known = own_library.grips(desk)
    aims = (a for a in plan.aims(desk, plan.monday(desk.today)) if a.grip in known)
    return {a.uid: f"{known[a.grip].name}: {known[a.grip].check}" for a in aims}


def _preset(desk: Desk, state: Running) -> str:
    return state.preset if state.preset in presets() else profile(desk).rest_preset or "fixed"


def _factor(desk: Desk, instrument: str) -> float:
    known = own_library.instruments(desk).get(instrument)
    return known.rest_factor.value if known else 1.0


def _prompt(evidence: Evidence, state: Running) -> PromptEntry | None:
    """The silent question that stands now, by the regions she marked in the last four weeks."""
    if state.phase != "playing":
        return None
    first = evidence.today - timedelta(days=PROMPT_DAYS)
    regions = Counter(m.place[0] for m in evidence.marks if m.day >= first)
    weights = {key: float(sum(regions[r] for r in p.regions)) for key, p in prompts().items()}
    key = due(state.played_minutes, state.answers, {k: w for k, w in weights.items() if w})
    return prompts()[key] if key else None


def _guide(found: Stand, now: Condition) -> RestGuide:
    """What to do in this rest: the guides that have room in it and suit her today, in turn."""
    number = sum(1 for s in found.state.spans if s.kind == "rest")
    fit = [g for g in rest_guides() if g.least_min <= found.bar_min and not unsuitable((), terms_of(g), now)]
    longest = [g for g in fit if g.least_min == max(f.least_min for f in fit)]
    return longest[0] if found.bar_min >= LONG_REST_MIN else fit[(number - 1) % len(fit)]


def _bars(desk: Desk, state: Running, today: Said, resting: bool, played: float) -> tuple[float, str, float]:
    """Return the minutes of this bar, the kind of the next and its minutes: the call's dose, else her preset."""
    rests_so_far = sum(1 for s in state.spans if s.kind == "rest")
    number = max(0, rests_so_far - (1 if resting else 0))
    preset, factor = _preset(desk, state), _factor(desk, state.spans[-1].instrument if state.spans else "")
    before = max(0.0, played - (state.spans[-1].seconds / 60 if state.spans and not resting else 0.0))
    play, rest = bar_and_rest(preset, number, before, factor)
    follow, _ = bar_and_rest(preset, rests_so_far, played, factor)
    if today.effective.startswith("muted"):
        play = follow = min(play, today.dose.block_min)
        rest = max(rest, today.dose.rest_min)  # a level asks for rests, it never shortens one
    return (rest, "play", follow) if resting else (play, "rest", rest)


def _state(desk: Desk, uid: str) -> Running:
    return state_at(events_of(desk, uid), desk.now)


def events_of(desk: Desk, session: str) -> list[Event]:
    """Return the stored events of a session; a kind that no version of this program knows is passed over."""
    return [
        Event(e.uid, e.session_uid, e.device, e.seq, e.at_utc, e.kind, e.payload, e.monotonic_ms)
        for e in desk.store.events(session)
        if e.kind in EVENT_KINDS
    ]


def close_forgotten(desk: Desk, minutes: float | None) -> None:
    """Stop a forgotten sitting after `minutes` from its start, as the player says. Never silently."""
    uid = desk.store.open_session_uid()
    if uid is None:
        raise NotThere("session")
    state = _state(desk, uid)
    if state.began_utc is None:
        raise NotThere("session")
    most = (desk.now - state.began_utc).total_seconds() / 60
    if minutes is None or not 1 <= minutes <= min(most, SESSION_MAX_MIN):
        raise Refused("minutes", f"Type the minutes from the start until you stopped, from 1 to {min(most, 1440):.0f}.")
    _own(desk, uid, "stop", 0, state.began_utc + timedelta(minutes=minutes))


def discard(desk: Desk) -> None:
    """Throw the open sitting away, with its events."""
    uid = desk.store.open_session_uid()
    if uid is None:
        raise NotThere("session")
    desk.store.drop_events(uid)


@dataclass(frozen=True)
class WrapUp:
    """The answers after playing: effort 0-10, whether anything is there, settled marks, and words for later."""

    effort: float | None
    #: "nothing", or the kind of what is there
    anything: str
    settled: Sequence[tuple[str, str, float]]  # mark uid, side, strength 0-10
    went_well: str = ""
    was_hard: str = ""
    question: str = ""
    aims_done: Sequence[str] = ()


def write_in(desk: Desk, wrap: WrapUp) -> Session:
    """Write the stopped sitting into the record: blocks from its events, marks as a check, effort as said."""
    uid = desk.store.open_session_uid()
    if uid is None:
        raise NotThere("session")
    if wrap.effort is None or not 0 <= wrap.effort <= EFFORT_MAX:
        raise Refused("effort", "Say how hard it was, from 0 (nothing) to 10 (all you have).")
    if wrap.anything not in (NOTHING, *KINDS):
        raise Refused("anything", "Say whether anything is there: nothing, or what kind.")
    for name in ("went_well", "was_hard", "question"):
        if len(getattr(wrap, name)) > TEXT_MAX:
            raise Refused(name, f"At most {TEXT_MAX} characters.")
    for aim in wrap.aims_done:
        plan.finish_aim(desk, aim)
    state = _state(desk, uid)
    if state.live:
        _own(desk, uid, "stop", LAST_SEQ)
        state = _state(desk, uid)
    if state.too_long:
        raise Refused("minutes", "More than 24 hours were counted. Say first when you stopped.")
    session = _as_written(desk, uid, state, wrap)
    corrections.put(desk, session)
    _write_marks(desk, session, state, wrap)
    _keep_tempo(desk, state)
    _own(desk, uid, "close", LAST_SEQ + 1)
    issue(desk)
    return session


def _keep_tempo(desk: Desk, state: Running) -> None:
    """Keep the top tempo that held, if a ladder found one."""
    if state.ladder is None or state.ladder.top_clean is None:
        return
    desk.store.shelf(MeasurementRow).put(
        {
            "uid": uuid4().hex,
            "day": desk.today,
            "at_utc": desk.now,
            "method": TOP_TEMPO,
            "version": 1,
            "instrument": state.spans[-1].instrument,
            "value": state.ladder.top_clean,
            "unit": "bpm",
        }
    )


def _as_written(desk: Desk, uid: str, state: Running, wrap: WrapUp) -> Session:
    blocks: list[Block] = []
    for span in state.spans:
        if span.kind != "play":
            continue
        block = Block(round(span.seconds / 60, 2), span.instrument, span.block_kind)
        last = blocks[-1] if blocks else None
        if last and (last.instrument, last.kind) == (block.instrument, block.kind):
            blocks[-1] = replace(last, minutes=round(last.minutes + block.minutes, 2))
        else:
            blocks.append(block)
    if state.began_utc is None or state.ended_utc is None:
        raise NotThere(uid)
    end = max(state.ended_utc, state.began_utc + timedelta(seconds=1))
    return Session(
        uid,
        practice_day(state.began_utc, desk.zone),
        tuple(blocks),
        wrap.effort,
        state.began_utc,
        end,
        wrap.went_well.strip(),
        wrap.was_hard.strip(),
        wrap.question.strip(),
    )


def _write_marks(desk: Desk, session: Session, state: Running, wrap: WrapUp) -> None:
    places = {m.uid: m.place for m in state.marks}
    for mark, side, strength in wrap.settled:
        known = {**PLACES, **MORE_PLACES}
        if mark not in places or places[mark] not in known:
            raise NotThere(mark)
        _, zone_id, sided = known[places[mark]]
        if sided and side not in ("left", "right"):
            raise Refused("settled", "Say left or right for each mark you settle, or leave its strength empty.")
        marks = checks.TypedMarks((f"{zone_id}.{side if sided else 'none'}",), "tension", strength, ("playing",))
        checks.write_marks(desk, marks, session.day)
    if wrap.anything == NOTHING and session.day == desk.today:
        checks.nothing(desk, "after")
