"""The course of a place through twelve weeks: its days, its early sign, and whether it goes up or down."""

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import IntEnum

from chirotend.core.errors import MethodError
from chirotend.core.judge.baseline import median
from chirotend.core.judge.evidence import Evidence
from chirotend.core.judge.signs.raised import Sign, signs
from chirotend.core.judge.trend import MannKendall, Slope, mann_kendall, theil_sen
from chirotend.core.record import Place
from chirotend.core.record.words import SYMPTOM_KINDS

#: the days that are looked at
DAYS = 84
WEEKS = DAYS // 7
#: asked days a week needs for a mean
LEAST_ASKED = 3
#: chance that a trend is told at any of her places where there is none (common practice, no source)
CHANCE = 0.05


class Direction(IntEnum):
    """What the marks of a place do over the weeks, the most urgent first."""

    RISEN = 0
    UP = 1
    DOWN = 2
    LEVEL = 3
    CANNOT_TELL = 4


@dataclass(frozen=True)
class Trend:
    """Weekly means of the strength, their change a week (0-10), and the test; None = too few weeks, or all equal."""

    weeks: tuple[float | None, ...]
    slope_a_week: float | None
    test: MannKendall | None


@dataclass(frozen=True)
class Course:
    """A place through the last twelve weeks.

    `strengths` one a day from `first` on, 0-10, None = not asked; `usual` their middle value; `sign` None = it raised
    none; `places` = places with a mark in these weeks, this one among them, which share the chance of a false trend.
    """

    place: Place
    first: date
    strengths: tuple[float | None, ...]
    usual: float
    sign: Sign | None
    trend: Trend
    places: int

    @property
    def risen_since(self) -> date | None:
        """The day from which its early sign speaks; None = none speaks."""
        return self.sign.since if self.sign is not None and self.sign.speaks else None

    @property
    def direction(self) -> Direction:
        return self.direction_of_weeks if self.risen_since is None else Direction.RISEN

    @property
    def direction_of_weeks(self) -> Direction:
        """Where its weekly means go, whatever its sign says."""
        if self.trend.test is None:
            return Direction.CANNOT_TELL
        # one in twenty for all her places together (Bonferroni), or the worst of many would often be told: decision 179
        if self.trend.test.p > CHANCE / self.places:
            return Direction.LEVEL
        return Direction.UP if self.trend.test.S > 0 else Direction.DOWN


def marked_courses(evidence: Evidence) -> tuple[Course, ...]:
    """Return the course of every place with a mark in the last twelve weeks, the most urgent direction first."""
    marked = _marked_places(evidence)
    raised = signs(evidence.above_known)
    courses = [_course(evidence, place, raised, len(marked)) for place in marked]
    return tuple(sorted(courses, key=lambda c: (c.direction, -sum(s or 0 for s in c.strengths))))


def course(evidence: Evidence, place: Place) -> Course:
    """Return the course of a place (region, side), marked or not."""
    return _course(evidence, place, signs(evidence.above_known), max(1, len(_marked_places(evidence))))


def _first(evidence: Evidence) -> date:
    return evidence.today - timedelta(days=DAYS - 1)


def _marked_places(evidence: Evidence) -> list[Place]:
    first, worst = _first(evidence), evidence.daily_worst(SYMPTOM_KINDS)
    return sorted(p for p, days in worst.items() if any(value > 0 and day >= first for day, value in days.items()))


def _course(evidence: Evidence, place: Place, raised: Sequence[Sign], places: int) -> Course:
    first = _first(evidence)
    strengths = strengths_of(evidence, place, first)
    observed = [s for s in strengths if s is not None]
    sign = next((s for s in raised if (s.region, s.side) == place), None)
    return Course(place, first, strengths, median(observed) if observed else 0.0, sign, _trend(strengths), places)


def strengths_of(evidence: Evidence, place: Place, first: date) -> tuple[float | None, ...]:
    """Return the strongest mark of each of `DAYS` days from `first` on, 0-10; None = not asked."""
    asked = set(evidence.asked[bisect_left(evidence.asked, first) :])
    worst = evidence.daily_worst(SYMPTOM_KINDS).get(place, {})
    days = (first + timedelta(days=n) for n in range(DAYS))
    return tuple(worst.get(day, 0.0) if day in asked else None for day in days)


def _trend(strengths: tuple[float | None, ...]) -> Trend:
    weeks: list[float | None] = []
    for n in range(WEEKS):
        observed = [s for s in strengths[7 * n : 7 * n + 7] if s is not None]
        weeks.append(sum(observed) / len(observed) if len(observed) >= LEAST_ASKED else None)
    known = [(n, w) for n, w in enumerate(weeks) if w is not None]
    try:
        test = mann_kendall([w for _, w in known])
        slope: Slope = theil_sen([n for n, _ in known], [w for _, w in known])
    except MethodError:
        return Trend(tuple(weeks), None, None)
    return Trend(tuple(weeks), slope.slope, test)
