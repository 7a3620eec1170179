"""What of the score is shown: one region, one instrument, and a measure of hers laid under the load."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from chirotend.core.body.zones import regions
from chirotend.drawing.score import Measured
from chirotend.services.context import Context
from chirotend.services.record.measured import followed
from chirotend.services.words import series_words


@dataclass(frozen=True)
class Only:
    """The region, instrument and measure that were chosen; "" = all of them, and nothing laid under."""

    region: str = ""
    instrument: str = ""
    under: str = ""

    @property
    def asked(self) -> dict[str, str]:
        """What was chosen, as parts of an address."""
        return {k: v for k, v in (("region", self.region), ("instrument", self.instrument), ("under", self.under)) if v}


EVERYTHING = Only()


def read_choice(context: Context, typed: Mapping[str, str]) -> Only:
    """Return what an address chooses; what there is none of is not chosen."""
    region, instrument, under = (typed.get(name, "") for name in ("region", "instrument", "under"))
    return Only(
        region if region in regions() else "",
        instrument if instrument in context.player.instruments else "",
        under if under in measures(context) else "",
    )


def measures(context: Context) -> dict[str, str]:
    """Return the measures she has values of, that can be laid under: name by key."""
    return {key: series_words(key)[0] for key in sorted(followed(context))}


def measured_between(context: Context, key: str, first: date, last: date) -> Measured | None:
    """Return the values of a measure from `first` to `last`, the last of each day; None without a measure.

    The ends of the scale are those of all her values of it, so that two pages compare.
    """
    if not key:
        return None
    rows = followed(context)[key]
    by_day = {r.day: r.value for r in rows}
    shown = tuple((day, value) for day, value in sorted(by_day.items()) if first <= day <= last)
    return Measured(series_words(key)[0], rows[-1].unit, min(by_day.values()), max(by_day.values()), shown)
