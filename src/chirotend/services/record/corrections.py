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
from chirotend.services.context import Context, NotThere
from chirotend.store.models import ChangeRow, EngagementRow, Personal
from chirotend.store.personal_tables import table_of_subject
from chirotend.store.repository import Repository, as_document, as_values, columns

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


def _standing(context: Context, subject: str, key: str) -> Written | Personal | None:
    if subject in table_of_subject():
        repository = _repository(context, subject)
        return repository.get(*_parts(repository, key))
    if subject == "session":
        return context.store.session(key)
    if subject == "check":
        return context.store.check(*_day_and_timing(key))
    return context.store.note(date.fromisoformat(key))


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
def as_one(context: Context) -> Iterator[None]:
    """Take what is changed inside as one deed of hers: it is undone together."""
    if context.deed:  # within a larger one
        yield
        return
    context.deed.append(0)
    try:
        yield
    finally:
        context.deed.clear()


def _note(context: Context, action: str, subject: str, key: str, before: documents.Document | None) -> int:
    number = context.store.add_change(context.now, action, subject, key, before, context.deed[0] if context.deed else 0)
    if context.deed and not context.deed[0]:
        context.deed[0] = number
    return number


def put(context: Context, document: Written) -> int | None:
    """Write `document`; returns the number of the change, or None when nothing changed."""
    subject, key = _key(document)
    before = _standing(context, subject, key)
    if before == document:
        return None
    _write(context, document)
    return _note(context, "edit" if before else "new", subject, key, _OUT[subject](before) if before else None)


def put_row(context: Context, subject: str, values: dict[str, Any]) -> int | None:
    """Write a plain row of `subject`; returns the number of the change, or None when nothing changed."""
    repository = _repository(context, subject)
    key = _row_key(repository, values)
    old = repository.get(*_parts(repository, key))
    before = as_document(old) if old is not None else None
    after = as_document(repository.put(values))
    if before == after:
        return None
    return _note(context, "edit" if before else "new", subject, key, before)


def change_row(context: Context, subject: str, row: Personal, **changes: Any) -> int | None:
    """Write a plain row again with `changes`; returns the number of the change, or None when nothing changed."""
    values = {name: getattr(row, name) for name in columns(type(row))}
    return put_row(context, subject, {**values, **changes})


def delete(context: Context, subject: str, key: str) -> int:
    """Delete a document; `NotThere` if this player has none of that key."""
    before = _standing(context, subject, key)
    if before is None:
        raise NotThere(key)
    document = as_document(before) if isinstance(before, Personal) else _OUT[subject](before)
    with as_one(context):
        _drop(context, subject, key)
        context.store.forget_history_of(subject, key)
        number = _note(context, "delete", subject, key, document)
        if subject == "session":
            _wait_again(context, key)
    return number


def _parts(repository: Repository[Any], key: str) -> list[str]:
    """The parts of a key: only the last may hold spaces. `NotThere` when there are too few."""
    parts = key.split(" ", len(repository.key_names) - 1) if key else []
    if len(parts) != len(repository.key_names):
        raise NotThere(key)
    return parts


def _repository(context: Context, subject: str) -> Repository[Any]:
    try:
        return context.store.repository(table_of_subject()[subject])
    except KeyError:
        raise NotThere(subject) from None


def _row_key(repository: Repository[Any], values: dict[str, Any]) -> str:
    return " ".join(str(values[name]) for name in repository.key_names)


def undo(context: Context, number: int) -> None:
    """Put back what stood before change `number` and the rest of its deed; `NotThere` when too old, or not hers."""
    change = context.store.change(number)
    if change is None or context.now - change.at_utc > UNDO_FOR:
        raise NotThere(number)
    for each in context.store.changes_of(change):
        _put_back(context, each)
        context.store.drop_change(each.number)


def put_back(context: Context, act: int, but: Collection[str]) -> int:
    """Put back what stood before every change of deed `act`, however old; returns how many of them `but` kept."""
    first = context.store.change(act)
    changes = context.store.changes_of(first) if first is not None else []
    kept = [c for c in changes if f"{c.subject} {c.key}" in but]
    for change in changes:
        if change not in kept:
            _put_back(context, change)
            context.store.drop_change(change.number)
    return len(kept)


def _put_back(context: Context, change: ChangeRow) -> None:
    if change.before is None and change.subject == "session":
        context.store.drop_session(change.key)
        context.store.open_again(change.key)
    elif change.before is None:
        _drop(context, change.subject, change.key)
    elif (model := table_of_subject().get(change.subject)) is not None:
        context.store.repository(model).put(as_values(model, change.before))
    else:
        _write(context, DOCUMENTS[change.subject](change.before))


def offered(context: Context) -> Undo | None:
    """Return the newest deed that can still be undone, by what it began with."""
    newest = context.store.newest_change()
    if newest is None or context.now - newest.at_utc > UNDO_FOR:
        return None
    change = context.store.changes_of(newest)[-1]
    if context.now - change.at_utc > UNDO_FOR:
        return None
    return Undo(change.number, change.action, change.subject)


def _write(context: Context, document: Written) -> None:
    match document:
        case Session():
            context.store.put_session(document)
        case Check():
            context.store.put_check(document)
        case DayNote():
            context.store.put_note(document)


def _drop(context: Context, subject: str, key: str) -> None:
    if subject in table_of_subject():
        repository = _repository(context, subject)
        repository.drop(*_parts(repository, key))
    elif subject == "session":
        context.store.drop_session(key)
        context.store.drop_events(key)
    elif subject == "check":
        context.store.drop_check(*_day_and_timing(key))
    else:
        context.store.drop_note(date.fromisoformat(key))


def _wait_again(context: Context, session_uid: str) -> None:
    """What an engagement was written in as is gone: it waits again."""
    for engagement in context.store.repository(EngagementRow).all(EngagementRow.session_uid == session_uid):
        change_row(context, "engagement", engagement, session_uid="")
