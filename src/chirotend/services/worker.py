"""One thread that works through the job table: progress while it runs, stopped on request, safe to restart."""

import logging
import shutil
import threading
from collections.abc import Callable
from contextlib import AbstractContextManager
from datetime import datetime
from pathlib import Path

from sqlalchemy.orm import Session as Db

from chirotend.formats.cells import UnreadableFile
from chirotend.services import imports
from chirotend.services.desk import Desk
from chirotend.store import jobs
from chirotend.store.models import JobRow, PlayerRow

log = logging.getLogger(__name__)


class Cancelled(Exception):
    """The player stopped the job."""


class Worker:
    """Runs jobs one after another. `open_db` gives a fresh database session, `clock` the time."""

    def __init__(
        self, open_db: Callable[[], AbstractContextManager[Db]], clock: Callable[[], datetime], uploads: Path
    ) -> None:
        self.open_db, self.clock, self.uploads = open_db, clock, uploads
        self.progress: dict[str, tuple[int, int]] = {}
        self.stopped: set[str] = set()
        self._wake = threading.Event()

    def recover(self) -> None:
        """Put back to waiting what a stopped server left half-way."""
        with self.open_db() as db:
            jobs.wake_interrupted(db)
            db.commit()

    def start(self) -> None:
        """Recover, and begin to work in the background."""
        self.recover()
        threading.Thread(target=self._loop, name="jobs", daemon=True).start()

    def wake(self) -> None:
        self._wake.set()

    def stop_job(self, uid: str) -> None:
        self.stopped.add(uid)

    def _loop(self) -> None:
        while True:
            while self.run_one():
                pass
            self._wake.wait(timeout=30)
            self._wake.clear()

    def run_one(self) -> bool:
        """Run the next waiting job to its end or its question; returns False when none waits."""
        with self.open_db() as db:
            row = jobs.next_waiting(db)
            if row is None:
                return False
            player = db.get_one(PlayerRow, row.player_id)
            saving = row.state == "saving"
            if not saving:
                row.state = "running"
            uid, folder = row.uid, self.uploads / row.uid
            if row.cancel:
                self.stopped.add(uid)
            db.commit()
            desk = Desk(db, player, self.clock())
            try:
                state, result = self._work(desk, uid, folder, saving)
            except Cancelled:
                db.rollback()
                state, result = "cancelled", {}
            except UnreadableFile as error:
                db.rollback()
                state, result = "failed", {"error": str(error)}
            except Exception:
                db.rollback()
                log.exception("job %s failed", uid)
                state, result = (
                    "failed",
                    {"error": f"Something went wrong here; nothing was saved. Reference {uid[:8]}."},
                )
            row = db.get_one(JobRow, (player.id, uid))
            row.state, row.result = state, {**row.result, **result}
            db.commit()
            self.progress.pop(uid, None)
            if state != "ready":
                shutil.rmtree(folder, ignore_errors=True)
            return True

    def _work(self, desk: Desk, uid: str, folder: Path, saving: bool) -> tuple[str, dict[str, object]]:
        lines = sum(p.read_bytes().count(b"\n") for p in folder.iterdir())
        self.progress[uid] = (0, lines * (2 if saving else 1))

        def step(rows: int) -> None:
            done, total = self.progress[uid]
            self.progress[uid] = (min(done + rows, total), total)
            if uid in self.stopped:
                raise Cancelled

        step(0)
        plan = imports.planned(desk, folder, step)
        if not saving:
            return "ready", plan.summary()
        imports.save(desk, plan, step)
        step(0)
        desk.db.commit()
        return "done", {}
