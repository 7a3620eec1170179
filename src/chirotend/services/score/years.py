"""Five years of the record on one page: a line a quarter, and two spans side by side."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.judge.baseline import baseline_range
from chirotend.core.load.series import LoadSeries, load_series
from chirotend.core.record import Record
from chirotend.core.review.spans import SpanFacts, most_marked, span_facts
from chirotend.drawing.measured import Picture
from chirotend.drawing.quarters import Pair, Quarter, two_bars
from chirotend.library.loader import instrument_name
from chirotend.services.context import Context, FieldError
from chirotend.services.units import typed_day
from chirotend.services.words import place_name

YEARS = 5
#: days in a row without playing, or without a word, that are drawn as one stretch
IDLE_DAYS = 14
#: days of a week that are Muted before its call is drawn
MUTED_DAYS = 3
SPAN_DAYS = 42
NAMES = ("Jan to Mar", "Apr to Jun", "Jul to Sep", "Oct to Dec")


@dataclass(frozen=True)
class QuarterRow:
    """A line of the page: its year where one begins, its name, the quarter, what is pencilled beside it."""

    year: int | None
    name: str
    drawn: Quarter
    remarks: tuple[str, ...]
    summary: str


@dataclass(frozen=True)
class Compared:
    """A number of two spans: its name, drawing, what changed in words, the values as they are read."""

    name: str
    drawing: Picture
    change: str
    before: str
    now: str


@dataclass(frozen=True)
class YearsPage:
    rows: tuple[QuarterRow, ...]
    spans: tuple[SpanFacts, SpanFacts]
    compared: tuple[Compared, ...]
    first: int
    last: int

    @property
    def title(self) -> str:
        return f"Score, {self.first} to {self.last}" if self.first != self.last else f"Score, {self.first}"


Span = tuple[date, date]


def spans_of(context: Context, typed: Mapping[str, str]) -> tuple[Span, Span]:
    """Return the two spans an address chooses; without one the last six weeks, and those a year or six weeks before.

    `FieldError` names the field.
    """
    if not any(typed.get(name) for name in ("a_from", "a_to", "b_from", "b_to")):
        last = context.today
        now = (last - timedelta(days=SPAN_DAYS - 1), last)
        begun = context.store.first_day() or last
        back = timedelta(days=364 if begun <= now[0] - timedelta(days=364) else SPAN_DAYS)  # the same weekdays
        return (now[0] - back, now[1] - back), now
    a_from, a_to, b_from, b_to = (typed_day(n, typed.get(n, "")) for n in ("a_from", "a_to", "b_from", "b_to"))
    for name, first, last in (("a_to", a_from, a_to), ("b_to", b_from, b_to)):
        if not timedelta(days=6) <= last - first <= timedelta(days=366):
            raise FieldError(name, "A span has seven days at least and a year at most, and ends after it begins.")
    return (a_from, a_to), (b_from, b_to)


def years_page(context: Context, wanted_year: int, spans: tuple[Span, Span]) -> YearsPage:
    """Return the five years that end with `wanted_year` (between her first and this), and the spans compared."""
    begun = context.store.first_day() or context.today
    last_year = min(max(wanted_year, begun.year), context.today.year)
    first, last = date(last_year - YEARS + 1, 1, 1), date(last_year, 12, 31)
    start = first - timedelta(days=60)
    record = context.store.record(start, min(last, context.today))
    said = context.store.said_calls(first, last)
    series = load_series(record, start, last)
    beside = _remarks(context, begun)
    top = max([v for v in series.load if v == v] + [1.0])
    signs, logged = _strongest_a_day(record), record.logged_days
    rows = []
    for year in range(max(first.year, begun.year), last.year + 1):
        for n, name in enumerate(NAMES):
            begins, ends = date(year, 3 * n + 1, 1), _end(year, n)
            drawn = _quarter(context.today, series, begins, ends, signs, said, spans, top)
            days = sum(begins <= d <= ends for d in logged)
            rows.append(
                QuarterRow(
                    year if n == 0 else None,
                    name,
                    drawn,
                    tuple(text for day, text in beside if begins <= day <= ends),
                    f"{name} {year}: {days} days written, {len(drawn.signs)} weeks with a sign",
                )
            )
    facts = _facts(context, spans)
    return YearsPage(tuple(rows), facts, _compared(*facts), rows[0].drawn.first.year, last.year)


def _end(year: int, n: int) -> date:
    following = date(year + n // 3, (3 * n + 3) % 12 + 1, 1)
    return following - timedelta(days=1)


def _quarter(
    today: date,
    series: LoadSeries,
    first: date,
    last: date,
    signs: Mapping[date, tuple[float, str]],
    said: Mapping[date, str],
    spans: tuple[Span, Span],
    top: float,
) -> Quarter:
    a, b = series.index(first), series.index(last) + 1
    usual = [baseline_range(series.load, i) for i in range(a, b, 7)]
    return Quarter(
        first,
        last,
        today,
        tuple(None if v != v else v for v in series.load[a:b]),
        tuple((u.low, u.high) if u else None for u in usual),
        _strongest_a_week(signs, first, last),
        _calls(said, first, last),
        _idle(series, first, min(last, today)),
        tuple((max(f, first), min(t, last)) for f, t in spans if f <= last and t >= first),
        top,
    )


def _strongest_a_day(record: Record) -> dict[date, tuple[float, str]]:
    best: dict[date, tuple[float, str]] = {}
    for check in record.checks:
        for entry in check.entries:
            if entry.intensity > best.get(check.day, (0.0, ""))[0]:
                best[check.day] = entry.intensity, entry.kind
    return best


def _strongest_a_week(
    by_day: Mapping[date, tuple[float, str]], first: date, last: date
) -> tuple[tuple[date, str, float], ...]:
    """The strongest sign of each week of the quarter, at the first day of that week within it."""
    found = []
    for week in range(0, (last - first).days + 1, 7):
        days = [first + timedelta(days=week + i) for i in range(7)]
        strongest = max((by_day[d] for d in days if d in by_day and d <= last), default=None)
        if strongest:
            found.append((days[0], strongest[1], strongest[0]))
    return tuple(found)


def _calls(said: Mapping[date, str], first: date, last: date) -> tuple[tuple[date, str], ...]:
    """One call a week: Tacet when there was one, Muted from three such days on."""
    found = []
    for week in range(0, (last - first).days + 1, 7):
        day = first + timedelta(days=week)
        calls = [said.get(day + timedelta(days=i), "") for i in range(7)]
        if "tacet" in calls:
            found.append((day, "tacet"))
        elif sum(c.startswith("muted") for c in calls) >= MUTED_DAYS:
            found.append((day, "muted_mp"))
    return tuple(found)


def _idle(series: LoadSeries, first: date, last: date) -> tuple[tuple[date, date, bool], ...]:
    """Stretches of two weeks and more without playing: known to be so when half of their days are, else not written."""
    found = []
    idle: list[date] = []
    for day in [*(first + timedelta(days=i) for i in range((last - first).days + 1)), None]:
        if day is not None and not series.on(day)[0] > 0:
            idle.append(day)
            continue
        if len(idle) >= IDLE_DAYS:
            off = sum(series.on(d)[0] == 0 for d in idle)
            found.append((idle[0], idle[-1], 2 * off >= len(idle)))
        idle = []
    return tuple(found)


def _remarks(context: Context, begun: date) -> list[tuple[date, str]]:
    """What is pencilled beside a quarter: an instrument played for the first time, a clinician seen."""
    first = context.store.first_played()
    new = [(day, f"first {instrument_name(i).lower()}") for i, day in first.items() if day > begun]
    seen = [(c.at_utc.astimezone(context.zone).date(), "seen by a clinician") for c in context.store.clearances()]
    return sorted([*new, *seen])


def _facts(context: Context, spans: tuple[Span, Span]) -> tuple[SpanFacts, SpanFacts]:
    """The facts of both spans; the place looked at on waking is the one most marked in the second."""
    before, now = (context.store.record(*span) for span in spans)
    place = most_marked(now, *spans[1])
    a, b = (
        span_facts(record, context.store.said_calls(*span), *span, place)
        for record, span in zip((before, now), spans, strict=True)
    )
    return a, b


def _compared(a: SpanFacts, b: SpanFacts) -> tuple[Compared, ...]:
    waking = f"{place_name(b.place)} on waking, middle day, of 10" if b.place else ""
    rows = [
        ("load a week, effort × minutes", a.load_week, b.load_week, 0),
        ("minutes a week", a.minutes_week, b.minutes_week, 0),
        ("performances a week", a.performances_week, b.performances_week, 1),
        ("days without playing in 28", a.off_28, b.off_28, 1),
        ("days with a sign in 7 asked", a.marked_7, b.marked_7, 1),
        ("Muted or Tacet days in 28", a.muted_28, b.muted_28, 1),
        *([(waking, a.waking, b.waking, 1)] if b.place else []),
    ]
    return tuple(
        Compared(
            name, two_bars(Pair(x, y), digits), change(x, y), _number_in_words(x, digits), _number_in_words(y, digits)
        )
        for name, x, y, digits in rows
    )


def _number_in_words(value: float | None, digits: int) -> str:
    return "not known" if value is None else f"{value:.{digits}f}"


def change(before: float | None, now: float | None) -> str:
    """Return what changed in words: "a fifth more", "half", "twice"; never a judgement."""
    if before is None or now is None:
        return "cannot be told"
    if before == 0 or now == 0:
        return (
            "the same" if before == now else f"from {before:.0f}" if now == 0 else f"{now:.1f} more".replace(".0", "")
        )
    ratio = now / before
    if 0.95 <= ratio <= 1.05:
        return "about the same"
    for low, high, words in _RATIOS:
        if low <= ratio < high:
            return words
    return f"{ratio:.0f} times" if ratio > 1 else f"{100 * (1 - ratio):.0f}\u00a0% less"


_RATIOS = (
    (0.45, 0.56, "half"),
    (0.62, 0.7, "a third less"),
    (0.7, 0.78, "a quarter less"),
    (0.78, 0.84, "a fifth less"),
    (0.84, 0.95, "a little less"),
    (1.05, 1.16, "a little more"),
    (1.16, 1.22, "a fifth more"),
    (1.22, 1.29, "a quarter more"),
    (1.29, 1.39, "a third more"),
    (1.39, 1.7, "half as much again"),
    (1.7, 2.3, "twice"),
    (2.3, 2.7, "two and a half times"),
)
