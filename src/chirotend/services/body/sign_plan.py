"""A plan for a place that stands out, taken in one touch: what to leave out and what to try for two weeks.

It comes from what the library says of her instruments and holds, from her kit and her usual minutes (common practice,
no source). Nothing of it is asked of her: it is offered.
"""

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.record import Place
from chirotend.library.schema import Grip, Instrument
from chirotend.services.call.inputs import LOOK_AGAIN_DAYS
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.kit import demands, holds, own_library, things
from chirotend.services.words import day_words, sentence

#: the share of her usual minutes that is left, in steps of five minutes
SHARE_LEFT, STEP_MIN = 0.75, 5
HELD_DAYS = 28


@dataclass(frozen=True)
class SignPlan:
    """What is left out and what is tried, a sentence each, until a day."""

    leave_out: tuple[str, ...]
    attempt: tuple[str, ...]
    until: date

    @property
    def lines(self) -> tuple[str, ...]:
        """All of the plan, what is left out first."""
        return self.leave_out + self.attempt

    @property
    def then(self) -> str:
        """What the plan changes, and when it is looked at again."""
        return sentence("place", "plan_then", day=day_words(self.until))


def sign_plan(context: Context, place: Place) -> SignPlan:
    """Return the plan for a place."""
    played = [i for name in context.player.instruments if (i := own_library.instruments(context).get(name))]
    asking = [i for i in played if place in demands.of_instrument(context, i)]
    sparing = [i for i in played if i not in asking]
    attempt = tuple(_to_try(context, place, asking or played))
    return SignPlan(
        tuple(_to_leave(context, place, asking, sparing)),
        attempt or (sentence("place", "plan_try_rest"),),
        context.today + timedelta(days=LOOK_AGAIN_DAYS),
    )


def _to_leave(context: Context, place: Place, asking: list[Instrument], sparing: list[Instrument]) -> Iterator[str]:
    usual = todays_call(context).evidence.baseline_minutes
    if usual:
        yield sentence("place", "plan_minutes", minutes=max(STEP_MIN, int(usual * SHARE_LEFT) // STEP_MIN * STEP_MIN))
    if asking and sparing:
        yield sentence("place", "plan_other", instrument=asking[0].name.lower(), other=sparing[0].name.lower())
    for instrument in asking:
        costing = (g for g in _held(context, instrument) if place in demands.of_grip(g))
        if hold := next(costing, None):
            yield sentence("place", "plan_leave_hold", hold=hold.name, instrument=instrument.name.lower())


def _to_try(context: Context, place: Place, instruments: list[Instrument]) -> Iterator[str]:
    for instrument in instruments:
        if hold := _sparing_hold(context, place, instrument):
            yield sentence("place", "plan_try_hold", hold=hold.name, instrument=instrument.name.lower())
    kit = ((t, things.next_service(t.row)) for t in things.kit(context))
    due = next((t for t, service in kit if service is not None and service <= context.today), None)
    if due is not None:
        yield sentence("place", "plan_try_kit", thing=due.row.name, due=due.due)


def _held(context: Context, instrument: Instrument) -> list[Grip]:
    """The holds of an instrument that were held in four weeks, most first."""
    minutes: Counter[str] = Counter()
    first = context.today - timedelta(days=HELD_DAYS)
    for (hold, _), played in holds.minutes_in(context, instrument.id, first, context.today).items():
        minutes[hold] += round(played)
    known = own_library.grips(context)
    return [known[hold] for hold, _ in minutes.most_common() if hold in known]


def _sparing_hold(context: Context, place: Place, instrument: Instrument) -> Grip | None:
    """A hold that relieves the place and does not cost it: one the instrument itself names, or one she has held."""
    held = _held(context, instrument)
    near = {*instrument.holds, *(g.id for g in held)} - {g.id for g in held[:1]}
    found = (g for g in holds.fitting(context, instrument.id) if g.id in near)
    return next((g for g in found if place in demands.relieved_by(g) and place not in demands.of_grip(g)), None)
