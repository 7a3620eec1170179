"""B Plan: seven staves from top to bottom, the hours across; the day's load lying down on her usual range.

Block height is effort, width is minutes, so the inked area is the load. The phone gets its own drawing.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date

from chirotend.drawing.pencil import hatched, struck
from chirotend.drawing.shapes import Shape, line, path, rect, words
from chirotend.drawing.signs import fermata

FROM_HOUR, TO_HOUR = 8.0, 23.5
SESSION_GAP_H = 1 / 3
LETTER = 8.0  # units a letter of a name takes
CHOOSABLE = ("own", "fixed", "performance", "travel", "other")


@dataclass(frozen=True)
class Item:
    """Something on a day's staff; hours are local.

    `kind`: done, fixed, performance, travel, other, own, asked or gone.
    """

    uid: str
    kind: str
    name: str
    hour: float
    minutes: float
    effort: float
    spoken: str
    chosen: bool = False


@dataclass(frozen=True)
class Day:
    """A day's staff: what stands on it, its load (AU) and what the asked date would make of it (None = nothing)."""

    day: date
    items: tuple[Item, ...]
    load: float
    is_done: bool
    is_today: bool = False
    now_hour: float | None = None
    with_date: float | None = None
    #: a day past of which no load is written: a dash, not a nought
    unwritten: bool = False


@dataclass(frozen=True)
class Group:
    """Shapes of one thing that can be chosen, with its words; `uid` "" = it cannot."""

    uid: str
    spoken: str
    shapes: tuple[Shape, ...]
    cls: str


@dataclass(frozen=True)
class Week:
    """The drawing: shapes under the things, the things, and the scale a drag is read by."""

    width: float
    height: float
    under: tuple[Shape, ...]
    things: tuple[Group, ...]
    over: tuple[Shape, ...]
    per_hour: float
    per_day: float


@dataclass(frozen=True)
class Layout:
    """Where things stand for one width."""

    width: float
    left: float
    load_width: float
    row: float
    gap: float  # between staff lines
    head: float  # from the top of a row to its staff
    narrow: bool = False


#: how far the names of a day reach, above its staff and under it, in units
Reached = tuple[float, float]

DESK = Layout(706, 66, 126, 82, 8.5, 32)
TABLET = Layout(872, 70, 140, 82, 8.5, 32)
PHONE = Layout(354, 1, 120, 104, 8, 54, narrow=True)
TOP = 26.0


def week(days: Sequence[Day], usual: tuple[float, float] | None, layout: Layout) -> Week:
    """Return the drawing of `days`; `usual` the range of a day's load, None = not known yet."""
    most = max([d.load for d in days] + [d.with_date or 0 for d in days] + [usual[1] if usual else 0, 1.0]) * 1.12
    scale = _Scale(layout, most)
    height = TOP + len(days) * layout.row + 6
    under: list[Shape] = []
    over: list[Shape] = []
    things: list[Group] = []
    for i, day in enumerate(days):
        if day.is_today:
            under.append(rect(0, TOP + i * layout.row - 2, layout.width, layout.row - 2, "today-wash"))
    if usual and not layout.narrow:
        low, high = scale.load(usual[0]), scale.load(usual[1])
        under.append(rect(low, TOP - 4, high - low, height - TOP, "usual-blend"))
        under.append(words((low + high) / 2, 15, "your usual", "tick", "middle"))
    under += _hours(layout, scale, height)
    for i, day in enumerate(days):
        y = TOP + i * layout.row + layout.head
        under += _staff(day, layout, scale, y, last=i == len(days) - 1, first=i == 0)
        taken = (0.0, 0.0)
        for item in _named(day.items):
            thing, taken = _event_label(item, layout, scale, y, taken)
            things.append(thing)
        over += _load(day, layout, scale, y, usual)
    return Week(layout.width, height, tuple(under), tuple(things), tuple(over), scale.per_hour, layout.row)


def _named(items: Sequence[Item]) -> list[Item]:
    """Give each session one name: blocks within 20 minutes of each other are told by the first of them."""
    found: list[Item] = []
    for item in sorted(items, key=lambda i: i.hour):
        last = found[-1] if found else None
        if last and item.kind == last.kind == "own" and item.hour - last.hour - last.minutes / 60 <= SESSION_GAP_H:
            head = next(i for i in range(len(found) - 1, -1, -1) if found[i].name)
            if item.name not in found[head].name:
                found[head] = replace(found[head], name=f"{found[head].name}, {item.name}")
            item = replace(item, name="")
        found.append(item)
    return found


class _Scale:
    """Hours and loads to units."""

    def __init__(self, layout: Layout, most: float) -> None:
        self.left = layout.left
        across = layout.width - layout.left - (4 if layout.narrow else 18 + layout.load_width)
        self.across = across
        self.per_hour = across / (TO_HOUR - FROM_HOUR)
        self.load_left = layout.width - layout.load_width
        self.per_load = (layout.load_width - 40) / most

    def hour(self, hour: float) -> float:
        return self.left + (min(max(hour, FROM_HOUR), TO_HOUR) - FROM_HOUR) * self.per_hour

    def load(self, load: float) -> float:
        return self.load_left + load * self.per_load


def _hours(layout: Layout, scale: _Scale, height: float) -> list[Shape]:
    shapes = []
    for hour in (8, 12, 16, 20) if layout.narrow else range(8, 24, 2):
        text = f"{hour}.00" if layout.narrow else str(hour)
        shapes.append(words(scale.hour(hour), 15, text, "tick", "start" if hour == 8 and layout.narrow else "middle"))
        shapes.append(line(scale.hour(hour), TOP - 6, scale.hour(hour), height - 4, "hour-line"))
    if not layout.narrow:
        shapes.append(line(scale.load_left, TOP - 4, scale.load_left, height - 4, "axis"))
        shapes.append(words(layout.width - 1, 15, "load", "tick", "end"))
    return shapes


def _staff(day: Day, layout: Layout, scale: _Scale, y: float, last: bool, first: bool) -> list[Shape]:
    foot = y + 4 * layout.gap
    right = scale.left + scale.across
    name = f"{day.day:%a}"[:2]
    shapes = [line(scale.left, y + i * layout.gap, right, y + i * layout.gap, "staff") for i in range(5)]
    shapes += [line(scale.left, y, scale.left, foot, "barline"), line(right, y, right, foot, "barline")]
    if last:
        shapes.append(rect(right - 2, y - 0.5, 4, foot - y + 1, "ink-fill"))
    if layout.narrow:
        title = f"{name} {day.day.day}" + (" · today" if day.is_today else "")
        shapes.append(words(1, y - 31, title, "day-name"))
        if not first:
            shapes.append(line(0, y - 52, layout.width, y - 52, "hair-line"))
    else:
        shapes += [words(0, y + 15, name, "day-name"), words(36, y + 15, str(day.day.day), "day-name")]
        if day.is_today:
            shapes.append(words(0, y + 35, "today", "today-word"))
    if day.now_hour is not None and FROM_HOUR <= day.now_hour <= TO_HOUR:
        x = scale.hour(day.now_hour)
        shapes += [path(f"M{x - 8:.1f} {y - 11:.1f}h16l-8 12z", "wedge"), line(x, y - 4, x, foot + 5, "wedge-line")]
    return shapes


def _event_label(item: Item, layout: Layout, scale: _Scale, y: float, taken: Reached) -> tuple[Group, Reached]:
    """Draw one event with its label; also return the right edges used to avoid overlaps.

    A name that would meet another goes under the staff; where it would meet one there too it is only spoken.
    """
    gap, foot = layout.gap, y + 4 * layout.gap
    x = scale.hour(item.hour)
    width = max(3.0, scale.hour(item.hour + item.minutes / 60) - x)
    height = max(4.0, item.effort / 10 * 4 * gap)
    shapes = _body(item, x, y, width, height, foot)
    name, reach = _name(item, layout, x, width)
    if name is not None:
        ends = float(name.attrs["x"]) + (0.0 if name.attrs["text-anchor"] == "end" else reach)
        above, under = taken
        if ends - reach >= above + 6:
            shapes.append(replace(name, attrs={**name.attrs, "y": y - 7}))
            taken = ends, under
        elif ends - reach >= under + 6 or not under:
            shapes.append(replace(name, attrs={**name.attrs, "y": foot + 15}))
            taken = above, ends
    if item.chosen:
        shapes.append(rect(x - 5, y - 2, width + 10, 4 * gap + 5, "chosen-frame"))
    if item.kind == "own":
        shapes.append(rect(x - 2, y - 4, max(width + 4, 24), 4 * gap + 8, "hit"))
    thing = Group(item.uid if item.kind in CHOOSABLE else "", item.spoken, tuple(shapes), f"blk {item.kind}")
    return thing, taken


def _body(item: Item, x: float, y: float, width: float, height: float, foot: float) -> list[Shape]:
    """The block itself, drawn as its kind is drawn."""
    top, middle = foot - height, (y + foot) / 2
    match item.kind:
        case "done":
            return [rect(x, top, width, height, "ink-fill")]
        case "fixed" | "performance":
            fixed = [*_filled(x, top, width, height, "fixed"), line(x, top, x + width, top, "thick-top")]
            fixed += [line(at, y, at, foot, "fixed-end") for at in (x, x + width)]
            return fixed + (list(fermata(x + 12, y - 5, 11)) if item.kind == "performance" else [])
        case "other":
            return [*_filled(x, top, width, height, "other"), line(x, top, x + width, top, "grey-top")]
        case "travel":
            ends = [line(at, middle - 8, at, middle + 8, "travel-end") for at in (x, x + width)]
            return [*_filled(x, middle - 8, width, 16, "travel"), *ends]
        case "asked":
            mark = words(x + width / 2, foot - 7, "?", "ask-mark", "middle")
            return [rect(x, top, width, height, "block-asked"), mark]
        case "gone":
            return [rect(x, top, width, height, "block-gone"), struck(x, y + 10, width, 18)]
        case _:
            return [rect(x + 0.8, top, width - 1.6, height, "block-own")]


def _filled(x: float, y: float, width: float, height: float, hatch: str) -> list[Shape]:
    return [rect(x, y, width, height, "block-paper"), hatched(x, y, width, height, hatch, "")]


def _name(item: Item, layout: Layout, x: float, width: float) -> tuple[Shape | None, float]:
    """Return the name of a thing (its height is given later) and its width; a long one is cut, or stands before it."""
    if not item.name:
        return None, 0.0
    tx = x + 28 if item.kind == "performance" else x
    room = (layout.width - (4 if layout.narrow else layout.load_width + 18)) - tx
    anchor = "start"
    name = item.name
    if item.kind == "performance" and room < len(name) * LETTER < x - layout.left:
        tx, anchor = x - 4, "end"
    elif len(name) * LETTER > room:
        most = max(4, int(max(room, width) / LETTER))
        name = name if len(name) <= most else name[: most - 1] + "…"
    return words(tx, 0, name, f"item-name {item.kind}-name", anchor), len(name) * LETTER


def _load(day: Day, layout: Layout, scale: _Scale, y: float, usual: tuple[float, float] | None) -> list[Shape]:
    middle = y + 2 * layout.gap if not layout.narrow else y - 36
    high = usual[1] if usual else None
    shapes: list[Shape] = []

    def bar(low: float, top: float, tall: float, cls: str, gap: float = 0.0) -> Shape:
        at = scale.load(low) + gap
        return rect(at, middle - tall / 2, max(3.0, scale.load(top) - at), tall, cls)

    if layout.narrow:
        shapes += [bar(*usual, 18, "usual")] if usual else []
        shapes.append(line(scale.load_left, middle - 9, scale.load_left, middle + 9, "axis"))
    shown = min(day.load, high) if high is not None else day.load
    if shown > 0:
        shapes.append(bar(0, shown, 13, "ink-fill" if day.is_done else "load-planned", 1))
    if high is not None and day.load > high:
        shapes.append(bar(high, day.load, 16, "load-over", 2))
    value = day.load
    if day.with_date is not None and abs(day.with_date - day.load) > 0.5:
        value = day.with_date
        low, top = sorted((day.load, day.with_date))
        if day.with_date > day.load:
            shapes.append(bar(low, top, 14, "block-asked", 2))
        else:
            shapes.append(struck(scale.load(low), middle - 4, scale.load(top) - scale.load(low), 8))
    cls = "load-value strong" if day.is_done or day.with_date is not None else "load-value"
    shapes.append(words(layout.width - 2, middle + 5, "–" if day.unwritten else f"{value:.0f}", cls, "end"))
    return shapes


def fortnight(loads: Mapping[date, tuple[float, float]], asked: date, usual: tuple[float, float] | None) -> Week:
    """Return the fortnight with a date: columns before and after by day, on her usual range."""
    width, height, foot = 304.0, 100.0, 80.0
    most = max([max(pair) for pair in loads.values()] + [usual[1] if usual else 0, 1.0]) * 1.1
    step = width / max(1, len(loads))

    def y(load: float) -> float:
        return foot - load / most * (foot - 8)

    shapes: list[Shape] = []
    if usual:
        shapes.append(rect(0, y(usual[1]), width, y(usual[0]) - y(usual[1]), "usual"))
    shapes.append(line(0, foot, width, foot, "axis"))
    for i, (day, (before, after)) in enumerate(sorted(loads.items())):
        x = i * step + step / 2 - 5
        low = min(before, after)
        if low > 0:
            shapes.append(rect(x, y(low), 10, foot - y(low), "load-planned"))
        if after > before:
            shapes.append(rect(x, y(after), 10, y(before) - y(after) - 1, "block-asked"))
        elif after < before:
            shapes.append(struck(x - 2, y(before), 14, max(6.0, y(after) - y(before))))
        shapes.append(words(x + 5, height - 4, f"{day:%a}"[0], "tick strong" if day == asked else "tick", "middle"))
        if day.weekday() == 6 and i < len(loads) - 1:
            shapes.append(line((i + 1) * step, 4, (i + 1) * step, foot, "barline"))
    return Week(width, height, tuple(shapes), (), (), 0, 0)
