"""A programme as a calendar: doses on a staff of minutes, weeks of a new way beside the old, days kept up.

Ink = done, dashed = ahead; a number stands only where the dose changes; hatched on top = what an engagement asks above.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date

from chirotend.drawing.measured import Picture
from chirotend.drawing.pencil import hatched
from chirotend.drawing.shapes import Shape, line, path, pencil_ring, rect, words
from chirotend.drawing.signs import fermata

_LEFT, _TOP, _HIGH, _FOOT = 74.0, 34.0, 130.0, 46.0
_DAY = 44.6


@dataclass(frozen=True)
class Dosed:
    """A day on the staff: its dose in minutes, whether it is over, whether it stepped back, what an engagement asks.

    `asks`: minutes of engagements, drawn only where they pass the dose. `dose` None = before or after the programme.
    """

    day: date
    dose: float | None
    done: bool
    back: bool = False
    asks: float = 0.0


def dose_staff(days: Sequence[Dosed], today: date, top_min: float) -> Picture:
    """Return a fortnight of doses; `top_min` is the height of the staff in minutes (at least 20)."""
    step = next(s for s in (5, 10, 15, 30, 60) if top_min / s <= 5 or s == 60)
    lines = max(2, -(-int(top_min) // step))
    height, width = _HIGH, _LEFT + _DAY * len(days)

    def up(minutes: float) -> float:
        return _TOP + height * (1 - min(minutes, lines * step) / (lines * step))

    shapes: list[Shape] = []
    now = next((n for n, d in enumerate(days) if d.day == today), None)
    if now is not None:
        shapes.append(rect(_LEFT + now * _DAY, 8, _DAY, _TOP + height + _FOOT - 8, "today-wash"))
    for n in range(lines + 1):
        y = up(n * step)
        shapes.append(line(_LEFT, y, width, y, "staff"))
        if n:
            shapes.append(words(_LEFT - 8, y + 5, f"{n * step} min" if n == lines else f"{n * step}", "tick", "end"))
    before: float | None = None
    for n, d in enumerate(days):
        x = _LEFT + n * _DAY
        shapes.append(line(x, up(lines * step), x, up(0), "stem-thin"))
        shapes += _day(x, up, d, before)
        before = d.dose
        label = "tick today-word" if n == now else "tick"
        shapes.append(words(x + _DAY / 2, up(0) + 19, f"{d.day:%a}"[:2], label, "middle"))
        shapes.append(words(x + _DAY / 2, up(0) + 37, str(d.day.day), label, "middle"))
    shapes.append(line(width, up(lines * step), width, up(0), "stem-thin"))
    return Picture(width + 4, _TOP + height + _FOOT, tuple(shapes))


def _day(x: float, up: Callable[[float], float], d: Dosed, before: float | None) -> list[Shape]:
    if d.dose is None:
        return []
    y, shapes = up(d.dose), []
    shapes.append(rect(x + 4, y, _DAY - 8, up(0) - y, "dose-done" if d.done else "block-own"))
    if d.asks > d.dose:
        high = up(d.asks)
        shapes += [hatched(x + 6, high, _DAY - 12, y - high, "fixed", "hatched"), *fermata(x + _DAY / 2, high - 8, 9)]
    if d.dose != before:
        if d.asks > d.dose:
            shapes.append(rect(x + 8, y - 21, _DAY - 16, 18, "number-ground"))
        shapes.append(words(x + _DAY / 2, y - 7, f"{d.dose:g}", "dose-number" if d.done else "dose-ahead", "middle"))
    if d.back:
        shapes.append(pencil_ring(x + _DAY / 2, y - 12, 17, 13))
    return shapes


_BARS, _ROW, _WEEK_LEFT = 250.0, 26.0, 40.0


def share_bars(weeks: Sequence[tuple[float, float]], this_week: int | None) -> Picture:
    """Return a line a week: its minutes (share of the usual, 0-1 and more), and how much of it is the new way (ink)."""
    most = max(1.0, *(share for share, _ in weeks))
    shapes: list[Shape] = [line(_WEEK_LEFT, 4, _WEEK_LEFT, 8 + _ROW * len(weeks), "stem-thin")]
    for n, (share, new) in enumerate(weeks):
        y, whole = 8 + n * _ROW, _BARS * share / most
        if n + 1 == this_week:
            shapes.append(rect(0, y - 3, _WEEK_LEFT + _BARS + 4, _ROW, "today-wash"))
        shapes.append(words(_WEEK_LEFT - 10, y + 15, str(n + 1), "tick", "end"))
        shapes.append(hatched(_WEEK_LEFT, y, whole, 19, "fixed", "hatched"))
        shapes.append(rect(_WEEK_LEFT, y, whole * new, 19, "dose-done"))
    return Picture(_WEEK_LEFT + _BARS + 6, 14 + _ROW * len(weeks), tuple(shapes))


def season_bars(minutes: Sequence[float], played: Sequence[float | None], this_week: int | None) -> Picture:
    """Return a line a week: what it allows (dashed), and what was played of it (ink; None = not written)."""
    most = max(minutes)
    shapes: list[Shape] = [line(_WEEK_LEFT, 4, _WEEK_LEFT, 8 + _ROW * len(minutes), "stem-thin")]
    for n, (allowed, done) in enumerate(zip(minutes, played, strict=True)):
        y = 8 + n * _ROW
        if n + 1 == this_week:
            shapes.append(rect(0, y - 3, _WEEK_LEFT + _BARS + 74, _ROW, "today-wash"))
        shapes.append(words(_WEEK_LEFT - 10, y + 15, str(n + 1), "tick", "end"))
        shapes.append(rect(_WEEK_LEFT, y, _BARS * allowed / most, 19, "block-own"))
        if done:
            shapes.append(rect(_WEEK_LEFT, y + 4, min(1.1, done / most) * _BARS, 11, "dose-done"))
        shapes.append(words(_WEEK_LEFT + _BARS + 10, y + 15, f"{allowed / 60:.1f} h", "tick"))
    return Picture(_WEEK_LEFT + _BARS + 76, 14 + _ROW * len(minutes), tuple(shapes))


def kept_days(minutes: Sequence[float | None], floor: float, bad_day: float) -> Picture:
    """Return a stroke a day: tall = kept, half = a bad day kept short, a dot = not, a gap = not written."""
    shapes: list[Shape] = [line(0, 44, 14.0 * max(1, len(minutes)), 44, "staff")]
    for n, value in enumerate(minutes):
        x = 6 + 14.0 * n
        if value is None:
            shapes.append(path(f"M{x - 3:.0f} 44h6", "dotted-day"))
        elif value >= bad_day:
            shapes.append(line(x, 44, x, 12 if value >= floor else 28, "look-seen"))
        else:
            shapes.append(rect(x - 1.5, 38, 3, 3, "ink-fill"))
    return Picture(14.0 * max(1, len(minutes)) + 6, 50, tuple(shapes))
