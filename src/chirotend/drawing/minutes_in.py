"""Minutes in each hold over a week: a line a hold, a bar a day, the sum at the end; a hanging rest on a day without."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, line, rect, words

WIDE = 1052.0
_ROW, _TOP = 40.0, 26.0


@dataclass(frozen=True)
class MinutesRow:
    """A hold and its minutes by day."""

    name: str
    minutes: Mapping[date, float]


def minutes_strip(
    rows: Sequence[MinutesRow], first: date, days: int, today: date, played: Collection[date], width: float = WIDE
) -> Picture:
    """Return the strip from `first` on; `played` = days on which the instrument was played at all."""
    wide = width > 600
    left, right = (148.0, 84.0) if wide else (0.0, 58.0)
    step = (width - left - right) / days
    row = _ROW if wide else _ROW + 18
    most = max((v for r in rows for v in r.minutes.values()), default=1.0)
    bottom = _TOP + row * len(rows)
    shapes: list[Shape] = []
    for n in range(days):
        day = first + timedelta(days=n)
        x = left + n * step
        if day == today:
            shapes.append(rect(x, _TOP - 4, step, bottom - _TOP + 4, "today-wash"))
        label = f"{day:%a} {day.day}" if wide else f"{day:%a}"[:2]
        shapes += [
            line(x, _TOP, x, bottom, "bar-line"),
            words(x + step / 2, _TOP - 8, label, "tick today" if day == today else "tick", "middle"),
        ]
        if day not in played:
            shapes.append(rect(x + step / 2 - 9, _TOP + row - 18, 18, 7, "ink-fill"))
    shapes.append(line(left + days * step, _TOP, left + days * step, bottom, "bar-line"))
    for n, each in enumerate(rows):
        base = _TOP + row * (n + 1) - 8
        shapes.append(line(left, base, left + days * step, base, "staff"))
        name_at = (0.0, base - 3) if wide else (2.0, base - 32)
        shapes.append(words(*name_at, each.name[:20] if wide else each.name, "finger-label halo"))
        for day, value in each.minutes.items():
            x = left + (day - first).days * step
            length = max(2.0, (step - (46 if wide else 14)) * value / most)
            shapes.append(rect(x + 6, base - 13, length, 13, "ink-fill"))
            if wide:
                shapes.append(words(x + length + 11, base - 2, f"{value:.0f}", "tick"))
        total = sum(each.minutes.values())
        text = f"{total // 60:.0f} h {total % 60:02.0f}" if total >= 60 else f"{total:.0f} min"
        shapes.append(words(width, base - 2, text, "finger-label", "end"))
    return Picture(width, bottom + 8, tuple(shapes))
