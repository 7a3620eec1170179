"""The record's values as plain dictionaries (JSON) and back. Days and instants are ISO 8601 text, instants in UTC."""

from dataclasses import asdict
from datetime import UTC, date, datetime
from typing import Any, TypeVar

from chirotend.core.body.redflags import red_flag
from chirotend.core.days import FIRST_DAY, LAST_DAY, day_named, is_sensible
from chirotend.core.record import Block, Check, DayNote, Entry, Session
from chirotend.core.record.shape import shapes
from chirotend.core.texts import can_be_kept

Document = dict[str, Any]
T = TypeVar("T")


class BadDocument(ValueError):
    """A JSON value that is not a document of the record."""


def instant_text(value: datetime | None) -> str | None:
    return None if value is None else value.astimezone(UTC).isoformat().replace("+00:00", "Z")


def instant(value: str | None) -> datetime | None:
    if value is None:
        return None
    parsed = datetime.fromisoformat(value)
    if parsed.tzinfo is None:
        raise BadDocument(f"{value!r}: an instant needs its offset from UTC, such as 2026-11-12T09:30:00Z")
    if not is_sensible(parsed):
        raise BadDocument(f"{value!r}: an instant lies between {FIRST_DAY.year} and {LAST_DAY.year}")
    return parsed.astimezone(UTC)


def session_document(session: Session) -> Document:
    return {
        **asdict(session),
        "day": session.day.isoformat(),
        "start_utc": instant_text(session.start_utc),
        "end_utc": instant_text(session.end_utc),
        "blocks": [asdict(b) for b in session.blocks],
    }


def check_document(check: Check) -> Document:
    return {
        **asdict(check),
        "day": check.day.isoformat(),
        "at_utc": instant_text(check.at_utc),
        "entries": [{**asdict(e), "flags": list(e.flags)} for e in check.entries],
        "red_flags": list(check.red_flags),
    }


def note_document(note: DayNote) -> Document:
    return {**asdict(note), "day": note.day.isoformat()}


def session_from(document: Document) -> Session:
    """Return the session in `document`; `BadDocument` (or a `MethodError`) says what is wrong."""
    d = _copy(document)
    _texts(d, Session)
    for block in d.get("blocks", []):
        _texts(_copy(block), Block)
    return _made(
        Session,
        {
            **d,
            "day": _day(d),
            "start_utc": instant(d.get("start_utc")),
            "end_utc": instant(d.get("end_utc")),
            "blocks": tuple(_made(Block, _copy(b)) for b in d.get("blocks", [])),
        },
    )


def check_from(document: Document) -> Check:
    d = _copy(document)
    _texts(d, Check)
    for code in d.get("red_flags", ()):
        red_flag(code)
    entries = tuple(_made(Entry, {**_copy(e), "flags": tuple(e.get("flags", ()))}) for e in d.get("entries", []))
    return _made(
        Check,
        {
            **d,
            "day": _day(d),
            "at_utc": instant(d.get("at_utc")),
            "entries": entries,
            "red_flags": tuple(d.get("red_flags", ())),
        },
    )


def note_from(document: Document) -> DayNote:
    d = _copy(document)
    _texts(d, DayNote)
    if not isinstance(d.get("off", False), bool):
        raise BadDocument("off: yes or no is wanted")
    return _made(DayNote, {**d, "day": _day(d)})


def _copy(document: object) -> Document:
    if not isinstance(document, dict):
        raise BadDocument(f"expected an object, found {type(document).__name__}")
    return dict(document)


def _texts(document: Document, kind: type) -> None:
    """Refuse a text that is none, is too long, or holds what no text file can."""
    longest = {name: shape.longest for name, shape in shapes(kind).items() if shape.longest}
    for name, most in longest.items():
        value = document.get(name, "")
        if not isinstance(value, str) or len(value) > most:
            raise BadDocument(f"{name}: a text of at most {most} characters is wanted")
        if not can_be_kept(value):
            raise BadDocument(f"{name} holds characters that no text file can hold")
    if "uid" in longest and not document.get("uid"):
        raise BadDocument("uid: an id is wanted")


def _day(document: Document) -> date:
    return day_named(document["day"])


def _made(kind: type[T], values: Document) -> T:
    try:
        return kind(**values)
    except TypeError as error:
        raise BadDocument(str(error).replace("__init__()", "").strip()) from error
