"""The curtain card, ten minutes before it begins: options from her own kit and grips, a script, the booking."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import time, timedelta

from chirotend.core.body.zones import zone
from chirotend.core.record import DayNote
from chirotend.library.loader import curtain_problems
from chirotend.library.schema import CurtainProblem, Grip
from chirotend.services import checks, corrections, engagements, own_library
from chirotend.services.checks import TypedMarks
from chirotend.services.desk import Desk, Refused
from chirotend.store.models import KitRow

SUPPORTS = ("harness", "strap", "peg", "rest", "support")
MOST_GRIPS = 2
STRENGTHS = {"a little": 2.0, "clearly": 4.0, "strongly": 6.0}
NOTE_MAX = 2000


@dataclass(frozen=True)
class Card:
    """One problem with what may be done about it tonight, hers first, and when to hand over."""

    problem: CurtainProblem
    own: tuple[str, ...]
    general: tuple[str, ...]


@dataclass(frozen=True)
class Typed:
    """What was answered on the card: which problem, side, how strong, what was done, whether it was handed over."""

    problem: str
    side: str
    strength: str
    done: Sequence[str] = ()
    handed_over: bool = False


def cards(desk: Desk, instrument: str = "") -> tuple[Card, ...]:
    """Return the problems with options from her kit and the grips of `instrument` ("" = all of hers)."""
    kit = [r for r in desk.store.shelf(KitRow).all() if not instrument or r.instrument in ("", instrument)]
    played = {instrument} if instrument else set(desk.player.instruments)
    families = {i.family for k, i in own_library.instruments(desk).items() if k in played}
    grips = [g for g in own_library.grips(desk).values() if families & set(g.families)]
    return tuple(
        Card(p, (*_supports(p, kit), *_sticks(p, kit), *_grips(p, grips)), p.options)
        for p in curtain_problems().values()
    )


def _supports(p: CurtainProblem, kit: Sequence[KitRow]) -> list[str]:
    if not p.supports:
        return []
    words = {
        "harness": "Hang it on",
        "strap": "Shorten or set again",
        "peg": "Set the height of",
        "rest": "Move or take off",
    }
    return [
        f"{words.get(row.kind, 'Use')} your {row.name[:1].lower()}{row.name[1:]}."
        for row in kit
        if row.kind in SUPPORTS
    ]


def _sticks(p: CurtainProblem, kit: Sequence[KitRow]) -> list[str]:
    sticks = sorted((r for r in kit if r.kind in ("stick", "mallet") and r.mass_g), key=lambda r: r.mass_g or 0)
    if not p.sticks or len(sticks) < 2:
        return []
    chosen = sticks[0] if p.sticks == "lighter" else sticks[-1]
    return [f"Take the {p.sticks} pair you own: {chosen.name}, {chosen.mass_g:.0f} g."]


def _grips(p: CurtainProblem, grips: Sequence[Grip]) -> list[str]:
    """Grips that relieve a sore place and cost none of them; what is hung on comes from her own kit alone."""
    sore = set(p.zones)
    found = [g for g in grips if g.kind != "support" and sore & set(g.relieves) and not sore & set(g.costs)]
    found.sort(key=lambda g: (-len(sore & set(g.relieves)), g.id))
    return [f"Change to: {g.name[:1].lower()}{g.name[1:]} ({g.holds_with})." for g in found[:MOST_GRIPS]]


def write(desk: Desk, typed: Typed) -> None:
    """Write the card in: the mark, a note of the day, and the booking for tomorrow. `Refused` names the field."""
    problem = curtain_problems().get(typed.problem)
    if problem is None:
        raise Refused("problem", "Choose what it is.")
    if typed.strength not in STRENGTHS:
        raise Refused("strength", "Say how strong it is.")
    place = zone(problem.zones[0])
    if place.sided and typed.side not in ("left", "right"):
        raise Refused("side", "Say which side, left or right.")
    side = typed.side if place.sided else "none"
    checks.write_marks(
        desk, TypedMarks((f"{place.id}.{side}",), problem.kind, STRENGTHS[typed.strength], ("playing",)), desk.today
    )
    done = "; ".join(d[:200] for d in typed.done[:8]) or "nothing yet"
    words = f"Before the curtain: {side if side != 'none' else ''} {problem.name}, {typed.strength}. Did: {done}."
    words += " Handed the part over." if typed.handed_over else " Played on with that."
    note = desk.store.note(desk.today) or DayNote(desk.today)
    text = f"{note.note}\n{words}".strip()[-NOTE_MAX:]
    corrections.put(desk, replace(note, note=text))
    _book(desk, problem)


def _book(desk: Desk, problem: CurtainProblem) -> None:
    """Put the booking on tomorrow morning, once."""
    day = desk.today + timedelta(days=1)
    title = f"Book someone: {problem.name}"
    if not any(e.title == title for e in engagements.between(desk, day, day + timedelta(days=13))):
        engagements.write(desk, engagements.Typed(day, time(9), time(9, 10), title, "appointment", minutes=0, effort=0))
