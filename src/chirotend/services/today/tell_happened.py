"""Writing down that something happened, changing it and ending it."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from chirotend.core.body.zones import zone, zones
from chirotend.core.judge.apart import counted_apart
from chirotend.core.judge.happened import AS_BEFORE, AWAY, FALL, FEVER, INSTRUMENT, LIMIT, MINUTES, NO_LIMIT
from chirotend.core.judge.rules import rules
from chirotend.library.loader import doors
from chirotend.library.schema import Door
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.kit import own_library
from chirotend.services.record import corrections, log
from chirotend.services.today import matters
from chirotend.services.today.happened import happening_of, new_row, rows
from chirotend.services.today.told_limit import ToldLimit
from chirotend.services.units import decimal, typed_day
from chirotend.services.words import capital, no_instruments, place_name, sentence, short_day_words
from chirotend.store.models import HappeningRow

LONGEST_AGO, FURTHEST_DAYS, MOST_ALLOWED_MIN = 400, 400, 600
WORDS_MAX, NAME_MAX, AWAY_DAYS_MAX = 500, 120, 366


@dataclass(frozen=True)
class LastingHappening:
    """Something that happened and has not ended, as pages show it: its name, when, and what follows of it.

    `over`: what the button says that ends it. `asks_minutes`: whether minutes that were allowed can be typed.
    """

    row: HappeningRow
    name: str
    when: str
    said: str
    over: str
    asks_minutes: bool

    @property
    def uid(self) -> str:
        return self.row.uid


def lasting(context: Context) -> tuple[LastingHappening, ...]:
    """Return what happened and has not ended, the latest first."""
    return tuple(_lasting(context, row) for row in rows(context) if not _has_ended(row, context.today))


def _has_ended(row: HappeningRow, today: date) -> bool:
    """A fever is over on the day it is said to be, a limit as soon as it was ended, an instrument is new for some
    weeks, all else ends after its last day."""
    if row.kind == LIMIT and row.answer != MINUTES:
        return True
    if row.kind == INSTRUMENT and (today - row.day).days >= rules().apart_days:
        return True
    return row.until is not None and (row.until < today or (row.kind == FEVER and row.until == today))


def _lasting(context: Context, row: HappeningRow) -> LastingHappening:
    when = f"since {short_day_words(row.day)}" + (f", until {short_day_words(row.until)}" if row.until else "")
    if row.kind == LIMIT:
        return LastingHappening(row, "What you were told", when, _limit_words(row), "It has ended", False)
    door = doors()[row.kind]
    if row.kind == INSTRUMENT:
        name = own_library.name_of(context, row.words).lower()
        return LastingHappening(row, f"{door.name}: {name}", when, _apart_words(context, row, name), door.over, False)
    place = f": {place_name((zone(row.zone).region, row.side or 'none'))}" if row.zone else ""
    said = _filled(
        door.said_of(row.answer),
        short_day_words(row.allowed_from) if row.allowed_from else "",
        f"{row.allowed_min or 0:g}",
        f" until {short_day_words(row.allowed_until)}" if row.allowed_until else " until you change it",
    )
    if row.not_on:
        said = f"{said} {capital(no_instruments(row.not_on))}."
    return LastingHappening(row, f"{door.name}{place}", when, said, door.over, door.allowed)


def _apart_words(context: Context, row: HappeningRow, name: str) -> str:
    """The days with it beside the days without it, and when they stop standing apart."""
    found = counted_apart(context.store.record(row.day, context.today), happening_of(row), context.today)
    last = short_day_words(row.day + timedelta(days=rules().apart_days - 1))
    if not found.with_it:
        return sentence("today", "apart_not_yet", instrument=name, last=last)
    said = [sentence("today", "apart_with", instrument=name, marked=found.marked_with_it, days=found.with_it)]
    if found.without_it:
        said.append(sentence("today", "apart_without", marked=found.marked_without_it, days=found.without_it))
    return " ".join([*said, sentence("today", "apart_until", last=last)])


def _limit_words(row: HappeningRow) -> str:
    read = ToldLimit(row.words, row.allowed_min, tuple(row.not_on), row.allowed_until).read_back
    by = f", said by {row.said_by}" if row.said_by else ""
    return f"{read}{by}. {sentence('today', 'limit_strict')}"


def follows(door: Door) -> list[tuple[int, str, str]]:
    """Return (number of the answer from 1, answer, sentence) of what follows before anything is typed; 0 and "" =
    whatever she answers."""
    numbers = {answer: n for n, answer in enumerate(door.answers, 1)}
    found = ((numbers.get(a, 0), door.answers.get(a, ""), s) for a, s in door.then.items())
    return sorted((n, answer, _filled(s, "that day", "so many", "")) for n, answer, s in found)


def _filled(sentence: str, since: str, minutes: str, until: str) -> str:
    return sentence.replace("{from}", since).replace("{minutes}", minutes).replace("{until_words}", until)


def write(context: Context, kind: str, typed: Mapping[str, str]) -> None:
    """Write what happened; the call, warm-up and programmes follow from it at once.

    `NotThere` for an unknown kind; `FieldError` names the field.
    """
    door = doors().get(kind)
    if door is None:
        raise NotThere(kind)
    values = _checked(context, door, typed)
    with corrections.as_one(context):
        corrections.put_row(context, "happening", values)
        if kind == AWAY:
            _days_off(context, values["day"], values["until"])
    if (soon := door.matter.get(values["answer"])) is not None:
        place = (zone(values["zone"]).region, values["side"]) if values["zone"] else ("", "")
        matters.raise_for(context, kind, place, soon)


def _checked(context: Context, door: Door, typed: Mapping[str, str]) -> dict[str, Any]:
    """The row that the answers to the door's questions make; `FieldError` names the field."""
    day = typed_day("day", typed.get("day", ""))
    oldest, latest = context.today - timedelta(days=LONGEST_AGO), context.today + timedelta(days=FURTHEST_DAYS)
    if not oldest <= day <= latest:
        raise FieldError("day", "Choose a day within about a year.")
    answer = typed.get("answer", "") if door.answers else ""
    if door.answers and answer not in door.answers:
        raise FieldError("answer", f"Choose one: {', '.join(door.answers.values())}.")
    until = typed_day("until", typed["until"]) if door.ends and typed.get("until") else None
    if until is not None and not day <= until <= latest:
        raise FieldError("until", "The end lies on or after the first day, within about a year.")
    where, side = _place(typed) if door.place else ("", "")
    words = _instrument(context, typed) if door.instrument else typed.get("words", "").strip()
    if len(words) > WORDS_MAX:
        raise FieldError("words", f"At most {WORDS_MAX} characters.")
    said = {"until": until, "answer": answer, "zone": where, "side": side, "words": words}
    allowed = _allowed(context, typed) if door.allowed and answer == MINUTES else {}
    return new_row(door.id, day, **said, **allowed)


def _instrument(context: Context, typed: Mapping[str, str]) -> str:
    instrument = typed.get("instrument", "")
    if instrument not in own_library.instruments(context):
        raise FieldError("instrument", "Choose which instrument it is.")
    return instrument


def _place(typed: Mapping[str, str]) -> tuple[str, str]:
    where, side = typed.get("zone", ""), typed.get("side", "")
    if where not in zones():
        raise FieldError("zone", "Choose where, in the list or on the drawing.")
    if not zones()[where].sided:
        return where, "none"
    if side not in ("left", "right"):
        raise FieldError("side", "Say which side, left or right.")
    return where, side


def _allowed(context: Context, typed: Mapping[str, str]) -> dict[str, Any]:
    """What someone licensed allowed: minutes a day, from a day on, until a day, on which of her instruments not;
    `FieldError` names the field."""
    minutes = decimal("allowed_min", "Minutes a day", typed.get("allowed_min", ""), 1, MOST_ALLOWED_MIN, "minutes")
    first = typed_day("allowed_from", typed.get("allowed_from") or context.today.isoformat())
    last = typed_day("allowed_until", typed["allowed_until"]) if typed.get("allowed_until") else None
    if last is not None and last < first:
        raise FieldError("allowed_until", "The limit ends on or after the day it begins.")
    by = typed.get("said_by", "").strip()
    if len(by) > NAME_MAX:
        raise FieldError("said_by", f"At most {NAME_MAX} characters.")
    without = [i for i in context.player.instruments if typed.get(f"not-{i}")]
    return {"allowed_min": minutes, "allowed_from": first, "allowed_until": last, "said_by": by, "not_on": without}


def _days_off(context: Context, first: date, until: date | None) -> None:
    """Write the days away up to today as days off, where nothing was played."""
    last = min(until or context.today, context.today)
    played = {s.day for s in context.store.sessions(first, last)}
    for n in range(min(AWAY_DAYS_MAX, (last - first).days + 1)):
        day = first + timedelta(days=n)
        if day not in played:
            log.write_day(context, day, True)


def end(context: Context, uid: str, how: str = "") -> None:
    """End what happened today: the fever is over, it moves as before, the limit holds no longer. `NotThere`."""
    row = context.row(HappeningRow, uid)
    changes: dict[str, Any] = {"until": context.today if row.kind == FEVER else context.today - timedelta(days=1)}
    changes["until"] = max(changes["until"], row.day)
    if row.kind == FALL:
        changes["answer"] = AS_BEFORE
    elif row.answer == MINUTES or how == NO_LIMIT:
        changes["answer"] = NO_LIMIT
        changes |= {"allowed_min": None, "allowed_from": None, "allowed_until": None, "not_on": []}
    corrections.change_row(context, "happening", row, **changes)


def change_allowed(context: Context, uid: str, typed: Mapping[str, str]) -> None:
    """Write what someone licensed has said since: so many minutes a day. `NotThere`; `FieldError` names the field."""
    row = context.row(HappeningRow, uid)
    allowed = _allowed(context, typed) | {"not_on": row.not_on}
    corrections.change_row(context, "happening", row, answer=MINUTES, **allowed)
