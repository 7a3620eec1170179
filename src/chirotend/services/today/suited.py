"""Muted made hers, in words: blocks left, what spares the marked places, which aims wait today."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta

from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.recovery import Recovery
from chirotend.core.plan.suited import LeftOutAim, Suited, Way, suited
from chirotend.core.plan.week_problem import monday
from chirotend.core.record import Place
from chirotend.library.loader import instrument_name
from chirotend.library.schema import Grip
from chirotend.services.body.condition import MARKED_DAYS
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.kit import demands, own_library
from chirotend.services.plan import week_aims
from chirotend.services.today.concert_card import used_grips
from chirotend.services.words import amount, listed, long_time, place_name, sentence
from chirotend.store.models import AimRow


@dataclass(frozen=True)
class SuitedLine:
    """A sentence of what suits today, with the rule behind it."""

    sentence: str
    rule: str


def _suited(context: Context) -> tuple[Suited, Sequence[AimRow], Sequence[Grip]] | None:
    """What suits her today, of her open aims and the grips she uses, with both; None unless today is Muted."""
    call = todays_call(context)
    today = call.issued
    if not today.effective.startswith("muted"):
        return None
    known, aims, grips = own_library.instruments(context), _open_aims(context), used_grips(context)
    what = suited(
        today.dose,
        call.played_min,
        _marked(call.evidence, today.recovery),
        [Way(i, demands.of_instrument(context, known[i])) for i in context.player.instruments if i in known],
        [Way(g.id, demands.of_grip(g), demands.relieved_by(g)) for g in grips],
        [week_aims.as_aim(a) for a in aims],
        {a.uid: a.grip for a in aims if a.grip},
    )
    return what, aims, grips


def _marked(evidence: Evidence, recovery: Recovery) -> tuple[Place, ...]:
    """The places that brought the level, else those marked in the last 48 hours."""
    since = evidence.today - timedelta(days=MARKED_DAYS)
    recent = {m.place for m in evidence.above_known.marks if m.day >= since and m.entry.intensity > 0}
    return tuple(sorted({*recovery.places} or recent))


def lines(context: Context) -> tuple[SuitedLine, ...]:
    """Return what suits her today in sentences; nothing unless today is Muted."""
    found = _suited(context)
    if found is None:
        return ()
    what, aims, grips = found
    titles, names = {a.uid: a.title for a in aims}, {g.id: g.name.lower() for g in grips}
    return (*_blocks(what), *_instruments(what), *_grips(what, names), *_aims(what, titles, names), _warm_up())


def _warm_up() -> SuitedLine:
    return SuitedLine(sentence("today", "warm_up"), sentence("today", "warm_up_rule"))


def left_out(context: Context) -> frozenset[str]:
    """Return the uids of the aims that wait today."""
    found = _suited(context)
    return frozenset(w.aim for w in found[0].wait) if found else frozenset()


def _open_aims(context: Context) -> list[AimRow]:
    return [a for a in week_aims.aims(context, monday(context.today)) if not a.done]


def _blocks(what: Suited) -> list[SuitedLine]:
    if what.left_min is None:
        return []
    if what.left_min < 1:
        return [SuitedLine(sentence("today", "minutes_played"), sentence("today", "minutes_played_rule"))]
    left, blocks, block = long_time(what.left_min), amount(what.blocks, "block"), f"{what.block_min:g}"
    line = sentence("today", "minutes_left", minutes=left, blocks=blocks, block=block)
    return [SuitedLine(line, sentence("today", "minutes_left_rule"))]


def _instruments(what: Suited) -> list[SuitedLine]:
    if not what.demands:
        return []
    rule = sentence("today", "instruments_rule")
    if len(what.demands) < what.instruments:
        return []  # of the others the library says nothing: that is not known, not safe
    places = {place for _, found in what.demands for place in found}
    if all(set(found) == places for _, found in what.demands):
        used = listed(map(place_name, sorted(places)))
        if len(what.demands) > 1:
            return [SuitedLine(sentence("today", "every_instrument", places=used), rule)]
        one = instrument_name(what.demands[0][0]).lower()
        return [SuitedLine(sentence("today", "one_instrument", instrument=one, places=used), rule)]
    return [SuitedLine(sentence("today", "each_instrument"), rule)]


def _grips(what: Suited, names: dict[str, str]) -> list[SuitedLine]:
    found = []
    if what.grips:
        found.append(sentence("today", "better_grips", grips=listed(names[g] for g in what.grips)))
    if what.not_grips:
        found.append(sentence("today", "not_grips", grips=listed(names[g] for g in what.not_grips)))
    return [SuitedLine(line, sentence("today", "grips_rule")) for line in found]


def _aims(what: Suited, titles: dict[str, str], grips: dict[str, str]) -> list[SuitedLine]:
    wait = [f"“{titles[w.aim]}” ({_why(w, grips)})" for w in what.wait]
    go = [f"“{titles[a]}”" for a in what.go]
    found = [sentence("today", "leave_out", aims=listed(wait))] if wait else []
    found += [sentence("today", "softly", aims=listed(go))] if go else []
    return [SuitedLine(line, sentence("today", "aims_rule")) for line in found]


def _why(wait: LeftOutAim, grips: dict[str, str]) -> str:
    return grips[wait.what] if wait.why == "grip" else "new and hard"
