"""What a trial is measured by: a value a day, from marks, effort at equal load, or measures. Missing = None."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.judge.watched_series import ALIKE_DAYS, diary_series
from chirotend.core.record import Record
from chirotend.core.record.measures import measure_of
from chirotend.core.record.words import NERVE_KINDS, TRIAL_TIMINGS
from chirotend.drawing.trial import Scale
from chirotend.formats.kept_rows import TrialMeasure
from chirotend.services.context import Context, FieldError
from chirotend.services.record import measured
from chirotend.services.words import TIMING_WORDS, place_name, series_words

#: what was marked in so many days can be chosen
MARKED_DAYS = 56
#: her own days before a trial, from which it is told what it can show, and how many of them must be known
BEFORE_DAYS, BEFORE_LEAST = 42, 8


@dataclass(frozen=True)
class Choice:
    """A measure that can be chosen, its key in the form and its words."""

    key: str
    name: str


def choices(context: Context) -> tuple[Choice, ...]:
    """Return what can be measured: places she marked of late by timing, effort, and what she measures herself.

    Tingling, numbness and weakness are no measure of a trial: they stop it.
    """
    found: dict[str, str] = {}
    record = context.store.record(context.today - timedelta(days=MARKED_DAYS), context.today)
    places = {m.place for c in record.checks for m in c.marks if m.entry.kind not in NERVE_KINDS}
    for place in sorted(places):
        for timing in TRIAL_TIMINGS:
            m = TrialMeasure(kind="mark", region=place[0], side=place[1], timing=timing)
            found[key_of(m)] = name_of(m)
    for m in (TrialMeasure(kind="effort"), *(TrialMeasure(kind="measure", key=k) for k in _followed(context))):
        found[key_of(m)] = name_of(m)
    return tuple(Choice(key, name) for key, name in found.items())


def _followed(context: Context) -> list[str]:
    rows = measured.followed(context, context.today - timedelta(days=MARKED_DAYS))
    return [key for key, values in sorted(rows.items()) if measure_of(values[0].method).better]


def key_of(m: TrialMeasure) -> str:
    return "|".join((m.kind, m.region, m.side, m.timing, m.key))


def measure_from(context: Context, key: str) -> TrialMeasure:
    """Return the measure of a key; `FieldError` when it is none that can be chosen."""
    if key not in {c.key for c in choices(context)}:
        raise FieldError("measure", "Choose what it is measured by, among what you mark and measure.")
    names = ("kind", "region", "side", "timing", "key")
    return TrialMeasure.model_validate(dict(zip(names, key.split("|", 4), strict=True)))


def name_of(m: TrialMeasure) -> str:
    """Return a measure in words: left wrist and thumb, waking, 0 to 10."""
    if m.kind == "mark":
        return f"{place_name((m.region, m.side))}, {TIMING_WORDS[m.timing]}, 0 to 10"
    name, unit = series_words("effort" if m.kind == "effort" else m.key)
    return f"{name}, {unit}" if unit else name


def better_of(m: TrialMeasure) -> str:
    """Return which way is better: lower, but for measures that are better higher."""
    return "higher" if m.kind == "measure" and measure_of(m.key.split("|", 1)[0]).better == "up" else "lower"


def values(context: Context, m: TrialMeasure, first: date, last: date) -> tuple[float | None, ...]:
    """Return a value for each day from `first` to `last`. A morning belongs to the day before it: that is what it
    followed."""
    count = (last - first).days + 1
    if m.kind == "mark":
        record = context.store.record(first, last + timedelta(days=1))
        return tuple(_mark(record, m, first + timedelta(days=n)) for n in range(count))
    return _of(_known(context, m, first, last), first, count)


def _mark(record: Record, m: TrialMeasure, day: date) -> float | None:
    on = day + timedelta(days=1) if m.timing == "waking" else day
    checks = [c for c in record.checks_on(on) if c.timing == m.timing]
    if not checks:
        return None
    here = [k for c in checks for k in c.marks if k.place == (m.region, m.side) and k.entry.kind not in NERVE_KINDS]
    return max((k.entry.intensity for k in here), default=0.0)


def _known(context: Context, m: TrialMeasure, first: date, last: date) -> Mapping[date, float]:
    if m.kind == "effort":
        earlier = first - timedelta(days=ALIKE_DAYS)
        return dict(diary_series(context.store.record(earlier, last), earlier, last)["effort"])
    return {row.day: row.value for row in measured.followed(context).get(m.key, [])}


def _of(known: Mapping[date, float], first: date, count: int) -> tuple[float | None, ...]:
    return tuple(known.get(first + timedelta(days=n)) for n in range(count))


def noise_before(context: Context, m: TrialMeasure, better: str) -> tuple[float, ...]:
    """Return her own days before today as a trial would see them (lower is better); `()` = too few are known."""
    found = values(context, m, context.today - timedelta(days=BEFORE_DAYS), context.today - timedelta(days=1))
    known = [v if better == "lower" else -v for v in found if v is not None]
    return tuple(known) if len(known) >= BEFORE_LEAST else ()


def scale_of(m: TrialMeasure, found: Sequence[float | None]) -> Scale:
    """Return the staff that the values are drawn on."""
    if m.kind == "mark":
        return Scale(0, 10, 2, "tension")
    known = [v for v in found if v is not None] or [0.0, 1.0]
    low, high = min(known), max(known)
    spread = (high - low) or 1.0
    return Scale(low - 0.1 * spread, high + 0.1 * spread, 1.2 * spread / 4)
