"""A small language for diaries in tests: one line a day, the newest last."""

from datetime import UTC, date, datetime, timedelta

from chirotend.core.judge.call import Call, compute_call
from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.recovery import Recovery
from chirotend.core.record import Block, Check, DayNote, Entry, Record, Session

TODAY = date(2026, 11, 12)


class Diary:
    """Writes a record day by day; `back` counts days before TODAY."""

    def __init__(self) -> None:
        self.sessions: list[Session] = []
        self.checks: dict[tuple[date, str], Check] = {}
        self.notes: list[DayNote] = []

    def steady(self, days: int = 60, until: int = 1, minutes: float = 60, effort: float = 4, entries=()) -> "Diary":
        for back in range(days, until - 1, -1):
            self.plays(back, minutes + 4 * (back % 5), effort).checks_in(back, "waking", *entries)
        return self

    def plays(self, back: int, minutes: float = 60, effort: float = 4) -> "Diary":
        day = TODAY - timedelta(days=back)
        self.sessions.append(Session(f"s{len(self.sessions)}", day, (Block(minutes),), effort))
        return self

    def off(self, back: int, **kw) -> "Diary":
        self.notes.append(DayNote(TODAY - timedelta(days=back), off=True, **kw))
        return self

    def checks_in(self, back: int, timing: str, *entries: Entry, flags=(), at=None, other_uses=None) -> "Diary":
        day = TODAY - timedelta(days=back)
        old = self.checks.get((day, timing))
        self.checks[day, timing] = Check(
            f"c{back}{timing}",
            day,
            timing,
            (*(old.entries if old else ()), *entries),
            (*(old.red_flags if old else ()), *flags),
            other_uses,
            at,
        )
        return self

    @property
    def record(self) -> Record:
        return Record(tuple(self.sessions), tuple(self.checks.values()), tuple(self.notes))

    def evidence(self, back: int = 0, **kw) -> Evidence:
        day = TODAY - timedelta(days=back)
        now = datetime.combine(day, datetime.min.time(), UTC) + timedelta(hours=9)
        return Evidence(self.record.until_morning(day) if kw.pop("morning", False) else self.record, day, now, **kw)

    def call(self, back: int = 0, before: Recovery | None = None, **kw) -> Call:
        return compute_call(self.evidence(back, **kw), before or Recovery())


def mark(
    kind: str, intensity: float, zone: str = "thumb_base_joint", side: str = "left", lasting=None, flags=()
) -> Entry:
    return Entry(zone, side, kind, intensity, lasting, tuple(flags))
