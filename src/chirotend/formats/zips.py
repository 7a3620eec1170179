"""A zip that a stranger made: opened, and whatever is wrong with it said in one sentence."""

import io
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager

from chirotend.formats.cells import UnreadableFile

ZIP = b"PK\x03\x04"
_BROKEN = (zipfile.BadZipFile, NotImplementedError, RuntimeError, EOFError, OSError, zlib.error)


@contextmanager
def opened(data: bytes, damaged: str) -> Iterator[zipfile.ZipFile]:
    """Open a zip for what is done inside; `UnreadableFile` with the sentence `damaged` when it cannot be read there."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            yield archive
    except _BROKEN as error:
        raise UnreadableFile(damaged) from error
