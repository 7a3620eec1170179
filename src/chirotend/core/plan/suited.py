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
    demands: frozenset[Place]
    relieves: frozenset[Place] = frozenset()


@dataclass(frozen=True)
class LeftOutAim:
    """An aim to leave out today: why (new_hard | grip), and the grip meant."""

    aim: str
    why: str
    what: str = ""


@dataclass(frozen=True)
class Suited:
    """What of a Muted day is hers.

    `left_min` minutes the dose leaves, in `blocks` of at most `block_min`; None = no such limit. `demands` the
    instruments that are known to ask something of the marked places: of any other nothing is known. `grips` that
    relieve one and cost none, `not_grips` that cost one. `wait` aims to leave out, `go` those that may be played,
    softer.
    """

    left_min: float | None
    blocks: int
    block_min: float
    marked: tuple[Place, ...]
    demands: tuple[tuple[str, tuple[Place, ...]], ...]
    grips: tuple[str, ...]
    not_grips: tuple[str, ...]
    wait: tuple[LeftOutAim, ...]
    go: tuple[str, ...]
    #: how many instruments she plays
    instruments: int


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
    marked place. No instrument is said to spare one: what the library does not list it does not know.
    """
    places = tuple(sorted(set(marked)))
    here = frozenset(places)
    hers, held = list(instruments), {g.id: g for g in grips}
    demands = tuple((i.id, tuple(sorted(i.demands & here))) for i in hers if i.demands & here)
    left = dose.left(played_min)
    waits = [_waits(a, held.get(grip_of_aim.get(a.uid, "")), here) for a in aims]
    return Suited(
        left,
        0 if left is None or not dose.block_min else int(left // dose.block_min) + (left % dose.block_min >= 1),
        dose.block_min,
        places,
        demands,
        tuple(g.id for g in held.values() if g.relieves & here and not g.demands & here),
        tuple(g.id for g in held.values() if g.demands & here),
        tuple(w for w in waits if w.why),
        tuple(w.aim for w in waits if not w.why),
        len(hers),
    )


def _waits(aim: Aim, grip: Way | None, marked: frozenset[Place]) -> LeftOutAim:
    if aim.new_hard:
        return LeftOutAim(aim.uid, "new_hard")
    if grip is not None and grip.demands & marked:
        return LeftOutAim(aim.uid, "grip", grip.id)
    return LeftOutAim(aim.uid, "")
