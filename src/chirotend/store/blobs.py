"""Sounds, pictures and traces as files named by their content, beside the database."""

import hashlib
import re
import time
from collections.abc import Collection, Iterable
from pathlib import Path
from typing import IO
from uuid import uuid4

from sqlalchemy import select
from sqlalchemy.orm import Session as Db

from chirotend.store.copies import make_private, put_in_place
from chirotend.store.models import BroughtRow, ChangeRow, ProbeRow, TakeRow

#: the tables whose rows name a file
NAMING: tuple[type[TakeRow] | type[ProbeRow], ...] = (TakeRow, ProbeRow)


def put(folder: Path, data: bytes) -> str:
    """Keep `data` and return its name (SHA-256); the same data is kept once."""
    name = hashlib.sha256(data).hexdigest()
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    path = folder / name
    if not path.exists():
        part = folder / f"{uuid4().hex}.part"
        make_private(part)
        part.write_bytes(data)
        put_in_place(part, path)
    return name


def put_stream(folder: Path, stream: IO[bytes], most: int) -> tuple[str, int] | None:
    """Keep what `stream` holds without having it in memory; returns its name and size, None when it is over `most`."""
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    part = folder / f"{uuid4().hex}.part"
    make_private(part)
    digest, size = hashlib.sha256(), 0
    with part.open("wb") as file:
        while chunk := stream.read(1 << 20):
            size += len(chunk)
            if size > most:
                break
            digest.update(chunk)
            file.write(chunk)
    if size > most:
        part.unlink()
        return None
    path = folder / digest.hexdigest()
    if path.exists():
        part.unlink()
    else:
        put_in_place(part, path)
    return path.name, size


def path_of(folder: Path, name: str) -> Path | None:
    """Return a file by its name; None when there is none, or the name is no SHA-256: no other file is ever served."""
    found = folder / name if re.fullmatch(r"[0-9a-f]{64}", name) else None
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
