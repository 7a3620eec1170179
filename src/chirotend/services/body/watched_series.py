"""A series beside the places, opened: what stands out, its days as a picture, and what it is."""

from dataclasses import dataclass

from chirotend.core.judge.rules import rules
from chirotend.core.judge.series import Series, Values
from chirotend.core.judge.watched_series import DIARY, WatchedSeries, diary_series, first_day, stands_out
from chirotend.drawing.measured import Picture
from chirotend.drawing.series_days import series_days
from chirotend.services.context import Context, NotThere
from chirotend.services.record.measured import series_until
from chirotend.services.words import day_words, series_words

MEANS = {
    "waking_stiffness": "The strongest stiffness or tightness on waking, 0–10, anywhere; a morning asked without is 0.",
    "marks_an_hour": "Marks made while playing, an hour played, on days with half an hour and more that were asked.",
    "effort": "Your effort, 0–10, less the middle one of days of like length (within a quarter), six weeks back.",
}
MEASURED = "What you measured, in {unit}, the last value of each day."


@dataclass(frozen=True)
class WatchedSeriesPage:
    """What the page of a series shows."""

    name: str
    unit: str
    lead: str
    about: str
    wide: Picture | None
    phone: Picture | None
    values: Values
    others: tuple[tuple[str, str], ...]


def watched_series_page(context: Context, key: str) -> WatchedSeriesPage:
    """Return the page of a series; `NotThere` when she has none of that name."""
    series = _series(context)
    if key not in series:
        raise NotThere(key)
    shown, out = series[key], stands_out(series[key])
    name, unit = series_words(key)
    usual, since = (out.usual, out.since) if out else (None, None)
    others = tuple((k, series_words(k)[0]) for k in series if k != key)
    drawn = [series_days(shown.values, usual, since, w) if shown.values else None for w in (940.0, 350.0)]
    return WatchedSeriesPage(
        name,
        unit,
        _lead(shown, out, unit),
        MEANS.get(key, MEASURED.format(unit=unit)),
        drawn[0],
        drawn[1],
        shown.values[::-1],
        others,
    )


def _series(context: Context) -> dict[str, Series]:
    """The series as the call looks at them."""
    first, last = first_day(context.today), context.today
    diary = [
        Series(name, values) for name, values in diary_series(context.store.record(first, last), first, last).items()
    ]
    return {series.name: series for series in (*diary, *series_until(context, last))}


def _lead(series: Series, out: WatchedSeries | None, unit: str) -> str:
    if out is not None:
        return f"{out.now:.2g} {unit} since {day_words(out.since)}, against {out.usual:.2g} before."
    least = rules().cusum_m
    if len(series.values) <= least:
        span = "three months" if series.name in DIARY else "half a year"
        return f"{len(series.values)} values in {span}: from {least + 1} on it is compared with your own usual."
    return "Nothing stands out against your own earlier values."
