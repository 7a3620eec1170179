"""A series beside the places, opened: what stands out, its days as a picture, and what it is."""

from dataclasses import dataclass

from chirotend.core.judge.rules import rules
from chirotend.core.judge.series import Series, Values
from chirotend.core.judge.watched_series import DIARY, WatchedSeries, diary_series, first_day, stands_out
from chirotend.drawing.measured import Picture
from chirotend.drawing.series_days import series_days
from chirotend.services.context import Context, NotThere
from chirotend.services.record.measured import series_until
from chirotend.services.words import amount, capital, day_words, keyed_sentence, sentence, series_words


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
        keyed_sentence("series_means", key) if key in DIARY else sentence("series", "measured", unit=unit),
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
        now, usual = f"{out.now:.2g}", f"{out.usual:.2g}"
        return sentence("series", "stands_out", now=now, unit=unit, since=day_words(out.since), usual=usual)
    least = rules().cusum_m
    if len(series.values) <= least:
        values = capital(amount(len(series.values), "value"))
        if series.name in DIARY:
            return sentence("series", "few_in_three_months", values=values, least=least + 1)
        return sentence("series", "few_in_half_a_year", values=values, least=least + 1)
    return sentence("series", "nothing_stands_out")
