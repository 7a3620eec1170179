"""The session strip: width is minutes, height is effort, so the inked area is the load."""

from dataclasses import dataclass

from chirotend.drawing.shapes import Shape, line, rect, words
from chirotend.drawing.signs import fermata, long_rest

LINE_GAP = 12.0
MIN_LABEL = 60.0


@dataclass(frozen=True)
class Bar:
    """A block or rest of the strip. `effort` None = not rated (outlined), `state` done, now or ahead."""

    minutes: float
    name: str
    kind: str = "play"  # play | rest | performance
    effort: float | None = None
    state: str = "done"


@dataclass(frozen=True)
class Strip:
    width: float
    height: float
    shapes: tuple[Shape, ...]


def strip(bars: list[Bar], width: float, now_min: float | None = None) -> Strip:
    """Return the strip of `bars` drawn `width` units wide; `now_min` places the pencil wedge. No bars: bare staff."""
    top, gap = 34.0, LINE_GAP
    foot = top + 4 * gap
    total = sum(b.minutes for b in bars) or 1.0
    scale = (width - 10) / total
    shapes: list[Shape] = [line(2, top + i * gap, width - 6, top + i * gap, "staff") for i in range(5)]
    shapes.append(line(2, top, 2, foot, "barline"))
    x = 2.0
    for bar in bars:
        w = bar.minutes * scale
        shapes += _rest(bar, x, w, top, foot) if bar.kind == "rest" else _play(bar, x, w, top, foot)
        x += w
        shapes.append(line(x, top, x, foot, "barline"))
    shapes.append(rect(width - 6, top - 0.5, 5, foot - top + 1, "ink-fill"))
    if now_min is not None and bars:
        at = 2 + min(now_min, total) * scale
        shapes += [
            line(at, top - 12, at, foot + 8, "wedge-line"),
            Shape("path", {"d": f"M{at - 10:.1f} {top - 18}h20l-10 13z", "class": "wedge"}),
        ]
    return Strip(width, foot + 30, tuple(shapes))


def _rest(bar: Bar, x: float, w: float, top: float, foot: float) -> list[Shape]:
    inset = min(8.0, w * 0.15)
    shapes = [*long_rest(x + inset, max(2.0, w - 2 * inset), (top + foot) / 2)]
    if w > 16:
        shapes.append(words(x + w / 2, top - 9, f"{bar.minutes:.0f}", "bar-minutes", "middle"))
    return shapes


def _play(bar: Bar, x: float, w: float, top: float, foot: float) -> list[Shape]:
    inner = max(1.0, w - 8)
    effort = bar.effort if bar.effort is not None else 5.0
    height = max(3.0, effort / 10 * (foot - top))
    cls = {"done": "block-done", "now": "block-now", "ahead": "block-ahead"}[bar.state]
    if bar.effort is None and bar.state == "done":
        cls = "block-unrated"
    shapes = [rect(x + 4, foot - height, inner, height, cls)]
    if bar.kind == "performance" and w > 24:
        shapes += fermata(x + w - 16, top - 8, 11)
    label = f"{bar.minutes:.0f}"
    if w > MIN_LABEL:
        shapes.append(words(x + 5, top - 9, _fit(bar.name, w - 30), "bar-name"))
        label += " min" + (f", effort {bar.effort:g}" if bar.effort is not None and w > 150 else "")
    if w > 22:
        shapes.append(words(x + 5, foot + 20, label, "bar-under"))
    return shapes


def _fit(name: str, width: float) -> str:
    most = max(3, int(width / 8.2))
    return name if len(name) <= most else name[: most - 1] + "…"
