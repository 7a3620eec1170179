"""Every write to the record goes through here: what stood before is kept, deletes can be undone for a while.

An edit keeps the older version in the record's history. A delete keeps it only while undo is offered (ten minutes),
and takes the history of that document with it: a delete is real and complete.
"""

from collections.abc import Callable, Collection, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from chirotend.core.record import Check, DayNote, Session
from chirotend.formats import documents
from chirotend.services.desk import Desk, NotThere
from chirotend.store.models import ChangeRow, EngagementRow, Personal
from chirotend.store.personal_tables import table_of_subject
from chirotend.store.shelf import Shelf, as_document, as_values, columns

UNDO_FOR = timedelta(minutes=10)
Written = Session | Check | DayNote


@dataclass(frozen=True)
class Undo:
    """What can be undone now: the number to ask with, and what it was."""

    number: int
    action: str
    subject: str


def _key(document: Written) -> tuple[str, str]:
    match document:
        case Session():
            return "session", document.uid
        case Check():
            return "check", f"{document.day.isoformat()} {document.timing}"
        case DayNote():
            return "day", document.day.isoformat()


def _day_and_timing(key: str) -> tuple[date, str]:
    day, timing = key.split(" ", 1)
    return date.fromisoformat(day), timing


def _standing(desk: Desk, subject: str, key: str) -> Written | Personal | None:
    if subject in table_of_subject():
        shelf = _shelf(desk, subject)
        return shelf.get(*_parts(shelf, key))
    if subject == "session":
        return desk.store.session(key)
    if subject == "check":
        return desk.store.check(*_day_and_timing(key))
    return desk.store.note(date.fromisoformat(key))


_OUT: dict[str, Callable[..., documents.Document]] = {
    "session": documents.session_document,
    "check": documents.check_document,
    "day": documents.note_document,
}
#: how a document of each subject is read
DOCUMENTS: dict[str, Callable[..., Written]] = {
    "session": documents.session_from,
    "check": documents.check_from,
    "day": documents.note_from,
}


@contextmanager
def as_one(desk: Desk) -> Iterator[None]:
    """Take what is changed inside as one deed of hers: it is undone together."""
    if desk.deed:  # within a larger one
        yield
        return
    desk.deed.append(0)
    try:
        yield
    finally:
        desk.deed.clear()


def _note(desk: Desk, action: str, subject: str, key: str, before: documents.Document | None) -> int:
    number = desk.store.add_change(desk.now, action, subject, key, before, desk.deed[0] if desk.deed else 0)
    if desk.deed and not desk.deed[0]:
        desk.deed[0] = number
    return number


def put(desk: Desk, document: Written) -> int | None:
    """Write `document`; returns the number of the change, or None when nothing changed."""
    subject, key = _key(document)
    before = _standing(desk, subject, key)
    if before == document:
        return None
    _write(desk, document)
    return _note(desk, "edit" if before else "new", subject, key, _OUT[subject](before) if before else None)


def put_row(desk: Desk, subject: str, values: dict[str, Any]) -> int | None:
    """Write a plain row of `subject`; returns the number of the change, or None when nothing changed."""
    shelf = _shelf(desk, subject)
    key = _row_key(shelf, values)
    old = shelf.get(*_parts(shelf, key))
    before = as_document(old) if old is not None else None
    after = as_document(shelf.put(values))
    if before == after:
        return None
    return _note(desk, "edit" if before else "new", subject, key, before)


def change_row(desk: Desk, subject: str, row: Personal, **changes: Any) -> int | None:
    """Write a plain row again with `changes`; returns the number of the change, or None when nothing changed."""
    values = {name: getattr(row, name) for name in columns(type(row))}
    return put_row(desk, subject, {**values, **changes})


def delete(desk: Desk, subject: str, key: str) -> int:
    """Delete a document; `NotThere` if this player has none of that key."""
    before = _standing(desk, subject, key)
    if before is None:
        raise NotThere(key)
    document = as_document(before) if isinstance(before, Personal) else _OUT[subject](before)
    with as_one(desk):
        _drop(desk, subject, key)
        desk.store.forget_history_of(subject, key)
        number = _note(desk, "delete", subject, key, document)
        if subject == "session":
            _wait_again(desk, key)
    return number


def _parts(shelf: Shelf[Any], key: str) -> list[str]:
    """The parts of a key: only the last may hold spaces. `NotThere` when there are too few."""
    parts = key.split(" ", len(shelf.key_names) - 1) if key else []
    if len(parts) != len(shelf.key_names):
        raise NotThere(key)
    return parts


def _shelf(desk: Desk, subject: str) -> Shelf[Any]:
    try:
        return desk.store.shelf(table_of_subject()[subject])
    except KeyError:
        raise NotThere(subject) from None


def _row_key(shelf: Shelf[Any], values: dict[str, Any]) -> str:
    return " ".join(str(values[name]) for name in shelf.key_names)


def undo(desk: Desk, number: int) -> None:
    """Put back what stood before change `number` and the rest of its deed; `NotThere` when too old, or not hers."""
    change = desk.store.change(number)
    if change is None or desk.now - change.at_utc > UNDO_FOR:
        raise NotThere(number)
    for each in desk.store.changes_of(change):
        _put_back(desk, each)
        desk.store.drop_change(each.number)


def put_back(desk: Desk, act: int, but: Collection[str]) -> int:
    """Put back what stood before every change of deed `act`, however old; returns how many of them `but` kept."""
    first = desk.store.change(act)
    changes = desk.store.changes_of(first) if first is not None else []
    kept = [c for c in changes if f"{c.subject} {c.key}" in but]
    for change in changes:
        if change not in kept:
            _put_back(desk, change)
            desk.store.drop_change(change.number)
    return len(kept)


def _put_back(desk: Desk, change: ChangeRow) -> None:
    if change.before is None and change.subject == "session":
        desk.store.drop_session(change.key)
        desk.store.open_again(change.key)
    elif change.before is None:
        _drop(desk, change.subject, change.key)
    elif (model := table_of_subject().get(change.subject)) is not None:
        desk.store.shelf(model).put(as_values(model, change.before))
    else:
        _write(desk, DOCUMENTS[change.subject](change.before))


def offered(desk: Desk) -> Undo | None:
    """Return the newest deed that can still be undone, by what it began with."""
    newest = desk.store.newest_change()
    if newest is None or desk.now - newest.at_utc > UNDO_FOR:
        return None
    change = desk.store.changes_of(newest)[-1]
    if desk.now - change.at_utc > UNDO_FOR:
        return None
    return Undo(change.number, change.action, change.subject)


def _write(desk: Desk, document: Written) -> None:
    match document:
        case Session():
            desk.store.put_session(document)
        case Check():
            desk.store.put_check(document)
        case DayNote():
            desk.store.put_note(document)


def _drop(desk: Desk, subject: str, key: str) -> None:
    if subject in table_of_subject():
        shelf = _shelf(desk, subject)
        shelf.drop(*_parts(shelf, key))
    elif subject == "session":
        desk.store.drop_session(key)
        desk.store.drop_events(key)
    elif subject == "check":
        desk.store.drop_check(*_day_and_timing(key))
    else:
        desk.store.drop_note(date.fromisoformat(key))


def _wait_again(desk: Desk, session_uid: str) -> None:
    """What an engagement was written in as is gone: it waits again."""
    for engagement in desk.store.shelf(EngagementRow).all(EngagementRow.session_uid == session_uid):
        change_row(desk, "engagement", engagement, session_uid="")
