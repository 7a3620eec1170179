"""Muted made hers: how many blocks are left, which instrument or grip spares the marked places, which aims wait.

Common practice, no source; not yet reviewed by a clinician. Nothing new is offered: what is named she already uses.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from chirotend.core.judge.rules import Dose
from chirotend.core.plan.week import Aim
from chirotend.core.record import Place


@dataclass(frozen=True)
class Way:
    """An instrument or a grip: the places it asks something of, and those it relieves."""

    id: str
    asks: frozenset[Place]
    relieves: frozenset[Place] = frozenset()


@dataclass(frozen=True)
class Wait:
    """An aim to leave out today: why (new_hard | grip | instrument), and the way or place meant."""

    aim: str
    why: str
    what: str = ""


@dataclass(frozen=True)
class Suited:
    """What of a Muted day is hers.

    `left_min` minutes the dose leaves, in `blocks` of at most `block_min`; None = no such limit. `spares` instruments
    that ask nothing of the marked places, `asks` the others with the places they do. `grips` that relieve one and cost
    none, `not_grips` that cost one. `wait` aims to leave out, `go` those that may be played, softer.
    """

    left_min: float | None
    blocks: int
    block_min: float
    marked: tuple[Place, ...]
    spares: tuple[str, ...]
    asks: tuple[tuple[str, tuple[Place, ...]], ...]
    grips: tuple[str, ...]
    not_grips: tuple[str, ...]
    wait: tuple[Wait, ...]
    go: tuple[str, ...]


def suited(
    dose: Dose,
    played_min: float,
    marked: Iterable[Place],
    instruments: Iterable[Way],
    grips: Iterable[Way],
    aims: Iterable[Aim],
    grip_of_aim: Mapping[str, str],
) -> Suited:
    """Return what suits her on a day with this `dose`, of which `played_min` are played.

    `grip_of_aim` holds the grip of an aim by its uid. An aim waits when it is new and hard, when its grip costs a
    marked place, or when its instrument asks something of one and another of hers does not.
    """
    places = tuple(sorted(set(marked)))
    here = frozenset(places)
    hers, held = list(instruments), {g.id: g for g in grips}
    spares = tuple(i.id for i in hers if places and not i.asks & here)
    asks = tuple((i.id, tuple(sorted(i.asks & here))) for i in hers if i.asks & here)
    left = None if dose.minutes is None else max(0.0, dose.minutes - played_min)
    waits = [_waits(a, held.get(grip_of_aim.get(a.uid, "")), here, dict(asks), spares) for a in aims]
    return Suited(
        left,
        0 if left is None or not dose.block_min else int(left // dose.block_min) + (left % dose.block_min >= 1),
        dose.block_min,
        places,
        spares,
        asks,
        tuple(g.id for g in held.values() if g.relieves & here and not g.asks & here),
        tuple(g.id for g in held.values() if g.asks & here),
        tuple(w for w in waits if w.why),
        tuple(w.aim for w in waits if not w.why),
    )


def _waits(
    aim: Aim, grip: Way | None, marked: frozenset[Place], asks: Mapping[str, tuple[Place, ...]], spares: tuple[str, ...]
) -> Wait:
    if aim.new_hard:
        return Wait(aim.uid, "new_hard")
    if grip is not None and grip.asks & marked:
        return Wait(aim.uid, "grip", grip.id)
    if aim.instrument in asks and spares:
        return Wait(aim.uid, "instrument", aim.instrument)
    return Wait(aim.uid, "")
