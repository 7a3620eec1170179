"""The record's values as plain dictionaries (JSON) and back. Days and instants are ISO 8601 text, instants in UTC."""

from dataclasses import asdict
from datetime import UTC, date, datetime
from typing import Any

from chirotend.core.record import Block, Check, DayNote, Entry, Session

Document = dict[str, Any]


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
    return _made(DayNote, {**d, "day": _day(d)})


def _copy(document: object) -> Document:
    if not isinstance(document, dict):
        raise BadDocument(f"expected an object, found {type(document).__name__}")
    return dict(document)


def _day(document: Document) -> date:
    return date.fromisoformat(document["day"])


def _made(kind: Any, values: Document) -> Any:
    try:
        return kind(**values)
    except TypeError as error:
        raise BadDocument(str(error).replace("__init__()", "").strip()) from error
