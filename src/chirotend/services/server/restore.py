"""Going back to a copy: checked first, the present database set aside, never two logs beside one file."""

import fcntl
import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from chirotend.services.server.database import CannotOpen
from chirotend.store import copies
from chirotend.store import engine as store

LOCK = "serving.lock"


@dataclass(frozen=True)
class Restored:
    """What a restore did: where the present database was set aside, and what of it the copy does not hold."""

    set_aside: Path | None
    older: str


@contextmanager
def serving(folder: Path) -> Iterator[None]:
    """Hold that a server uses `folder`, so that nothing is put back under it."""
    folder.mkdir(parents=True, exist_ok=True)
    with (folder / LOCK).open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_SH)
        yield


def restore(folder: Path, file: Path, now: datetime) -> Restored:
    """Put the copy `file` in the place of the database of `folder`; `CannotOpen` says what stands against it.

    Killed at any point, either the old database stands, whole, or the copy does; the old one is set aside in any case.
    """
    target = store.database_file(store.database_url(folder))
    if target is None:
        raise CannotOpen("This database has tools of its own to go back to a copy with.")
    if not file.is_file():
        raise CannotOpen(f"There is no file {file}.")
    if broken := copies.file_faults(file):
        raise CannotOpen(f"{file} is no whole database: {broken[0]}. Nothing was changed.")
    if not store.known_revision(copies.revision_of(file)):
        raise CannotOpen(f"{file} is no database of this program, or of a newer version of it. Nothing was changed.")
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    with (folder / LOCK).open("w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            raise CannotOpen("A server is using this folder. Stop it, then go back to the copy.") from None
        part = target.with_suffix(".restoring")
        copies.make_private(part)
        shutil.copyfile(file, part)
        aside = copies.set_aside(target, now) if target.exists() else None
        older = _older(file, aside)
        copies.put_in_place(part, target)
        _bring_sounds(file, folder)
    return Restored(aside, older)


def _older(file: Path, aside: Path | None) -> str:
    """Say in words what stands in the database that was set aside and not in the copy."""
    then, there = copies.newest_day(file), copies.newest_day(aside) if aside else None
    made = f"The copy’s newest entry is of {then}." if then else "The copy holds no entry."
    if there is None or (then and there <= then):
        return made
    return f"{made} What was written after it, up to {there}, is in the database that was set aside."


def _bring_sounds(file: Path, folder: Path) -> None:
    """Put back the recordings that lie beside the copy and are not here any more."""
    beside = file.with_suffix(".blobs")
    if beside.is_dir():
        shutil.copytree(beside, folder / "blobs", dirs_exist_ok=True)
