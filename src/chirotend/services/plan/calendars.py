"""Calendars brought into the plan: new, changed, cancelled, vanished entries; what has no hours is asked for them."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, time, timedelta
from typing import Any
from uuid import uuid4

from chirotend.formats import calendar_reader
from chirotend.formats.cells import UnreadableFile
from chirotend.formats.ical import OWN, UNNAMED, CalendarEntry, CalendarRead, WholeDays
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.plan import engagements
from chirotend.services.plan.engagements import Typed
from chirotend.services.record import corrections
from chirotend.services.record.bring.save import TAKEN_BACK_FOR
from chirotend.store.models import BroughtRow, EngagementRow, PlannedRow

CALENDAR_MAX_BYTES = 2 * 1024 * 1024
DAYS_BACK, DAYS_AHEAD = 7, 180
DAYS_MAX = 31
#: so many of the entries that an import brought must be in a file for it to be the same calendar again
SAME_SHARE = 0.5
#: what marks a calendar among the things brought
CALENDAR = "calendar"


@dataclass(frozen=True)
class Imported:
    """What a calendar brought: how many new, changed and known entries, the titles of those taken out, entries whose
    hours must be asked, and what was passed over."""

    uid: str
    new: int
    changed: int
    known: int
    gone: tuple[str, ...]
    days: tuple[WholeDays, ...]
    passed_over: tuple[str, ...]


def bring(context: Context, file: str, found: CalendarRead) -> Imported:
    """Bring a calendar's entries that `read_calendar` found; known ones are changed, not doubled.

    An entry whose hours and title are as they were is left alone, with whatever she changed about it.
    """
    repository = context.store.repository(EngagementRow)
    there = {row.source: row for row in repository.all(EngagementRow.source != "")}
    uid, counts, passed_over = uuid4().hex, {"new": 0, "changed": 0, "known": 0}, list(found.passed_over)
    for entry in found.entries:
        old = there.get(entry.source) or _own(context, entry)
        if _stands(old, entry):
            counts["known"] += 1
        else:
            try:
                _put(context, entry, old if isinstance(old, EngagementRow) else None, uid)
                counts["changed" if old else "new"] += 1
            except FieldError as error:
                passed_over.append(f"“{entry.title}”: {error.sentence}")
    gone = _taken_out(context, found, there)
    days = tuple(d for d in found.days if f"{d.source} {d.first:%Y%m%d}" not in there)
    if counts["new"] or counts["changed"]:
        row = {"uid": uid, "at_utc": context.now, "act": 0, "names": file[:400], "document": {CALENDAR: True}}
        context.store.repository(BroughtRow).put(row)
    return Imported(uid, **counts, gone=gone, days=days, passed_over=tuple(passed_over))


def read_calendar(context: Context, file: str, data: bytes) -> CalendarRead:
    """Return a calendar's entries of the last week and the next half year; nothing is kept. `FieldError` says what is
    wrong with it."""
    if not data:
        raise FieldError("calendar", "Choose a calendar file (.ics) first.")
    if len(data) > CALENDAR_MAX_BYTES:
        raise FieldError("calendar", "A calendar may have up to 2 MB. Export fewer years.")
    first, last = context.today - timedelta(days=DAYS_BACK), context.today + timedelta(days=DAYS_AHEAD)
    try:
        return calendar_reader.read_calendar_file(data, file or "The file", context.player.zone, first, last)
    except UnreadableFile as error:
        raise FieldError("calendar", str(error)) from error


def _own(context: Context, entry: CalendarEntry) -> EngagementRow | PlannedRow | None:
    """What an entry of our own export was made from, where that is still there."""
    uid = entry.source.rpartition(" ")[0]
    if not uid.endswith(OWN):
        return None
    uid = uid.removesuffix(OWN)
    return context.store.repository(EngagementRow).get(uid) or context.store.repository(PlannedRow).get(uid)


def _stands(old: EngagementRow | PlannedRow | None, entry: CalendarEntry) -> bool:
    """True when an entry is there as it is: her own plan always is."""
    if isinstance(old, EngagementRow):
        return (old.title, old.end_utc) == (entry.title, entry.end_utc)
    return old is not None


def _put(context: Context, entry: CalendarEntry, old: EngagementRow | None, import_uid: str) -> None:
    local = entry.start_utc.astimezone(context.zone)
    typed = Typed(local.date(), local.time(), entry.end_utc.astimezone(context.zone).time(), entry.title)
    made = engagements.made(context, typed, old.uid if old else None)
    values = engagements.row_values(made, entry.source, "", import_uid, old.session_uid if old else "")
    context.store.repository(EngagementRow).put(values)


def _taken_out(context: Context, found: CalendarRead, there: dict[str, EngagementRow]) -> tuple[str, ...]:
    """Take out what is still ahead and cancelled, or vanished from its calendar; returns the titles."""
    sources = {e.source for e in found.entries}
    gone = {
        row.uid: row
        for source, row in there.items()
        if row.start_utc > context.now and (source in found.cancelled or source in _vanished(context, there, sources))
    }
    for uid in gone:
        corrections.delete(context, "engagement", uid)
    return tuple(row.title for row in gone.values())


def _vanished(context: Context, there: dict[str, EngagementRow], sources: set[str]) -> set[str]:
    """The sources that are not in the file any more: occurrences of an entry that is there at another time, and
    entries of an import of which most others are in it."""
    entries = {source.rpartition(" ")[0] for source in sources if not source.startswith(UNNAMED)}
    ahead: dict[str, set[str]] = {}
    for source, row in there.items():
        if row.start_utc > context.now and row.import_uid:
            ahead.setdefault(row.import_uid, set()).add(source)
    found = {source for source in there if source.rpartition(" ")[0] in entries}
    for brought in ahead.values():
        if len(brought & sources) > SAME_SHARE * len(brought):
            found |= brought
    return found - sources


def bring_days(context: Context, days: WholeDays, start: time, end: time) -> int:
    """Bring an entry without hours as one engagement a day, from `start` to `end`; returns how many days."""
    count = (days.last - days.first).days + 1
    if not 1 <= count <= DAYS_MAX:
        raise FieldError("last", f"Up to {DAYS_MAX} days, the last not before the first.")
    with corrections.as_one(context):
        for day in _days(days):
            made = engagements.made(context, Typed(day, start, end, days.title))
            engagements.put(context, made, f"{days.source} {day:%Y%m%d}")
    return count


def _days(days: WholeDays) -> Iterator[date]:
    return (days.first + timedelta(days=n) for n in range((days.last - days.first).days + 1))


def brought(context: Context) -> list[Any]:
    """Return the imports that can still be taken back (uid, at_utc, names), newest first; of others nothing is left."""
    left = {row.import_uid for row in context.store.repository(EngagementRow).some(("import_uid",))}
    since = BroughtRow.at_utc > context.now - TAKEN_BACK_FOR
    rows = context.store.repository(BroughtRow).all(since, order=(BroughtRow.at_utc.desc(),))
    return [row for row in rows if CALENDAR in row.document and row.uid in left]


def take_back(context: Context, import_uid: str) -> None:
    """Take out what an import brought and nobody has written in since."""
    repository = context.store.repository(EngagementRow)
    rows = repository.all(EngagementRow.import_uid == import_uid) if import_uid else []
    if not rows:
        raise NotThere(import_uid)
    with corrections.as_one(context):
        for row in rows:
            if not row.session_uid:
                corrections.delete(context, "engagement", row.uid)
    context.store.repository(BroughtRow).drop(import_uid)
