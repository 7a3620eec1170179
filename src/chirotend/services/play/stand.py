"""The running session as the stand shows it, with today’s call."""

from collections import Counter
from dataclasses import dataclass, replace
from datetime import timedelta
from itertools import takewhile

from chirotend.core.judge.evidence import Evidence
from chirotend.core.plan.rests import bar_and_rest, presets
from chirotend.core.plan.suits import Condition, unsuitable
from chirotend.core.session.fold import Running
from chirotend.core.session.prompts import due
from chirotend.library.loader import prompts, rest_guides
from chirotend.library.schema import PromptEntry, RestGuide
from chirotend.services.body.condition import condition, terms_of
from chirotend.services.call.issued_call import IssuedCall
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.kit import own_library
from chirotend.services.kit.holds import Turn, Usual, alternation, turn_now, usual
from chirotend.services.kit.profile import profile
from chirotend.services.play.bars import StandBar, bars_of, rest_factor
from chirotend.services.play.running_session import running_session
from chirotend.services.today.stop import Stop, stop_of

PROMPT_DAYS, LONG_REST_MIN = 28, 8.0


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
    #: how it is held now, and the holds that are offered: names by id
    grip: str = ""
    posture: str = ""
    usual: Usual | None = None
    #: the hold that is due by her alternation, minutes left of it, the one after it; None = she does not alternate
    turn: tuple[Turn, float, Turn] | None = None
    prompt: PromptEntry | None = None
    guide: RestGuide | None = None
    #: today is Tacet: nothing to play is offered, the session can only be stopped
    stop: Stop | None = None
    #: today's limit is played: nothing more is offered
    limit_played: bool = False


def stand_now(context: Context) -> Stand:
    """Return the running session as the stand shows it, with today's call."""
    running = running_session(context)
    uid, state = running.uid, running.state
    resting = state.phase == "resting" or (state.phase == "paused" and state.resume_to == "resting")
    call = todays_call(context)
    today, evidence = call.issued, call.evidence
    played = sum(s.playing_minutes for s in evidence.record.sessions if s.day == context.today) + state.played_minutes
    # a switch of instrument does not begin a new bar: what was played since the last rest counts
    same = takewhile(lambda s: s.kind == state.spans[-1].kind, reversed(state.spans))
    span_s = sum(s.seconds for s in same)
    found = Stand(
        uid,
        state,
        running.forgotten,
        *_bars(context, state, today, resting, played),
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
        context,
        call,
        own_library.instruments(context).get(state.spans[-1].instrument if state.spans else ""),
    )
    found = replace(found, prompt=_prompt(evidence, state), guide=_guide(found, now) if resting else None)
    if state.spans:
        found = _with_holds(context, _with_plan(context, found, today))
        if found.bar is not None and not resting:
            span_s = state.spans[-1].seconds
        found = _stretched(found, today, resting, played, span_s)
    return replace(found, left_s=max(0.0, found.bar_min * 60 - span_s))


def _stretched(found: Stand, today: IssuedCall, resting: bool, played: float, span_s: float) -> Stand:
    """Make the bar as long as she stretched it, within the block of a Muted day and what the day's limit leaves."""
    minutes = max(0.5, found.bar_min + found.state.spans[-1].extra_min)
    if resting:
        return replace(found, bar_min=minutes)
    scheduled = found.bars[found.bar] if found.bar is not None else None
    if today.effective.startswith("muted") and (scheduled is None or scheduled.block_kind != "warm-up"):
        minutes = min(minutes, today.dose.block_min)
    if today.dose.minutes is None:
        return replace(found, bar_min=minutes)
    left = today.dose.minutes - (played - span_s / 60)
    return replace(found, bar_min=max(0.0, min(minutes, left)), limit_played=played >= today.dose.minutes)


def _with_plan(context: Context, found: Stand, today: IssuedCall) -> Stand:
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


def _with_holds(context: Context, found: Stand) -> Stand:
    """Say how it is held (as it was said, else as its aim has it), what is offered, and which hold is due."""
    span = found.state.spans[-1]
    scheduled = found.bars[found.bar] if found.bar is not None else None
    now = span.holds[-1]
    return replace(
        found,
        grip=now.grip or (scheduled.grip if scheduled else ""),
        posture=now.posture or (scheduled.posture if scheduled else ""),
        usual=usual(context, span.instrument),
        turn=turn_now(alternation(context, span.instrument), found.state.played_minutes),
    )


def _preset(context: Context, state: Running) -> str:
    return state.preset if state.preset in presets() else profile(context).rest_preset or "fixed"


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


def _bars(
    context: Context, state: Running, today: IssuedCall, resting: bool, played: float
) -> tuple[float, str, float]:
    """Return the minutes of this bar, the kind of the next and its minutes: the call's dose, else her preset."""
    rests_so_far = sum(1 for s in state.spans if s.kind == "rest")
    number = max(0, rests_so_far - (1 if resting else 0))
    preset, factor = _preset(context, state), rest_factor(context, state.spans[-1].instrument if state.spans else "")
    before = max(0.0, played - (state.spans[-1].seconds / 60 if state.spans and not resting else 0.0))
    play, rest = bar_and_rest(preset, number, before, factor)
    follow, _ = bar_and_rest(preset, rests_so_far, played, factor)
    if today.effective.startswith("muted"):
        play = follow = min(play, today.dose.block_min)
        rest = max(rest, today.dose.rest_min)  # a level asks for rests, it never shortens one
    if today.dose.minutes is not None and before < today.dose.minutes:
        play = min(play, today.dose.minutes - before)  # the bar ends where the day's dose does
    return (rest, "play", follow) if resting else (play, "rest", rest)
