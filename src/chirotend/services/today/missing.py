"""Answers that are missing: what was played and not asked about, an early sign that nobody has answered."""

from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.judge.signs.history import SAID
from chirotend.core.record import Place, Record
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.words import amount, day_words, listed, place_name, sentence


@dataclass(frozen=True)
class MissingAnswer:
    """A question that waits: what it is about, why it matters. It is answered on Today, or at `place`."""

    title: str
    about: str
    place: Place | None = None


def missing_answers(context: Context) -> tuple[MissingAnswer, ...]:
    """Return what waits for an answer of hers: yesterday's playing first, then each early sign."""
    today = todays_call(context)
    played = unasked_after_playing(today.evidence.record, context.today)
    found = [] if played is None else [_after_playing(played)]
    signs = (r.opens for r in today.issued.reasons if r.code in SAID)
    return (*found, *(_of_sign(place) for place in signs if place is not None))


def unasked_after_playing(record: Record, today: date) -> date | None:
    """Return yesterday where it was played and nothing was asked after; None otherwise."""
    yesterday = today - timedelta(days=1)
    played = any(s.day == yesterday and s.playing_minutes for s in record.sessions)
    asked = any(c.timing in ("playing", "after") for c in record.checks_on(yesterday))
    return yesterday if played and not asked else None


def _after_playing(day: date) -> MissingAnswer:
    return MissingAnswer(f"After playing on {day_words(day)}", sentence("today", "after_playing"))


def _of_sign(place: Place) -> MissingAnswer:
    return MissingAnswer(f"An early sign: {place_name(place)}", sentence("today", "of_sign"), place)


def lead_sentence(matters: int, limits: int, missing: int) -> str:
    """Return what is open, in one sentence."""
    parts = [amount(n, thing) for n, thing in ((matters, "open matter"), (missing, "missing answer")) if n]
    parts += [f"{amount(limits, 'limit')} that you were told"] if limits else []
    if not parts:
        return sentence("today", "nothing_open")
    return sentence("today", "open_now", things=listed(parts))
