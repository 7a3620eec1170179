"""Open matters on a line of time: a stroke for each day that is due, a hatched bar for a limit and its end."""

from collections.abc import Sequence
from datetime import date, timedelta

from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, line, path, rect, words

WIDTH, HEIGHT, AXIS = 1040.0, 92.0, 46.0
BEFORE_DAYS, LEAST_DAYS, MOST_DAYS, OPEN_END_DAYS = 5, 28, 120, 365
_LEFT, _RIGHT, _BAR, _NAME_APART = 12.0, 12.0, 18.0, 92.0


def matter_line(
    today: date, due: Sequence[tuple[date, str]], limits: Sequence[tuple[date | None, date | None]]
) -> Picture:
    """Return the line around `today`: `due` days with a short word each, `limits` from a day until a day (None = it
    began before, or has no end)."""
    ends = [day for day, _ in due] + [until for _, until in limits if until is not None]
    last = max([today + timedelta(days=LEAST_DAYS), *(d for d in ends if d <= today + timedelta(days=MOST_DAYS))])
    first = today - timedelta(days=BEFORE_DAYS)
    days = (last - first).days + 2

    def at(day: date) -> float:
        n = min(max((day - first).days, 0), days)
        return _LEFT + (WIDTH - _LEFT - _RIGHT) * n / days

    shapes: list[Shape] = [line(_LEFT, AXIS, WIDTH - _RIGHT, AXIS, "staff")]
    for start, until in limits:
        left, right = at(start or first), at(until or first + timedelta(days=OPEN_END_DAYS))
        shapes.append(rect(left, AXIS - _BAR / 2, right - left, _BAR, "limit-bar"))
        if until is not None:
            shapes.append(rect(right - 2, AXIS - _BAR, 4, 2 * _BAR, "ink-fill"))
    for n in range(days):
        day = first + timedelta(days=n)
        if day.weekday() == 0:
            shapes += [line(at(day), AXIS - 4, at(day), AXIS + 4, "staff")]
            shapes.append(words(at(day), HEIGHT - 8, f"{day.day} {day:%b}", "tick", "middle"))
    taken = at(today)
    shapes.append(path(f"M{taken - 8:.1f} 14h16l-8 12Z", "pencil-fill"))
    shapes += [line(taken, 26, taken, AXIS + _BAR, "pencil-line"), words(taken + 12, 26, "today", "tick strong")]
    for day, word in sorted(due):
        x = at(day)
        shapes.append(line(x, 18, x, AXIS + _BAR, "pencil-line"))
        if abs(x - taken) > _NAME_APART and x < WIDTH - _NAME_APART:
            shapes.append(words(x + 6, 26, f"{word} {day.day} {day:%b}", "tick pen"))
            taken = x
    return Picture(WIDTH, HEIGHT, tuple(shapes))
