"""The days ahead: engagements, aims, blocks laid, and the windows left free. Instants aware, minutes, effort 0-10."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from functools import cache
from zoneinfo import ZoneInfo

from chirotend.core.errors import Inconsistent, check_range, check_word
from chirotend.core.load.session import srpe_load
from chirotend.core.record import words
from chirotend.core.tables import typed

#: kinds of engagement; the first three are played, the next rest the hands, the last use them for something else
ENGAGEMENT_KINDS = ("rehearsal", "performance", "lesson", "travel", "appointment", "other")
PLAYED_KINDS = ("rehearsal", "performance", "lesson")
LAID_BY = ("planner", "hand")
#: a day's parts in local hours: a session is laid within one of them
PARTS = ((4.0, 12.5), (12.5, 17.5), (17.5, 28.0))


@dataclass(frozen=True)
class PlanRules:
    """The numbers of `plan_rules.csv`."""

    #: min, practice is laid in pieces of this many minutes
    unit_min: float
    #: min, shortest piece of an aim (an aim of less is one piece)
    piece_least_min: float
    #: min, longest piece of an aim in one session
    piece_most_min: float
    #: min, rest between two pieces of a session
    rest_min: float
    #: min, longest own session laid: three short ones beat one long one
    session_most_min: float
    #: min, kept free before and after an engagement
    buffer_min: float
    #: min, own practice laid on the day of a performance
    performance_day_most_min: float
    #: min, own practice laid on the day before a performance
    day_before_most_min: float
    #: min, own practice on a light day
    light_day_most_min: float
    #: min, own practice laid a day while no usual range is known
    no_baseline_day_min: float
    #: played days, an instrument played on fewer days counts as new
    new_instrument_days: int
    #: min, how much a new instrument grows with each day it was played
    new_instrument_step_min: float
    #: performances, this many within dense_days is dense
    dense_performances: int
    #: days
    dense_days: int
    #: %, new and hard aims above this share of the week's own practice stand out
    new_hard_share: float
    #: minutes an AU, how much a lower heaviest day of own practice is worth in laid minutes
    peak_price: float
    #: minutes an AU squared, how much it costs to lay an AU beside an AU that stands there already
    busy_price: float
    #: minutes a piece, how much one piece less is worth in laid minutes
    piece_price: float


@cache
def plan_rules() -> PlanRules:
    return typed(PlanRules, "plan_rules")


@dataclass(frozen=True)
class Engagement:
    """Something that stands in her calendar. `minutes` is what her hands do of it (playing, or other use)."""

    uid: str
    day: date
    start_utc: datetime
    end_utc: datetime
    kind: str
    title: str
    instrument: str = ""
    minutes: float = 0.0
    effort: float = 5.0

    def __post_init__(self) -> None:
        check_word("kind", self.kind, ENGAGEMENT_KINDS)
        check_range("minutes", self.minutes, 0, words.SESSION_MAX_MIN, "min")
        check_range("effort", self.effort, 0, words.EFFORT_MAX)
        if self.end_utc <= self.start_utc:
            raise Inconsistent("end_utc", "an engagement ends after it begins")

    @property
    def load(self) -> float:
        """Expected load in AU: minutes of the hands times expected effort."""
        return srpe_load(self.effort, self.minutes)


@dataclass(frozen=True)
class Aim:
    """A small aim for a week: minutes wanted, effort expected, whether it is new and hard to her."""

    uid: str
    title: str
    minutes: float
    effort: float = 4.0
    instrument: str = ""
    new_hard: bool = False
    weight: float = 1.0

    def __post_init__(self) -> None:
        check_range("minutes", self.minutes, 0, 3000, "min")
        check_range("effort", self.effort, 0, words.EFFORT_MAX)
        check_range("weight", self.weight, 0.1, 10)


@dataclass(frozen=True)
class PlannedBlock:
    """Own practice in its place: which aim (or none), when, how long, laid by the planner or by hand."""

    uid: str
    day: date
    start_utc: datetime
    minutes: float
    aim_uid: str = ""
    title: str = ""
    instrument: str = ""
    effort: float = 4.0
    laid_by: str = "hand"

    def __post_init__(self) -> None:
        check_range("minutes", self.minutes, 1, 600, "min")
        check_range("effort", self.effort, 0, words.EFFORT_MAX)
        check_word("laid_by", self.laid_by, LAID_BY)

    @property
    def end_utc(self) -> datetime:
        return self.start_utc + timedelta(minutes=self.minutes)

    @property
    def load(self) -> float:
        return srpe_load(self.effort, self.minutes)


@dataclass(frozen=True)
class Window:
    """A free stretch in which one session may be laid: its practice day, when it begins, its minutes."""

    day: date
    start_utc: datetime
    minutes: float


def free_windows(
    days: Iterable[date],
    busy: Sequence[tuple[datetime, datetime]],
    zone: ZoneInfo,
    from_hour: float,
    to_hour: float,
    not_before: datetime,
) -> tuple[Window, ...]:
    """Return the free stretches of `days` between `from_hour` and `to_hour` local (4-28), by part of the day.

    `busy` are (start, end) instants with their buffers included; nothing lies before `not_before`. A stretch shorter
    than the shortest piece is no window.
    """
    check_range("from_hour", from_hour, 4, 28, "h")
    check_range("to_hour", to_hour, 4, 28, "h")
    if to_hour <= from_hour:
        raise Inconsistent("to_hour", "the day's practice ends after it begins")
    least = plan_rules().unit_min
    found = []
    for day in days:
        for low, high in PARTS:
            start = max(_at(day, max(low, from_hour), zone), not_before)
            end = _at(day, min(high, to_hour), zone)
            for a, b in _without(start, end, busy):
                if (b - a).total_seconds() >= least * 60:
                    found.append(Window(day, a, (b - a).total_seconds() / 60))
    return tuple(found)


def _at(day: date, hour: float, zone: ZoneInfo) -> datetime:
    days, rest = divmod(hour, 24)
    at = time(int(rest), round(rest % 1 * 60))
    return datetime.combine(day + timedelta(days=int(days)), at, zone).astimezone(UTC)


def _without(
    start: datetime, end: datetime, busy: Sequence[tuple[datetime, datetime]]
) -> Iterable[tuple[datetime, datetime]]:
    for a, b in sorted(busy):
        if b <= start or a >= end:
            continue
        if a > start:
            yield start, a
        start = max(start, b)
    if start < end:
        yield start, end
