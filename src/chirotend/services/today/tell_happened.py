"""Writing down that something happened, changing it and ending it; what was told in free words, read back first."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any
from uuid import uuid4

from chirotend.core.body.zones import zone, zones
from chirotend.core.judge.happened import AS_BEFORE, AWAY, FALL, FEVER, LIMIT, MINUTES, NO_LIMIT
from chirotend.core.record.words import SESSION_MAX_MIN
from chirotend.formats.spelled import length_of
from chirotend.formats.spelled.days import day_of
from chirotend.formats.spelled.plain import plain
from chirotend.library.loader import doors, instrument_name
from chirotend.library.schema import Door
from chirotend.services.desk import Desk, NotThere, Refused
from chirotend.services.record import corrections, log
from chirotend.services.today import matters
from chirotend.services.today.days_call import issue
from chirotend.services.today.happened import rows
from chirotend.services.units import decimal, typed_day
from chirotend.services.words import place_name, short_day_words
from chirotend.store.models import HappeningRow

LONGEST_AGO, FURTHEST_DAYS, MOST_ALLOWED_MIN = 400, 400, 600
WORDS_MAX, NAME_MAX, AWAY_DAYS_MAX = 500, 120, 366


@dataclass(frozen=True)
class Told:
    """A limit in free words as it is read: minutes a day (None = not understood), instruments ruled out, its end."""

    words: str
    minutes: float | None
    not_on: tuple[str, ...]
    until: date | None

    @property
    def read_back(self) -> str:
        """What it is read as, to be confirmed: "at most 30 min a day, no contrabassoon, until Sun 20 December"."""
        parts = [f"at most {self.minutes:g} min a day"] if self.minutes is not None else []
        parts += [f"no {instrument_name(i).lower()}" for i in self.not_on]
        parts += [f"until {short_day_words(self.until)}"] if self.until is not None else []
        return ", ".join(parts)


@dataclass(frozen=True)
class Shown:
    """Something that happened as pages show it: its name, when, what was said of it, and what follows."""

    row: HappeningRow
    name: str
    when: str
    said: str

    @property
    def uid(self) -> str:
        return self.row.uid


def shown(desk: Desk) -> tuple[Shown, ...]:
    """Return what happened and has not ended, the latest first."""
    return tuple(_shown(row) for row in rows(desk) if row.until is None or row.until >= desk.today)


def _shown(row: HappeningRow) -> Shown:
    when = f"since {short_day_words(row.day)}" + (f", until {short_day_words(row.until)}" if row.until else "")
    place = f": {place_name((zone(row.zone).region, row.side or 'none'))}" if row.zone else ""
    if row.kind == LIMIT:
        return Shown(row, "What you were told", when, _limit_words(row))
    door = doors()[row.kind]
    return Shown(row, f"{door.name}{place}", when, _filled(door.said_of(row.answer), row))


def _limit_words(row: HappeningRow) -> str:
    read = Told(row.words, row.allowed_min, tuple(row.not_on), row.allowed_until).read_back
    by = f", said by {row.said_by}" if row.said_by else ""
    return f"The call keeps to {read}{by}. It can be stricter, never looser."


def _filled(sentence: str, row: HappeningRow) -> str:
    until = f" until {short_day_words(row.allowed_until)}" if row.allowed_until else " until you change it"
    since = short_day_words(row.allowed_from) if row.allowed_from else ""
    return (
        sentence.replace("{from}", since)
        .replace("{minutes}", f"{row.allowed_min or 0:g}")
        .replace("{until_words}", until)
    )


def write(desk: Desk, kind: str, typed: Mapping[str, str]) -> None:
    """Write what happened; the call, warm-up and programmes follow from it at once.

    `NotThere` for an unknown kind; `Refused` names the field.
    """
    door = doors().get(kind)
    if door is None:
        raise NotThere(kind)
    values = {"uid": uuid4().hex, "kind": kind, **_asked(desk, door, typed)}
    with corrections.as_one(desk):
        corrections.put_row(desk, "happening", values)
        if kind == AWAY:
            _days_off(desk, values["day"], values["until"])
    if (soon := door.matter.get(values["answer"])) is not None:
        region, side = (zone(values["zone"]).region, values["side"]) if values["zone"] else ("", "")
        matters.raise_for(desk, kind, region, side, soon)
    issue(desk)


def _asked(desk: Desk, door: Door, typed: Mapping[str, str]) -> dict[str, Any]:
    """The answers to the door's questions, checked."""
    day = typed_day("day", typed.get("day", ""))
    oldest, latest = desk.today - timedelta(days=LONGEST_AGO), desk.today + timedelta(days=FURTHEST_DAYS)
    if not oldest <= day <= latest:
        raise Refused("day", "Choose a day within about a year.")
    answer = typed.get("answer", "")
    if door.answers and answer not in door.answers:
        raise Refused("answer", f"Choose one: {', '.join(door.answers.values())}.")
    until = typed_day("until", typed["until"]) if door.ends and typed.get("until") else None
    if until is not None and not day <= until <= latest:
        raise Refused("until", "The end lies on or after the first day, within about a year.")
    where, side = _place(typed) if door.place else ("", "")
    instrument = [typed["instrument"][:80]] if door.instrument and typed.get("instrument") else []
    words = typed.get("words", "").strip()
    if len(words) > WORDS_MAX:
        raise Refused("words", f"At most {WORDS_MAX} characters.")
    return {
        "day": day,
        "until": until,
        "answer": answer if door.answers else "",
        "zone": where,
        "side": side,
        "words": words if not instrument else instrument[0],
        **_allowed(desk, typed, door.allowed and answer == MINUTES),
    }


def _place(typed: Mapping[str, str]) -> tuple[str, str]:
    where, side = typed.get("zone", ""), typed.get("side", "")
    if where not in zones():
        raise Refused("zone", "Choose where, in the list or on the drawing.")
    if not zones()[where].sided:
        return where, "none"
    if side not in ("left", "right"):
        raise Refused("side", "Say which side, left or right.")
    return where, side


def _allowed(desk: Desk, typed: Mapping[str, str], asked: bool) -> dict[str, Any]:
    """What someone licensed allowed: minutes a day, from a day on, until a day, which instruments not."""
    nothing: dict[str, Any] = {
        "allowed_min": None,
        "allowed_from": None,
        "allowed_until": None,
        "not_on": [],
        "said_by": "",
    }
    if not asked:
        return nothing
    minutes = decimal("allowed_min", "Minutes a day", typed.get("allowed_min", ""), 1, MOST_ALLOWED_MIN, "minutes")
    first = typed_day("allowed_from", typed.get("allowed_from") or desk.today.isoformat())
    last = typed_day("allowed_until", typed["allowed_until"]) if typed.get("allowed_until") else None
    if last is not None and last < first:
        raise Refused("allowed_until", "The limit ends on or after the day it begins.")
    by = typed.get("said_by", "").strip()
    if len(by) > NAME_MAX:
        raise Refused("said_by", f"At most {NAME_MAX} characters.")
    return {**nothing, "allowed_min": minutes, "allowed_from": first, "allowed_until": last, "said_by": by}


def _days_off(desk: Desk, first: date, until: date | None) -> None:
    """Write the days away up to today as days off, where nothing was played."""
    last = min(until or desk.today, desk.today)
    played = {s.day for s in desk.store.sessions(first, last)}
    for n in range(min(AWAY_DAYS_MAX, (last - first).days + 1)):
        day = first + timedelta(days=n)
        if day not in played:
            log.write_day(desk, day, True)


def end(desk: Desk, uid: str, how: str = "") -> None:
    """End what happened today: the fever is over, it moves as before, the limit holds no longer. `NotThere`."""
    row = desk.row(HappeningRow, uid)
    changes: dict[str, Any] = {"until": desk.today if row.kind == FEVER else desk.today - timedelta(days=1)}
    changes["until"] = max(changes["until"], row.day)
    if row.kind == FALL:
        changes["answer"] = AS_BEFORE
    elif row.answer == MINUTES or how == NO_LIMIT:
        changes["answer"] = NO_LIMIT
        changes |= {"allowed_min": None, "allowed_from": None, "allowed_until": None}
    corrections.change_row(desk, "happening", row, **changes)
    issue(desk)


def change_allowed(desk: Desk, uid: str, typed: Mapping[str, str]) -> None:
    """Write what someone licensed has said since: so many minutes a day. `NotThere`; `Refused` names the field."""
    row = desk.row(HappeningRow, uid)
    corrections.change_row(desk, "happening", row, answer=MINUTES, **_allowed(desk, typed, True))
    issue(desk)


_UNTIL = re.compile(r"\b(?:until|till|to|by|bis)\b\s*(?:the\s+)?(?P<day>[^,;.]+)", re.IGNORECASE)
_BESIDE_MINUTES = re.compile(
    r"\b(?:a|per|each|every|day|daily|at|most|max|maximum|only|up|am|pro|tag)\b\.?", re.IGNORECASE
)
_NO = re.compile(r"\b(?:no|not|without|kein|keine)\b\s*(?:the\s+|on\s+)*(?P<what>[a-zäöüß -]+)", re.IGNORECASE)


def read_told(desk: Desk, words: str) -> Told:
    """Return how a limit in free words is read; what cannot be read stays words."""
    until, rest = _until(desk, words)
    not_on = tuple(i for i in desk.player.instruments if any(_named(i, m["what"]) for m in _NO.finditer(rest)))
    minutes = next((m for part in re.split(r"[,;.]", rest) if (m := _minutes(part)) is not None), None)
    return Told(words, minutes, not_on, until)


def _until(desk: Desk, words: str) -> tuple[date | None, str]:
    found = _UNTIL.search(words)
    spelled = day_of(found["day"].strip()) if found else None
    day = spelled.as_date(True, desk.today.year) if spelled else None
    if found is None or day is None:
        return None, words
    if day < desk.today and spelled is not None and spelled.year is None:
        day = spelled.as_date(True, desk.today.year + 1) or day
    return day, words.replace(found.group(), " ")


def _named(instrument: str, what: str) -> bool:
    name, said = plain(instrument_name(instrument)), plain(what).split()
    return any(len(word) > 3 and (word == name or name.startswith(word)) for word in said)


def _minutes(part: str) -> float | None:
    """The length that a part names: "30 minutes a day", "max 1 h"."""
    bare = _BESIDE_MINUTES.sub(" ", part)
    found = length_of(bare.strip())
    if found is None or not found.said or not 1 <= found.minutes() <= SESSION_MAX_MIN:
        return None
    return float(int(found.minutes()))


def keep_told(desk: Desk, typed: Mapping[str, str]) -> None:
    """Write a limit in free words once it was read back and confirmed; the call keeps to it. `Refused` at "told"."""
    told = read_told(desk, typed.get("told", "").strip()[:WORDS_MAX])
    if told.minutes is None and not told.not_on:
        raise Refused(
            "told", "No minutes and no instrument were understood. Write it as: 30 minutes a day until 20 Dec."
        )
    minutes = MOST_ALLOWED_MIN if told.minutes is None else told.minutes
    by = typed.get("said_by", "").strip()[:NAME_MAX]
    keep_limit(desk, minutes, told.words, told.not_on, told.until, by)
    issue(desk)


def keep_limit(
    desk: Desk, minutes: float, words: str, not_on: tuple[str, ...] = (), until: date | None = None, by: str = ""
) -> None:
    """Write a limit that someone licensed gave, from today on."""
    values = {
        "uid": uuid4().hex,
        "kind": LIMIT,
        "day": desk.today,
        "until": until,
        "answer": MINUTES,
        "zone": "",
        "side": "",
        "allowed_min": minutes,
        "allowed_from": desk.today,
        "allowed_until": until,
        "not_on": list(not_on),
        "said_by": by,
        "words": words,
    }
    corrections.put_row(desk, "happening", values)
