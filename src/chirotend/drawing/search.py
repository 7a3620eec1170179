"""A search for the least pressure, run by run: a thick line spoke, a zigzag died; and what earlier searches found."""

from collections.abc import Sequence
from datetime import date

from chirotend.core.measure.least_pressure import RUNS, USUAL, Run, Search, about_left
from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, line, path, pencil_ring, polyline, rect, words

_LEFT, _TOP, _HIGH, _FOOT, _STEP = 54.0, 22.0, 152.0, 44.0, 20.0
RUN_NAMES = ("first", "second", "third")
_LEAST_TRIES = 9
#: width from which all runs are drawn; a phone shows only the one at hand
WIDE = 600.0


def search_picture(found: Search, width: float) -> Picture:
    """Return the runs of a search beside one another (below `WIDE` units only the one at hand), levels upwards."""
    shown = list(enumerate(found.runs)) if width >= WIDE else [(found.number - 1, found.runs[-1])]
    levels = [a.level for r in found.runs for a in r.answers] + ([found.asked] if found.asked is not None else [])
    low = min(60.0, *(level - 10 for level in levels)) if levels else 60.0
    low -= low % _STEP

    def up(level: float) -> float:
        return _TOP + _HIGH * (USUAL - level) / (USUAL - low)

    shapes: list[Shape] = []
    level = USUAL
    while level >= low:
        shapes += [
            line(_LEFT, up(level), width - 2, up(level), "staff"),
            words(_LEFT - 8, up(level) + 6, f"{level:.0f}", "tick", "end"),
        ]
        level -= _STEP
    bars = RUNS if width >= WIDE else 1
    bar = (width - _LEFT - 2) / bars
    for place in range(bars + 1):
        shapes.append(line(_LEFT + place * bar, _TOP, _LEFT + place * bar, _TOP + _HIGH, "bar-line"))
    for place, (number, run) in enumerate(shown):
        shapes += _run(found, run, number, _LEFT + place * bar, bar, up)
    return Picture(width, _TOP + _HIGH + _FOOT, tuple(shapes))


def _run(found: Search, run: Run, number: int, x: float, bar: float, up) -> list[Shape]:  # type: ignore[no-untyped-def]
    here = number == found.number - 1 and found.asked is not None
    tries = max(_LEAST_TRIES, len(run.answers) + (about_left(found) if here else 0))
    step = (bar - 26) / tries
    shapes: list[Shape] = []
    at, before = x + 8, None
    for each in run.answers:
        y = up(each.level)
        if before is not None:
            shapes.append(line(at, before, at, y, "stem-thin"))
        shapes.append(
            path(
                _zigzag(at + 2, y, step - 4) if not each.spoke else _level(at, y, step),
                "died" if not each.spoke else "spoke",
            )
        )
        at, before = at + step, y
    if run.ended and run.result is not None:
        y = up(run.result)
        shapes += [pencil_ring(at - step / 2, y, step * 0.75 + 6, 17, seed=number + 1)]
        shapes.append(words(min(at + 6, x + bar - 34), y - 16, f"{run.result:.0f}", "pencil-number"))
    if here and found.asked is not None:
        y = up(found.asked)
        if before is not None:
            shapes.append(line(at, before, at, y, "stem-thin"))
        shapes += [
            rect(at + 1, y - 6, step - 2, 12, "now-box"),
            path(f"M{at + step / 2 - 8:.1f} {y - 26:.1f}h16l-8 13z", "now-mark"),
        ]
        left = about_left(found)
        if left > 1 and bar > 300:
            shapes.append(words(x + bar - 8, _TOP - 6, f"about {left} more", "pencil-word", "end"))
    foot = _TOP + _HIGH
    shapes += [
        rect(x + 10, foot + 6, 26, 26, "run-box"),
        words(x + 23, foot + 25, str(number + 1), "run-number", "middle"),
        words(x + 46, foot + 25, RUN_NAMES[number] + " run" + (" of three" if number == RUNS - 1 else ""), "tick big"),
    ]
    return shapes


def _level(x: float, y: float, step: float) -> str:
    return f"M{x + 2:.1f} {y:.1f}h{step - 4:.1f}"


def _zigzag(x: float, y: float, width: float) -> str:
    teeth = max(3, round(width / 7))
    return polyline([(x + width * n / (2 * teeth), y + (-7 if n % 2 else 7)) for n in range(2 * teeth + 1)])


_W, _COLUMN, _BASE, _TALL = 440.0, 52.0, 190.0, 150.0


def wasted_picture(values: Sequence[tuple[date, float]], asked: str | None) -> Picture:
    """Return searches as columns: ink what was needed, hatched what was not (% of her usual, by day).

    `asked` = the word under an open, dashed column at the end; None = there is none.
    """
    places = len(values) + (asked is not None)
    gap = min(70.0, (_W - 44) / max(1, places))
    shapes: list[Shape] = []
    for level in (50, 100):
        y = _BASE - _TALL * level / 100
        shapes += [line(44, y, _W, y, "staff"), words(36, y + 5, str(level), "tick", "end")]
    for n, (day, wasted) in enumerate(values):
        x, needed = 44 + n * gap + 4, 100 - wasted
        top = _BASE - _TALL
        shapes += [
            rect(x, top, min(_COLUMN, gap - 8), _TALL * wasted / 100, "not-needed"),
            rect(x, top + _TALL * wasted / 100, min(_COLUMN, gap - 8), _TALL * needed / 100, "needed"),
            words(x + min(_COLUMN, gap - 8) / 2, top - 8, f"{wasted:.0f} %", "column-number", "middle"),
            words(x + min(_COLUMN, gap - 8) / 2, _BASE + 20, f"{day.day} {day:%b}", "tick", "middle"),
        ]
        if needed > 18:
            y = top + _TALL * wasted / 100 + 24
            shapes.append(words(x + min(_COLUMN, gap - 8) / 2, y, f"{needed:.0f}", "needed-number", "middle"))
    if asked is not None:
        x = 44 + len(values) * gap + 4
        shapes += [
            rect(x, _BASE - _TALL, min(_COLUMN, gap - 8), _TALL, "open-column"),
            words(x + min(_COLUMN, gap - 8) / 2, _BASE - _TALL / 2 + 12, "?", "open-mark", "middle"),
            words(x + min(_COLUMN, gap - 8) / 2, _BASE + 20, asked, "tick asked-now", "middle"),
        ]
    shapes.append(line(44, _BASE, _W, _BASE, "stem-thin"))
    return Picture(_W, _BASE + 28, tuple(shapes))
