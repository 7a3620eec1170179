"""Sounds (and later pictures) as files named by their content, beside the database."""

import hashlib
import os
from collections.abc import Collection
from pathlib import Path
from uuid import uuid4

from chirotend.store.copies import put_in_place


def put(folder: Path, data: bytes) -> str:
    """Keep `data` and return its name (SHA-256); the same data is kept once."""
    name = hashlib.sha256(data).hexdigest()
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    path = folder / name
    if not path.exists():
        part = folder / f"{uuid4().hex}.part"
        with os.fdopen(os.open(part, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600), "wb") as file:
            file.write(data)
        put_in_place(part, path)
    return name


def exists(folder: Path, name: str) -> bool:
    return (folder / name).is_file()


def sweep(folder: Path, wanted: Collection[str]) -> int:
    """Delete every file that is not among `wanted`; returns how many."""
    gone = [p for p in folder.glob("*") if p.name not in wanted] if folder.exists() else []
    for path in gone:
        path.unlink()
    return len(gone)
