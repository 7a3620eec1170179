"""Complaints that a clinician has seen and that are known and stable: written, reviewed, ended."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from uuid import uuid4

from chirotend.core.judge.known import DAY_TIMINGS, KNOWN_KINDS, LEVEL_MAX, REVIEW_DAYS, Known
from chirotend.core.record import Place
from chirotend.services.call.inputs import known_of
from chirotend.services.context import Context, FieldError
from chirotend.services.record import corrections
from chirotend.services.units import decimal, typed_day
from chirotend.services.words import KIND_WORDS, listed, place_name
from chirotend.store.models import KnownRow

#: what was marked so long ago can be chosen
MARKED_DAYS = 56


@dataclass(frozen=True)
class Choice:
    """A place and kind that she marked of late."""

    place: Place
    kind: str

    @property
    def key(self) -> str:
        return "|".join((*self.place, self.kind))

    @property
    def name(self) -> str:
        return _name(self.place, self.kind)


@dataclass(frozen=True)
class Shown:
    """A known complaint as pages show it; `due` from its review on, until it is reviewed or ended."""

    uid: str
    known: Known
    seen_on: date
    due: bool

    @property
    def name(self) -> str:
        return _name(self.known.place, self.known.kind)

    @property
    def when(self) -> str:
        """When it is known to be felt: "while playing and on waking"."""
        return listed(WHEN[t] for t in WHEN if t in self.known.timings)


#: the timings of a mark in a sentence
WHEN = {
    "playing": "while playing",
    "after": "after playing",
    "waking": "on waking",
    "daily": "in daily life",
    "night": "at night",
}


def _name(place: Place, kind: str) -> str:
    return f"{KIND_WORDS[kind]}, {place_name(place)}"


def shown(context: Context) -> tuple[Shown, ...]:
    """Return her known complaints, those that are due for a review first."""
    rows = context.store.repository(KnownRow).all(order=(KnownRow.review,))
    return tuple(Shown(r.uid, known_of(r), r.seen_on, r.review <= context.today) for r in rows)


def choices(context: Context) -> tuple[Choice, ...]:
    """Return what she marked in the last eight weeks and could be known, by place."""
    checks = context.store.record(context.today - timedelta(days=MARKED_DAYS), context.today).checks
    found = {Choice(m.place, m.entry.kind) for c in checks for m in c.marks if m.entry.kind in KNOWN_KINDS}
    return tuple(sorted(found, key=lambda c: c.key))


def write(context: Context, typed: Mapping[str, str]) -> None:
    """Write a known complaint from what was typed; today's call follows from it. `FieldError` names the field."""
    chosen = next((c for c in choices(context) if c.key == typed.get("what")), None)
    if chosen is None:
        raise FieldError("what", "Choose what it is, among what you marked in the last eight weeks.")
    level = _level(typed.get("level", ""))
    values = {
        "uid": uuid4().hex,
        "region": chosen.place[0],
        "side": chosen.place[1],
        "kind": chosen.kind,
        "level": level,
        "timings": _timings_had(context, chosen),
        "lasts": typed.get("lasts") == "yes",
        "at_night": typed.get("at_night") == "yes",
        **_days(context, typed),
    }
    if any((s.known.place, s.known.kind) == (chosen.place, chosen.kind) for s in shown(context)):
        raise FieldError("what", "That is written already: review it or end it below.")
    corrections.put_row(context, "known", values)


def review(context: Context, uid: str, typed: Mapping[str, str]) -> None:
    """Go on with a known complaint after a clinician has seen it again; `NotThere` if she has none of that id."""
    row = context.row(KnownRow, uid)
    corrections.change_row(context, "known", row, level=_level(typed.get("level", "")), **_days(context, typed))


def end(context: Context, uid: str) -> None:
    """Take a known complaint back: all of it speaks again. `NotThere` if she has none of that id."""
    corrections.delete(context, "known", uid)


def _timings_had(context: Context, chosen: Choice) -> str:
    """The timings at which it was marked in the last eight weeks: what comes at another time speaks."""
    checks = context.store.record(context.today - timedelta(days=MARKED_DAYS), context.today).checks
    marks = (m for c in checks for m in c.marks)
    had = {m.timing for m in marks if (m.place, m.entry.kind) == (chosen.place, chosen.kind)}
    return " ".join(t for t in DAY_TIMINGS if t in had)


def _level(text: str) -> float:
    return decimal("level", "Its usual strength (what is stronger is not left unsaid)", text, 1, LEVEL_MAX)


def _days(context: Context, typed: Mapping[str, str]) -> dict[str, date]:
    seen, review = (typed_day(name, typed.get(name, "")) for name in ("seen_on", "review"))
    if not context.today - timedelta(days=REVIEW_DAYS) <= seen <= context.today:
        raise FieldError("seen_on", "The day a clinician saw it lies in the last twelve weeks.")
    latest = context.today + timedelta(days=REVIEW_DAYS)
    if not context.today < review <= latest:
        raise FieldError("review", f"The review lies between tomorrow and {latest:%d %B %Y}, twelve weeks ahead.")
    return {"seen_on": seen, "since": context.today, "review": review}
