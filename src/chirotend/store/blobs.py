"""Sounds (and later pictures) as files named by their content, beside the database."""

import hashlib
import re
from collections.abc import Collection
from pathlib import Path
from uuid import uuid4

from sqlalchemy import select
from sqlalchemy.orm import Session as Db

from chirotend.store.copies import make_private, put_in_place
from chirotend.store.models import TakeRow


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


def path_of(folder: Path, name: str) -> Path | None:
    """Return the file of a sound; None when there is none, or the name is no SHA-256: no other file is ever served."""
    found = folder / name if re.fullmatch(r"[0-9a-f]{64}", name) else None
    return found if found is not None and found.is_file() else None


def owners(db: Db, name: str) -> set[int]:
    """Return the players who have a take of this sound."""
    return set(db.scalars(select(TakeRow.player_id).where(TakeRow.blob == name)))


def named(db: Db) -> set[str]:
    """Return the sounds that a take of anybody names."""
    return set(db.scalars(select(TakeRow.blob)))


def sweep(folder: Path, wanted: Collection[str]) -> int:
    """Delete every file that is not among `wanted`; returns how many."""
    gone = [p for p in folder.glob("*") if p.name not in wanted] if folder.exists() else []
    for path in gone:
        path.unlink()
    return len(gone)
