"""How she is today, as the rules that leave things out read it: marks, what she has said of herself, her instrument."""

from datetime import timedelta

from chirotend.core.body.zones import zone
from chirotend.core.judge.evidence import Evidence
from chirotend.core.plan.suits import HAND, Condition, Terms
from chirotend.library.schema import CurtainOption, ExerciseEntry, Instrument, RestGuide
from chirotend.services.desk import Desk
from chirotend.services.kit.profile import profile

#: a mark of this strength or more keeps what loads its place out (ours, common practice)
SORE_FROM = {"pain": 2.0, "tension": 3.0, "stiffness": 3.0}
SORE_FROM_ANY = 0.5  # every other kind: however faint


def condition(desk: Desk, evidence: Evidence, played: Instrument | None) -> Condition:
    """Return her condition: places marked today or yesterday, her states, whether `played` turns the neck."""
    yesterday = desk.today - timedelta(days=1)
    marks = [
        m.entry
        for m in evidence.marks
        if m.day >= yesterday and m.entry.intensity >= SORE_FROM.get(m.entry.kind, SORE_FROM_ANY)
    ]
    return Condition(
        frozenset((e.zone, e.side) for e in marks),
        frozenset((e.zone, e.side) for e in marks if e.kind in ("tingling", "numbness")),
        profile(desk).states,
        played.posture.turns_neck if played else False,
    )


def terms_of(entry: ExerciseEntry | RestGuide | CurtainOption) -> Terms:
    """Return the cautions of a library entry that are rules."""
    return Terms(entry.not_with, entry.needs, entry.clear_zones, entry.after_operation)


def hand_marked(now: Condition, side: str) -> bool:
    """True when anything is marked in the hand, wrist or forearm of `side`."""
    return any(zone(z).region in HAND and s == side for z, s in now.marked)
