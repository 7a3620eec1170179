"""Bars and rests inside a session. Minutes. All presets are common practice, no source."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache

from chirotend.core.errors import OutOfRange, check_range
from chirotend.core.tables import rows

SHRINK_STEP_MIN, SHRINK_EVERY_MIN, SHORTEST_BAR_MIN = 5.0, 30.0, 10.0


@dataclass(frozen=True)
class Preset:
    """Pairs of playing and rest minutes in turn; the last pair repeats, or shrinks with what is already played."""

    id: str
    name: str
    bars: tuple[tuple[float, float], ...]
    shrinks: bool
    why: str


@cache
def presets() -> dict[str, Preset]:
    """Return the rest presets by id, in the order of the table."""
    found = {}
    for r in rows("rest_presets"):
        pairs = tuple((float(a), float(b)) for a, b in (p.split(":") for p in r["bars"].split()))
        found[r["id"]] = Preset(r["id"], r["name"], pairs, r["again"] == "shrink", r["why"])
    return found


def preset(preset_id: str) -> Preset:
    """Return the preset called `preset_id`; `OutOfRange` if there is none."""
    try:
        return presets()[preset_id]
    except KeyError:
        raise OutOfRange("preset", preset_id, words=tuple(presets())) from None


def bar_and_rest(
    preset_id: str, number: int, played_today_min: float = 0.0, rest_factor: float = 1.0
) -> tuple[float, float]:
    """Return the minutes of playing bar `number` (from 0) and of the rest after it.

    `played_today_min` is what was played today before this bar (it matters to a shrinking preset only), `rest_factor`
    0.3-1 how much sooner a heavy or wide instrument rests (it shortens the bar, never the rest).
    """
    chosen = preset(preset_id)
    check_range("rest_factor", rest_factor, 0.3, 1.0)
    check_range("played_today_min", played_today_min, 0, unit="min")
    play, rest = chosen.bars[min(number, len(chosen.bars) - 1)]
    if chosen.shrinks:
        play = max(SHORTEST_BAR_MIN, play - SHRINK_STEP_MIN * (played_today_min // SHRINK_EVERY_MIN))
    return max(min(play, SHORTEST_BAR_MIN), round(play * rest_factor)), rest


def bars(
    minutes: float, preset_id: str, played_today_min: float = 0.0, rest_factor: float = 1.0
) -> Iterator[tuple[float, float]]:
    """Yield (play, rest) until `minutes` of playing are laid out; the last rest is 0."""
    left, number = check_range("minutes", minutes, 0, 1440, "min"), 0
    while left > 0:
        play, rest = bar_and_rest(preset_id, number, played_today_min + minutes - left, rest_factor)
        play = min(play, left)
        left -= play
        number += 1
        yield play, rest if left > 0 else 0.0
