"""What looks odd in a diary, and why: she says "right so", leaves the row out, or mends the cell."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime

from chirotend.formats.diary.played import ReadSession
from chirotend.formats.diary.reading import Diary

LONG_DAY_MIN = 600.0
OLD = date(1950, 1, 1)
#: minutes by which a length may pass its times: few look at the second
SLACK_MIN = 1.0


@dataclass(frozen=True)
class Odd:
    """An odd row: its line, why it is odd, and the meaning of the column to be mended."""

    line: int
    why: str
    column: str


def oddities(diary: Diary, now: datetime) -> list[Odd]:
    """Return what looks odd, one a row, by line. Sessions at the same time lose their times until they are mended."""
    found: dict[int, Odd] = {}
    for odd in (*_at_once(diary), *_long_days(diary), *_by_themselves(diary, now)):
        found.setdefault(odd.line, odd)
    return sorted(found.values(), key=lambda o: o.line)


def _length(minutes: float) -> str:
    return f"{minutes // 60:.0f} h {minutes % 60:02.0f}"


def _day(day: date) -> str:
    return f"{day:%-d %B %Y}"


def _long_days(diary: Diary) -> Iterator[Odd]:
    by_day: dict[date, list[ReadSession]] = {}
    for taken in diary.sessions:
        by_day.setdefault(taken.session.day, []).append(taken)
    for day, rows in by_day.items():
        minutes = sum(taken.session.minutes for taken in rows)
        if minutes > LONG_DAY_MIN:
            longest = max(rows, key=lambda taken: taken.session.minutes)
            yield Odd(longest.line, f"{_length(minutes)} on {_day(day)}: over ten hours in a day.", "minutes")


def _by_themselves(diary: Diary, now: datetime) -> Iterator[Odd]:
    for taken in diary.sessions:
        session = taken.session
        if taken.between is not None and session.minutes > taken.between + SLACK_MIN:
            said = f"{session.minutes:g} minutes between {taken.start_said} and {taken.end_said or 'its end'}"
            yield Odd(taken.line, f"{said}: longer than the time between.", "minutes")
        elif taken.start_day is not None and taken.start_day != session.day:
            yield Odd(taken.line, f"The day is {_day(session.day)}, the start {_day(taken.start_day)}.", "start")
        elif session.start_utc is not None and session.start_utc > now:
            yield Odd(taken.line, f"{taken.start_said or _day(session.day)} is later than now.", "start")
        elif session.day < OLD:
            yield Odd(taken.line, f"{_day(session.day)} lies before {OLD.year}.", "day")
        elif session.day in diary.off:
            yield Odd(taken.line, f"{_day(session.day)} is a day off too, in line {diary.off[session.day]}.", "day")


def _at_once(diary: Diary) -> Iterator[Odd]:
    """Sessions that share time with one before, in her own cells and clock."""
    latest: ReadSession | None = None
    clashes: set[int] = set()
    for taken in sorted(diary.sessions, key=_begins):
        if taken.session.start_utc is None:
            continue
        if latest is not None and _begins(taken) < _ends(latest):
            clashes.add(taken.line)
            said = f"{taken.start_said or taken.end_said} on {_day(taken.session.day)}"
            yield Odd(taken.line, f"{said} falls into the session of line {latest.line}. Both count.", "start")
        if latest is None or _ends(taken) > _ends(latest):
            latest = taken
    if clashes:
        diary.sessions = [
            replace(t, session=replace(t.session, start_utc=None, end_utc=None)) if t.line in clashes else t
            for t in diary.sessions
        ]


def _begins(taken: ReadSession) -> datetime:
    return taken.session.start_utc or datetime.min.replace(tzinfo=UTC)


def _ends(taken: ReadSession) -> datetime:
    return taken.session.end_utc or datetime.min.replace(tzinfo=UTC)
