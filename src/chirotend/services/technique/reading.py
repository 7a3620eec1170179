"""Reading what a probe was brought: at once when it is small, as a job with progress and cancel when it is long."""

from collections.abc import Callable
from pathlib import Path

from chirotend.formats.cells import UnreadableFile
from chirotend.services.desk import Desk, NotThere, Refused
from chirotend.services.technique import evenness, plugged, probes, traces
from chirotend.store import jobs
from chirotend.store.models import JobRow, ProbeRow

#: a file up to this size is read while she waits: a second or two
AT_ONCE_BYTES = 12 * 1024 * 1024
#: by kind of probe: how its file is read, and the field of the form it came by
READERS: dict[str, Callable[[Desk, Path, str, Callable[[float], None]], None]] = {
    evenness.KIND: evenness.listen,
    traces.KIND: traces.read,
    plugged.KIND: plugged.read,
}
FIELDS = {evenness.KIND: "sound", traces.KIND: "trace"}


def read(desk: Desk, folder: Path, kind: str, uid: str, step: Callable[[float], None]) -> None:
    """Read the file of a probe; `UnreadableFile` says what is wrong with it."""
    READERS[kind](desk, folder, uid, step)


def begin(desk: Desk, folder: Path, kind: str, uid: str) -> str:
    """Read the file of a probe at once (returns ""), or queue a job for it (returns its id).

    `Refused` when it cannot be read: then nothing of the probe stays.
    """
    row = desk.row(ProbeRow, uid)
    if row.bytes > AT_ONCE_BYTES:
        return jobs.queue(desk.db, desk.player.id, kind, {"probe": uid}, desk.now)
    try:
        read(desk, folder, kind, uid, lambda share: None)
    except UnreadableFile as error:
        take_back(desk, folder, uid)
        raise Refused(FIELDS[kind], str(error)) from error
    return ""


def take_back(desk: Desk, folder: Path, uid: str) -> None:
    """Keep nothing of a probe whose file could not be read."""
    row = desk.store.shelf(ProbeRow).get(uid)
    if row is not None:
        name = row.blob
        desk.store.shelf(ProbeRow).drop(uid)
        probes.drop_file(desk, folder, name)


def job_of(desk: Desk, uid: str) -> JobRow:
    """Return a job of hers that reads a probe's file; `NotThere` for any other."""
    row = jobs.job(desk.db, desk.player.id, uid)
    if row is None or row.kind not in READERS:
        raise NotThere(uid)
    return row


def cancel(desk: Desk, uid: str) -> None:
    """Stop a job and take back what was brought for it."""
    row = job_of(desk, uid)
    if row.state == "waiting":
        row.state = "cancelled"
    row.cancel = True
    if row.state != "done":
        probes.delete(desk, str(row.result["probe"]))
