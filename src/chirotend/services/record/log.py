"""Writing in a past session or a day by hand, and mending it later."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import UTC, date, datetime, time, timedelta
from uuid import uuid4

from chirotend.core.days import instant_of
from chirotend.core.errors import OutOfRange
from chirotend.core.record import Block, DayNote, Session, overlap
from chirotend.core.record.session import SESSION_TEXTS
from chirotend.core.record.shape import TEXT_MAX
from chirotend.core.record.words import BLOCK_KINDS, EFFORT_MAX, SESSION_MAX_MIN
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.record import corrections


@dataclass(frozen=True)
class TypedSession:
    """A session as typed: day, local start (or None), minutes, effort 0-10 (or None), instrument, kind, and its texts
    by field."""

    day: date
    minutes: float
    start: time | None = None
    effort: float | None = None
    instrument: str = ""
    kind: str = "repertoire"
    texts: Mapping[str, str] = field(default_factory=dict)


def typed_texts(typed: Mapping[str, str]) -> dict[str, str]:
    """Return the texts of a session among what was typed, by field; `FieldError` at one that is too long."""
    texts = {name: typed.get(name, "").strip() for name in SESSION_TEXTS}
    for name, text in texts.items():
        if len(text) > TEXT_MAX:
            raise FieldError(name, f"At most {TEXT_MAX} characters.")
    return texts


def session_of(context: Context, uid: str) -> Session:
    """Return a session of hers; `NotThere` if she has none of that id."""
    found = context.store.session(uid)
    if found is None:
        raise NotThere(uid)
    return found


def write_session(context: Context, typed: TypedSession, uid: str | None = None) -> Session:
    """Write a session (new, or in the place of `uid`). `FieldError` names the field and how to mend it."""
    old = session_of(context, uid) if uid else None
    _possible(context, typed)
    start = _start(context, typed)
    end = start + timedelta(minutes=typed.minutes) if start else None
    if start and start > context.now:
        raise FieldError("start", "This start lies in the future. Write sessions in once they have begun.")
    if start and typed.minutes > 0 and end and end > context.now + timedelta(minutes=1):
        raise FieldError("minutes", "The session would end in the future. Write the minutes played so far.")
    blocks = _blocks(old, typed)
    session = Session(uid or uuid4().hex, typed.day, blocks, typed.effort, start, end, **typed.texts)
    near = context.store.sessions(typed.day - timedelta(days=1), typed.day + timedelta(days=1))
    clash = overlap(session, near)
    if clash is not None and clash.start_utc is not None:
        raise FieldError(
            "start",
            f"This overlaps the session of {_clock(context, clash.start_utc)}, "
            f"{clash.minutes:.0f} minutes. Change the start or the minutes, or edit that one.",
        )
    corrections.put(context, session)
    return session


def _blocks(old: Session | None, typed: TypedSession) -> tuple[Block, ...]:
    """The parts of the session: new minutes are shared out as before, a new effort holds for all of them."""
    if old is None:
        return (Block(typed.minutes, typed.instrument, typed.kind),)
    factor = 1.0 if typed.minutes == round(old.minutes) or not old.minutes else typed.minutes / old.minutes
    keep_effort = typed.effort == old.effort
    kept = [replace(b, minutes=b.minutes * factor, effort=b.effort if keep_effort else None) for b in old.blocks]
    return (replace(kept[0], instrument=typed.instrument, kind=typed.kind), *kept[1:])


def _possible(context: Context, typed: TypedSession) -> None:
    if typed.day > context.today:
        raise FieldError("day", "This day lies in the future. Choose today or an earlier day.")
    if typed.day < context.today - timedelta(days=365 * 100):
        raise FieldError("day", "This day is more than a hundred years ago. Check the year.")
    if not 1 <= typed.minutes <= SESSION_MAX_MIN:
        raise FieldError("minutes", "Minutes of one session run from 1 to 1440 (24 hours). Split a longer one by day.")
    if typed.effort is not None and not 0 <= typed.effort <= EFFORT_MAX:
        raise FieldError("effort", "Effort runs from 0 (nothing) to 10 (all you have). Leave it empty if unsure.")
    if typed.kind not in BLOCK_KINDS:
        raise FieldError("kind", f"Choose one of {', '.join(BLOCK_KINDS)}.")


def _start(context: Context, typed: TypedSession) -> datetime | None:
    return None if typed.start is None else instant_of(typed.day, typed.start, context.zone).astimezone(UTC)


def day_of(context: Context, day: date) -> DayNote:
    """Return what is written of a day as a whole; an empty note where nothing is."""
    return context.store.note(day) or DayNote(day)


def write_day(context: Context, day: date, off: bool, note: str | None = None) -> DayNote:
    """Write a day off (or take it back), keeping what else the day holds; without a note hers stays."""
    if day > context.today:
        raise FieldError("day", "This day lies in the future. Choose today or an earlier day.")
    if off and context.store.sessions(day, day):
        raise FieldError(
            "day", "Sessions are written on this day, so it was not a day off. Delete them first if they are wrong."
        )
    if note is not None and len(note) > TEXT_MAX:
        raise FieldError("note", f"A note holds at most {TEXT_MAX} characters.")
    before = day_of(context, day)
    written = replace(before, off=off, note=before.note if note is None else note)
    corrections.put(context, written)
    return written


def set_morning(context: Context, day: date, sleep: str | None, hands: str | None) -> None:
    """Keep how the night was and whether the hands are warm."""
    before = day_of(context, day)
    try:
        corrections.put(context, replace(before, sleep=sleep or before.sleep, hands=hands or before.hands))
    except OutOfRange as error:
        raise FieldError(error.field, f"Choose one of {', '.join(error.words)}.") from error


def _clock(context: Context, at: datetime) -> str:
    local = at.astimezone(context.zone)
    return f"{local:%H.%M} on {local:%A} {local.day} {local:%B}"
