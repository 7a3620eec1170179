"""A sitting while it runs: appended events, the state they fold to, and the wrap-up that writes it in."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from itertools import takewhile
from typing import Any
from uuid import uuid4

from chirotend.core.days import practice_day
from chirotend.core.errors import MethodError
from chirotend.core.judge.evidence import Evidence
from chirotend.core.plan.rests import bar_and_rest, presets
from chirotend.core.plan.week import PlannedBlock
from chirotend.core.record import Block, Session
from chirotend.core.session.fold import EVENT_KINDS, Event, Running, state_at
from chirotend.core.session.prompts import due
from chirotend.core.words import BLOCK_KINDS, EFFORT_MAX, SESSION_MAX_MIN
from chirotend.library.loader import prompts, rest_guides
from chirotend.library.schema import PromptEntry, RestGuide
from chirotend.services import checks, corrections, own_library, plan, warmups
from chirotend.services.desk import Desk, NotThere, Refused
from chirotend.services.profile import profile
from chirotend.services.today import Said, issue, said
from chirotend.store.models import MeasurementRow

#: what can be marked with one touch while playing, and the zone a settled mark is written to
PLACES = {
    "thumb": ("Thumb", "thumb_base_joint", True),
    "wrist": ("Wrist", "wrist_back_mid", True),
    "forearm": ("Forearm", "forearm_outer_high", True),
    "shoulder": ("Shoulder", "shoulder_top", True),
    "jaw": ("Jaw, breath", "lower_lip", False),
}
#: marked by an answered question only
MORE_PLACES = {"back": ("Back", "low_back_side", True)}
#: marked too, but not on the body
NOTES = {"error": "Error", "good": "Good"}
#: the preset of a sitting that runs through today's warm-up first, bar by bar without rests
WARMUP, PLAN = "warm-up", "plan"
PROMPT_DAYS, REST_MIN, LONG_REST_MIN = 28, 5.0, 8.0
TEXT_MAX = 2000
CLOCKS_MAY_DIFFER = timedelta(minutes=2)


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


def start_warmup(desk: Desk) -> str:
    """Begin a sitting with today's warm-up, step by step, then today's own blocks. Returns its id."""
    warmup = warmups.keep(desk)
    if not warmup.steps:
        raise Refused("warm_minutes", "Nothing is offered today: under Tacet the hands rest.")
    return start(desk, warmups.instrument_of(desk), "warm-up", preset=WARMUP)


def start_plan(desk: Desk) -> str:
    """Begin a sitting with the blocks that are laid for today. Returns its id."""
    blocks = _todays_blocks(desk, desk.now)
    if not blocks:
        raise Refused("instrument", "Nothing is laid for today. Lay it under B, or start without.")
    return start(desk, blocks[0].instrument, "repertoire", preset=PLAN)


def _todays_blocks(desk: Desk, since: datetime) -> list[PlannedBlock]:
    day = practice_day(since, desk.zone)
    return [b for b in plan.blocks_between(desk, day, day) if b.end_utc > since]


def start(
    desk: Desk, instrument: str, block_kind: str, uid: str | None = None, device: str = "page", preset: str = ""
) -> str:
    """Begin a sitting; `Refused` when one is open already. Without a preset hers holds. Returns its id."""
    if desk.store.open_session_uid() is not None:
        raise Refused("instrument", "A session is open already. Go on with it, or write it in first.")
    if block_kind not in BLOCK_KINDS:
        raise Refused("block_kind", f"Choose one of {', '.join(BLOCK_KINDS)}.")
    session_uid = uuid4().hex
    append(
        desk,
        [
            {
                "uid": uid or uuid4().hex,
                "session": session_uid,
                "device": device,
                "seq": 0,
                "kind": "start",
                "payload": {
                    "instrument": instrument[:80],
                    "block_kind": block_kind,
                    "preset": preset or profile(desk).rest_preset or "fixed",
                    "planned": "yes" if preset in (WARMUP, PLAN) else "",
                },
            }
        ],
    )
    return session_uid


def append(desk: Desk, sent: Sequence[dict[str, Any]]) -> int:
    """Append events the page made; one sent before is passed over. Returns how many were new.

    Each is a dictionary with uid, session, device, seq, kind, payload and (if the page kept it) at_utc, the
    instant by the page's clock; an instant in the future, or none, becomes now. `Refused` names what is wrong.
    """
    new = 0
    open_uid = desk.store.open_session_uid()
    for each in sent:
        event = _event(desk, each)
        if desk.store.has_event(event.uid):
            continue
        if event.kind != "start" and event.session != open_uid:
            if not desk.store.events(event.session):
                raise NotThere(event.session)
            continue  # it came after the session was written in
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
        open_uid = event.session if event.kind == "start" else open_uid
        new += 1
    return new


def _event(desk: Desk, each: dict[str, Any]) -> Event:
    try:
        at = datetime.fromisoformat(each["at_utc"]) if each.get("at_utc") else desk.now
        if at.tzinfo is None or at > desk.now + CLOCKS_MAY_DIFFER:
            at = desk.now
        uid, session, kind = str(each["uid"]), str(each["session"]), str(each["kind"])
        payload = {str(k)[:40]: str(v)[:200] for k, v in dict(each.get("payload") or {}).items()}
        ms = each.get("monotonic_ms")
        if not (0 < len(uid) <= 64 and 0 < len(session) <= 64):
            raise ValueError("uid and session have 1 to 64 characters")
        return Event(
            uid,
            session,
            str(each.get("device", ""))[:64],
            int(each.get("seq", 0)),
            at,
            kind,
            payload,
            float(ms) if ms is not None else None,
        )
    except MethodError as error:
        raise Refused("kind", f"An event is one of {', '.join(EVENT_KINDS)}.") from error
    except (KeyError, ValueError, TypeError) as error:
        raise Refused("events", f"This event cannot be read: {error}.") from error


def sitting(desk: Desk) -> Sitting:
    """Return the open sitting, idle when none is open."""
    uid = desk.store.open_session_uid()
    state = _state(desk, uid) if uid else Running()
    return Sitting(uid, state, state.forgotten(desk.now))


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
    found = replace(found, prompt=_prompt(evidence, state), guide=_guide(found) if resting else None)
    if state.spans:
        found = _with_plan(desk, found, today)
        if found.bar is not None and not resting:
            span_s = state.spans[-1].seconds
        found = replace(found, bar_min=max(0.5, found.bar_min + state.spans[-1].extra_min))
    return replace(found, left_s=max(0.0, found.bar_min * 60 - span_s))


def _with_plan(desk: Desk, found: Stand, today: Said) -> Stand:
    """Put the planned bar in the place of the preset's, as long as the session runs by its plan."""
    bars = planned_bars(desk, found.state, today)
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


def planned_bars(desk: Desk, state: Running, today: Said) -> tuple[StandBar, ...]:
    """Return the session as bars and rests: the warm-up's steps, then today's own blocks cut by her rest preset."""
    if state.began_utc is None or state.preset not in (WARMUP, PLAN):
        return ()
    instrument = state.spans[0].instrument
    bars: list[StandBar] = []
    if state.preset == WARMUP:
        for s in warmups.kept_steps(desk, practice_day(state.began_utc, desk.zone)):
            bars.append(StandBar("play", s.name, s.minutes, s.how, instrument, "warm-up", 2.0))
    played = sum(b.minutes for b in bars)
    grips = _grips_by_aim(desk)
    muted = today.effective.startswith("muted")
    for block in _todays_blocks(desk, state.began_utc):
        if bars and bars[-1].block_kind != "warm-up" and bars[-1].kind == "play":
            bars.append(StandBar("rest", "", max(REST_MIN, today.dose.rest_min if muted else 0.0)))
        left, title = block.minutes, block.title or "Own practice"
        while left > 0:
            play, rest = bar_and_rest(_preset(desk, state), 0, played, _factor(desk, block.instrument))
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


def _guide(found: Stand) -> RestGuide:
    """What to do in this rest: the guides that have room in it, in turn."""
    number = sum(1 for s in found.state.spans if s.kind == "rest")
    fit = [g for g in rest_guides() if g.least_min <= found.bar_min]
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
        rest = max(rest if preset == "listen" else 0.0, today.dose.rest_min)
    return (rest, "play", follow) if resting else (play, "rest", rest)


def _state(desk: Desk, uid: str) -> Running:
    events = [
        Event(e.uid, e.session_uid, e.device, e.seq, e.at_utc, e.kind, e.payload, e.monotonic_ms)
        for e in desk.store.events(uid)
    ]
    return state_at(events, desk.now)


def close_forgotten(desk: Desk, minutes: float | None) -> None:
    """Stop a forgotten sitting after `minutes` from its start, as the player says. Never silently."""
    uid = desk.store.open_session_uid()
    if uid is None:
        raise NotThere("session")
    state = _state(desk, uid)
    if state.began_utc is None:
        raise NotThere("session")
    most = (desk.now - state.began_utc).total_seconds() / 60
    if minutes is None or not 0 < minutes <= min(most, SESSION_MAX_MIN):
        raise Refused("minutes", f"Type the minutes from the start until you stopped, from 1 to {min(most, 1440):.0f}.")
    append(
        desk,
        [
            {
                "uid": uuid4().hex,
                "session": uid,
                "device": "question",
                "seq": 10**6,
                "kind": "stop",
                "at_utc": (state.began_utc + timedelta(minutes=minutes)).isoformat(),
            }
        ],
    )


def discard(desk: Desk) -> None:
    """Throw the open sitting away, with its events."""
    uid = desk.store.open_session_uid()
    if uid is None:
        raise NotThere("session")
    desk.store.drop_events(uid)


@dataclass(frozen=True)
class WrapUp:
    """The answers after playing: effort 0-10, "nothing more" or not, settled marks, and words for later."""

    effort: float | None
    nothing_more: bool
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
    for name in ("went_well", "was_hard", "question"):
        if len(getattr(wrap, name)) > TEXT_MAX:
            raise Refused(name, f"At most {TEXT_MAX} characters.")
    for aim in wrap.aims_done:
        plan.finish_aim(desk, aim)
    state = _state(desk, uid)
    if state.live:
        append(desk, [{"uid": uuid4().hex, "session": uid, "device": "server", "kind": "stop", "seq": 10**6}])
        state = _state(desk, uid)
    session = _as_written(desk, uid, state, wrap)
    corrections.put(desk, session)
    _write_marks(desk, session, state, wrap)
    _keep_tempo(desk, state)
    append(desk, [{"uid": uuid4().hex, "session": uid, "device": "server", "kind": "close", "seq": 10**6 + 1}])
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
            "method": "tempo.top_clean",
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
    if wrap.nothing_more and session.day == desk.today:
        checks.nothing(desk, "after")
