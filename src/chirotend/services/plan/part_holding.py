"""Holding on through a part, with and without letting go: typed numbers in, a laboratory model's own numbers out."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from chirotend.core.load.industrial.holding import Fatigue, fatigue_pattern
from chirotend.core.load.part import BarAsk, holding
from chirotend.library.loader import background_methods
from chirotend.library.schema import BackgroundInput, BackgroundMethod
from chirotend.services.context import FieldError
from chirotend.services.units import decimal


@dataclass(frozen=True)
class Holding:
    """What is left of the strength (in words) at the end: held throughout, as written, with a let-go in some bars."""

    throughout: str
    written: str
    with_let_gos: str


def method() -> BackgroundMethod:
    """Return what the library says of the model: made for, formula, source, what it asks for."""
    return background_methods()["letting_go"]


def asked() -> dict[str, BackgroundInput]:
    """Return what the model asks for, by field."""
    return {i.field: i for i in method().inputs}


def example() -> dict[str, str]:
    """Return what stands in the form at first: an arm held out with little."""
    found = asked()
    return {
        "joint": found["joint"].example,
        "load_pct": found["load_pct"].example,
        "let_go_s": found["rest_s"].example,
    }


def held_through(played: Sequence[BarAsk], let_go: Collection[int], typed: Mapping[str, str]) -> Holding:
    """Return what the model leaves at the end of a run-through. `FieldError` names the field."""
    joint, joints, share = typed.get("joint", ""), asked()["joint"].words, asked()["load_pct"]
    if joint not in joints:
        raise FieldError("joint", f"Choose one of {', '.join(joints)}.")
    load = decimal("load_pct", share.label, typed.get("load_pct", ""), share.low, share.high, share.unit) / 100
    seconds = decimal("let_go_s", "Let go for", typed.get("let_go_s", ""), 0.5, 10, "seconds")
    total = sum(a.seconds for a in played)
    ways = (((load, total),), holding(played, load), holding(played, load, let_go, seconds))
    return Holding(*(strength_left(fatigue_pattern(joint, way, total)) for way in ways))


def strength_left(found: Fatigue) -> str:
    """Return what is left, in words: no time to fatigue is ever said."""
    return f"{found.capacity_pct:.0f} %" if found.failed_at_s is None else "too little to hold on"
