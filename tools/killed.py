"""Killing a server again and again while it is used: what it acknowledged, what of it is lost or stands twice."""

import random
import threading
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from http.client import HTTPException

from served import Server


@dataclass
class Row:
    """A line of the table."""

    what: str
    tried: int = 0
    acknowledged: int = 0
    lost: int = 0
    doubled: int = 0
    not_starting: int = 0

    def __str__(self) -> str:
        counts = f"{self.acknowledged:>14}{self.lost:>7}{self.doubled:>9}{self.not_starting:>14}"
        return f"{self.what:<46}{self.tried:>7}{counts}"


def killed_while(
    server: Server,
    row: Row,
    kills: int,
    touch: Callable[[int], list[str]],
    held: Callable[[], dict[str, int]],
    longest: float = 0.35,
) -> None:
    """Kill the server again and again while `touch(n)` sends; `held()` gives how often each acknowledged n stands."""
    acknowledged: list[str] = []
    number = 0
    for _ in range(kills):
        timer = threading.Timer(random.uniform(0.02, longest), server.kill)
        timer.start()
        while server.process is not None and server.process.poll() is None:
            number += 1
            row.tried += 1
            with suppress(OSError, HTTPException):
                acknowledged += touch(number)
        timer.join()
        try:
            server.start()
        except TimeoutError:
            row.not_starting += 1
            return
        server.read("/")
    row.acknowledged = len(acknowledged)
    counts = held()
    row.lost = sum(1 for a in acknowledged if counts.get(a, 0) == 0)
    row.doubled = sum(1 for n in counts.values() if n > 1)
