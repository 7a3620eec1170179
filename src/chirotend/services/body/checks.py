"""The morning check, marks on the body, and the urgent list."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta

from chirotend.core.body.redflags import red_flags, redflag_tier, tier_beside
from chirotend.core.body.zones import zone
from chirotend.core.errors import MethodError
from chirotend.core.record import Check, Entry
from chirotend.core.record.words import TIMINGS
from chirotend.formats.csv_log import check_uid
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.record import corrections, log
from chirotend.store.models import EntryRow

#: days back in which a mark is where it hurts now
HURTING_DAYS = 3
#: mornings with the same marks after which they are asked anew (common practice, no source)
EQUAL_MORNINGS = 3
URGENT_TIERS = ("emergency", "same_day")


def as_usual(context: Context) -> None:
    """The morning check in one touch: asked, and nothing on waking but what is marked already."""
    nothing(context, "waking")


def same_as_yesterday(context: Context) -> None:
    """The morning check in one touch: the marks of yesterday's check, beside what is marked already.

    `FieldError` when nothing was marked yesterday.
    """
    marks = yesterdays_marks(context)
    if not marks:
        raise FieldError("waking", "Yesterday’s marks cannot be repeated. Say how it is today.")
    before = context.store.check(context.today, "waking") or Check(
        check_uid(context.today, "waking"), context.today, "waking"
    )
    there = {(e.zone, e.side, e.kind) for e in before.entries}
    new = tuple(e for e in marks if (e.zone, e.side, e.kind) not in there)
    _put(context, replace(before, entries=(*before.entries, *new)))


def yesterdays_marks(context: Context) -> tuple[Entry, ...]:
    """Return what was marked on waking yesterday, without signs that one touch must not repeat.

    Nothing after three equal mornings: then it is time to look again, and not to repeat.
    """
    mornings = [_waking_marks(context, context.today - timedelta(days=back)) for back in range(1, EQUAL_MORNINGS + 1)]
    return () if len(set(mornings)) == 1 else mornings[0]


def _waking_marks(context: Context, day: date) -> tuple[Entry, ...]:
    check = context.store.check(day, "waking")
    return tuple(e for e in check.entries if not e.flags) if check is not None else ()


def morning(context: Context, sleep: str | None, hands: str | None, flags: Sequence[str], done: bool = True) -> str:
    """Take the opened morning check; returns the tier of what was ticked. The check counts as answered."""
    log.set_morning(context, context.today, sleep or None, hands or None)
    if done or flags:
        write_flags(context, "waking", flags)
    return redflag_tier(flags)


def write_flags(context: Context, timing: str, flags: Sequence[str], day: date | None = None) -> None:
    """Write signs of the urgent list into the check of `timing` (today, or an earlier day)."""
    unknown = [f for f in flags if f not in red_flags()]
    if unknown:
        raise FieldError("red_flags", f"“{unknown[0][:40]}” is not on the urgent list.")
    day = _not_future(context, day or context.today)
    before = context.store.check(day, timing) or Check(check_uid(day, timing), day, timing)
    _put(context, replace(before, red_flags=tuple(dict.fromkeys((*before.red_flags, *flags)))))


def rub_out_flags(context: Context) -> None:
    """ "I ticked this by mistake": take back the open signs that brought the urgent page, of any day."""
    open_checks = list(todays_call(context).evidence.uncleared_checks)
    seen = {code for check in open_checks for code in check.red_flags}
    wrong = {code for code in seen if tier_beside(code, seen) in URGENT_TIERS}
    for check in open_checks:
        if wrong & set(check.red_flags):
            corrections.put(context, replace(check, red_flags=tuple(f for f in check.red_flags if f not in wrong)))


@dataclass(frozen=True)
class TypedMarks:
    """Marks as touched: "zone.side" places, one kind and strength, the timings they belong to."""

    places: Sequence[str]
    kind: str
    intensity: float
    timings: Sequence[str]
    lasting: str | None = None
    flags: Sequence[str] = ()
    other_uses: str | None = None
    eased: str | None = None


def write_marks(context: Context, typed: TypedMarks, day: date | None = None, at: datetime | None = None) -> None:
    """Write the same symptom at several places and timings; earlier ones of the same place and kind are replaced.

    `at` is when they were touched, where that was not now.
    """
    day = _not_future(context, day or context.today)
    if not typed.places:
        raise FieldError("places", "Touch where you feel it, or choose a place in the list.")
    if not typed.timings:
        raise FieldError("timings", "Say when: while playing, after, at night, on waking or in daily life.")
    unknown = [t for t in typed.timings if t not in TIMINGS]
    if unknown:
        raise FieldError("timings", f"Choose among {', '.join(TIMINGS)}.")
    entries = [_entry(typed, place) for place in typed.places]
    for timing in typed.timings:
        before = context.store.check(day, timing) or Check(check_uid(day, timing), day, timing)
        new = {(e.zone, e.side, e.kind) for e in entries}
        kept = tuple(e for e in before.entries if (e.zone, e.side, e.kind) not in new)
        _put(context, replace(before, entries=(*kept, *entries), other_uses=typed.other_uses or before.other_uses), at)


def _entry(typed: TypedMarks, place: str) -> Entry:
    zone_id, _, side = place.partition(".")
    try:
        return Entry(
            zone_id, side or "none", typed.kind, typed.intensity, typed.lasting or None, tuple(typed.flags), typed.eased
        )
    except MethodError as error:
        raise FieldError(
            error.field,
            {
                "zone": f"“{zone_id[:40]}” is not a place on the body map. Choose one from the list.",
                "side": "Say which side, left or right.",
                "kind": "Say what kind it is: pain, tightness, tingling …",
                "intensity": "Strength runs from 0 to 10.",
                "lasting": "Say how long it lasted after stopping.",
                "flags": "One of the extra signs is not on the list.",
                "eased": "Choose what eased it from the list.",
            }.get(error.field, str(error)),
        ) from error


def nothing(context: Context, timing: str, day: date | None = None, at: datetime | None = None) -> None:
    """Answer a check with "nothing": asked, and no symptom but what is marked already. `at` as for marks."""
    day = _not_future(context, day or context.today)
    if timing not in TIMINGS:
        raise FieldError("timing", f"Choose among {', '.join(TIMINGS)}.")
    _put(context, context.store.check(day, timing) or Check(check_uid(day, timing), day, timing), at)


def _not_future(context: Context, day: date) -> date:
    if day > context.today:
        raise FieldError("day", "This day lies in the future. Choose today or an earlier day.")
    return day


def rub_out(context: Context, day: date, timing: str, zone_id: str, side: str, kind: str) -> None:
    """Take one mark back; the check itself stays answered."""
    check = context.store.check(day, timing)
    kept = tuple(e for e in check.entries if (e.zone, e.side, e.kind) != (zone_id, side, kind)) if check else ()
    if check is None or len(kept) == len(check.entries):
        raise NotThere(zone_id)
    corrections.put(context, replace(check, entries=kept))


@dataclass(frozen=True)
class Marked:
    """A mark as the body page lists it."""

    day: date
    timing: str
    entry: Entry

    @property
    def name(self) -> str:
        return zone(self.entry.zone).spoken(self.entry.side)


def marked_on(context: Context, day: date) -> list[Marked]:
    """Return the marks of `day`, strongest first."""
    found = [Marked(day, c.timing, e) for c in context.store.record(day, day).checks for e in c.entries]
    return sorted(found, key=lambda m: -m.entry.intensity)


def hurting(context: Context, days: int = HURTING_DAYS) -> frozenset[str]:
    """Return the places marked on the last day with a mark of the last `days`: "thumb_ball.left"; none = empty."""
    record = context.store.record(context.today - timedelta(days=days - 1), context.today)
    marked = [(c.day, f"{e.zone}.{e.side}") for c in record.checks for e in c.entries if e.intensity > 0]
    latest = max((day for day, _ in marked), default=None)
    return frozenset(place for day, place in marked if day == latest)


def ever_marked(context: Context) -> bool:
    return bool(context.store.repository(EntryRow).some(("zone",), most=1))


def history(context: Context, zone_id: str, side: str, days: int = 90) -> list[Marked]:
    """Return the marks of one place in the last `days` days, newest first."""
    record = context.store.record(context.today - timedelta(days=days), context.today)
    found = [
        Marked(c.day, c.timing, e) for c in record.checks for e in c.entries if (e.zone, e.side) == (zone_id, side)
    ]
    return sorted(found, key=lambda m: m.day, reverse=True)


def _put(context: Context, check: Check, at: datetime | None = None) -> None:
    """Write a check with the instant of its latest answer, then work out the call anew."""
    now = at or (context.now if check.day == context.today else None)
    latest = max((when for when in (now, check.at_utc) if when is not None), default=None)
    corrections.put(context, replace(check, at_utc=latest))
