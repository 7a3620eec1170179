"""Years of the record: a line a quarter, a thin column a day on her drifting usual, signs and calls by the week."""

from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, line, path, rect, words
from chirotend.drawing.signs import call, sign_radius, symptom

DAYS = 92
_SIGNS, _TOP, _FOOT = 12.0, 22.0, 52.0
_SCALE = 0.72  # of a sign in the score


@dataclass(frozen=True)
class Quarter:
    """A quarter as a value. `load` by day in AU (None = not known), `usual` by day of the quarter where it changes,
    `signs` (day, kind, intensity) and `calls` (day, call), one a week each; `idle` (first, last, known): two weeks
    and more without playing, or without anything written."""

    first: date
    last: date
    last_day: date
    load: tuple[float | None, ...]
    usual: tuple[tuple[float, float] | None, ...]
    signs: tuple[tuple[date, str, float], ...]
    calls: tuple[tuple[date, str], ...]
    idle: tuple[tuple[date, date, bool], ...]
    brackets: tuple[tuple[date, date], ...]
    top: float


def quarter(q: Quarter, width: float) -> Picture:
    """Return a quarter as shapes; its height is always the same, so that quarters stand under one another."""
    step = width / DAYS
    shapes: list[Shape] = []

    def at(day: date) -> float:
        return (day - q.first).days * step

    end = at(q.last) + step
    shapes += _band(q, step)
    shapes += [line(0, _SIGNS, at(min(q.last, q.last_day)) + step, _SIGNS, "staff")] if q.last_day >= q.first else []
    shapes.append(line(0, _FOOT, end, _FOOT, "axis"))
    for month in _months(q):
        shapes.append(line(at(month), _SIGNS - 6, at(month), _FOOT, "barline"))
    shapes.append(line(end, _SIGNS - 6, end, _FOOT, "barline"))
    for i, load in enumerate(q.load):
        shapes += _column(load, q.usual[i // 7], i * step, step, q.top)
    for first, last, known in q.idle:
        shapes += _idle(at(first), at(last) + step, known, (last - first).days + 1)
    for day, kind, intensity in q.signs:
        shapes += symptom(kind, at(day) + 3 * step, _SIGNS, sign_radius(intensity, _SCALE))
    for day, name in q.calls:
        shapes += call(name, at(day) + 5.4 * step, _SIGNS, 4.5)
    for first, last in q.brackets:
        shapes += [path(f"M{at(first):.1f} 1V{_FOOT + 6:.1f}H{at(last) + step:.1f}V1", "bracket")]
    return Picture(width, _FOOT + 8, tuple(shapes))


def _months(q: Quarter) -> list[date]:
    return [d for d in (q.first + timedelta(days=i) for i in range((q.last - q.first).days + 1)) if d.day == 1]


def _up(value: float, top: float) -> float:
    return _FOOT - value / top * (_FOOT - _TOP)


def _band(q: Quarter, step: float) -> list[Shape]:
    shapes = []
    for week, usual in enumerate(q.usual):
        if usual is not None and q.first + timedelta(days=7 * week) <= q.last_day:
            wide = min(7, (q.last - q.first).days + 1 - 7 * week) * step
            low, high = (_up(v, q.top) for v in usual)
            shapes.append(rect(7 * week * step, high, wide, low - high, "usual"))
    return shapes


def _column(load: float | None, usual: tuple[float, float] | None, x: float, step: float, top: float) -> list[Shape]:
    if not load:
        return []
    edge = load if usual is None else min(load, usual[1])
    y, wide = _up(edge, top), step * 0.62
    column = [rect(x + step * 0.19, y, wide, _FOOT - y, "ink-fill")]
    over = _up(load, top)
    return column if load <= edge else [*column, rect(x + step * 0.19, over, wide, y - over - 0.8, "load-cap")]


def _idle(a: float, b: float, known: bool, days: int) -> list[Shape]:
    """A long rest of so many weeks, or a stretch nobody wrote: a dotted line over the paper."""
    cleared = rect(a, _SIGNS - 8, b - a, _FOOT - _SIGNS + 7, "cleared")
    if not known:
        return [cleared, line(a, _SIGNS, b, _SIGNS, "staff-unasked")]
    y = _FOOT - 7
    weeks = f"{round(days / 7)} weeks"
    return [
        cleared,
        rect(a + 2, y - 2.5, b - a - 4, 5, "ink-fill"),
        line(a + 2, y - 7, a + 2, y + 7, "call-stroke"),
        line(b - 2, y - 7, b - 2, y + 7, "call-stroke"),
        words((a + b) / 2, y - 8, weeks, "bar-name", "middle"),
    ]


@dataclass(frozen=True)
class Pair:
    """One number of two spans; None = cannot be told."""

    before: float | None
    now: float | None


def two_bars(pair: Pair, digits: int, width: float = 240.0) -> Picture:
    """Return the first span's number as a dashed bar over the second's in ink."""
    top = max(pair.before or 0, pair.now or 0) or 1.0
    room = width - 70
    shapes: list[Shape] = [line(0, 0, 0, 36, "barline")]
    for y, value, cls in ((2, pair.before, "bar-before"), (20, pair.now, "ink-fill")):
        wide = 0.0 if value is None else value / top * room
        shapes.append(rect(0, y, wide, 13, cls))
        text = "not known" if value is None else f"{value:.{digits}f}"
        shapes.append(words(wide + 8, y + 12, text, "bar-minutes" if cls == "ink-fill" else "bar-under"))
    return Picture(width, 38, tuple(shapes))
