"""Bringing a log: read in the background, shown before anything is saved, then saved all or nothing."""

import json
import shutil
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from pathlib import Path
from typing import Any
from uuid import uuid4

from sqlalchemy.exc import IntegrityError

from chirotend.core.errors import MethodError
from chirotend.core.record import Check, DayNote, Record, Session, overlap
from chirotend.core.texts import clean
from chirotend.formats import csv_log, json_record
from chirotend.formats.cells import UnreadableFile
from chirotend.services.desk import Desk, NotThere, Refused
from chirotend.services.record import exports
from chirotend.services.record.kept import faults
from chirotend.store import jobs
from chirotend.store.models import JobRow

SHOWN_BAD = 200
NAMES = "names.json"
Step = Callable[[int], None]


@dataclass
class Plan:
    """What an import would write: new documents, what is there already, what cannot be taken."""

    sessions: list[Session]
    checks: list[Check]
    joined: list[Check]
    notes: list[Any]
    known: dict[str, int]
    differing_days: list[str]
    #: known sessions of which the file says something else, in words; they stay as they are
    differing_sessions: list[str]
    bad: list[str]
    settings: dict[str, Any] | None = None
    kept: dict[str, list[dict[str, Any]]] | None = None

    def summary(self) -> dict[str, Any]:
        days = [d.day for d in (*self.sessions, *self.checks, *self.joined, *self.notes)]
        return {
            "sessions": len(self.sessions),
            "blocks": sum(len(s.blocks) for s in self.sessions),
            "checks": len(self.checks),
            "joined": len(self.joined),
            "days": len(self.notes),
            "symptoms": sum(len(c.entries) for c in (*self.checks, *self.joined)),
            "known": self.known,
            "differing_days": self.differing_days[:SHOWN_BAD],
            "differing_sessions": self.differing_sessions[:SHOWN_BAD],
            "bad": self.bad[:SHOWN_BAD],
            "bad_count": len(self.bad),
            "first": min(days).isoformat() if days else None,
            "last": max(days).isoformat() if days else None,
            "everything": self.kept is not None,
        }


def begin(desk: Desk, files: Sequence[tuple[str, bytes]], uploads: Path) -> str:
    """Keep the uploaded files and queue the reading. Returns the job's id."""
    files = [(name, data) for name, data in files if name]
    if not files:
        raise Refused("files", "Choose a file first: sessions.csv, symptoms.csv, days.csv, or a JSON export.")
    if all(not data for _, data in files):
        raise Refused(
            "files", f"{files[0][0][:60]} is empty. Choose a file with at least a first line of column names."
        )
    uid = uuid4().hex
    folder = uploads / uid
    folder.mkdir(mode=0o700, parents=True)
    for number, (_, data) in enumerate(files):
        (folder / str(number)).write_bytes(data)
    names = [Path(clean(name)).name[:80] or f"file {n}" for n, (name, _) in enumerate(files, start=1)]
    (folder / NAMES).write_text(json.dumps(names), encoding="utf-8")
    return jobs.queue(desk.db, desk.player.id, "import", {}, desk.now, uid)


def confirm(desk: Desk, uid: str, leave_bad_out: bool) -> None:
    """Queue the saving of what was shown. Bad rows must be left out expressly."""
    row = _job(desk, uid)
    if row.state != "ready":
        raise Refused("job", "This import is not waiting for an answer.")
    if row.result.get("bad_count") and not leave_bad_out:
        raise Refused("leave_bad_out", "Some rows cannot be taken. Mend the file, or tick that they may be left out.")
    row.state = "saving"


def cancel(desk: Desk, uid: str, uploads: Path) -> None:
    """Stop an import; nothing of it is saved."""
    row = _job(desk, uid)
    if row.state in ("waiting", "ready"):
        row.state = "cancelled"
        shutil.rmtree(uploads / uid, ignore_errors=True)
    row.cancel = True


def job_of(desk: Desk, uid: str) -> JobRow:
    return _job(desk, uid)


def _job(desk: Desk, uid: str) -> JobRow:
    row = jobs.job(desk.db, desk.player.id, uid)
    if row is None:
        raise NotThere(uid)
    return row


def uploaded(folder: Path) -> list[tuple[str, bytes]]:
    """Return the files of an upload with the names they were brought by; those names are never names of files here."""
    names = json.loads((folder / NAMES).read_text(encoding="utf-8"))
    return [(str(name), (folder / str(number)).read_bytes()) for number, name in enumerate(names)]


@dataclass(frozen=True)
class Read:
    """What the files of an upload hold, before it is compared with the record."""

    record: Record
    bad: tuple[str, ...] = ()
    settings: dict[str, Any] | None = None
    kept: dict[str, list[dict[str, Any]]] | None = None


def read(desk: Desk, folder: Path, step: Step) -> Read:
    """Read the files of `folder`. `step(rows)` may raise to stop."""
    files = uploaded(folder)
    if len(files) == 1 and files[0][1].lstrip()[:1] == b"{":
        return _read_everything(desk, *files[0])
    draft = csv_log.Draft()
    order = {"sessions": 0, "symptoms": 1, "days": 2}
    kinds = [(csv_log.which_file(data, name), name, data) for name, data in files]
    for kind, name, data in sorted(kinds, key=lambda k: order.get(k[0], 9)):
        if not kind:
            raise UnreadableFile(
                f"{name} is none of sessions.csv, symptoms.csv, days.csv: its first line names no column of theirs."
            )
        csv_log.read(draft, kind, data, name, desk.zone, desk.today, step)
    return Read(draft.record, tuple(str(b) for b in draft.bad))


def _read_everything(desk: Desk, name: str, data: bytes) -> Read:
    settings, record, kept = json_record.read(data, name)
    try:
        exports.check_settings(desk, settings)
    except Refused as error:
        raise UnreadableFile(f"{name}, player: {error.sentence}") from error
    bad = next(faults(desk, kept), None)
    if bad is not None:
        raise UnreadableFile(f"{name}, {bad}. Nothing of it was taken.")
    return Read(record, (), settings, kept)


def compared(desk: Desk, found: Read) -> Plan:
    """Compare what was read with the record as it stands now."""
    plan = _compared(desk, found.record, list(found.bad))
    if found.kept is not None and exports.is_empty(desk):
        plan.settings, plan.kept = found.settings, found.kept
    return plan


def _compared(desk: Desk, record: Record, bad: list[str]) -> Plan:
    written: list[Session | Check | DayNote] = [*record.sessions, *record.checks, *record.notes]
    days = [d.day for d in written]
    if not days:
        return Plan([], [], [], [], {"sessions": 0, "checks": 0, "days": 0}, [], [], bad)
    there = desk.store.record(min(days) - timedelta(days=1), max(days) + timedelta(days=1))
    known = {"sessions": 0, "checks": 0, "days": 0}
    sessions, others = _new_sessions(record.sessions, there, known, bad)
    checks, joined = _new_checks(record.checks, there, known)
    notes_there = {n.day: n for n in there.notes}
    known["days"] = sum(notes_there.get(n.day) == n for n in record.notes)
    differing = [n.day.isoformat() for n in record.notes if n.day in notes_there and notes_there[n.day] != n]
    notes = [n for n in record.notes if n.day not in notes_there]
    return Plan(sessions, checks, joined, notes, known, differing, others, bad)


def _new_sessions(
    found: Sequence[Session], there: Record, known: dict[str, int], bad: list[str]
) -> tuple[list[Session], list[str]]:
    """Return the sessions that are not there, and what the file says otherwise of those that are."""
    uids = {s.uid: s for s in there.sessions}
    contents: dict[tuple[object, ...], Session] = {
        (s.day, s.start_utc, s.blocks): s for s in there.sessions if s.start_utc
    }
    near: dict[date, list[Session]] = {}
    for s in there.sessions:
        near.setdefault(s.day, []).append(s)
    new, others = [], []
    for session in found:
        old = uids.get(session.uid) or contents.get((session.day, session.start_utc, session.blocks))
        if old is not None:
            known["sessions"] += 1
            others += [f"{session.day}: {said}" for said in _otherwise(old, session)]
            continue
        around = [s for n in (-1, 0, 1) for s in near.get(session.day + timedelta(days=n), ())]
        clash = overlap(session, around)
        if clash is None:
            new.append(session)
        else:
            bad.append(
                f"{session.day}: {session.minutes:g} minutes overlap a session written before "
                f"({clash.minutes:g} minutes) — change its start, or delete the other first"
            )
    return new, others


def _otherwise(old: Session, new: Session) -> list[str]:
    """What a file says of a known session that the record does not; where it says nothing it says nothing else."""
    said = []
    if new.effort is not None and new.effort != old.effort:
        said.append(f"effort {'not said' if old.effort is None else f'{old.effort:g}'} → {new.effort:g}")
    if round(new.minutes, 3) != round(old.minutes, 3):
        said.append(f"{old.minutes:g} → {new.minutes:g} minutes")
    words = ((old.went_well, new.went_well), (old.was_hard, new.was_hard), (old.question, new.question))
    said += [f"“{then[:40]}” → “{now[:40]}”" for then, now in words if now and now != then]
    return said


def _new_checks(found: Sequence[Check], there: Record, known: dict[str, int]) -> tuple[list[Check], list[Check]]:
    written = {(c.day, c.timing): c for c in there.checks}
    new, joined = [], []
    for check in found:
        old = written.get((check.day, check.timing))
        if old is None:
            new.append(check)
            continue
        marked = {(e.zone, e.side, e.kind) for e in old.entries}
        more = tuple(e for e in check.entries if (e.zone, e.side, e.kind) not in marked)
        flags = tuple(f for f in check.red_flags if f not in old.red_flags)
        if more or flags:
            joined.append(replace(old, entries=(*old.entries, *more), red_flags=(*old.red_flags, *flags)))
        else:
            known["checks"] += 1
    return new, joined


def save(desk: Desk, plan: Plan, step: Step) -> None:
    """Write a plan; the caller commits, or rolls back when `step` raises."""
    for check in plan.joined:
        desk.store.drop_check(check.day, check.timing)
    try:
        desk.store.add_all(plan.sessions, [*plan.checks, *plan.joined], plan.notes, step)
        if plan.kept is not None:
            exports.take_over(desk, plan.settings or {}, plan.kept)
    except (KeyError, ValueError, MethodError, IntegrityError) as error:
        raise UnreadableFile(f"The export is not whole: {error}.") from error
