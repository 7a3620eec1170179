"""The day's limit as a staff lying down, minutes to scale: what is played, the blocks left, what does not fit."""

from collections.abc import Callable

from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, line, path, rect, words

Scale = Callable[[float], float]
TOP, HIGH, LEFT, RIGHT = 30.0, 56.0, 2.0, 26.0
LEAST_SHOWN_MIN, LABEL_APART, LETTER = 30.0, 96.0, 8.0


def limit_bar(
    played: float, limit: float | None, block: float, asked: float, usual: float | None, width: float = 640.0
) -> Picture | None:
    """Return the bar: minutes `played` today, the `limit` (None = none), `block` minutes at a time, the minutes `asked`
    of today's hands by what still stands, the `usual` day. None where there is neither a limit nor a usual."""
    end = limit if limit is not None else usual
    if end is None:
        return None
    whole = max(end, played + asked, LEAST_SHOWN_MIN)
    scale = (width - LEFT - RIGHT) / whole

    def at(minutes: float) -> float:
        return LEFT + minutes * scale

    foot = TOP + HIGH
    shapes: list[Shape] = [line(at(0), y, at(whole), y, "staff") for y in (TOP, TOP + HIGH / 2, foot)]
    if limit is not None and played + asked > limit:
        start = max(limit, played)
        shapes.append(rect(at(start), TOP, (played + asked - start) * scale, HIGH, "does-not-fit"))
    shapes.append(rect(at(0), TOP, played * scale, HIGH, "ink-fill"))
    shapes += _blocks_left(played, end, block, at)
    cls = "limit-end" if limit is not None else "usual-end"
    shapes.append(rect(at(end) - 2.5, TOP - 12, 5, HIGH + 20, cls))
    shapes += [words(at(0), foot + 22, "0", "tick"), *_end_words(end, limit, at, foot, width)]
    if asked:
        y = foot + 34
        shapes.append(path(f"M{at(played):.1f} {y - 6:.1f}v6H{at(played + asked):.1f}v-6", "pencil-line"))
    shapes += _labels(played, limit, asked, at, width)
    return Picture(width, foot + (46 if asked else 30), tuple(shapes))


def _blocks_left(played: float, end: float, block: float, at: Scale) -> list[Shape]:
    found, begins = [], played
    while block > 0 and begins < end - 0.5:
        stops = min(end, begins + block)
        found.append(rect(at(begins) + 1.5, TOP + 1.5, at(stops) - at(begins) - 3, HIGH - 3, "block-left"))
        begins = stops
    return found


def _end_words(end: float, limit: float | None, at: Scale, foot: float, width: float) -> list[Shape]:
    text = _time(end) if limit is not None else f"your usual {_time(end)}"
    anchor = "end" if at(end) > width - 60 else "middle"
    return [words(min(at(end), width - 2), foot + 22, text, "tick strong", anchor)]


def _labels(played: float, limit: float | None, asked: float, at: Scale, width: float) -> list[Shape]:
    """What the parts are, above the staff, where there is room."""
    found = [words(at(0), TOP - 14, f"{_time(played)} played", "tick strong")] if played >= 1 else []
    if limit is None:
        return found
    left, x = max(0.0, limit - played), at(played) if played >= 1 else at(0)
    if left >= 1:
        x = max(x, at(0) + (LABEL_APART + 10 if played >= 1 else 0))
        found.append(words(x + 2, TOP - 14, f"{_time(left)} left", "tick pen"))
        x += LABEL_APART - 20
    over = played + asked - max(limit, played)
    if asked and over >= 1:
        begins, text = max(at(max(limit, played)) + 8, x), f"does not fit: {_time(over)}"
        fits = begins + len(text) * LETTER < width
        found.append(words(begins if fits else width, TOP - 14, text, "tick strong", "start" if fits else "end"))
    return found


def _time(minutes: float) -> str:
    whole = int(minutes + 1e-9)
    return f"{whole} min" if whole < 60 else f"{whole // 60} h {whole % 60:02d}"
