"""The files of an import, kept beside the database until they are saved or left, and its job."""

import json
import shutil
from collections.abc import Sequence
from pathlib import Path
from uuid import uuid4

from chirotend.core.texts import clean
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.store import jobs
from chirotend.store.models import JobRow

NAMES = "names.json"
IMPORT = "import"
#: states in which an import waits for her
OPEN = ("waiting", "running", "ready", "saving")


def put(files: Sequence[tuple[str, bytes]], uploads: Path) -> tuple[str, list[str]]:
    """Keep the files that were brought; returns the id of their import and their names."""
    files = [(name, data) for name, data in files if name]
    if not files:
        raise FieldError("files", "Choose a file first: your diary as a spreadsheet, CSV or JSON.")
    if all(not data for _, data in files):
        raise FieldError("files", f"{files[0][0][:60]} is empty. Choose a file with at least one row.")
    uid = uuid4().hex
    folder = uploads / uid
    folder.mkdir(mode=0o700, parents=True)
    for number, (_, data) in enumerate(files):
        (folder / str(number)).write_bytes(data)
    names = [Path(clean(name)).name[:80] or f"file {n}" for n, (name, _) in enumerate(files, start=1)]
    (folder / NAMES).write_text(json.dumps(names), encoding="utf-8")
    return uid, names


def begin(context: Context, uid: str, names: Sequence[str]) -> None:
    """Queue the reading of files that were kept."""
    jobs.queue(context.db, context.player.id, IMPORT, {"names": list(names)}, context.now, uid)


def uploaded(folder: Path) -> list[tuple[str, bytes]]:
    """Return the files of an upload with the names they were brought by; those names are never names of files here."""
    names = json.loads((folder / NAMES).read_text(encoding="utf-8"))
    return [(str(name), (folder / str(number)).read_bytes()) for number, name in enumerate(names)]


def job_of(context: Context, uid: str) -> JobRow:
    """Return the job of an import; `NotThere` when it is not hers."""
    row = jobs.job(context.db, context.player.id, uid)
    if row is None or row.kind != IMPORT:
        raise NotThere(uid)
    return row


def pending(context: Context) -> list[JobRow]:
    """Return the imports that wait for her, oldest first."""
    return context.store.repository(JobRow).all(
        JobRow.kind == IMPORT, JobRow.state.in_(OPEN), order=(JobRow.created_utc,)
    )


def cancel(context: Context, uid: str, uploads: Path) -> None:
    """Stop an import; nothing of it is saved."""
    row = job_of(context, uid)
    if row.state in ("waiting", "ready"):
        row.state = "cancelled"
        shutil.rmtree(uploads / uid, ignore_errors=True)
    row.cancel = True
