"""A trial drawn: a note-head a day on a staff of 0 to 10 (or of its own unit), A and B, the middle days, the load.

Days that are not written leave a dotted gap. Below, every day without against every day with: a square a pair.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, circle, line, path, rect, words
from chirotend.drawing.signs import symptom

_LEFT, _TOP, _HIGH, _LOAD = 66.0, 40.0, 96.0, 44.0


@dataclass(frozen=True)
class TrialDay:
    """A day: its letter, its value (None = missing or still to come), its load as a share of the usual high (None)."""

    day: date
    letter: str
    value: float | None
    load: float | None


@dataclass(frozen=True)
class Scale:
    """The staff: from `low` to `high`, a line each `step`; marks are note-heads of a kind, measures plain points."""

    low: float
    high: float
    step: float
    kind: str = ""


def trial_days(
    days: Sequence[TrialDay], scale: Scale, middles: tuple[float | None, float | None], width: float, today: date
) -> Picture:
    """Return the days side by side, with the middle day of A and of B as pencil lines over their days."""
    share = (width - _LEFT - 8) / max(14, len(days))

    def up(value: float) -> float:
        return _TOP + _HIGH * (1 - (min(scale.high, max(scale.low, value)) - scale.low) / (scale.high - scale.low))

    bottom = _TOP + _HIGH
    right = _LEFT + share * len(days)
    shapes: list[Shape] = []
    for value in _lines(scale):
        shapes.append(line(_LEFT, up(value), right, up(value), "staff"))
        shapes.append(words(_LEFT - 8, up(value) + 5, f"{value:.3g}", "tick", "end"))
    shapes += _letters(days, share, right)
    for letter, middle in zip("AB", middles, strict=True):
        if middle is not None:
            for first, last in _runs(days, letter):
                x = _LEFT + first * share
                shapes.append(line(x, up(middle), _LEFT + (last + 1) * share, up(middle), "middle-line"))
    step = max(1, -(-22 // int(max(1, share))))
    for n, d in enumerate(days):
        x = _LEFT + (n + 0.5) * share
        if d.value is not None:
            shapes += _value(x, up(d.value), bottom, scale, share)
        elif d.day < today:
            shapes.append(line(x - share / 2, up(scale.low), x + share / 2, up(scale.low), "dotted-day"))
        if n % step == 0:
            shapes.append(
                words(x, bottom + 20, str(d.day.day), "tick today-word" if d.day == today else "tick", "middle")
            )
        if d.load is not None:
            height = _LOAD * min(1.25, d.load)
            shapes.append(
                rect(x - share * 0.18, bottom + 34 + _LOAD * 1.25 - height, share * 0.36, height, "dose-done")
            )
    base = bottom + 34 + _LOAD * 1.25
    usual = rect(_LEFT, base - _LOAD, right - _LEFT, _LOAD * 0.4, "usual-blend")
    foot = [line(_LEFT, base, right, base, "staff"), words(_LEFT - 8, base - 8, "load", "tick", "end")]
    return Picture(width, base + 8, (usual, *shapes, *foot))


def _lines(scale: Scale) -> list[float]:
    count = round((scale.high - scale.low) / scale.step)
    return [scale.low + n * scale.step for n in range(count + 1)]


def _runs(days: Sequence[TrialDay], letter: str) -> list[tuple[int, int]]:
    """Stretches of days of one letter: first and last number of each."""
    found: list[tuple[int, int]] = []
    for n, d in enumerate(days):
        if d.letter == letter:
            found = [*found[:-1], (found[-1][0], n)] if found and found[-1][1] == n - 1 else [*found, (n, n)]
    return found


def _letters(days: Sequence[TrialDay], share: float, right: float) -> list[Shape]:
    shapes: list[Shape] = []
    for letter in "AB":
        for first, last in _runs(days, letter):
            x = _LEFT + first * share
            anchor = "start" if last > first else "middle"
            at = x + 3 if last > first else x + share / 2
            shapes.append(words(at, 24, letter, "phase-letter" if last > first else "phase-small", anchor))
            if letter == "B" and last > first and first:
                shapes += [
                    line(x - 2, 14, x - 2, _TOP + _HIGH, "stem"),
                    line(x + 2, 14, x + 2, _TOP + _HIGH, "stem-thin"),
                ]
            else:
                shapes.append(line(x, _TOP, x, _TOP + _HIGH, "stem-thin"))
    shapes.append(line(right, _TOP, right, _TOP + _HIGH, "stem"))
    return shapes


def _value(x: float, y: float, bottom: float, scale: Scale, share: float) -> list[Shape]:
    if not scale.kind:
        return [circle(x, y, min(4.5, share * 0.3), "ink-fill")]
    return [line(x - 5, y, x - 5, min(bottom, y + 24), "stem-thin"), *symptom(scale.kind, x, y, min(5.6, share * 0.3))]


_SIDE = 184.0


def all_pairs(without: Sequence[float], with_it: Sequence[float], better: str) -> Picture:
    """Return a square a pair, days without downwards and days with across: ink = better, cut = equal, open = worse."""
    way = 1 if better == "higher" else -1
    rows, columns = sorted(without, key=lambda v: -way * v), sorted(with_it, key=lambda v: -way * v)
    cell = min(14.0, _SIDE / max(len(rows), len(columns)))
    shapes: list[Shape] = []
    for i, a in enumerate(reversed(rows)):
        for j, b in enumerate(columns):
            x, y, size = 2 + j * cell, 2 + i * cell, cell - 1.6
            gain = way * (b - a)
            shapes.append(rect(x, y, size, size, "pair-better" if gain > 0 else "pair-open"))
            if gain == 0:
                shapes.append(path(f"M{x:.1f} {y + size:.1f}V{y:.1f}H{x + size:.1f}Z", "ink-fill"))
    return Picture(4 + cell * len(columns), 4 + cell * len(rows), tuple(shapes))
