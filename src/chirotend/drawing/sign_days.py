"""The days of a place against her usual: a stroke a day, nothing where nothing was asked, from when a sign stands."""

from collections.abc import Sequence
from datetime import date, timedelta

from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, line, pencil_ring, rect, words

SCALE_MAX = 10
HIGH = 130.0
_LEFT, _TOP, _FOOT = 34.0, 26.0, 34.0


def sign_days(
    first: date,
    strengths: Sequence[float | None],
    usual: float,
    since: date | None,
    width: float = 940.0,
    high: float = HIGH,
) -> Picture:
    """Return the days from `first` on, strengths 0-10 (None = not asked: a dotted place), her usual as a band, and a
    pencil ring over the day from which a sign stands. `high` = units from strength 0 to 10."""
    step = (width - _LEFT - 8) / max(1, len(strengths))
    foot = _TOP + high

    def up(strength: float) -> float:
        return foot - high * strength / SCALE_MAX

    shapes: list[Shape] = [rect(_LEFT, up(max(usual, 0.12)), width - _LEFT - 8, foot - up(max(usual, 0.12)), "usual")]
    for grade in (0, 5, 10):
        shapes += [
            line(_LEFT, up(grade), width - 8, up(grade), "staff"),
            words(_LEFT - 8, up(grade) + 5, str(grade), "tick", "end"),
        ]
    for n, strength in enumerate(strengths):
        x, day = _LEFT + n * step, first + timedelta(days=n)
        if strength is None:
            shapes.append(line(x + step / 2, foot + 3, x + step / 2, foot + 9, "staff-unasked"))
        elif strength > 0:
            shapes.append(rect(x + step * 0.18, up(strength), step * 0.64, foot - up(strength), "ink-fill"))
        if day.weekday() == 0 and (n == 0 or day.day <= 7 or len(strengths) <= 42):
            shapes.append(words(x, foot + 26, f"{day.day} {day:%b}", "tick"))
    if since is not None and first <= since:
        x = _LEFT + (since - first).days * step + step / 2
        shapes += [line(x, _TOP - 2, x, foot, "stem"), pencil_ring(x, _TOP - 8, 9, 8)]
    return Picture(width, foot + _FOOT, tuple(shapes))
