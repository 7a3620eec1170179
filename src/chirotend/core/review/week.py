"""A week read back: lines with their values, one change, one thing that got better. Rules ours, common practice.

What is said of each code stands in `library/said/review.toml`. Nothing is said that her entries do not hold: what was
not asked is not "nothing".
"""

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta

from chirotend.core.judge.baseline import above_baseline
from chirotend.core.load.series import load_series
from chirotend.core.record import Block, Check, Place, Record
from chirotend.core.record.words import NERVE_KINDS

WEEK = 7
#: weeks before it that it is compared with
WEEKS_BEFORE = 4
ROOM_DAYS = 60
CLIMB_DAYS = 3
DENSE = 3
LEAST_ASKED = 5
LINES_MAX = 10

Values = dict[str, str | float | int]


@dataclass(frozen=True)
class ReviewLine:
    """A code with its values, and the days it comes from."""

    code: str
    values: Values = field(default_factory=dict)
    days: tuple[date, ...] = ()


@dataclass(frozen=True)
class Aim:
    """An aim of the week: its title, minutes aimed at and played; `done` as she said."""

    title: str
    minutes: float
    played: float
    done: bool


@dataclass(frozen=True)
class Review:
    """The lines of a week from its Monday on, one change, and what got better (None = nothing can be said)."""

    monday: date
    lines: tuple[ReviewLine, ...]
    change: ReviewLine
    better: ReviewLine | None


def week_review(
    record: Record,
    monday: date,
    last: date,
    risen: Sequence[Place] = (),
    aims: Sequence[Aim] = (),
    became: Sequence[ReviewLine] = (),
) -> Review:
    """Return the week of `monday` read back as far as `last`.

    `risen` are the places whose sign speaks at its end; `became` says what came of changes looked at again in the week.
    """
    week = _Week(record, monday, last)
    found = [
        *week.load(),
        *week.climb(),
        *(ReviewLine("risen", {"region": region, "side": side}) for region, side in risen),
        *became,
        *week.strongest_place(risen),
        *week.nerve(),
        *week.performances(),
        *week.rest(),
        *week.warm_ups(),
        *week.sleep(),
        *_aims(aims),
        *week.question(),
    ]
    change = _change(week, found, risen)
    lines = (*found[: LINES_MAX - 1], week.written())
    return Review(monday, lines, change, week.better())


class _Week:
    """The entries of one week, and those it is compared with."""

    def __init__(self, record: Record, monday: date, last: date) -> None:
        self.record, self.monday = record, monday
        self.days = [monday + timedelta(days=n) for n in range(min(WEEK, (last - monday).days + 1))]
        self.before = monday - timedelta(days=WEEK * WEEKS_BEFORE)
        self.series = load_series(record, monday - timedelta(days=ROOM_DAYS), self.days[-1])
        self.known = [d for d in self.days if (load := self.series.on(d)[1]) == load]
        self.asked = [d for d in self.days if record.checks_on(d)]
        self.played = [d for d in self.days if self.series.on(d)[0] > 0]

    def _blocks(self, day: date) -> list[Block]:
        return [b for s in self.record.sessions if s.day == day for b in s.blocks]

    def load(self) -> list[ReviewLine]:
        over: list[tuple[float, date]] = []
        for day in self.known:
            if usual := above_baseline(self.series, day):
                over.append((100 * (self.series.on(day)[1] / usual.high - 1), day))
        if over:
            most, day = max(over)
            values: Values = {"count": len(over), "more": round(most), "most_on": day.isoformat()}
            return [ReviewLine("load_over", values, tuple(d for _, d in over))]
        return [ReviewLine("load_usual", {"known": len(self.known)})] if self.known else []

    def climb(self) -> list[ReviewLine]:
        best: list[date] = []
        run: list[date] = []
        for day in self.days:
            load = self.series.on(day)[1]
            rises = run and load == load and load > self.series.on(run[-1])[1] and (day - run[-1]).days == 1
            run = [*run, day] if rises else [day] if load == load and load > 0 else []
            best = run if len(run) > len(best) else best
        return [ReviewLine("climb", {"count": len(best)}, tuple(best))] if len(best) >= CLIMB_DAYS else []

    def marked(self, first: date, last: date, kinds: Sequence[str] = ()) -> dict[Place, dict[date, float]]:
        """The strongest mark of each place a day, from `first` to `last`."""
        found: dict[Place, dict[date, float]] = {}
        for check in self._checks(first, last):
            for mark in check.marks:
                if not kinds or mark.entry.kind in kinds:
                    by_day = found.setdefault(mark.place, {})
                    by_day[mark.day] = max(by_day.get(mark.day, 0.0), mark.entry.intensity)
        return found

    def _checks(self, first: date, last: date) -> list[Check]:
        return [c for c in self.record.checks if first <= c.day <= last]

    def strongest_place(self, risen: Sequence[Place]) -> list[ReviewLine]:
        """The place marked on most days; one whose sign speaks is read by that."""
        marked = {p: d for p, d in self.marked(self.monday, self.days[-1]).items() if p not in risen}
        if not marked:
            return [ReviewLine("nothing_marked", {"asked": len(self.asked)})] if self.asked and not risen else []
        place, by_day = max(marked.items(), key=lambda item: (len(item[1]), max(item[1].values()), item[0]))
        waking = {m.day for c in self._checks(self.monday, self.days[-1]) if c.timing == "waking" for m in c.marks}
        values: Values = {
            "region": place[0],
            "side": place[1],
            "count": len(by_day),
            "asked": len(self.asked),
            "most": max(by_day.values()),
            "waking": len(waking & set(by_day)),
        }
        days = tuple(sorted(by_day))
        if not values["waking"]:
            return [ReviewLine("marked_not_waking", values, days)]
        return [ReviewLine("marked", values, days)]

    def nerve(self) -> list[ReviewLine]:
        days = {day for by_day in self.marked(self.monday, self.days[-1], NERVE_KINDS).values() for day in by_day}
        return [ReviewLine("nerve", {"count": len(days)}, tuple(sorted(days)))] if days else []

    def performances(self) -> list[ReviewLine]:
        days = [d for d in self.days if any(b.kind == "performance" for b in self._blocks(d))]
        if not days:
            return []
        return [ReviewLine("dense" if len(days) >= DENSE else "performances", {"count": len(days)}, tuple(days))]

    def rest(self) -> list[ReviewLine]:
        """Days known not to be played; a day that was not written is not one."""
        off = [d for d in self.days if self.series.on(d)[0] == 0]
        if off:
            return [ReviewLine("rest_days", {"count": len(off)}, tuple(off))]
        return [ReviewLine("no_rest", {"played": len(self.played)})] if len(self.played) == WEEK else []

    def warm_ups(self) -> list[ReviewLine]:
        own = [d for d in self.played if any(b.kind != "other" for b in self._blocks(d))]
        warm = [d for d in own if any(b.kind == "warm-up" for b in self._blocks(d))]
        return [ReviewLine("warm_ups", {"count": len(warm), "of": len(own)}, tuple(warm))] if own else []

    def sleep(self) -> list[ReviewLine]:
        notes = [n for d in self.days if (n := self.record.note(d)) and n.sleep]
        short = [n.day for n in notes if n.sleep in ("short", "broken")]
        return [ReviewLine("sleep", {"count": len(short), "of": len(notes)}, tuple(short))] if short else []

    def question(self) -> list[ReviewLine]:
        asked = [s for s in self.record.sessions if s.day in self.days and s.question]
        return [ReviewLine("question", {"question": asked[-1].question}, (asked[-1].day,))] if asked else []

    def written(self) -> ReviewLine:
        return ReviewLine("written", {"asked": len(self.asked), "known": len(self.known), "days": len(self.days)})

    def better(self) -> ReviewLine | None:
        """The place whose share of marked days fell most against the four weeks before; both must be asked enough."""
        before_last = self.monday - timedelta(days=1)
        asked_before = len({c.day for c in self._checks(self.before, before_last)})
        if len(self.asked) < LEAST_ASKED or asked_before < LEAST_ASKED * WEEKS_BEFORE:
            return None
        before, now = self.marked(self.before, before_last), self.marked(self.monday, self.days[-1])
        falls = []
        for place, by_day in before.items():
            usual, here = len(by_day) / asked_before, len(now.get(place, {})) / len(self.asked)
            if usual >= 2 / WEEK and here <= usual / 2:
                falls.append((usual - here, place, by_day))
        if not falls:
            return None
        _, (region, side), by_day = max(falls, key=lambda f: (f[0], f[1]))
        values: Values = {
            "region": region,
            "side": side,
            "before": round(WEEK * len(by_day) / asked_before, 1),
            "count": len(now.get((region, side), {})),
        }
        return ReviewLine("fewer_marks", values)


def _aims(aims: Sequence[Aim]) -> list[ReviewLine]:
    lines = []
    done = [a for a in aims if a.done or a.played >= a.minutes]
    if done:
        lines.append(ReviewLine("aims_done", {"titles": ", ".join(a.title for a in done)}))
    for aim in aims:
        if aim not in done:
            lines.append(
                ReviewLine("aim_part", {"title": aim.title, "played": round(aim.played), "minutes": round(aim.minutes)})
            )
    return lines


def _change(week: _Week, lines: Sequence[ReviewLine], risen: Sequence[Place]) -> ReviewLine:
    """One change for the week after, the first that applies: never treatment, never more than one."""
    said = {line.code: line for line in lines}
    if len(week.days) - len(week.asked) > WEEK - LEAST_ASKED:
        return ReviewLine("change_answer", {"asked": len(week.asked), "days": len(week.days)})
    if "nerve" in said:
        return ReviewLine("change_show")
    if risen:
        return ReviewLine("change_watch", {"region": risen[0][0], "side": risen[0][1]})
    if "climb" in said:
        return ReviewLine("change_climb", {"count": said["climb"].values["count"]})
    if "no_rest" in said:
        return ReviewLine("change_rest")
    warm = said.get("warm_ups")
    if warm is not None and 2 * float(warm.values["count"]) < float(warm.values["of"]):
        return ReviewLine("change_warm_up", dict(warm.values))
    return ReviewLine("change_none")
