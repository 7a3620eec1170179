"""A recording heard, drawn: loudness of the whole, rounds finger by finger, each finger on a ruler of milliseconds."""

import math
from collections.abc import Sequence
from datetime import date

import numpy as np

from chirotend.core.measure.cycle import Cycle, Note
from chirotend.core.measure.loudness import FLOOR_DB, SILENT_BELOW_DB, Played
from chirotend.core.measure.stretch import Stretch
from chirotend.drawing.measured import Picture
from chirotend.drawing.shapes import Shape, line, path, rect, words

WIDE, _LEFT = 1052.0, 128.0
_TALL, _TOP, _FOOT = 60.0, 34.0, 26.0
_BARS = 300


def whole_picture(
    envelope: Sequence[float], step_s: float, my_p_db: float | None, playing: Played | None, shown: Stretch | None
) -> Picture:
    """Return the loudness of a recording (dB by steps of `step_s`) as bars against her p, with the longest stretch."""
    level = np.array(envelope)
    count = min(_BARS, len(level))
    bars = [float(part.max()) for part in np.array_split(level, count)]
    loud = float(np.percentile(level, 95))
    low = max(FLOOR_DB, loud - SILENT_BELOW_DB)
    top = max(loud + 3, (my_p_db or loud) + 6)
    seconds = len(level) * step_s
    base = _TOP + _TALL

    def at(second: float) -> float:
        return _LEFT + (WIDE - _LEFT) * second / seconds

    def high(db: float) -> float:
        return _TALL * max(0.0, min(1.0, (db - low) / (top - low)))

    width = (WIDE - _LEFT) / count
    shapes: list[Shape] = [words(0, base - 4, "loudness", "tick")]
    shapes += [
        rect(_LEFT + n * width, base - high(v), max(0.8, width - 1), high(v), "sound-bar")
        for n, v in enumerate(bars)
        if v > low
    ]
    shapes.append(line(_LEFT, base, WIDE, base, "stem-thin"))
    if my_p_db is not None:
        y = base - high(my_p_db)
        shapes += [line(_LEFT, y, WIDE, y, "pencil-line"), words(_LEFT - 8, y + 5, "my p", "pencil-word", "end")]
    step = _round_step(seconds)
    for n in range(int(seconds / step) + 1):
        shapes.append(words(at(n * step), base + 20, f"{n * step:.0f} s" if n else "0", "tick", "middle"))
    if playing is not None:
        shapes += _longest(playing.longest, at)
    if shown is not None:
        shapes.append(
            rect(at(shown.start_s) - 3, _TOP - 4, at(shown.end_s) - at(shown.start_s) + 6, _TALL + 8, "shown-box")
        )
    shapes.append(line(_LEFT, _TOP - 8, _LEFT, base + 4, "play-head"))
    return Picture(WIDE, base + _FOOT, tuple(shapes), ((0.0, _LEFT), (seconds, WIDE)))


def _longest(longest: Stretch, at) -> list[Shape]:  # type: ignore[no-untyped-def]
    a, b, y = at(longest.start_s), at(longest.end_s), 14
    text = f"{longest.seconds:.0f} s without a let-go"
    shapes = [line(a, y - 7, a, y + 7, "bracket"), line(b, y - 7, b, y + 7, "bracket")]
    middle = min(max((a + b) / 2, _LEFT + 100), WIDE - 100)
    half = 92.0
    if b - a > 2 * half + 20:
        shapes += [line(a, y, middle - half, y, "bracket"), line(middle + half, y, b, y, "bracket")]
    return [*shapes, words(middle, y + 5, text, "dim-text", "middle")]


def _round_step(seconds: float) -> float:
    wanted = seconds / 6
    size = 10 ** math.floor(math.log10(max(wanted, 1)))
    return float(next(size * k for k in (1, 2, 5, 10) if size * k >= wanted))


_LINE, _HEAD, _BAR = 36.0, 40.0, 24.0


def rounds_picture(
    found: Cycle, steps: Sequence[str], lengths: Sequence[float], first: int, count: int, named: int | None
) -> Picture:
    """Return some rounds: a line a finger, last step on top; dotted = the even beat; height = loudness."""
    shown = list(range(first, min(first + count, found.rounds)))
    bottom = _HEAD + _LINE * len(steps)
    shapes: list[Shape] = []

    def up(step: int) -> float:
        return bottom - _LINE * step

    for n, name in enumerate(steps):
        shapes += [
            line(_LEFT, up(n), WIDE, up(n), "staff"),
            words(_LEFT - 10, up(n) + 5, name, "finger-label named" if n == named else "finger-label", "end"),
        ]
    bar, ends = (WIDE - _LEFT) / max(1, count), np.cumsum([0.0, *lengths])
    unit = (bar - 34) / float(ends[-1])
    levels = [n.level_db for n in found.notes if n.level_db is not None]
    for place, number in enumerate(shown):
        x = _LEFT + place * bar
        shapes += [
            line(x, _HEAD - 6, x, bottom, "bar-line"),
            rect(x + 8, 4, 26, 24, "run-box"),
            words(x + 21, 22, str(number + 1), "run-number", "middle"),
        ]
        for n in range(len(steps)):
            beat = x + 22 + float(ends[n]) * unit
            shapes.append(line(beat, _HEAD - 6, beat, bottom, "beat"))
        for note in (n for n in found.notes if n.round == number):
            beat = x + 22 + float(ends[note.step]) * unit
            shapes += _note(note, beat, up(note.step), unit / found.beat_ms, note.step == named, levels)
    shapes.append(line(WIDE, _HEAD - 6, WIDE, bottom, "bar-line"))
    stops = []
    for place, number in enumerate(shown):
        x = _LEFT + place * bar + 22
        stops += [(second, x + part * unit) for second, part in _ends_of(found, number, ends)]
    if stops:
        shapes.append(line(stops[0][1], _HEAD - 10, stops[0][1], bottom + 4, "play-head"))
    return Picture(WIDE, bottom + 12, tuple(shapes), tuple(stops))


def _ends_of(found: Cycle, number: int, ends: np.ndarray) -> list[tuple[float, float]]:
    """The seconds at which a round begins and ends by its even beat, with the parts they lie at; none = not played."""
    notes = [n for n in found.notes if n.round == number]
    if not notes:
        return []
    began = notes[0].at_s - (notes[0].off_ms + float(ends[notes[0].step]) * found.beat_ms) / 1000
    return [(began, 0.0), (began + float(ends[-1]) * found.beat_ms / 1000, float(ends[-1]))]


def _note(note: Note, beat: float, y: float, per_ms: float, named: bool, levels: Sequence[float]) -> list[Shape]:
    x = beat + note.off_ms * per_ms
    tall = _BAR * (0.6 if note.level_db is None else max(0.35, min(1.0, 0.6 + note.level_db / 10)))
    shapes = [rect(x - 5, y - tall, 10, tall, "ink-fill")]
    if named:
        shapes.append(rect(beat - 5, y - tall, 10, tall, "beat-box"))
        way = 1 if note.off_ms < 0 else -1
        shapes.append(path(f"M{x + 4 * way:.1f} {y + 5:.1f}l{-8 * way} 5l{8 * way} 5", "pencil-line"))
        if note.level_db is not None and note.level_db >= 1.5:
            shapes.append(line(x - 8, y - tall - 4, x + 8, y - tall - 4, "pencil-line"))
    return shapes


_ROW, _RULER, _LOUD = 31.0, 236.0, 92.0


def finger_lines(found: Cycle, steps: Sequence[str], named: int | None) -> Picture:
    """Return each finger on a ruler (ms; early to the left): the middle half of its rounds, a slanted stroke in the
    middle; beside it how loud it is against the others (dB)."""
    far = max([40.0, *(abs(v) for s in found.steps for v in (s.low_ms, s.high_ms))])
    far = 20 * math.ceil(far / 20)
    x0, heard = 152.0, any(s.level_db is not None for s in found.steps)
    zero = x0 + _RULER / 2
    base = 36 + _ROW * len(steps)
    shapes: list[Shape] = [words(x0, 16, "early", "tick"), words(x0 + _RULER, 16, "late", "tick", "end")]
    if heard:
        shapes.append(words(x0 + _RULER + 40, 16, "against the others", "tick"))
    for n, step in enumerate(reversed(found.steps)):
        which, y = len(steps) - 1 - n, 40 + _ROW * n
        cls = " named" if which == named else ""

        def at(ms: float) -> float:
            return zero + ms / far * _RULER / 2

        shapes += [words(0, y + 5, steps[which], f"finger-label{cls}"), line(x0, y, x0 + _RULER, y, "staff")]
        shapes += [line(at(t), y - 5, at(t), y + 5, "staff") for t in (-far, -far / 2, 0, far / 2, far)]
        shapes += [
            line(at(step.low_ms), y, at(step.high_ms), y, f"middle-half{cls}"),
            line(at(step.middle_ms) + 4, y - 10, at(step.middle_ms) - 4, y + 10, f"middle-stroke{cls}"),
        ]
        if step.level_db is not None:
            middle = x0 + _RULER + 40 + _LOUD / 2
            wide = max(-_LOUD / 2, min(_LOUD / 2, step.level_db / 6 * _LOUD / 2))
            shapes += [
                line(x0 + _RULER + 40, y + 9, x0 + _RULER + 40 + _LOUD, y + 9, "staff"),
                rect(min(middle, middle + wide), y - 7, abs(wide), 15, f"loud-bar{cls}"),
                line(middle, y - 10, middle, y + 10, "staff"),
            ]
            if abs(step.level_db) >= 1:
                shapes.append(words(x0 + _RULER + 48 + _LOUD, y + 5, f"{step.level_db:+.0f} dB", f"finger-label{cls}"))
    shapes += [
        words(zero + t / far * _RULER / 2, base + 14, f"{abs(t):.0f}", "tick", "middle")
        for t in (-far, -far / 2, 0, far / 2)
    ]
    shapes.append(words(x0 + _RULER, base + 14, f"{far:.0f} ms", "tick", "middle"))
    return Picture(x0 + _RULER + 40 + _LOUD + 64, base + 22, tuple(shapes))


def small_rounds(found: Sequence[tuple[date, Sequence[float]]], named: int) -> Picture:
    """Return earlier recordings (day, how late each finger comes in ms) side by side, each a staff with a tick a
    finger beside its even beat."""
    shapes: list[Shape] = []
    share = 306 / 5
    for n, (day, middles) in enumerate(found):
        x = n * share
        gap = 48 / max(1, len(middles) - 1)
        shapes.append(line(x + share / 2 - 4, 2, x + share / 2 - 4, 54, "beat"))
        for step, middle in enumerate(middles):
            y = 52 - gap * step
            off = max(-24.0, min(24.0, middle * 0.6))
            shapes += [
                line(x, y, x + share - 10, y, "staff"),
                rect(x + share / 2 - 6 + off, y - 4, 4, 8, "mark-named" if step == named else "ink-fill"),
            ]
        shapes.append(words(x, 72, f"{day.day} {day:%b}", "tick"))
    return Picture(306, 78, tuple(shapes))
