"""The pre-concert card, ten minutes before it begins: options from what she already uses, a script, the booking."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, time, timedelta

from chirotend.core.body.redflags import red_flags
from chirotend.core.body.zones import Zone, zone
from chirotend.core.days import practice_day
from chirotend.core.plan.suits import Condition, Terms, unsuitable
from chirotend.core.record import DayNote
from chirotend.core.record.shape import shapes
from chirotend.library.loader import card_problems
from chirotend.library.schema import CardProblem, Grip
from chirotend.services.body import checks
from chirotend.services.body.checks import TypedMarks
from chirotend.services.body.condition import condition, terms_of
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context, FieldError
from chirotend.services.kit import own_library
from chirotend.services.plan import engagements, week_aims
from chirotend.services.record import corrections, log
from chirotend.services.record.from_device import answered_at
from chirotend.services.today.stop import stopped
from chirotend.services.words import keyed_sentence, sentence
from chirotend.store.models import KitRow

#: what takes weight off, and what is said of one she owns; nothing is taken off or tried for the first time tonight
SUPPORTS = ("harness", "strap", "peg", "rest", "support")
SIDES = ("left", "right")
MOST_GRIPS = 2
STRENGTHS = {"a little": 2.0, "clearly": 4.0, "strongly": 6.0}
#: "still there after ten minutes?", and how long it then lasted; not asked long enough yet = not known
STILL_THERE = {"yes": "longer", "no": "brief", "not ten minutes yet": None}
DONE_MAX = 20
TEXT_MAX = 1000
NOTE_MAX = shapes(DayNote)["note"].longest


@dataclass(frozen=True)
class Option:
    """Something to do tonight, for one hand ("left", "right") or for either ("")."""

    text: str
    side: str = ""
    own: bool = False


@dataclass(frozen=True)
class Card:
    """One problem: where it can be, what may be done about it tonight, hers first, and when to hand over."""

    problem: CardProblem
    places: tuple[Zone, ...]
    options: tuple[Option, ...]


@dataclass(frozen=True)
class Typed:
    """What was answered on the card; `at` is when, if it waited on the device (None = now)."""

    problem: str
    place: str
    side: str
    strength: str
    still: str
    done: Sequence[str] = ()
    handed_over: bool = False
    at: datetime | None = None


def cards(context: Context, instrument: str = "") -> tuple[Card, ...]:
    """Return the problems with options from her kit and the grips she uses on `instrument` ("" = all of hers)."""
    kit = [
        r
        for r in context.store.repository(KitRow).all(order=(KitRow.kind, KitRow.name))
        if not instrument or r.instrument in ("", instrument)
    ]
    played = {instrument} if instrument else set(context.player.instruments)
    known = own_library.instruments(context)
    families = {i.family for k, i in known.items() if k in played}
    grips = [g for g in used_grips(context) if families & set(g.families)]
    now = condition(context, todays_call(context), known.get(instrument))
    return tuple(_card(p, kit, grips, now) for p in card_problems().values())


# tonight nothing new is tried: decision 34
def used_grips(context: Context) -> list[Grip]:
    """Return the grips she already uses: those an aim of hers names, and those she wrote in herself."""
    known = own_library.grips(context)
    named = {a.grip for a in week_aims.every_aim(context)} | own_library.own_grips(context)
    return [known[g] for g in sorted(named) if g in known]


def _card(p: CardProblem, kit: Sequence[KitRow], grips: Sequence[Grip], now: Condition) -> Card:
    general = [Option(o.text) for o in p.options if not unsuitable((), terms_of(o), now)]
    own = [*_supports(p, kit), *_sticks(p, kit), *(o for side in SIDES for o in _grips(p, grips, side, now))]
    return Card(p, tuple(zone(z) for z in p.places), (*own, *general))


def _supports(p: CardProblem, kit: Sequence[KitRow]) -> list[Option]:
    if not p.supports:
        return []
    named = [(row.kind, row.name[:1].lower() + row.name[1:]) for row in kit]
    return [Option(keyed_sentence("card", kind, name=name), own=True) for kind, name in named if kind in SUPPORTS]


def _sticks(p: CardProblem, kit: Sequence[KitRow]) -> list[Option]:
    sticks = sorted((r for r in kit if r.kind in ("stick", "mallet") and r.mass_g), key=lambda r: r.mass_g or 0)
    if not p.sticks or len(sticks) < 2:
        return []
    chosen = sticks[0] if p.sticks == "lighter" else sticks[-1]
    words = sentence("card_words", "sticks", which=p.sticks, name=chosen.name, mass=f"{chosen.mass_g:.0f}")
    return [Option(words, own=True)]


def _grips(p: CardProblem, grips: Sequence[Grip], side: str, now: Condition) -> list[Option]:
    """Grips she uses, for that hand, that relieve a sore place and cost none of them; none for a hand that is numb."""
    if p.kind == "numbness" or unsuitable((), Terms(needs=("feeling",), after_operation=True), now, side):
        return []
    sore = set(p.places)
    mine = [g for g in grips if g.kind != "support" and g.hand in (side, "either", "both")]
    found = [g for g in mine if sore & set(g.relieves) and not sore & set(g.costs)]
    found.sort(key=lambda g: (-len(sore & set(g.relieves)), g.id))
    return [
        Option(
            sentence("card_words", "hold", side=side.capitalize(), grip=f"{g.name[:1].lower()}{g.name[1:]}"),
            side,
            own=True,
        )
        for g in found[:MOST_GRIPS]
    ]


def write(context: Context, typed: Typed) -> bool:
    """Write the card in: the mark, a line of the day, the booking. Returns True when it ends in a hand-over.

    Sent again, the same card changes nothing. `FieldError` names the field.
    """
    problem = card_problems().get(typed.problem)
    if problem is None:
        raise FieldError("problem", "Choose what it is.")
    if typed.place not in problem.places:
        raise FieldError("place", "Touch where it is.")
    if typed.strength not in STRENGTHS:
        raise FieldError("strength", "Say how strong it is.")
    if typed.still not in STILL_THERE:
        raise FieldError("still", "Say whether it is still there after ten minutes.")
    place = zone(typed.place)
    if place.sided and typed.side not in SIDES:
        raise FieldError("side", "Say which side, left or right.")
    if len(typed.done) > DONE_MAX or any(len(d) > TEXT_MAX for d in typed.done):
        raise FieldError("done", f"At most {DONE_MAX} things done, each up to {TEXT_MAX} characters.")
    side = typed.side if place.sided else "none"
    at = answered_at(context, typed.at)
    day = practice_day(at, context.zone)
    mark = TypedMarks(
        (f"{place.id}.{side}",), problem.kind, STRENGTHS[typed.strength], ("playing",), STILL_THERE[typed.still]
    )
    checks.write_marks(context, mark, day)
    over = typed.handed_over or (typed.still == "yes" and problem.kind == "numbness") or stopped(context) is not None
    _add_to_note(context, day, f"{at.astimezone(context.zone):%H.%M} {_words(problem, place, side, typed, over)}")
    _book(context, problem)
    return over


def sign_answered(context: Context, code: str, at: datetime | None = None) -> None:
    """Write a "yes" of the card's first list into its day: it rules every page from then on.

    Sent again, the same yes changes nothing: the answer to the first may have been lost, and she may have taken it
    back since.
    """
    when = answered_at(context, at)
    day = practice_day(when, context.zone)
    sign = red_flags().get(code)
    time_words = f"{when.astimezone(context.zone):%H.%M.%S}"
    line = sentence("card_words", "yes_written", time=time_words, sign=sign.sentence if sign else code)
    with corrections.as_one(context):
        if not _stands(context, day, line):
            checks.write_flags(context, "daily", [code], day)
            _add_to_note(context, day, line)


def _words(problem: CardProblem, place: Zone, side: str, typed: Typed, over: bool) -> str:
    done = "; ".join(typed.done) or "nothing yet"
    still = {"yes": "still there after ten minutes", "no": "gone within ten minutes"}.get(
        typed.still, "not known yet how long"
    )
    if typed.handed_over:
        end = sentence("card_words", "handed_over")
    else:
        end = sentence("card_words", "told_to") if over else sentence("card_words", "playing")
    return f"Before the curtain: {place.spoken(side)}, {problem.name}, {typed.strength}, {still}. Did: {done} {end}"


def _stands(context: Context, day: date, line: str) -> bool:
    return line in log.day_of(context, day).note.splitlines()


def _add_to_note(context: Context, day: date, line: str) -> None:
    """Add a line to the day's note, if there is room: nothing that stands there is cut or doubled."""
    note = log.day_of(context, day)
    longer = f"{note.note}\n{line}".strip()
    if not _stands(context, day, line) and len(longer) <= NOTE_MAX:
        corrections.put(context, replace(note, note=longer))


def _book(context: Context, problem: CardProblem) -> None:
    """Put the booking on tomorrow morning, once."""
    day = context.today + timedelta(days=1)
    title = f"Make an appointment: {problem.name}"
    if not any(e.title == title for e in engagements.between(context, day, day + timedelta(days=13))):
        engagements.write(
            context, engagements.Typed(day, time(9), time(9, 10), title, "appointment", minutes=0, effort=0)
        )
