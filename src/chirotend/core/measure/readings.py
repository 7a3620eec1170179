"""The line protocol of sensors: one reading a line, `milliseconds channel value unit`, words without spaces.

A line that begins with # is a remark. A value that was not read is `nan`. Lines come in the order of their time.
"""

import math
import re
from collections.abc import Iterable
from dataclasses import dataclass

from chirotend.core.errors import Inconsistent, TooFew

_LINE = re.compile(
    r"^(\d{1,12}(?:\.\d{1,6})?) (\S{1,40}) (nan|[-+]?\d{1,12}(?:\.\d{1,9})?(?:e[-+]?\d{1,3})?) (\S{1,12})$"
)


@dataclass(frozen=True)
class Reading:
    """What a channel showed at an instant, milliseconds after the device began; NaN = nothing was read."""

    at_ms: float
    channel: str
    value: float
    unit: str


def line_of(reading: Reading) -> str:
    """Return a reading as a line, without its end."""
    value = "nan" if math.isnan(reading.value) else f"{reading.value:.6g}"
    return f"{reading.at_ms:.3f} {reading.channel} {value} {reading.unit}"


def reading_of(line: str) -> Reading | None:
    """Return the reading of a line; None for a remark or an empty one. `Inconsistent` when it is neither."""
    text = line.strip()
    if not text or text.startswith("#"):
        return None
    found = _LINE.match(text)
    if found is None or math.isinf(float(found[3])):
        raise Inconsistent("line", f"“{text[:60]}” is no reading: milliseconds channel value unit")
    return Reading(float(found[1]), found[2], float(found[3]), found[4])


@dataclass(frozen=True)
class Channels:
    """Readings sorted out: by channel its unit and its values, and the steps they came in (samples a second)."""

    units: dict[str, str]
    values: dict[str, list[float]]
    rate_hz: float


def sorted_out(readings: Iterable[Reading]) -> Channels:
    """Return readings by channel. `TooFew` below three of a channel; `Inconsistent` where a channel changes its unit or
    runs back in time."""
    units: dict[str, str] = {}
    values: dict[str, list[float]] = {}
    times: dict[str, list[float]] = {}
    for r in readings:
        if units.setdefault(r.channel, r.unit) != r.unit:
            raise Inconsistent("line", f"{r.channel} changes its unit from {units[r.channel]} to {r.unit}")
        at = times.setdefault(r.channel, [])
        if at and r.at_ms <= at[-1]:
            raise Inconsistent("line", f"{r.channel} runs back in time at {r.at_ms:g} ms")
        at.append(r.at_ms)
        values.setdefault(r.channel, []).append(r.value)
    if not values or min(map(len, values.values())) < 3:
        raise TooFew("line", "fewer than 3 readings of a channel")
    rates = [1000 * (len(at) - 1) / (at[-1] - at[0]) for at in times.values()]
    least = min(map(len, values.values()))
    return Channels(units, {name: found[:least] for name, found in values.items()}, min(rates))
