"""Reading what a probe was brought, before anything is changed: at once when it is small, as a job when it is long."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Any

from chirotend.formats.cells import UnreadableFile
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.record import corrections
from chirotend.services.technique import plugged, probes
from chirotend.services.technique.probes import Brought, File
from chirotend.services.technique.registry import READERS
from chirotend.store import jobs
from chirotend.store.models import JobRow, ProbeRow

#: a file up to this size is read while she waits: a second or two
AT_ONCE_BYTES = 12 * 1024 * 1024
#: CPU time a file may take: while she waits, and as a job
AT_ONCE_S, AS_A_JOB_S = 30, 900


@dataclass(frozen=True)
class ReadFile:
    """A file that was brought, and what was found in it; None = it is read in the background."""

    kind: str
    brought: Brought
    found: Any | None


def bring(
    context: Context, folder: Path, kind: str, typed: Mapping[str, str], stream: IO[bytes] | None, file_name: str
) -> ReadFile:
    """Put a file into the folder, and read it when it is small; nothing is changed yet.

    `FieldError` when it cannot be read: then nothing of it stays.
    """
    how = READERS[kind]
    brought = how.bring(context, folder, typed, stream, file_name)
    if brought.file.size > AT_ONCE_BYTES:
        return ReadFile(kind, brought, None)
    try:
        return ReadFile(kind, brought, how.read(context, folder, brought.file, AT_ONCE_S, None))
    except UnreadableFile as error:
        probes.drop_file(context, folder, brought.file.name)
        raise FieldError(how.field, str(error)) from error


def keep(context: Context, read: ReadFile) -> tuple[str, str]:
    """Keep a file with what was found in it, or queue a job that reads it; returns the ids of probe and job ("")."""
    with corrections.as_one(context):
        uid = probes.begin_with_file(context, read.brought.about, read.brought.data, read.brought.file)
        if read.found is not None:
            READERS[read.kind].keep(context, uid, read.found)
            return uid, ""
    return uid, jobs.queue(context.db, context.player.id, read.kind, {"probe": uid}, context.now)


def run_job(context: Context, folder: Path, kind: str, uid: str, step: Callable[[float], None]) -> None:
    """Read the file or the device of a probe and keep what is found; `UnreadableFile` says what is wrong with it."""
    if kind == jobs.DEVICE:
        plugged.read_device(context, folder, uid, step)
        return
    row = context.row(ProbeRow, uid)
    found = READERS[kind].read(context, folder, File(row.blob, row.bytes, row.media), AS_A_JOB_S, step)
    READERS[kind].keep(context, uid, found)


def take_back(context: Context, folder: Path, uid: str) -> None:
    """Keep nothing of a probe whose file could not be read."""
    row = context.store.repository(ProbeRow).get(uid)
    if row is not None:
        name = row.blob
        context.store.repository(ProbeRow).drop(uid)
        probes.drop_file(context, folder, name)


def job_of(context: Context, uid: str) -> JobRow:
    """Return a job of hers that reads a probe's file; `NotThere` for any other."""
    row = jobs.job(context.db, context.player.id, uid)
    if row is None or row.kind not in {*READERS, jobs.DEVICE}:
        raise NotThere(uid)
    return row


def cancel(context: Context, uid: str) -> None:
    """Stop a job and take back what was brought for it."""
    row = job_of(context, uid)
    if row.state == "waiting":
        row.state = "cancelled"
    row.cancel = True
    if row.state != "done":
        probes.delete(context, str(row.result["probe"]))
