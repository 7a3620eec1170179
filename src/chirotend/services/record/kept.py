"""The tables kept as they are, checked row by row as the forms would: for a record that is brought, and for `check`."""

from collections.abc import Iterator, Mapping
from datetime import date
from typing import Any

from pydantic import ValidationError

from chirotend.core.errors import MethodError
from chirotend.core.record.measures import measure_of
from chirotend.core.record.words import TIMINGS
from chirotend.formats import documents, kept_rows
from chirotend.formats.cells import UnreadableFile
from chirotend.library.probes import movements, pressure_tasks, templates
from chirotend.services.call.issued_call import issued_call
from chirotend.services.context import Context, FieldError
from chirotend.services.kit import own_library, profile
from chirotend.services.record.bring import answers
from chirotend.services.record.corrections import DOCUMENTS
from chirotend.services.record.row_shapes import shape_of
from chirotend.services.words import reason
from chirotend.store import blobs
from chirotend.store.models import CallRow
from chirotend.store.personal_tables import in_record, table_of_subject, tables_in_record
from chirotend.store.repository import as_values


def check(context: Context, table: str, document: Any) -> None:
    """Raise `UnreadableFile` when `document` could not have come from the forms; the sentence says why."""
    kept_rows.check(document, kept_rows.ENTRIES.get(table) or shape_of(tables_in_record()[table]))
    try:
        if table in CHECKS:
            CHECKS[table](context, document)
    except (FieldError, ValidationError, MethodError, documents.BadDocument, ValueError, TypeError, KeyError) as error:
        raise UnreadableFile(str(error).splitlines()[0]) from error


def faults(context: Context, tables: Mapping[str, list[Any]]) -> Iterator[str]:
    """Yield a sentence for each row of `tables` that could not have come from this program."""
    for table, rows in tables.items():
        for number, document in enumerate(rows, start=1):
            try:
                check(context, table, document)
            except UnreadableFile as error:
                yield f"{table} number {number}: {error}"


def _profile(context: Context, document: Mapping[str, Any]) -> None:
    profile.checked(document["data"])


def _own_item(context: Context, document: Mapping[str, Any]) -> None:
    made: Any = own_library.SCHEMAS[document["kind"]].model_validate(document["document"])
    if made.id != document["uid"]:
        raise ValueError(f"its id is “{document['uid']}” outside and another inside")


def _change(context: Context, document: Mapping[str, Any]) -> None:
    subject, key, before = document["subject"], document["key"], document["before"]
    model = table_of_subject().get(subject)
    if model is None and subject not in DOCUMENTS:
        raise ValueError(f"there is nothing called “{subject}” to change")
    if subject in ("check", "day"):
        day, _, timing = key.partition(" ")
        date.fromisoformat(day)
        if subject == "check" and timing not in TIMINGS:
            raise ValueError(f"“{timing}” is no time of a check")
    if before is not None and model is not None:
        check(context, in_record(model).table, before)
    elif before is not None:
        DOCUMENTS[subject](before)


def _call(context: Context, document: Mapping[str, Any]) -> None:
    issued_call(CallRow(player_id=context.player.id, **as_values(CallRow, document)))  # fails where it cannot be said
    for each in document["findings"]:
        finding = kept_rows.finding_from(each)
        if finding.code != "faint":
            reason(finding)


def _own_file(context: Context, document: Mapping[str, Any]) -> None:
    """A sound or picture that lies here already belongs to whoever made it here."""
    if document["blob"] and blobs.owners(context.db, document["blob"]) - {context.player.id}:
        raise ValueError("its file is another player’s")


def _probe(context: Context, document: Mapping[str, Any]) -> None:
    """A probe whose task or points nobody knows here could not be shown again."""
    _own_file(context, document)
    data = document["data"]
    if document["kind"] == "pressure" and data["task"] not in pressure_tasks():
        raise ValueError(f"there is no task “{data['task']}”")
    if document["kind"] == "range" and data["movement"] not in movements():
        raise ValueError(f"there is no movement “{data['movement']}”")
    if document["kind"] == "posture":
        template = templates().get(data["template"])
        if template is None or {p.id for p in template.points} != set(data["points"]):
            raise ValueError(f"its points are not those of “{data['template']}”")


def _measurement(context: Context, document: Mapping[str, Any]) -> None:
    kind = measure_of(document["method"])
    if document["version"] > kind.version:
        raise ValueError(f"“{kind.method}” of version {document['version']} is newer than what is known here")
    if document["version"] == kind.version:
        if document["unit"] != kind.unit:
            raise ValueError(
                f"“{kind.method}” ({kind.meaning}) is measured in {kind.unit or 'no unit'}, not in {document['unit']}"
            )
        kind.check(document["value"])


def _habit(context: Context, document: Mapping[str, Any]) -> None:
    answers.check_habit(document["key"], document["document"])


CHECKS = {
    "habits": _habit,
    "measurements": _measurement,
    "profile": _profile,
    "own_items": _own_item,
    "changes": _change,
    "calls": _call,
    "takes": _own_file,
    "probes": _probe,
}
