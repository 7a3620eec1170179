"""Reading a calendar in a process of its own, that can be stopped: what others wrote may ask for any amount of work.

`python -m chirotend.formats.calendar_reader` reads one request from its input and answers on its output, as JSON.
"""

import base64
import json
import signal
from datetime import date, datetime

from chirotend.core.days import zone_named
from chirotend.formats import apart, ical
from chirotend.formats.cells import UnreadableFile
from chirotend.formats.ical import CalendarEntry, CalendarRead, WholeDays

#: what starting the process takes, and what a calendar may take in it
START_SECONDS, SECONDS = 8, 2


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
        answer = apart.asked(__name__, json.dumps(request).encode(), START_SECONDS + seconds)
    except apart.TooSlow as error:
        raise UnreadableFile(
            f"{file} asks for more than can be read in {seconds:.0f} seconds. Export less of it."
        ) from error
    except apart.TooMuch as error:
        raise UnreadableFile(f"{file} asks for more than this server gives one calendar. Export less of it.") from error
    if "refused" in answer:
        raise UnreadableFile(answer["refused"])
    entries = (
        CalendarEntry(s, datetime.fromisoformat(a), datetime.fromisoformat(b), t) for s, a, b, t in answer["entries"]
    )
    days = (WholeDays(s, date.fromisoformat(a), date.fromisoformat(b), t) for s, a, b, t in answer["days"])
    return CalendarRead(tuple(entries), tuple(days), tuple(answer["cancelled"]), tuple(answer["passed_over"]))


def main() -> None:
    asked = json.loads(apart.request())
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
    apart.answer(answer)


if __name__ == "__main__":
    main()
