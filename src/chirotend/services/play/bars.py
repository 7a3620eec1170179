"""The session as bars and rests: laid out when it begins, cut to the call when it is shown."""

import json
from dataclasses import dataclass, replace

from chirotend.core.plan.rests import bar_and_rest
from chirotend.core.plan.week import PlannedBlock
from chirotend.core.plan.week_problem import monday
from chirotend.core.session.fold import Running
from chirotend.services.call.issued_call import IssuedCall
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.kit import own_library
from chirotend.services.kit.profile import profile
from chirotend.services.plan import credit, own_blocks, week_aims
from chirotend.services.today import suited, warmups
from chirotend.store.models import AimRow

#: the preset of a session that runs through today's warm-up first, bar by bar without rests
WARMUP, PLAN = "warm-up", "plan"
REST_MIN = 5.0


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
    #: the laid block it is; "" = none
    planned: str = ""
    #: how its aim, or the warm-up, says it is held; "" = not said
    grip: str = ""
    posture: str = ""


def todays_blocks(context: Context) -> list[PlannedBlock]:
    """Return the laid blocks of today that still wait, each with the minutes that are left of it."""
    blocks = own_blocks.blocks_between(context, context.today, context.today)
    left = credit.still_to_play(context, blocks)
    return [replace(b, minutes=left[b.uid]) for b in blocks if left[b.uid]]


def laid_bars(state: Running) -> tuple[StandBar, ...]:
    """Return the session as it was laid out when it began; nothing when it was not, or its start event is odd."""
    try:
        return tuple(StandBar(**bar) for bar in json.loads(state.laid_out or "[]"))
    except (ValueError, TypeError):
        return ()


def bars_of(state: Running, today: IssuedCall) -> tuple[StandBar, ...]:
    """Return the session as it was laid out when it began: what is marked since moves her to no other bar.

    Under Muted a bar is cut to the call's length and a rest takes at least the call's.
    """
    bars = laid_bars(state)
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


def laid_out(context: Context, instrument: str, preset: str, today: IssuedCall) -> tuple[StandBar, ...]:
    """Return a session as bars and rests: the warm-up's steps, then today's own blocks cut by her rest preset.

    Under Muted the blocks of aims that wait today are not among them: they stay laid.
    """
    bars: list[StandBar] = []
    if preset == WARMUP:
        for s in warmups.kept_steps(context, context.today):
            bars.append(StandBar("play", s.name, s.minutes, s.how, instrument, "warm-up", 2.0, "", s.grip, s.posture))
    left_today = todays_call(context).minutes_left
    played = sum(b.minutes for b in bars)
    aims = {a.uid: a for a in week_aims.aims(context, monday(context.today))}
    muted = today.effective.startswith("muted")
    waits = suited.left_out(context)
    for block in (b for b in todays_blocks(context) if b.aim_uid not in waits):
        if bars and bars[-1].block_kind != "warm-up" and bars[-1].kind == "play":
            bars.append(StandBar("rest", "", max(REST_MIN, today.dose.rest_min if muted else 0.0)))
        left, title = block.minutes, block.title or "Own practice"
        while left > 0:
            play, rest = bar_and_rest(
                profile(context).rest_preset or "fixed", 0, played, rest_factor(context, block.instrument)
            )
            play = min(left, play, today.dose.block_min if muted else play)
            if left_today is not None and played + play > left_today:
                if (play := left_today - played) < 1:
                    return _without_last_rest(bars)  # the day's limit is laid out
                left = play
            bars.append(
                StandBar(
                    "play",
                    title,
                    play,
                    _how(context, aims.get(block.aim_uid)),
                    block.instrument,
                    "repertoire",
                    block.effort,
                    block.uid,
                    *_held(aims.get(block.aim_uid)),
                )
            )
            left, played = left - play, played + play
            if left > 0:
                bars.append(StandBar("rest", "", max(rest, today.dose.rest_min if muted else 0.0)))
    return tuple(bars)


def _without_last_rest(bars: list[StandBar]) -> tuple[StandBar, ...]:
    return tuple(bars[:-1] if bars and bars[-1].kind == "rest" else bars)


def _how(context: Context, aim: AimRow | None) -> str:
    """How to hold it, where its aim names a grip or seat."""
    known = own_library.grips(context)
    named = [known[held] for held in _held(aim) if held in known]
    return " ".join(f"{grip.name}: {grip.check}" for grip in named)


def _held(aim: AimRow | None) -> tuple[str, str]:
    return (aim.grip, aim.posture) if aim is not None else ("", "")


def rest_factor(context: Context, instrument: str) -> float:
    known = own_library.instruments(context).get(instrument)
    return known.rest_factor.value if known else 1.0
