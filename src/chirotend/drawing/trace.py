"""Traces drawn: each channel as the band its envelope moves in (% of its strongest); let-gos as a ribbon with gaps."""

from collections.abc import Sequence
from datetime import date

from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, line, path, rect, words

#: ends of a channel's scale, %
_TOPS = (10.0, 25.0, 50.0, 100.0, 200.0)
WIDE, _LEFT, _CHANNEL, _TOP = 1052.0, 128.0, 84.0, 26.0


def trace_picture(
    lines: Sequence[tuple[str, Sequence[float], Sequence[float]]],
    start_s: float,
    end_s: float,
    marks: Sequence[tuple[float, str]],
    heard: bool,
) -> Picture:
    """Return channels (name, least and most of each step, %) one under another between two seconds, with marks, and a
    play-head where it is `heard`."""
    shapes: list[Shape] = []
    bottom = _TOP + _CHANNEL * len(lines)

    def at(second: float) -> float:
        return _LEFT + (WIDE - _LEFT) * (second - start_s) / max(1e-9, end_s - start_s)

    for n, (name, low, high) in enumerate(lines):
        base = _TOP + _CHANNEL * (n + 1) - 14
        most = max(high, default=0.0)
        top = next((t for t in _TOPS if t >= most), most)
        scale = (_CHANNEL - 26) / top
        shapes += [
            words(0, base - 18, name[:16], "finger-label"),
            line(_LEFT, base, WIDE, base, "stem-thin"),
            line(_LEFT, base - top * scale, WIDE, base - top * scale, "staff"),
            words(_LEFT - 8, base - top * scale + 5, f"{top:.0f} %", "tick", "end"),
        ]
        step = (WIDE - _LEFT) / max(1, len(high))
        upper = [(_LEFT + (k + 0.5) * step, base - v * scale) for k, v in enumerate(high)]
        lower = [(_LEFT + (k + 0.5) * step, base - v * scale) for k, v in enumerate(low)]
        if upper:
            shapes.append(
                path("M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in (*upper, *lower[::-1])) + "Z", "trace-band")
            )
    for second, word in marks:
        if start_s <= second <= end_s:
            shapes += [line(at(second), _TOP - 4, at(second), bottom - 10, "pencil-line")]
            shapes.append(words(at(second) + 5, _TOP - 8, word[:24], "pencil-word"))
    for n in range(7):
        second = start_s + (end_s - start_s) * n / 6
        text = f"{second:.0f} s" if end_s - start_s > 12 else f"{second:.1f} s"
        shapes.append(
            words(at(second), bottom + 12, text, "tick", "start" if n == 0 else "end" if n == 6 else "middle")
        )
    if heard:
        shapes.append(line(_LEFT, _TOP - 6, _LEFT, bottom - 6, "play-head"))
    return Picture(WIDE, bottom + 20, tuple(shapes), ((start_s, _LEFT), (end_s, WIDE)))


def let_gos(found: Sequence[tuple[date, float, float]]) -> Picture:
    """Return recordings (day, longest without a let-go in s, let-gos a minute) as ribbons of one minute with gaps."""
    shapes: list[Shape] = []
    for n, (day, _, a_minute) in enumerate(found):
        y, parts = 4 + n * 22, max(1, round(a_minute) + 1)
        shapes.append(words(0, y + 13, f"{day.day} {day:%b}", "tick"))
        wide = (306 - 58) / min(parts, 24)
        shapes += [rect(58 + k * wide, y, max(2.0, wide - 4), 13, "ink-fill") for k in range(min(parts, 24))]
    return Picture(306, 4 + 22 * len(found), tuple(shapes))
