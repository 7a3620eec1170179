"""Writing what was shown, all or nothing, and taking it back for thirty days."""

from collections.abc import Callable, Sequence
from datetime import date, timedelta
from typing import Any

from sqlalchemy.exc import IntegrityError

from chirotend.core.errors import MethodError
from chirotend.formats import documents
from chirotend.formats.cells import UnreadableFile
from chirotend.services.desk import Desk, NotThere
from chirotend.services.record import corrections, exports
from chirotend.services.record.bring import answers
from chirotend.services.record.bring.compare import Plan
from chirotend.services.record.bring.read import Read
from chirotend.store.models import BroughtRow, ChangeRow

#: what marks a diary among the things brought
DIARY = "diary"
TAKEN_BACK_FOR = timedelta(days=30)


def save(desk: Desk, plan: Plan, step: Callable[[int], None] = lambda rows: None) -> int:
    """Write a plan; the caller commits, or rolls back when `step` raises. Returns the deed of its changes, 0 = none."""
    for check in plan.joined:
        desk.store.drop_check(check.day, check.timing)
    try:
        desk.store.add_all(plan.sessions, [*plan.checks, *plan.joined], plan.notes, step)
        with corrections.as_one(desk):
            for change in plan.changes:
                if change.taken:
                    corrections.put(desk, change.document)
            act = desk.deed[0]
        if plan.kept is not None:
            exports.take_over(desk, plan.settings or {}, plan.kept)
    except (KeyError, ValueError, MethodError, IntegrityError) as error:
        raise UnreadableFile(f"The export is not whole: {error}.") from error
    return act


def bring(desk: Desk, uid: str, names: Sequence[str], plan: Plan, found: Read, step: Callable[[int], None]) -> None:
    """Save a plan and remember it: what taking it back needs, and how she keeps her diary."""
    before = [documents.check_document(c) for p in plan.joined if (c := desk.store.check(p.day, p.timing))]
    act = save(desk, plan, step)
    if plan.kept is None:
        document = {
            DIARY: True,
            "sessions": [s.uid for s in plan.sessions],
            "checks": [[c.day.isoformat(), c.timing] for c in plan.checks],
            "days": [n.day.isoformat() for n in plan.notes],
            "before": before,
        }
        row = {"uid": uid, "at_utc": desk.now, "act": act, "names": ", ".join(names)[:400], "document": document}
        desk.store.shelf(BroughtRow).put(row)
    for table in found.tables:
        chosen = {q.code: q.chosen for q in table.diary.questions}
        answers.remember(desk, table.shape, table.match.habits(table.diary.columns, chosen))


def brought(desk: Desk) -> list[Any]:
    """Return the imports that can still be taken back (uid, at_utc, names), newest first."""
    since = desk.now - TAKEN_BACK_FOR
    shelf = desk.store.shelf(BroughtRow)
    rows = shelf.all(BroughtRow.at_utc > since, order=(BroughtRow.at_utc.desc(),))
    return [row for row in rows if DIARY in row.document]


def take_back(desk: Desk, uid: str) -> int:
    """Take an import back: what it wrote goes, what it changed is as before. Returns how many entries stay, because
    they were changed since. `NotThere` when it is not hers, or too old."""
    shelf = desk.store.shelf(BroughtRow)
    row = shelf.get(uid)
    if row is None or DIARY not in row.document or desk.now - row.at_utc > TAKEN_BACK_FOR:
        raise NotThere(uid)
    later = (ChangeRow.at_utc >= row.at_utc, ChangeRow.act != row.act)
    touched = {f"{c.subject} {c.key}" for c in desk.store.shelf(ChangeRow).some(("subject", "key"), *later)}
    document = row.document
    sessions = [s for s in document["sessions"] if f"session {s}" not in touched]
    checks = [(day, timing) for day, timing in document["checks"] if f"check {day} {timing}" not in touched]
    days = [day for day in document["days"] if f"day {day}" not in touched]
    for session in sessions:
        desk.store.drop_session(session)
    for day, timing in checks:
        desk.store.drop_check(date.fromisoformat(day), timing)
    for day in days:
        desk.store.drop_note(date.fromisoformat(day))
    stay = sum(map(len, (document["sessions"], document["checks"], document["days"])))
    stay -= len(sessions) + len(checks) + len(days)
    for check in map(documents.check_from, document["before"]):
        if f"check {check.day} {check.timing}" in touched:
            stay += 1
        else:
            desk.store.put_check(check)
    if row.act:
        stay += corrections.put_back(desk, row.act, touched)
    shelf.drop(uid)
    return stay
