"""Today's state of the player, as input for the exclusion rules: symptoms, causes of the call, what she has said."""

from datetime import timedelta

from chirotend.core.body.zones import zone, zones
from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.rules import OPEN
from chirotend.core.plan.suits import HAND, Condition, Terms
from chirotend.core.record.words import SENSORY_KINDS
from chirotend.library.schema import CardOption, ExerciseEntry, Instrument, RestGuide
from chirotend.services.call.issued_call import IssuedCall
from chirotend.services.call.todays_call import TodaysCall
from chirotend.services.context import Context
from chirotend.services.today.happened import states_of
from chirotend.services.words import place_name

Cause = tuple[str, str, str]  # region, side, kind
SIDED = ("left", "right")
MARKED_DAYS, WEEK_DAYS = 2, 7
#: a mark of this strength or more keeps what loads its place out (ours, common practice)
SORE_FROM = {"pain": 2.0, "tension": 3.0, "stiffness": 3.0}
SORE_FROM_ANY = 0.5  # every other kind: however faint


def condition(context: Context, today: TodaysCall, played: Instrument | None) -> Condition:
    """Return her condition: what today's call rests on and what was marked of late, her states, whether `played` turns
    the neck. A place is its whole region on that side: what loads a neighbour loads it too."""
    causes = today.issued.recovery.causes_by_kind
    spared = {*marked_of_late(today.evidence), *causes} | _behind_a_level(today.evidence, today.issued)
    return Condition(
        frozenset(zone for region, side, _ in spared for zone in _zones_of(region, side)),
        frozenset(z for region, side, kind in spared if kind in SENSORY_KINDS for z in _zones_of(region, side)),
        states_of(context),
        played.posture.turns_neck if played else False,
    )


def marked_of_late(evidence: Evidence) -> frozenset[Cause]:
    """Return (region, side, kind) of what was marked in the last 48 hours, strongly enough to be spared."""
    first = evidence.today - timedelta(days=MARKED_DAYS)
    return frozenset(
        (*m.place, m.entry.kind)
        for m in evidence.marks
        if m.day >= first and m.entry.intensity >= SORE_FROM.get(m.entry.kind, SORE_FROM_ANY)
    )


def _behind_a_level(evidence: Evidence, call: IssuedCall) -> frozenset[Cause]:
    """What a level without a place of its own may rest on: every place marked within the week."""
    if call.recovery.level == OPEN or call.recovery.causes:
        return frozenset()
    first = evidence.today - timedelta(days=WEEK_DAYS)
    marks = (m for m in evidence.marks if m.day >= first and m.entry.intensity > 0)
    return frozenset((*m.place, m.entry.kind) for m in marks)


def _zones_of(region: str, side: str) -> tuple[tuple[str, str], ...]:
    return tuple((z.id, side if z.sided else "none") for z in zones().values() if z.region == region)


def spared_hands(call: IssuedCall) -> dict[str, str]:
    """Return the hands that a Muted day spares, each with the place it is for: no measure asks anything of them."""
    if not call.effective.startswith("muted"):
        return {}
    places = ((region, side) for region, side in call.recovery.places if region in HAND and side in SIDED)
    return {side: place_name((region, side)) for region, side in places}


def terms_of(entry: ExerciseEntry | RestGuide | CardOption) -> Terms:
    """Return the cautions of a library entry that are rules."""
    return Terms(entry.not_with, entry.needs, entry.clear_zones, entry.after_operation)


def hand_marked(now: Condition, side: str) -> bool:
    """True when anything is marked in the hand, wrist or forearm of `side`."""
    return any(zone(z).region in HAND and s == side for z, s in now.marked)
