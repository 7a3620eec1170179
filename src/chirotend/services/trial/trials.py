"""Trials: looked at before they begin, begun with a lot, lengthened, decided. What ends one by itself is told."""

import math
import random
import secrets
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from uuid import uuid4

from chirotend.core.errors import MethodError
from chirotend.core.record.words import TRIAL_CHANGES
from chirotend.core.trial.answer import Answer, answered, detectable
from chirotend.core.trial.order import ADDED, DAYS_MAX, DAYS_MIN, LEAST, check_order, drawn, lengthened
from chirotend.formats.kept_rows import TrialData
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context, FieldError
from chirotend.services.kit import holds, own_library, things
from chirotend.services.plan.programmes.running import OPEN_CALLS, all_of
from chirotend.services.record import corrections
from chirotend.services.trial.measures import better_of, measure_from, noise_before, values
from chirotend.services.units import whole
from chirotend.services.words import call_words, date_words, sentence
from chirotend.store.models import KitRow, TrialRow

WHAT_MAX = 100
#: gains that are looked for, beside the spread of her own days
GAINS = (0.5, 0.75, 1.0, 1.25, 1.5, 2.0, 2.5, 3.0, 4.0)
MARK_GAINS = (1.0, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0, 6.0)


@dataclass(frozen=True)
class Trial:
    """A trial of hers. `broken`: the first day that no longer counts, and why ("" = all count)."""

    uid: str
    title: str
    first: date
    last: date
    ended: date | None
    outcome: str
    data: TrialData
    broken_on: date | None
    broken_by: str

    @property
    def end(self) -> date:
        """The last day that counts, as planned or as it ended."""
        ends = [self.last, *(d for d in (self.ended,) if d)]
        if self.broken_on is not None:
            ends.append(self.broken_on - timedelta(days=1))
        return min(ends)

    @property
    def is_cut_short(self) -> bool:
        """Whether it was ended before its last day, or something else changed: then it has no answer."""
        return self.broken_on is not None or (self.ended is not None and self.ended < self.last)

    def letter(self, day: date) -> str:
        """Return A or B for a day; "" outside it."""
        n = (day - self.first).days
        return self.data.letters[n] if 0 <= n < len(self.data.letters) else ""


@dataclass(frozen=True)
class Preview:
    """What a trial could show, before it begins. `detects` None = not even the largest gain; `known`: her own days."""

    data: TrialData
    known: int
    detects: float | None


def trial_of(context: Context, row: TrialRow) -> Trial:
    data = TrialData.model_validate(row.data)
    on, by = _broken(context, row)
    return Trial(row.uid, row.title, row.first, row.last, row.ended, row.outcome, data, on, by)


def _broken(context: Context, row: TrialRow) -> tuple[date | None, str]:
    """The first day on which something else changed: a call that was not Open, or a programme that began."""
    last = min(row.last, row.ended or row.last, context.today)
    begun = [
        (p.first, sentence("trial", "programme_began", programme=p.entry.name, day=date_words(p.first)))
        for p in all_of(context)
        if row.first < p.first <= last
    ]
    muted = [
        (day, sentence("trial", "call_was", day=date_words(day), call=call_words(call)))
        for day, call in context.store.said_calls(row.first, last).items()
        if call not in OPEN_CALLS
    ]
    return min([*begun, *muted], default=(None, ""))


def all_trials(context: Context) -> tuple[Trial, ...]:
    """Return her trials, the newest first."""
    return tuple(
        trial_of(context, row) for row in context.store.repository(TrialRow).all(order=(TrialRow.first.desc(),))
    )


def trial(context: Context, uid: str) -> Trial:
    return trial_of(context, context.row(TrialRow, uid))


def runs(context: Context) -> Trial | None:
    """Return the trial that goes on today, if one does."""
    wanted = (TrialRow.ended.is_(None), TrialRow.first <= context.today, TrialRow.last >= context.today)
    found = (trial_of(context, row) for row in context.store.repository(TrialRow).all(*wanted))
    return next((t for t in found if t.broken_on is None), None)


def answer_of(context: Context, t: Trial) -> tuple[tuple[float | None, ...], Answer]:
    """Return the values of the days so far, and what they say. A morning that is still to come is missing."""
    last = min(t.end, context.today)
    found = values(context, t.data.measure, t.first, last) if last >= t.first else ()
    d = t.data
    lowest = 0.0 if d.measure.kind == "mark" else None
    over = not t.is_cut_short and context.today > t.last
    return found, answered(found, d.letters, d.order, d.better, d.least, d.lot_days, lowest, is_over=over)


# --- before it begins


def preview(context: Context, typed: Mapping[str, str]) -> Preview:
    """Return what was typed as a trial, with what it could show; its letters are drawn anew when it begins."""
    data = _typed(context, typed)
    noise = noise_before(context, data.measure, data.better)
    if not noise:
        return Preview(data, 0, None)
    middle = sorted(noise)[len(noise) // 2]
    about = tuple(round(v - middle, 6) for v in noise)
    floor = -middle if data.measure.kind == "mark" else -math.inf
    detects = detectable(about, data.order, len(data.letters), data.least, _gains(data, about), floor)
    return Preview(data, len(noise), detects)


def _gains(data: TrialData, noise: tuple[float, ...]) -> tuple[float, ...]:
    if data.measure.kind == "mark":
        return MARK_GAINS
    spread = (max(noise) - min(noise)) / 4 or 1.0
    return tuple(float(f"{gain * spread:.2g}") for gain in GAINS)


def begin(context: Context, typed: Mapping[str, str]) -> str:
    """Begin a trial tomorrow with its order drawn; returns its id. `FieldError` names the field."""
    if todays_call(context).issued.effective not in OPEN_CALLS:
        raise FieldError("what", "Begin it on a day that is Open: while Muted something else changes too.")
    if (
        other := next((t for t in all_trials(context) if t.ended is None and t.last >= context.today), None)
    ) is not None:
        raise FieldError("what", f"“{other.title}” still runs: one change at a time. End it first.")
    looked = preview(context, typed)
    d, chance = looked.data, random.Random(secrets.randbits(64))
    letters = drawn(d.order, len(d.letters), d.least, chance)
    data = d.model_copy(update={"letters": letters, "detects": looked.detects})
    uid, first = uuid4().hex, context.today + timedelta(days=1)
    row = {"uid": uid, "title": f"Did {data.what} help?", "first": first, "ended": None, "outcome": ""}
    last = first + timedelta(days=len(data.letters) - 1)
    corrections.put_row(context, "trial", {**row, "last": last, "data": data.model_dump(mode="json")})
    return uid


def _typed(context: Context, typed: Mapping[str, str]) -> TrialData:
    """The trial that was typed, its days in one of the orders the lot can draw."""
    what = typed.get("what", "").strip().rstrip("?")
    if not 1 <= len(what) <= WHAT_MAX:
        raise FieldError("what", "Name the one change in a few words, such as: the thumb rest.")
    if typed.get("change", "") not in TRIAL_CHANGES:
        raise FieldError("change", "Choose what kind of change it is.")
    measure = measure_from(context, typed.get("measure", ""))
    days, least = whole(typed.get("days", "")), whole(typed.get("least", "") or str(LEAST))
    order = typed.get("order", "")
    if days is None or not DAYS_MIN <= days <= DAYS_MAX:
        raise FieldError(
            "days", f"Type the days it takes, from {DAYS_MIN} to {DAYS_MAX}. Under three of each say nothing."
        )
    try:
        check_order(order, days, least or 0)
    except MethodError as error:
        each = "Each of the four stretches" if order == "again" else "Each kind"
        raise FieldError(
            "order" if error.field == "order" else "least",
            f"{each} has {LEAST} days at least, and they fit into the {days} days together.",
        ) from error
    instrument, thing, hold = (typed.get(name, "") for name in ("instrument", "thing", "hold"))
    if instrument and instrument not in own_library.instruments(context):
        raise FieldError("instrument", "Choose the instrument.")
    if thing and context.store.repository(KitRow).get(thing) is None:
        raise FieldError("thing", "Choose a thing of your kit.")
    if hold and hold not in {g.id for g in holds.fitting(context, instrument)}:
        raise FieldError("hold", "Choose a hold of this instrument.")
    least = least or LEAST
    letters = drawn(order, days, least, random.Random(0))
    return TrialData(
        change=typed["change"],
        what=what,
        instrument=instrument,
        thing=thing,
        hold=hold,
        measure=measure,
        better=better_of(measure),
        order=order,
        least=least,
        letters=letters,
        lot_days=days,
    )


# --- while it goes on, and after


def can_grow(context: Context, t: Trial) -> bool:
    """True while ten days can be added, once: it goes on, or ended by its plan within the last three days."""
    decided = t.outcome or t.ended is not None or t.broken_on is not None or len(t.data.letters) > t.data.lot_days
    fits = len(t.data.letters) + ADDED <= DAYS_MAX
    return not decided and fits and t.last >= context.today - timedelta(days=3)


def lengthen(context: Context, uid: str) -> None:
    """Add ten days: with the change where it came in phases, else drawn or laid on as before."""
    row = context.row(TrialRow, uid)
    t = trial_of(context, row)
    if not can_grow(context, t):
        raise FieldError("more", "This one cannot be made longer any more: begin another, with its own lot.")
    letters = lengthened(t.data.letters, t.data.order, random.Random(secrets.randbits(64)))
    data = t.data.model_copy(update={"letters": letters})
    last = t.last + timedelta(days=len(letters) - len(t.data.letters))
    corrections.change_row(context, "trial", row, last=last, data=data.model_dump(mode="json"))


def decide(context: Context, uid: str, outcome: str) -> None:
    """Keep the change or go back to how it was; it ends the trial and is written beside the thing it is about."""
    row = context.row(TrialRow, uid)
    t = trial_of(context, row)
    if outcome not in ("kept", "back"):
        raise FieldError("outcome", "Keep it, or go back to how it was.")
    with corrections.as_one(context):
        ended = t.ended or min(t.last, context.today)
        corrections.change_row(context, "trial", row, outcome=outcome, ended=max(ended, t.first))
        if t.data.thing and context.store.repository(KitRow).get(t.data.thing) is not None:
            things.note_down(context, t.data.thing, f"{context.today:%-d %B %Y}: {result_words(context, t, outcome)}")


def result_words(context: Context, t: Trial, outcome: str) -> str:
    """Return what came of a trial in one line: what it was, what was decided, the pairs."""
    _, found = answer_of(context, t)
    done = {"kept": "kept", "back": "given up", "": "not decided"}[outcome]
    days, pairs = found.n_a + found.n_b, round(100 * found.share)
    if t.is_cut_short:
        return sentence("trial", "result_early", what=t.data.what, done=done, days=days)
    if found.few:
        return sentence("trial", "result_few", what=t.data.what, done=done, days=days)
    return sentence("trial", "result", what=t.data.what, done=done, days=days, pairs=pairs)


def drop(context: Context, uid: str) -> None:
    """Take a trial out whole."""
    context.row(TrialRow, uid)
    corrections.delete(context, "trial", uid)


def of_hold(context: Context, instrument: str) -> tuple[tuple[Trial, str], ...]:
    """Return the decided trials that were about how an instrument is held, each with what came of it."""
    mine = (t for t in all_trials(context) if t.outcome and t.data.hold and t.data.instrument == instrument)
    return tuple((t, result_words(context, t, t.outcome)) for t in mine)
