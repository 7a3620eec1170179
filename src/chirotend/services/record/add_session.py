"""Adding a session after playing, in under a minute: what, how long, how hard; how it was held; anything after."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime, time, timedelta

from chirotend.core.record import Block
from chirotend.core.record.shape import TEXT_MAX
from chirotend.drawing.holds import hold_picture
from chirotend.drawing.measured import Picture
from chirotend.library.schema import Grip
from chirotend.services.body import checks
from chirotend.services.context import Context, FieldError
from chirotend.services.kit import holds, own_library
from chirotend.services.record import corrections, log
from chirotend.services.units import decimal, typed_day, typed_time
from chirotend.services.units import maybe as maybe_number

QUICK_MIN = (20, 30, 45, 60, 90)
AS_LAST = "last"
NOTHING, SHOW = "nothing", "show"
LAST_DAYS = 90


@dataclass(frozen=True)
class Held:
    """How an instrument was held last: grip and seat with their drawings (None = not drawn), what else is offered."""

    grip: Grip | None
    posture: Grip | None
    grip_drawn: Picture | None
    posture_drawn: Picture | None
    grips: tuple[Grip, ...]
    postures: tuple[Grip, ...]


def held_last(context: Context, instrument: str) -> Held:
    """Return how `instrument` was held last, and what is usually offered on it."""
    known, usual = own_library.grips(context), holds.usual(context, instrument)
    grip, posture = _last_holds(context, instrument)
    return Held(
        known.get(grip),
        known.get(posture),
        hold_picture(grip) if grip in known else None,
        hold_picture(posture) if posture in known else None,
        usual.grips,
        usual.postures,
    )


def _last_holds(context: Context, instrument: str) -> tuple[str, str]:
    """The grip and the seat of the last block that says one, each by itself; "" = none does."""
    first = context.today - timedelta(days=LAST_DAYS)
    blocks = [b for s in context.store.sessions(first, context.today) for b in s.blocks if b.instrument == instrument]
    grip = next((b.grip for b in reversed(blocks) if b.grip), "")
    return grip, next((b.posture for b in reversed(blocks) if b.posture), "")


def add(context: Context, typed: Mapping[str, str]) -> tuple[date, str]:
    """Write a session with its holds, its note and what was felt after it, all or nothing.

    Returns its day and the answer to "anything after" ("" = not answered). `FieldError` names the field.
    """
    day = typed_day("day", typed.get("day", ""))
    instrument = typed.get("instrument", "")
    if instrument not in own_library.instruments(context):
        raise FieldError("instrument", "Choose what you played.")
    minutes, start = _length(typed)
    effort = maybe_number("effort", "Effort", typed.get("effort", ""), 0, 10, "")
    if effort is None:
        raise FieldError("effort", "Say how hard it was: touch a number from 0 to 10.")
    texts = log.typed_texts(typed)
    after = typed.get("after", "")
    if after not in ("", NOTHING, SHOW):
        raise FieldError("after", "Say whether there was anything after: nothing, or show where.")
    with corrections.as_one(context):
        kind = typed.get("kind") or "repertoire"
        session = log.write_session(context, log.TypedSession(day, minutes, start, effort, instrument, kind, texts))
        grip, posture = _holds(context, instrument, typed)
        if grip or posture:
            held = tuple(_held(b, grip, posture) for b in session.blocks)
            corrections.put(context, replace(session, blocks=held))
        _note(context, day, typed.get("note", ""))
        if after == NOTHING:
            checks.nothing(context, "after", day)
    return day, after


def _held(block: Block, grip: str, posture: str) -> Block:
    return replace(block, grip=grip, posture=posture)


def _length(typed: Mapping[str, str]) -> tuple[float, time | None]:
    """The minutes: touched, typed, or from a time to another."""
    begins, ends = _time_of_day("start", typed), _time_of_day("end", typed)
    if begins is not None and ends is not None:
        day = date(2000, 1, 1)
        first, last = datetime.combine(day, begins), datetime.combine(day, ends)
        span = last - first if last > first else last - first + timedelta(days=1)
        return span.total_seconds() / 60, begins
    text = typed.get("minutes", "").strip() or typed.get("quick", "")
    if not text:
        raise FieldError("minutes", "Say how long: touch a number, type the minutes, or from when to when.")
    return decimal("minutes", "Minutes", text, 1, 1440, "minutes"), begins


def _time_of_day(field: str, typed: Mapping[str, str]) -> time | None:
    if not (text := typed.get(field, "").strip()):
        return None
    return typed_time(field, text, "Type a time of the day, such as 10:30, or leave it empty.")


def _holds(context: Context, instrument: str, typed: Mapping[str, str]) -> tuple[str, str]:
    known, last = own_library.grips(context), _last_holds(context, instrument)
    found = []
    for field, before in zip(("grip", "posture"), last, strict=True):
        said = typed.get(field, "")
        hold = before if said == AS_LAST else said
        if hold and hold not in known:
            raise FieldError(field, "Choose a hold of the list, or leave it open.")
        found.append(hold)
    return found[0], found[1]


def _note(context: Context, day: date, text: str) -> None:
    if not (line := text.strip()):
        return
    note = log.day_of(context, day)
    longer = f"{note.note}\n{line}".strip()
    if len(longer) > TEXT_MAX:
        raise FieldError("note", f"The notes of one day hold at most {TEXT_MAX} characters.")
    corrections.put(context, replace(note, note=longer))
