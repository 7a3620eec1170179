"""Sounds (and later pictures) as files named by their content, beside the database."""

import hashlib
from collections.abc import Collection
from pathlib import Path


def put(folder: Path, data: bytes) -> str:
    """Keep `data` and return its name (SHA-256); the same data is kept once."""
    name = hashlib.sha256(data).hexdigest()
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    path = folder / name
    if not path.exists():
        part = folder / f"{name}.part"
        part.write_bytes(data)
        part.rename(path)
    return name


def sweep(folder: Path, wanted: Collection[str]) -> int:
    """Delete every file that is not among `wanted`; returns how many."""
    gone = [p for p in folder.glob("*") if p.name not in wanted] if folder.exists() else []
    for path in gone:
        path.unlink()
    return len(gone)
