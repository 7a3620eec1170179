"""Values measured on her, kept and read back: every kind stands in the core's registry."""

from datetime import date, timedelta
from typing import Any
from uuid import uuid4

from chirotend.core.judge.rules import rules
from chirotend.core.judge.series import Series
from chirotend.core.record.measures import measure_of
from chirotend.services.context import Context
from chirotend.services.record import corrections
from chirotend.store.models import MeasurementRow, ProbeRow


def keep(
    context: Context,
    method: str,
    value: float,
    hand: str = "",
    instrument: str = "",
    uid: str = "",
    what: str = "",
    probe: str = "",
) -> None:
    """Keep today's value; `uid` puts it in the place of an earlier one of that name. `OutOfRange` when it is none.

    `what` it was measured on (a note, a figure, a stick) and the `probe` it came from; "" = neither.
    """
    kind = measure_of(method)
    kind.check(value)
    corrections.put_row(
        context,
        "measurement",
        {
            "uid": uid or uuid4().hex,
            "day": context.today,
            "at_utc": context.now,
            "method": method,
            "version": kind.version,
            "instrument": instrument,
            "hand": hand,
            "value": value,
            "unit": kind.unit,
            "what": what,
            "probe": probe,
        },
    )


def kept(
    context: Context, method: str, hand: str = "", instrument: str = "", first: date | None = None
) -> list[MeasurementRow]:
    """Return the values of `method` ("hand.*" = of all that begin so) from `first` on (None = all), oldest first;
    `hand`, `instrument` "" = of any.

    Values of an older version of their method are left out: they do not compare.
    """
    family = method.removesuffix("*")
    wanted = [MeasurementRow.method == method] if family == method else [MeasurementRow.method.startswith(family)]
    if hand:
        wanted.append(MeasurementRow.hand == hand)
    if instrument:
        wanted.append(MeasurementRow.instrument == instrument)
    if first is not None:
        wanted.append(MeasurementRow.day >= first)
    rows = context.store.repository(MeasurementRow).all(*wanted, order=(MeasurementRow.day, MeasurementRow.at_utc))
    return [row for row in rows if row.version == measure_of(row.method).version]


#: shown by themselves, or the same for years: not followed from day to day
NOT_FOLLOWED = ("hand.", "selfcheck.", "aware.")


#: what is read of a value that is followed
FOLLOWED = ("day", "method", "version", "instrument", "hand", "what", "probe", "value", "unit")


def followed(context: Context, first: date | None = None) -> dict[str, list[Any]]:
    """Return the values of every measure that is followed, from `first` on (None = all), oldest first, each with the
    names of `FOLLOWED`, by "method|instrument|hand|what, kit": another reed or microphone begins another one."""
    return context.per_request(f"measures from {first}", lambda: _followed(context, first))


def _followed(context: Context, first: date | None) -> dict[str, list[Any]]:
    found: dict[str, list[Any]] = {}
    wanted = [] if first is None else [MeasurementRow.day >= first]
    since = [] if first is None else [ProbeRow.day >= first]
    probes = context.store.repository(ProbeRow).some(("uid", "kit"), ProbeRow.kit != "", *since)
    kits = {row.uid: row.kit for row in probes}
    order = (MeasurementRow.day, MeasurementRow.at_utc)
    for row in context.store.repository(MeasurementRow).some(FOLLOWED, *wanted, order=order):
        if not row.method.startswith(NOT_FOLLOWED) and row.version == measure_of(row.method).version:
            what = ", ".join(word for word in (row.what, kits.get(row.probe, "")) if word)
            found.setdefault("|".join((row.method, row.instrument, row.hand, what)), []).append(row)
    return found


def series_until(context: Context, last: date) -> tuple[Series, ...]:
    """Return the measures on which one way is better, the last value of each day of the time the judgement reads."""
    found = []
    for key, rows in sorted(followed(context, last - timedelta(days=rules().judge_days)).items()):
        better = measure_of(rows[0].method).better
        values = {r.day: r.value for r in rows if r.day <= last}
        if better and values:
            found.append(Series(key, tuple(sorted(values.items())), -1 if better == "up" else 1))
    return tuple(found)
