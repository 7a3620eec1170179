"""Her holds: grips and postures she usually takes on an instrument, minutes in each, how she alternates them."""

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.library.schema import Grip
from chirotend.services.context import Context, FieldError
from chirotend.services.kit import own_library
from chirotend.services.kit.profile import profile, say
from chirotend.services.units import decimal
from chirotend.store.models import AimRow, OwnItemRow

#: how far back a hold counts as usual; how many of each are offered, at least and at most
USUAL_FOR, LEAST, OFFERED = timedelta(days=60), 3, 4
TURN_LOW, TURN_HIGH, TURNS = 1.0, 60.0, 4


@dataclass(frozen=True)
class Usual:
    """The holds that are offered on an instrument: grips of the hand, then seats and supports, hers first."""

    grips: tuple[Grip, ...]
    postures: tuple[Grip, ...]


@dataclass(frozen=True)
class Turn:
    """A part of an alternation: a hold for so many minutes."""

    hold: str
    minutes: float


def fitting(context: Context, instrument: str) -> list[Grip]:
    """Return the holds of an instrument of hers, as the library has them, her own first."""
    known = own_library.instruments(context).get(instrument)
    if known is None:
        return []
    own = {r.uid for r in context.store.repository(OwnItemRow).all(OwnItemRow.kind == "grip")}
    found = [g for g in own_library.grips(context).values() if known.family in g.families or "all" in g.families]
    first = {hold: n for n, hold in enumerate(known.holds)}
    return sorted(found, key=lambda g: (g.id not in own, first.get(g.id, len(first))))


def usual(context: Context, instrument: str) -> Usual:
    """Return what is offered: what she held most in two months, what her aims name, then the library's."""
    return context.per_request(f"holds {instrument}", lambda: _usual(context, instrument))


def _usual(context: Context, instrument: str) -> Usual:
    held: Counter[str] = Counter()
    for (hold, _), minutes in minutes_in(context, instrument, context.today - USUAL_FOR, context.today).items():
        held[hold] += round(minutes)
    for aim in context.store.repository(AimRow).all(
        AimRow.instrument == instrument, AimRow.week >= context.today - USUAL_FOR
    ):
        held.update(hold for hold in (aim.grip, aim.posture) if hold)
    held.update(t.hold for t in alternation(context, instrument))
    ordered = sorted(fitting(context, instrument), key=lambda g: -held[g.id])

    def offered(postures: bool) -> tuple[Grip, ...]:
        found = [g for g in ordered if g.is_posture == postures]
        hers = [g for g in found if held[g.id]]
        return tuple((hers if len(hers) >= LEAST else found[:LEAST])[:OFFERED])

    return Usual(offered(postures=False), offered(postures=True))


def minutes_in(context: Context, instrument: str, first: date, last: date) -> dict[tuple[str, date], float]:
    """Return the minutes played in each hold on each day, by (grip or posture, day); what was not said is in none."""
    found: dict[tuple[str, date], float] = {}
    for session in context.store.sessions(first, last):
        for block in session.blocks:
            if block.kind != "other" and block.instrument == instrument:
                for hold in {block.grip, block.posture} - {""}:
                    found[hold, session.day] = found.get((hold, session.day), 0.0) + block.minutes
    return found


def alternation(context: Context, instrument: str) -> tuple[Turn, ...]:
    """Return how she alternates holds on an instrument; nothing = she does not."""
    kept = profile(context).alternation.get(instrument, ())
    return tuple(Turn(str(hold), float(minutes)) for hold, minutes in kept)


def alternate(context: Context, instrument: str, typed: Mapping[str, str]) -> None:
    """Keep an alternation of up to four turns (`hold-1`, `minutes-1` and so on); none = she does not alternate."""
    known = {g.id for g in fitting(context, instrument)}
    turns = []
    for n in range(1, TURNS + 1):
        hold, text = typed.get(f"hold-{n}", ""), typed.get(f"minutes-{n}", "").strip()
        if not hold and not text:
            continue
        if hold not in known:
            raise FieldError(f"hold-{n}", "Choose a hold of this instrument.")
        turns.append([hold, decimal(f"minutes-{n}", "Minutes in a hold", text, TURN_LOW, TURN_HIGH)])
    if len(turns) == 1:
        raise FieldError("hold-2", "One hold alone alternates with none: choose a second one, or leave all open.")
    say(context, alternation={**profile(context).alternation, instrument: turns})


def turn_now(turns: tuple[Turn, ...], played_min: float) -> tuple[Turn, float, Turn] | None:
    """Return the turn that is due after so many minutes of playing, what is left of it, and the next; None without."""
    if not turns:
        return None
    left = played_min % sum(t.minutes for t in turns)
    for n, turn in enumerate(turns):
        if left < turn.minutes:
            return turn, turn.minutes - left, turns[(n + 1) % len(turns)]
        left -= turn.minutes
    return turns[-1], 0.0, turns[0]
