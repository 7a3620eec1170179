"""Two threads that work through the job table: progress while it runs, stopped on request, safe to restart.

One reads sensors, which takes as long as somebody plays; the other reads files, and waits for no sensor.
"""

import logging
import shutil
import threading
from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session as Db

from chirotend.core.memos import Memo
from chirotend.formats.cells import UnreadableFile
from chirotend.services.context import Context
from chirotend.services.record.bring import jobs as imports
from chirotend.services.record.bring import uploads
from chirotend.services.record.bring.answers import Answers
from chirotend.services.record.bring.read import Read, understood
from chirotend.services.record.bring.save import TAKEN_BACK_FOR
from chirotend.services.record.corrections import UNDO_FOR
from chirotend.services.server.database import trouble
from chirotend.services.technique import reading
from chirotend.store import blobs as files
from chirotend.store import jobs
from chirotend.store.models import JobRow, PlayerRow

log = logging.getLogger(__name__)
PAUSE_S = 30
#: what stays of a job's result when it is over, beside how it ended
LASTING = ("names", "probe")
#: a file that nothing names is swept once it is so old: one that is being brought is not named yet
UNNAMED_FOR_S = 3600.0


class Cancelled(Exception):
    """The player stopped the job."""


class Worker(Memo):
    """Runs jobs one after another. `open_db` gives a fresh database session, `clock` the time."""

    def __init__(self, open_db: Callable[[], Db], clock: Callable[[], datetime], uploads: Path, blobs: Path) -> None:
        super().__init__()
        self.open_db, self.clock, self.uploads, self.blobs = open_db, clock, uploads, blobs
        self.progress: dict[str, tuple[int, int]] = {}
        self.stopped: set[str] = set()
        #: what the newest import that was shown holds, until it is saved
        self.read: dict[str, tuple[Answers, Read]] = {}
        self._wake = threading.Event()

    def recover(self) -> None:
        """Put back to waiting what a stopped server left half-way, and clear away what nothing names."""
        with self.open_db() as db:
            jobs.wake_interrupted(db)
            db.commit()
            files.sweep(self.blobs, files.named(db), UNNAMED_FOR_S)

    def start(self) -> None:
        """Recover, and begin to work in the background."""
        self.recover()
        for which in (jobs.OF_DEVICES, jobs.OF_FILES):
            threading.Thread(target=self._loop, args=(which,), name=f"jobs {which}", daemon=True).start()

    def wake(self) -> None:
        self._wake.set()

    def stop_job(self, uid: str) -> None:
        self.stopped.add(uid)
        self.read.pop(uid, None)

    def forget(self) -> None:
        self.read.clear()

    def _loop(self, which: str) -> None:
        """Work for ever: a database that does not answer now is asked again, it ends nothing."""
        while True:
            try:
                while self.run_one(which):
                    pass
                self.tidy()
            except Exception:
                log.exception("the worker goes on")
            self._wake.wait(timeout=PAUSE_S)
            self._wake.clear()

    def tidy(self) -> None:
        """Remove what deletes and imports had kept for taking them back, once it is too old for that."""
        with self.open_db() as db:
            if jobs.forget_brought(db, self.clock() - TAKEN_BACK_FOR):
                db.commit()
            if jobs.forget_deleted(db, self.clock() - UNDO_FOR):
                db.commit()
                files.sweep(self.blobs, files.named(db), UNNAMED_FOR_S)

    def run_one(self, which: str = "") -> bool:
        """Run the next waiting job, of devices or files ("" = either), to its end or its question; returns False when
        none waits."""
        with self.open_db() as db:
            row = jobs.next_waiting(db, which)
            if row is None:
                return False
            player = db.get_one(PlayerRow, row.player_id)
            saving = row.state == "saving"
            if not saving:
                row.state = "running"
            uid, kind, folder = row.uid, row.kind, self.uploads / row.uid
            if row.cancel:
                self.stopped.add(uid)
            db.commit()
            context = Context(db, player, self.clock())
            try:
                state, result = (
                    self._work(context, uid, folder, saving)
                    if kind == uploads.IMPORT
                    else self._read_probe(context, row)
                )
            except Cancelled:
                db.rollback()
                state, result = "cancelled", {}
            except UnreadableFile as error:
                db.rollback()
                state, result = "failed", {"error": str(error)}
            except DatabaseError as error:
                db.rollback()
                log.exception("job %s failed", uid)
                found = trouble(error)
                state, result = "failed", {"error": found.sentence if found else _fault(uid)}
            except OSError as error:
                db.rollback()
                log.exception("job %s failed", uid)
                state, result = "failed", {"error": f"The files could not be read again: {error.strerror}."}
            except Exception:
                db.rollback()
                log.exception("job %s failed", uid)
                state, result = "failed", {"error": _fault(uid)}
            self._end(db, player.id, uid, state, result)
            if state != "ready":
                shutil.rmtree(folder, ignore_errors=True)
            return True

    def _end(self, db: Db, player_id: int, uid: str, state: str, result: dict[str, object]) -> None:
        """Write how a job ended; a job whose record was deleted meanwhile has no end to write."""
        row = jobs.job(db, player_id, uid)
        if row is not None:
            # once it is over nothing of a diary stays with its job: what was deleted since would stand there still
            kept = row.result if state == "ready" else {k: row.result[k] for k in LASTING if k in row.result}
            row.state, row.result = state, {**kept, **result}
            db.commit()
        if state != "ready":
            self.read.pop(uid, None)
        self.progress.pop(uid, None)
        self.stopped.discard(uid)

    def _read_probe(self, context: Context, row: JobRow) -> tuple[str, dict[str, object]]:
        """Hear or read the file of a probe; one that cannot be goes, and its sentence stays with the job."""
        uid, probe = row.uid, str(row.result["probe"])
        self.progress[uid] = (0, 100)

        def step(share: float) -> None:
            self.progress[uid] = (round(100 * share), 100)
            if uid in self.stopped:
                raise Cancelled

        try:
            reading.run_job(context, self.blobs, row.kind, probe, step)
        except (UnreadableFile, Cancelled):
            context.db.rollback()
            reading.take_back(context, self.blobs, probe)
            context.db.commit()
            raise
        context.db.commit()
        return "done", {}

    def _work(self, context: Context, uid: str, folder: Path, saving: bool) -> tuple[str, dict[str, object]]:
        row = uploads.job_of(context, uid)
        files = uploads.uploaded(folder)
        lines = sum(data.count(b"\n") for _, data in files)
        self.progress[uid] = (0, lines * (2 if saving else 1))

        def step(rows: int) -> None:
            done, total = self.progress[uid]
            self.progress[uid] = (min(done + rows, total), total)
            if uid in self.stopped:
                raise Cancelled

        step(0)
        said = imports.answers_of(row)
        if not saving:
            found, told = imports.prepared(context, files, said, step)
            self.read = {uid: (said, found)}
            return "ready", told
        kept = self.read.pop(uid, None)
        # a restarted server reads the files again, and so does one that was answered since
        found = kept[1] if kept is not None and kept[0] == said else understood(context, files, said, step)
        told = imports.saved(context, row, found, step)
        step(0)
        context.db.commit()
        return "done", told


def _fault(uid: str) -> str:
    return f"Something went wrong here; nothing was saved. Reference {uid[:8]}."
