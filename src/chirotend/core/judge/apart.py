"""Days with a new instrument stand apart for six weeks: counted beside the others, and no part of her usual meanwhile.

A new instrument begins a new baseline (single-case practice); six weeks and what is counted are ours, common practice,
no source.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from chirotend.core.judge.happened import INSTRUMENT, Happening
from chirotend.core.judge.rules import rules
from chirotend.core.record import Record, Session


@dataclass(frozen=True)
class CountedApart:
    """Days of playing since an instrument was new, with it and without it, and on how many of them something was marked
    (any place, any strength above 0). Days on which nothing was asked are left out."""

    with_it: int
    marked_with_it: int
    without_it: int
    marked_without_it: int


def stands_apart(happening: Happening, day: date) -> bool:
    """Return whether `day` lies in the weeks in which the instrument of `happening` is new."""
    new = happening.kind == INSTRUMENT and happening.lasts_on(day)
    return new and (day - happening.day).days < rules().apart_days


def days_apart(sessions: Iterable[Session], happened: Iterable[Happening], today: date) -> frozenset[date]:
    """Return the days on which an instrument was played that still stands apart `today`."""
    new = [h for h in happened if stands_apart(h, today)]
    return frozenset(s.day for s in sessions if any(_is_of(s, h) for h in new)) if new else frozenset()


def _is_of(session: Session, happening: Happening) -> bool:
    return session.day >= happening.day and session.minutes_on(happening.instrument) > 0


def counted_apart(record: Record, happening: Happening, today: date) -> CountedApart:
    """Return the count since the instrument of `happening` was new, up to `today`."""
    span = [s for s in record.sessions if happening.day <= s.day <= today and s.playing_minutes > 0]
    played = {s.day for s in span} & record.asked_days
    with_it = {s.day for s in span if _is_of(s, happening)} & played
    without_it = played - with_it
    marked = {check.day for check in record.checks if check.marks}
    return CountedApart(len(with_it), len(with_it & marked), len(without_it), len(without_it & marked))
