"""Reading a calendar in a process of its own, that can be stopped: what others wrote may ask for any amount of work.

`python -m chirotend.formats.calendar_reader` reads one request from its input and answers on its output, as JSON.
"""

import base64
import json
import resource
import signal
import subprocess
import sys
from datetime import date, datetime

from chirotend.core.days import zone_named
from chirotend.formats import ical
from chirotend.formats.cells import UnreadableFile
from chirotend.formats.ical import CalendarEntry, CalendarRead, WholeDays

#: what starting the process takes, and what a calendar may take in it
START_SECONDS, SECONDS, MEMORY_BYTES = 8, 2, 1024**3


def read(data: bytes, file: str, zone: str, first: date, last: date, seconds: float = SECONDS) -> CalendarRead:
    """Return what `ical.read` finds; `UnreadableFile` too when it takes longer than `seconds`, or too much memory."""
    request = {
        "data": base64.b64encode(data).decode(),
        "file": file,
        "zone": zone,
        "first": first.isoformat(),
        "last": last.isoformat(),
        "seconds": seconds,
    }
    try:
        done = subprocess.run(
            [sys.executable, "-m", __name__],
            input=json.dumps(request).encode(),
            capture_output=True,
            timeout=START_SECONDS + seconds,
        )
    except subprocess.TimeoutExpired as error:
        raise UnreadableFile(
            f"{file} asks for more than can be read in {seconds:.0f} seconds. Export less of it."
        ) from error
    if done.returncode:
        raise UnreadableFile(f"{file} asks for more than this server gives one calendar. Export less of it.")
    answer = json.loads(done.stdout)
    if "refused" in answer:
        raise UnreadableFile(answer["refused"])
    entries = (
        CalendarEntry(s, datetime.fromisoformat(a), datetime.fromisoformat(b), t) for s, a, b, t in answer["entries"]
    )
    days = (WholeDays(s, date.fromisoformat(a), date.fromisoformat(b), t) for s, a, b, t in answer["days"])
    return CalendarRead(tuple(entries), tuple(days), tuple(answer["cancelled"]), tuple(answer["passed_over"]))


def main() -> None:
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    asked = json.loads(sys.stdin.buffer.read())
    signal.setitimer(signal.ITIMER_REAL, asked["seconds"])  # from here on the calendar itself takes the time
    try:
        found = ical.read(
            base64.b64decode(asked["data"]),
            asked["file"],
            zone_named(asked["zone"]),
            date.fromisoformat(asked["first"]),
            date.fromisoformat(asked["last"]),
        )
        answer = {
            "entries": [(e.source, e.start_utc.isoformat(), e.end_utc.isoformat(), e.title) for e in found.entries],
            "days": [(d.source, d.first.isoformat(), d.last.isoformat(), d.title) for d in found.days],
            "cancelled": found.cancelled,
            "passed_over": found.passed_over,
        }
    except UnreadableFile as error:
        answer = {"refused": str(error)}
    sys.stdout.write(json.dumps(answer))


if __name__ == "__main__":
    main()
