"""Holding on through a part, with and without letting go: typed numbers in, a laboratory model's own numbers out."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from chirotend.core.load.industrial.holding import Fatigue, fatigue_pattern
from chirotend.core.load.part import BarAsk, holding
from chirotend.services.desk import Refused
from chirotend.services.units import decimal

JOINTS = ("shoulder", "elbow", "hand", "trunk")
#: what stands in the form at first: an arm held out with little
EXAMPLE = {"joint": "shoulder", "load_pct": "5", "let_go_s": "1"}


@dataclass(frozen=True)
class Holding:
    """What is left of the strength (in words) at the end: held throughout, as written, with a let-go in some bars."""

    throughout: str
    written: str
    with_let_gos: str


def held_through(played: Sequence[BarAsk], let_go: Collection[int], typed: Mapping[str, str]) -> Holding:
    """Return what the model leaves at the end of a run-through. `Refused` names the field."""
    joint = typed.get("joint", "")
    if joint not in JOINTS:
        raise Refused("joint", f"Choose one of {', '.join(JOINTS)}.")
    load = decimal("load_pct", "Held with", typed.get("load_pct", ""), 1, 70, "% of your strongest") / 100
    seconds = decimal("let_go_s", "Let go for", typed.get("let_go_s", ""), 0.5, 10, "seconds")
    total = sum(a.seconds for a in played)
    ways = (((load, total),), holding(played, load), holding(played, load, let_go, seconds))
    return Holding(*(strength_left(fatigue_pattern(joint, way, total)) for way in ways))


def strength_left(found: Fatigue) -> str:
    """Return what is left, in words: no time to fatigue is ever said."""
    return f"{found.capacity_pct:.0f} %" if found.failed_at_s is None else "too little to hold on"
