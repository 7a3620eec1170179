"""The record as a list to look through: sessions, checks and notes, newest first, each with where it is mended."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, fields
from datetime import date, timedelta

from chirotend.core.body.zones import zone
from chirotend.core.days import day_named
from chirotend.core.errors import MethodError
from chirotend.core.names import name_key
from chirotend.core.record.words import BLOCK_KINDS
from chirotend.services.context import Context, FieldError
from chirotend.services.kit import own_library
from chirotend.services.words import KIND_WORDS, TIMING_WORDS, day_words
from chirotend.store.day_stamps import Day

#: entries on a page, and how many days are read at a time until it is full
ON_A_PAGE, DAYS_AT_ONCE = 60, 120
#: what can be looked for besides the kinds of a session's parts
OTHERS = {"marks": "check", "off": "day off", "note": "note"}


@dataclass(frozen=True)
class Entry:
    """A line of the list: its day, what it is, the rest in words, and the page it is mended on with its values."""

    day: date
    kind: str
    text: str
    endpoint: str
    values: Mapping[str, str]
    instruments: tuple[str, ...] = ()


@dataclass(frozen=True)
class Wanted:
    """What is looked for: words, an instrument, a kind ("" = all), and the latest day."""

    words: str
    instrument: str
    kind: str
    until: date


#: the names by which an address looks for entries
WANTED = frozenset(f.name for f in fields(Wanted))


@dataclass(frozen=True)
class Found:
    """The entries of one page; `older` = the latest day of the next one, None = this is all."""

    wanted: Wanted
    entries: tuple[Entry, ...]
    older: date | None


def kinds() -> dict[str, str]:
    """Return the kinds that can be looked for, with their names."""
    return {**{kind: kind for kind in BLOCK_KINDS}, **OTHERS}


def wanted(context: Context, asked: Mapping[str, str]) -> Wanted:
    """Return what an address asks for; `FieldError` names the field that cannot be."""
    if (kind := asked.get("kind", "")) not in {"", *kinds()}:
        raise FieldError("kind", "Choose a kind of the list.")
    try:
        until = min(day_named(asked["until"]), context.today) if asked.get("until") else context.today
    except MethodError as error:
        raise FieldError("until", "Choose a day that exists, written YYYY-MM-DD.") from error
    return Wanted(asked.get("words", "").strip(), asked.get("instrument", ""), kind, until)


def entries(context: Context, asked: Wanted) -> Found:
    """Return what holds every word and is of the instrument and kind, newest first, whole days at a time."""
    names = {key: item.name for key, item in own_library.instruments(context).items()}
    found: list[Entry] = []
    for day, held in _days_back(context, asked.until):
        if len(found) >= ON_A_PAGE:
            return Found(asked, tuple(found), day)
        found += [e for e in _of_day(context, day, held, names) if _fits(e, asked)]
    return Found(asked, tuple(found), None)


def _days_back(context: Context, last: date) -> Iterator[tuple[date, Day]]:
    """Yield the days that hold anything from `last` back, read some at a time."""
    begun = context.store.first_day()
    while begun is not None and last >= begun:
        first = max(begun, last - timedelta(days=DAYS_AT_ONCE - 1))
        yield from sorted(context.store.days(first, last).items(), key=lambda item: item[0], reverse=True)
        last = first - timedelta(days=1)


def _of_day(context: Context, day: date, held: Day, names: Mapping[str, str]) -> Iterator[Entry]:
    for s in reversed(held.sessions):
        played = tuple(dict.fromkeys(b.instrument for b in s.blocks if b.instrument))
        parts = [
            f"{s.start_utc.astimezone(context.zone):%H.%M}" if s.start_utc else "",
            f"{s.minutes:.0f} min",
            " and ".join(names.get(i, i).lower() for i in played),
            "" if s.effort is None else f"effort {s.effort:g}",
            *s.texts().values(),
        ]
        kind = ", ".join(dict.fromkeys(b.kind for b in s.blocks))
        yield Entry(day, kind, " · ".join(p for p in parts if p), "record.edit_session", {"uid": s.uid}, played)
    for check in held.checks:
        marks = [f"{zone(e.zone).spoken(e.side)}, {KIND_WORDS[e.kind]} {e.intensity:g}" for e in check.entries]
        said = "; ".join(marks) or "asked, nothing there"
        yield Entry(day, "marks", f"{TIMING_WORDS[check.timing]}: {said}", "body.index", {"day": day.isoformat()})
    if held.note is not None and (held.note.off or held.note.note):
        kind = "off" if held.note.off else "note"
        text = held.note.note or "no playing"
        yield Entry(day, kind, text, "record.edit_day", {"day": day.isoformat()})


def _fits(entry: Entry, asked: Wanted) -> bool:
    if asked.instrument and asked.instrument not in entry.instruments:
        return False
    if asked.kind and asked.kind not in entry.kind.split(", "):
        return False
    said = name_key(f"{day_words(entry.day)} {entry.day.year} {entry.day} {entry.kind} {entry.text}")
    return all(name_key(word) in said for word in asked.words.split())
