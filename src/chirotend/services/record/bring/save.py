"""Writing what was shown, all or nothing, and taking it back for thirty days."""

from collections.abc import Callable, Sequence
from datetime import date, timedelta
from functools import partial
from typing import Any

from sqlalchemy.exc import IntegrityError

from chirotend.core.errors import MethodError
from chirotend.formats import documents, json_record
from chirotend.formats.cells import UnreadableFile
from chirotend.services.context import Context, NotThere
from chirotend.services.record import corrections, exports
from chirotend.services.record.bring import answers, whole
from chirotend.services.record.bring.compare import Plan
from chirotend.services.record.bring.read import Read
from chirotend.store.models import BroughtRow, ChangeRow
from chirotend.store.personal_tables import tables_in_record

#: what marks a diary among the things brought
DIARY = "diary"
TAKEN_BACK_FOR = timedelta(days=30)


def save(context: Context, plan: Plan, step: Callable[[int], None] = lambda rows: None) -> int:
    """Write a plan; the caller commits, or rolls back when `step` raises. Returns the deed of its changes, 0 = none."""
    for check in plan.joined:
        context.store.drop_check(check.day, check.timing)
    for note in plan.joined_notes:
        context.store.drop_note(note.day)
    try:
        context.store.add_all(plan.sessions, [*plan.checks, *plan.joined], [*plan.notes, *plan.joined_notes], step)
        with corrections.as_one(context):
            for change in plan.changes:
                if change.taken:
                    corrections.put(context, change.document)
            act = context.deed[0]
        if plan.kept is not None:
            exports.take_over(context, plan.settings or {}, plan.kept)
    except (KeyError, ValueError, MethodError, IntegrityError) as error:
        raise UnreadableFile(f"The export is not whole: {error}.") from error
    return act


def bring(
    context: Context, uid: str, names: Sequence[str], plan: Plan, found: Read, step: Callable[[int], None]
) -> None:
    """Save a plan and remember it: what taking it back needs, and how she keeps her diary."""
    document = _taken_back_with(context, plan)
    if plan.replaces:
        document |= {"whole": exports.everything(context), "files": sorted(context.store.file_names())}
        context.store.drop_record()
    act = save(context, plan, step)
    if plan.added is not None:
        document["rows"] = whole.add(context, plan.added.tables)
    row = {"uid": uid, "at_utc": context.now, "act": act, "names": ", ".join(names)[:400], "document": document}
    context.store.repository(BroughtRow).put(row)
    for table in found.tables:
        chosen = {q.code: q.chosen for q in table.diary.questions}
        answers.remember(context, table.shape, table.match.habits(table.diary.columns, chosen))


def _taken_back_with(context: Context, plan: Plan) -> dict[str, Any]:
    """What taking a plan back needs: the keys of what it writes anew, and what stood before in what it joins to."""
    before = (context.store.check(check.day, check.timing) for check in plan.joined)
    notes = (context.store.note(note.day) for note in plan.joined_notes)
    return {
        DIARY: True,
        "sessions": [s.uid for s in plan.sessions],
        "checks": [[c.day.isoformat(), c.timing] for c in plan.checks],
        "days": [n.day.isoformat() for n in plan.notes],
        "before": [documents.check_document(check) for check in before if check is not None],
        "notes_before": [documents.note_document(note) for note in notes if note is not None],
        "rows": {},
    }


def brought(context: Context) -> list[Any]:
    """Return the imports that can still be taken back (uid, at_utc, names), newest first."""
    since = context.now - TAKEN_BACK_FOR
    repository = context.store.repository(BroughtRow)
    rows = repository.all(BroughtRow.at_utc > since, order=(BroughtRow.at_utc.desc(),))
    return [row for row in rows if DIARY in row.document]


def take_back(context: Context, uid: str) -> int:
    """Take an import back: what it wrote goes, what it changed is as before. Returns how many entries stay, because
    they were changed since. `NotThere` when it is not hers, or too old."""
    repository = context.store.repository(BroughtRow)
    row = repository.get(uid)
    if row is None or DIARY not in row.document or context.now - row.at_utc > TAKEN_BACK_FOR:
        raise NotThere(uid)
    stay = _restore(context, row.document["whole"]) if "whole" in row.document else _take_out(context, row)
    repository.drop(uid)
    return stay


def _restore(context: Context, text: str) -> int:
    """Put the record back that was replaced as a whole."""
    settings, record, kept = json_record.read_record(text.encode(), "the record before", tables_in_record())
    context.store.drop_record()
    plan = Plan(list(record.sessions), list(record.checks), list(record.notes), settings=settings, kept=kept)
    save(context, plan)
    return 0


def _take_out(context: Context, row: BroughtRow) -> int:
    """Take out what an import wrote and put back what it changed; returns how many entries were changed since."""
    document = row.document
    later = (ChangeRow.at_utc >= row.at_utc, ChangeRow.act != row.act)
    touched = {f"{c.subject} {c.key}" for c in context.store.repository(ChangeRow).some(("subject", "key"), *later)}
    written: list[tuple[str, Callable[[], None]]] = [
        *((f"session {uid}", partial(context.store.drop_session, uid)) for uid in document["sessions"]),
        *(
            (f"check {day} {timing}", partial(context.store.drop_check, date.fromisoformat(day), timing))
            for day, timing in document["checks"]
        ),
        *((f"day {day}", partial(context.store.drop_note, date.fromisoformat(day))) for day in document["days"]),
        *(
            (f"check {check.day} {check.timing}", partial(context.store.put_check, check))
            for check in map(documents.check_from, document["before"])
        ),
        *(
            (f"day {note.day}", partial(context.store.put_note, note))
            for note in map(documents.note_from, document["notes_before"])
        ),
    ]
    for key, back in written:
        if key not in touched:
            back()
    whole.take_out(context, document["rows"])
    stay = sum(key in touched for key, _ in written)
    return stay + (corrections.put_back(context, row.act, touched) if row.act else 0)
