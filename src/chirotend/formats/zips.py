"""A zip that a stranger made: opened, and whatever is wrong with it said in one sentence."""

import io
import struct
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager

from chirotend.formats.cells import UnreadableFile

ZIP = b"PK\x03\x04"
_BROKEN = (
    *(zipfile.BadZipFile, zlib.error, struct.error),
    *(NotImplementedError, RuntimeError, EOFError, OSError, ValueError, KeyError),
)


@contextmanager
def opened(data: bytes, damaged: str) -> Iterator[zipfile.ZipFile]:
    """Open a zip for what is done inside; `UnreadableFile` with the sentence `damaged` when it cannot be read there."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            yield archive
    except UnreadableFile:
        raise
    except _BROKEN as error:
        raise UnreadableFile(damaged) from error
