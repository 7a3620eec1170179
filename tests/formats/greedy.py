"""A reader for tests, which asks for as much of one thing as it is told to."""

import time
from collections.abc import Callable
from typing import Any

from chirotend.formats.cells import UnreadableFile


def answered(request: dict[str, Any], data: bytes, step: Callable[[float], None]) -> dict[str, Any]:
    """Return what was brought, after so much of it."""
    until = time.process_time() + request.get("works_s", 0)
    while time.process_time() < until:
        step(1 - (until - time.process_time()) / request["works_s"])
    time.sleep(request.get("waits_s", 0))
    held = bytearray(request.get("holds_bytes", 0))
    if request.get("refuses"):
        raise UnreadableFile(request["refuses"])
    return {"length": len(data), "held": len(held), "ratio": 1 / request.get("divides_by", 1)}
