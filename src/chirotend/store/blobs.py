"""Sounds, pictures and traces as files beside the database, each by a name that nobody can guess."""

import re
import time
from collections.abc import Collection, Iterable
from pathlib import Path
from secrets import token_hex
from typing import IO

from sqlalchemy import select
from sqlalchemy.orm import Session as Db

from chirotend.store.copies import make_private, put_in_place
from chirotend.store.models import BroughtRow, ChangeRow, ProbeRow, TakeRow

#: 64 hexadecimal digits; files of older versions are named so by the SHA-256 of what they hold
NAME = r"[0-9a-f]{64}"
#: the tables whose rows name a file
NAMING: tuple[type[TakeRow] | type[ProbeRow], ...] = (TakeRow, ProbeRow)


def put(folder: Path, data: bytes) -> str:
    """Keep `data` in a file of its own; returns its name."""
    path, part = _new_file(folder)
    part.write_bytes(data)
    put_in_place(part, path)
    return path.name


def put_stream(folder: Path, stream: IO[bytes], most: int) -> tuple[str, int] | None:
    """Keep what `stream` holds in a file of its own, without having it in memory; returns its name and size.

    None when it is over `most` bytes. The same data brought twice makes two files: what is read for one player must
    not go because it was refused to another.
    """
    path, part = _new_file(folder)
    size = 0
    with part.open("wb") as file:
        while chunk := stream.read(1 << 20):
            size += len(chunk)
            if size > most:
                break
            file.write(chunk)
    if size > most:
        part.unlink()
        return None
    put_in_place(part, path)
    return path.name, size


def _new_file(folder: Path) -> tuple[Path, Path]:
    """The path of a file that is to be, and the path it is written at before it is whole."""
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    path = folder / token_hex(32)
    part = path.with_suffix(".part")
    make_private(part)
    return path, part


def path_of(folder: Path, name: str) -> Path | None:
    """Return a file by its name; None when there is none, or for a name not made here: no other file is ever served."""
    found = folder / name if re.fullmatch(NAME, name) else None
    return found if found is not None and found.is_file() else None


def owners(db: Db, name: str) -> set[int]:
    """Return the players who have a take or a probe of this file."""
    return {player for row in NAMING for player in db.scalars(select(row.player_id).where(row.blob == name))}


def named(db: Db) -> set[str]:
    """Return the files that a take or probe of anybody names, or one that was deleted and can still be undone."""
    return {name for row in NAMING for name in db.scalars(select(row.blob))} | _deleted(db) | _replaced(db)


def _replaced(db: Db) -> set[str]:
    """The files of records that were replaced as a whole and can still be taken back."""
    kept = BroughtRow.document["files"]
    return {name for files in db.scalars(select(kept).where(kept.is_not(None))) for name in files or ()}


def _deleted(db: Db, player_id: int | None = None) -> set[str]:
    wanted = [ChangeRow.action == "delete", ChangeRow.subject == "probe"]
    if player_id is not None:
        wanted.append(ChangeRow.player_id == player_id)
    return {str(before["blob"]) for before in db.scalars(select(ChangeRow.before).where(*wanted)) if before}


def held_bytes(db: Db, player_id: int) -> int:
    """Return how much all the files of one player take."""
    return sum(int(size) for row in NAMING for size in db.scalars(select(row.bytes).where(row.player_id == player_id)))


def drop(db: Db, folder: Path, names: Iterable[str]) -> None:
    """Delete those of `names` that nothing names any more."""
    for name in set(names) - named(db):
        if (path := path_of(folder, name)) is not None:
            path.unlink()


def names_of(db: Db, player_id: int) -> set[str]:
    """Return the files of one player, also those that a delete keeps for undo."""
    found = {name for row in NAMING for name in db.scalars(select(row.blob).where(row.player_id == player_id))}
    return (found | _deleted(db, player_id)) - {""}


def sweep(folder: Path, wanted: Collection[str], older_than_s: float = 0.0) -> int:
    """Delete every file that is not among `wanted` and at least so old; returns how many."""
    last = time.time() - older_than_s
    found = [p for p in folder.glob("*") if p.name not in wanted] if folder.exists() else []
    gone = [p for p in found if p.stat().st_mtime <= last]
    for path in gone:
        path.unlink()
    return len(gone)
