"""The record as the rules read it: marks by day, her own usual, her usual load range.

"Usual" is the median of the last 28 asked days, or the 80th percentile of those 8 to 63 days ago where that is more;
the usual load range is the 10th to 90th percentile of played days over the 42 days ending 7 days ago. Both are the
player's alone; nobody is compared with others.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass, fields, replace
from datetime import UTC, date, datetime, timedelta
from functools import cached_property
from typing import Any

from chirotend.core.judge.apart import days_apart
from chirotend.core.judge.baseline import Range, above_baseline, baseline_range, grown_slowly, median, percentile
from chirotend.core.judge.happened import Happening
from chirotend.core.judge.known import Known, above
from chirotend.core.judge.rules import rules
from chirotend.core.judge.series import Series
from chirotend.core.load.series import LoadSeries, load_series
from chirotend.core.record import Check, Entry, Mark, Place, Record
from chirotend.core.record.words import TIGHTNESS

#: how readily signs speak
WATCHES = ("calmer", "usual", "earlier")
USUAL_WATCH = "usual"


@dataclass(frozen=True)
class Ceiling:
    """What a programme allows today: its id, minutes, the reason of the dose as a code with its number.

    `instead`: it stands in the place of the dose after days off.
    """

    programme: str
    minutes: float
    why: str
    number: float = 0.0
    instead: bool = False


@dataclass(frozen=True)
class Evidence:
    """Everything the rows of the call table look at.

    `settled_until`: symptom windows of rows 4-6 begin after this day (the way back or an overrule settled them).
    `overruled_until`: early signs begin after this day; only an overrule or an answer settles them.
    `cleared_at`: the instant of the latest "seen by a clinician"; rows 1-2 look only after it. `earlier`: (day,
    minutes) of the last played days before the sessions of `record` begin, oldest first, so that a long lay-off does
    not make her usual forgotten. `watch`: one of `WATCHES`. `known`: complaints a clinician has seen that are stable.
    `answered`: places whose sign she answered, each with the day: it is settled until then. `not_so`: those of them she
    answered with "not so", each with its day, unless strong symptoms followed there. `watched`: places whose
    sign has a cause she knows, or that she has changed something about: they are shown, and mute nothing meanwhile.
    `measured`: what was measured on her, each kind a series. `ceilings`: what her programmes allow today. `happened`:
    what she said happened to her. `states`: what she said of herself ("under_16" …).
    """

    record: Record
    today: date
    now_utc: datetime
    settled_until: date | None = None
    cleared_at: datetime | None = None
    earlier: tuple[tuple[date, float], ...] = ()
    watch: str = USUAL_WATCH
    known: tuple[Known, ...] = ()
    answered: tuple[tuple[Place, date], ...] = ()
    measured: tuple[Series, ...] = ()
    ceilings: tuple[Ceiling, ...] = ()
    overruled_until: date | None = None
    watched: tuple[Place, ...] = ()
    happened: tuple[Happening, ...] = ()
    states: frozenset[str] = frozenset()
    not_so: tuple[tuple[Place, date], ...] = ()

    @property
    def above_known(self) -> "Evidence":
        """What rows 4-6 and the way back look at: without the marks that are no more than a known complaint."""
        return replace(self, record=above(self.record, self.known)) if self.known else self

    @cached_property
    def _worst(self) -> dict[tuple[tuple[str, ...], str | None], dict[Place, dict[date, float]]]:
        return {}

    @cached_property
    def marks(self) -> tuple[Mark, ...]:
        return tuple(mark for check in self.record.checks if check.day <= self.today for mark in check.marks)

    @cached_property
    def _by_day(self) -> dict[date, list[Mark]]:
        found: dict[date, list[Mark]] = {}
        for mark in self.marks:
            found.setdefault(mark.day, []).append(mark)
        return found

    @cached_property
    def _by_kind(self) -> dict[str, list[Mark]]:
        found: dict[str, list[Mark]] = {}
        for mark in self.marks:
            found.setdefault(mark.entry.kind, []).append(mark)
        return found

    def settled(self, until: date | None, overruled_until: date | None) -> "Evidence":
        """Return this evidence with other settled days."""
        return self.with_limits(settled_until=until, overruled_until=overruled_until)

    def as_of(self, day: date) -> "Evidence":
        """Return what was known of an earlier day: nothing after it is read."""
        return replace(self, today=day, now_utc=self.now_utc - (self.today - day))

    @property
    def signs_settled_until(self) -> date | None:
        """The day until which early signs are settled everywhere."""
        days = [self.overruled_until, self.settled_until if rules().release_settles_signs else None]
        return max((day for day in days if day is not None), default=None)

    def with_limits(self, **changes: Any) -> "Evidence":
        """Copy with other settled days or ceilings. What was worked out is kept because it does not depend on them."""
        other = replace(self, **changes)
        own = {field.name for field in fields(self)}
        other.__dict__.update({name: value for name, value in self.__dict__.items() if name not in own})
        return other

    @cached_property
    def load(self) -> LoadSeries:
        first = self.today - timedelta(days=rules().judge_load_days)
        return load_series(self.record, first, self.today)

    def since(self, days: int, settle: bool = True) -> Iterator[Mark]:
        """Yield the marks of the last `days` practice days, today included, after the settled day."""
        for back in range(days - 1, -1, -1):
            day = self.today - timedelta(days=back)
            if not (settle and self.is_settled(day)):
                yield from self._by_day.get(day, ())

    def within_hours(self, hours: float, settle: bool = True) -> Iterator[Mark]:
        """Yield the marks of the last `hours`; a mark without a time counts by its practice day."""
        days = math.ceil(hours / 24)
        for mark in self.since(days + 1, settle):
            if mark.at_utc is None or (self.now_utc - mark.at_utc.astimezone(UTC)).total_seconds() <= hours * 3600:
                yield mark

    @property
    def marks_in_hours(self) -> tuple[tuple[Mark, ...], ...]:
        """The marks in each window that is counted in hours: all that the hour of the day changes about a call."""
        r = rules()
        return tuple(tuple(self.within_hours(h, settle=False)) for h in (r.tacet_pain_hours, r.single_event_hours))

    def strong_days(self) -> set[date]:
        """Return the days of the last 14 with strong pain, or tightness or stiffness that speaks like it."""
        first = self.today - timedelta(days=rules().tacet_repeat_days - 1)
        return {mark.day for mark in self.marks if mark.day >= first and is_strong(mark.entry)}

    def is_settled(self, day: date) -> bool:
        return self.settled_until is not None and day <= self.settled_until

    @cached_property
    def uncleared_checks(self) -> tuple[Check, ...]:
        """The checks that no "seen by a clinician" has answered."""
        return tuple(c for c in self.record.checks if c.day <= self.today and not self._is_cleared(c))

    def _is_cleared(self, check: Check) -> bool:
        if self.cleared_at is None:
            return False
        if check.at_utc is not None:
            return check.at_utc.astimezone(UTC) <= self.cleared_at
        return check.day <= self.cleared_at.date()

    @cached_property
    def asked(self) -> list[date]:
        """Days with a completed check, oldest first, up to today."""
        return sorted(d for d in self.record.asked_days if d <= self.today)

    def daily_worst(self, kinds: tuple[str, ...], timing: str | None = None) -> dict[Place, dict[date, float]]:
        """Return the strongest mark of `kinds` a day for each place that was ever marked (0 is not stored)."""
        if (known := self._worst.get((kinds, timing))) is not None:
            return known
        if len(kinds) == 1:
            worst = self._worst_of(kinds[0], timing)
        else:
            parts = [part for kind in kinds if (part := self.daily_worst((kind,), timing))]
            worst = parts[0] if len(parts) == 1 else _strongest(parts)
        self._worst[kinds, timing] = worst
        return worst

    def _worst_of(self, kind: str, timing: str | None) -> dict[Place, dict[date, float]]:
        worst: dict[Place, dict[date, float]] = {}
        for mark in self._by_kind.get(kind, ()):
            if timing is None or mark.timing == timing:
                by_day = worst.setdefault(mark.place, {})
                by_day[mark.day] = max(by_day.get(mark.day, 0.0), mark.entry.intensity)
        return worst

    @cached_property
    def _baseline_days(self) -> list[date]:
        return [d for d in self.asked if d < self.today and d not in self._days_apart][-rules().baseline_days :]

    @cached_property
    def _days_apart(self) -> frozenset[date]:
        """What is marked on days with a new instrument must not become her usual while it is new."""
        return days_apart(self.record.sessions, self.happened, self.today)

    def baseline(self, by_day: dict[date, float], place: Place, kinds: tuple[str, ...]) -> float:
        """Return what is usual at `place`, from asked days before today; a day asked without a mark is 0.

        The median of the last 28, or the 80th percentile of those 8 to 63 days ago where that is more: the median
        alone is 0 for whoever marks on fewer than half of the days, and it follows a trouble upwards. Days with a new
        instrument are left out while it is new. Where a complaint of `kinds` is known at `place`, it is at least the
        level that is known.
        """
        days, earlier = self._baseline_days, self._earlier_days
        usual = median([by_day.get(d, 0.0) for d in days]) if days else 0.0
        if earlier:
            usual = max(
                usual, percentile(sorted(by_day.get(d, 0.0) for d in earlier), rules().baseline_high_percentile)
            )
        levels = [k.level for k in self.known if k.place == place and k.kind in kinds and k.holds_on(self.today)]
        return max([usual, *levels])

    @cached_property
    def _earlier_days(self) -> list[date]:
        """The asked days of the percentile; none when it is not asked for, or they are too few."""
        r = rules()
        if not r.baseline_high_percentile:
            return []
        first, last = (self.today - timedelta(days=n) for n in (r.baseline_high_to_days, r.baseline_high_from_days))
        days = [d for d in self.asked if first <= d <= last and d not in self._days_apart]
        return days if len(days) >= r.baseline_high_min_days else []

    def rate_of(self, by_day: dict[date, float], least: float) -> float:
        """Return her own rate of days marked at `least` or more, in the 91 days before the last seven asked ones.

        (.5 + hits) / (10 + n): few days pull it to one in twenty. A probability.
        """
        last_week = self.asked[-7:]
        end = last_week[0] if last_week else self.today
        first = end - timedelta(days=rules().rate_days)
        days = [d for d in self.asked if first <= d < end and d not in self._days_apart]
        return (0.5 + sum(by_day.get(d, 0.0) >= least for d in days)) / (10 + len(days))

    @cached_property
    def baseline_load(self) -> Range | None:
        return baseline_range(self.load.load, self.load.index(self.today))

    @property
    def _growth_share(self) -> float:
        """Under 16 a jump speaks at half."""
        return 0.5 if "under_16" in self.states else 1.0

    @cached_property
    def capping_load(self) -> Range | None:
        """The usual load range that caps a day: one that a few heavy weeks do not lift at once."""
        return grown_slowly(self.load.load, self.load.index(self.today), self._growth_share)

    @cached_property
    def baseline_minutes_range(self) -> Range | None:
        """The usual range of minutes that caps a day."""
        return grown_slowly(self.load.minutes, self.load.index(self.today), self._growth_share)

    @cached_property
    def played(self) -> tuple[tuple[date, float], ...]:
        """The played days known, oldest first, today included: (day, minutes)."""
        minutes = self.load.minutes
        here = ((self.load.day(i), m) for i, m in enumerate(minutes) if m > 0)
        return (*(e for e in self.earlier if e[0] < self.load.first), *here)

    def median_minutes(self, before: date) -> float | None:
        """Return the median minutes of the last 28 played days before `before`; None without any."""
        past = [m for day, m in self.played if day < before][-rules().baseline_days :]
        return median(past) if past else None

    @cached_property
    def baseline_minutes(self) -> float | None:
        """Median minutes of the last 28 played days, today excluded; None without any."""
        return self.median_minutes(self.today)

    @cached_property
    def days_over_baseline(self) -> tuple[date, ...]:
        """The days among the last three (and today) whose load passed the usual range of that day."""
        return self._days_over(rules().load_days + 1)

    @cached_property
    def heavy_week(self) -> bool:
        """True when the load passed the usual range of the day on several of the last seven."""
        return len(self._days_over(7)) >= rules().heavy_week_days

    def _days_over(self, count: int) -> tuple[date, ...]:
        days = (self.today - timedelta(days=back) for back in range(count - 1, -1, -1))
        return tuple(day for day in days if above_baseline(self.load, day))

    @cached_property
    def days_over_capping(self) -> tuple[date, ...]:
        """The days among the last three (and today) whose load passed the range that caps a day."""
        high = self.capping_load.high if self.capping_load is not None else math.inf
        days = (self.today - timedelta(days=back) for back in range(rules().load_days, -1, -1))
        return tuple(day for day in days if self.load.on(day)[1] > high)

    def playing_days(self, count: int, within: int = 28) -> list[date]:
        """Return the last `count` days on which she played, newest first, not older than `within` days."""
        first = self.today - timedelta(days=within)
        played = {s.day for s in self.record.sessions if first <= s.day <= self.today and s.playing_minutes > 0}
        return sorted(played, reverse=True)[:count]


def is_strong(entry: Entry) -> bool:
    """True for pain of 5 and more; tightness and stiffness of 7 and more speak like it."""
    r = rules()
    if entry.kind == "pain":
        return entry.intensity >= r.tacet_pain
    return entry.kind in TIGHTNESS and entry.intensity >= r.tacet_tightness


def _strongest(parts: list[dict[Place, dict[date, float]]]) -> dict[Place, dict[date, float]]:
    found: dict[Place, dict[date, float]] = {}
    for part in parts:
        for place, by_day in part.items():
            whole = found.setdefault(place, {})
            for day, strength in by_day.items():
                whole[day] = max(whole.get(day, 0.0), strength)
    return found
