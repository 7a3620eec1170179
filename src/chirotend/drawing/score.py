"""The Score: systems of bars (days) on five lines of body regions, signs by timing, load on her own drifting range.

A day that was not asked has dotted lines, not an empty bar: no log is not "no symptom". A day without a known load has
no column at all. Ledger lines above and below carry jaw and back.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import cache

from chirotend.core.body.zones import LEDGER_REGIONS, STAFF_REGIONS
from chirotend.drawing.shapes import Shape, circle, line, path, pencil_ring, polygon, polyline, rect, words
from chirotend.drawing.signs import call, fermata, sign_radius, symptom

GAP = 16.0  # between staff lines
TIMING_AT = {"waking": 0.17, "playing": 0.4, "daily": 0.56, "after": 0.71, "night": 0.88}
SIGN_SCALE = 1.12
STEM = 25.0
LOAD_HEIGHT = 52.0
RISE_DAYS = 3
MEASURED_HEIGHT = 74.0


@dataclass(frozen=True)
class ScoreMark:
    """The strongest sign of one region, side, kind and timing of a day."""

    region: str
    side: str
    kind: str
    intensity: float
    timing: str


@dataclass(frozen=True)
class Remark:
    """What is pencilled in: where the ring goes (region and days, if any), the words ("" = only a faint ring),
    whether it has settled."""

    day: date
    text: str
    region: str | None
    days: tuple[date, ...]
    settled: bool


@dataclass(frozen=True)
class Measured:
    """Values laid under the load: their name and unit, the ends of their scale, each with its day."""

    name: str
    unit: str
    low: float
    high: float
    values: tuple[tuple[date, float], ...]


@dataclass(frozen=True)
class ScoreDay:
    """One bar. `load` (AU), `usual` (low, high) and `call` are None where nothing is known or was said."""

    day: date
    call: str | None = None
    overrule: str | None = None
    performance: bool = False
    off: bool = False
    played: bool = False
    load: float | None = None
    usual: tuple[float, float] | None = None
    asked: bool = False
    marks: tuple[ScoreMark, ...] = ()
    today: bool = False
    future: bool = False


@dataclass(frozen=True)
class DrawnBar:
    """A day's bar: where it lies, what is in it, what is said of it."""

    day: ScoreDay
    x: float
    width: float
    shapes: tuple[Shape, ...]


@dataclass(frozen=True)
class System:
    """One line of the score."""

    width: float
    height: float
    under: tuple[Shape, ...]
    bars: tuple[DrawnBar, ...]
    over: tuple[Shape, ...]


@dataclass(frozen=True)
class Layout:
    """Width of the page in units, bars a system, room for labels on the left, gap of staff lines, height of the load.

    `dense` = no room is kept for hairpins and remarks where there are none.
    """

    width: float
    bars: int
    label: float
    short: bool = False
    gap: float = GAP
    load: float = LOAD_HEIGHT
    dense: bool = False


#: room for labels that holds a title, units
TITLE_ROOM = 130
DESK = Layout(1052, 14, 136, gap=14, load=42, dense=True)
TABLET = Layout(900, 14, 84, short=True, gap=14, load=42, dense=True)
PHONE = Layout(354, 7, 0, short=True)
#: four weeks a line, so that half a year stands on two screens
HALF_YEAR = Layout(1052, 28, 84, short=True, gap=12, load=26, dense=True)


@dataclass(frozen=True)
class ScoreLine:
    """What one system shows, as a value: the same line is always drawn the same, so whoever draws may keep it.

    `regions` are the short names of regions, `top` the load (AU) at the top of the column.
    """

    days: tuple[ScoreDay, ...]
    remarks: tuple[Remark, ...]
    layout: Layout
    regions: tuple[tuple[str, str], ...]
    top: float
    first: bool
    final: bool
    measured: Measured | None = None

    @property
    def title(self) -> str:
        """The days of the line: "5 to 18 Oct"."""
        first, last = self.days[0].day, self.days[-1].day
        return f"{first:%-d} to {last:%-d %b}" if first.month == last.month else f"{first:%-d %b} to {last:%-d %b}"

    @property
    def titled_beside(self) -> bool:
        """True where the room for labels is wide enough for the title: it stands beside the dates, not above them."""
        return self.layout.label >= TITLE_ROOM


def lines(
    days: Sequence[ScoreDay],
    remarks: Sequence[Remark],
    layout: Layout,
    regions: dict[str, str],
    measured: Measured | None = None,
) -> tuple[ScoreLine, ...]:
    """Return `days` broken into lines. `regions` gives the short names used after the first line; `measured` is laid
    under each line with the values of its days."""
    top = max([d.load for d in days if d.load is not None] + [d.usual[1] for d in days if d.usual] + [1.0])
    found = []
    for i in range(0, len(days), layout.bars):
        part = tuple(days[i : i + layout.bars])
        here = tuple(r for r in remarks if part[0].day <= r.day <= part[-1].day)
        final = i + layout.bars >= len(days)
        overlay = measured and replace(measured, values=_between(measured, part[0].day, part[-1].day))
        found.append(ScoreLine(part, here, layout, tuple(regions.items()), top, i == 0, final, overlay))
    return tuple(found)


def _between(measured: Measured, first: date, last: date) -> tuple[tuple[date, float], ...]:
    return tuple((day, value) for day, value in measured.values if first <= day <= last)


@dataclass(frozen=True)
class _Frame:
    """Vertical places of a system."""

    dates: float
    staff: float
    pins: float
    notes: float
    base: float
    gap: float
    load: float

    @property
    def foot(self) -> float:
        return self.staff + 4 * self.gap

    def line_of(self, region: str) -> float:
        if region in STAFF_REGIONS:
            return self.staff + STAFF_REGIONS.index(region) * self.gap
        return self.staff - self.gap if region == LEDGER_REGIONS[0] else self.foot + self.gap


def _frame(days: Sequence[ScoreDay], layout: Layout, rows: int) -> _Frame:
    """Place staff, hairpins, remarks and load below each other, for what these days hold."""
    performed = any(d.performance for d in days)
    low = any(m.region == LEDGER_REGIONS[1] for d in days for m in d.marks)
    if not layout.dense:
        staff = 66.0 if performed else 54.0
        pins = staff + 4 * GAP + (GAP if low else 0) + 24
        notes = pins + 22
        base = notes + 20 * max(1, rows) - 12 + layout.load
    else:
        staff = 59.0 if performed else 41.0
        foot = staff + 4 * layout.gap + (layout.gap if low else 0)
        pins = foot + 14
        notes = (pins if runs(days) else foot) + 20
        base = (notes + 20 * rows - 12 if rows else pins + 8 if runs(days) else foot + 10) + layout.load
    return _Frame(16, staff, pins, notes, base, layout.gap, layout.load)


def drawn(wanted: ScoreLine) -> System:
    """Return a line as shapes."""
    days, here, layout, top = wanted.days, wanted.remarks, wanted.layout, wanted.top
    note_rows = _note_rows(here, days, layout)
    frame = _frame(days, layout, len(note_rows))
    base = frame.base
    bar = (layout.width - layout.label - 6) / layout.bars
    under = [*_band(days, layout, bar, frame, top), *_labels(layout, dict(wanted.regions), frame, wanted.first)]
    over = [*_hairpins(days, layout, bar, frame), *_rings(here, days, layout, bar, frame), *_notes(note_rows, frame)]
    bars = [
        _bar(
            d,
            layout.label + i * bar,
            bar,
            frame,
            top,
            last=wanted.final and i == len(days) - 1,
            week_end=d.day.weekday() == 6,
            one_letter=bar < 52,
        )
        for i, d in enumerate(days)
    ]
    if wanted.measured is not None:
        over += _measured(wanted.measured, days[0].day, layout, bar, base)
    height = base + (6 if wanted.measured is None else MEASURED_HEIGHT)
    return System(layout.width, height, tuple(under), tuple(bars), tuple(over))


def _measured(overlay: Measured, first: date, layout: Layout, bar: float, base: float) -> list[Shape]:
    """The values as a pencilled line from day to day, each with its number where there is room for one."""
    top, foot = base + 26, base + MEASURED_HEIGHT - 12
    spread = overlay.high - overlay.low
    shapes = [line(layout.label, foot + 6, layout.label + bar * layout.bars, foot + 6, "axis")]
    if layout.label:
        shapes.append(words(layout.label - 10, foot - 8, overlay.name, "tick", "end"))
        shapes.append(words(layout.label - 10, foot + 6, overlay.unit, "tick", "end"))
    points = [
        (
            layout.label + ((day - first).days + 0.5) * bar,
            foot if spread == 0 else foot - (value - overlay.low) / spread * (foot - top),
        )
        for day, value in overlay.values
    ]
    if len(points) > 1:
        shapes.append(path(polyline(points), "laid-line"))
    free = 0.0
    for (x, y), (_, value) in zip(points, overlay.values, strict=True):
        shapes.append(circle(x, y, 3.5, "laid-point"))
        if x >= free:
            shapes.append(words(x, y - 7, f"{value:g}", "tick", "middle"))
            free = x + 36
    return shapes


def _labels(layout: Layout, regions: dict[str, str], frame: _Frame, first: bool) -> list[Shape]:
    shapes = [line(layout.label, frame.staff, layout.label, frame.foot, "barline")]
    if not layout.label:
        return shapes
    for region in STAFF_REGIONS:
        name = region if first and not layout.short else regions[region]
        shapes.append(words(layout.label - 10, frame.line_of(region) + 5, name, "tick", "end"))
    shapes.append(
        words(layout.label - 10, frame.base - frame.load * 0.42, "load, usual" if first else "load", "tick", "end")
    )
    return shapes


def _load_y(frame: _Frame, top: float, value: float) -> float:
    return frame.base - value / top * frame.load


def _band(days: Sequence[ScoreDay], layout: Layout, bar: float, frame: _Frame, top: float) -> list[Shape]:
    """The usual range as one drifting ribbon, broken where there is none."""
    shapes = [line(layout.label, frame.base, layout.label + bar * len(days), frame.base, "axis")]
    upper: list[tuple[float, float]] = []
    lower: list[tuple[float, float]] = []
    for i, d in enumerate([*days, ScoreDay(days[-1].day)]):
        if d.usual and i < len(days):
            x = layout.label + i * bar
            upper += [(x, _load_y(frame, top, d.usual[1])), (x + bar, _load_y(frame, top, d.usual[1]))]
            lower += [(x, _load_y(frame, top, d.usual[0])), (x + bar, _load_y(frame, top, d.usual[0]))]
        elif upper:
            shapes.append(path(polygon([*upper, *lower[::-1]]), "usual"))
            upper, lower = [], []
    return shapes


def _bar(
    d: ScoreDay, x: float, bar: float, frame: _Frame, top: float, last: bool, week_end: bool, one_letter: bool
) -> DrawnBar:
    shapes: list[Shape] = []
    if d.today:
        shapes.append(rect(x + 1, 0, bar - 2, frame.base, "today-wash"))
    if not d.future:
        cls = "staff" if d.asked else "staff-unasked"
        shapes += [line(x, frame.staff + i * frame.gap, x + bar, frame.staff + i * frame.gap, cls) for i in range(5)]
        shapes += _barlines(x + bar, frame, last, week_end)
    shapes += _date(d, x, bar, frame, one_letter)
    if d.performance:
        shapes += fermata(x + bar / 2, frame.staff - 30)
    if d.off:
        shapes.append(rect(x + bar / 2 - 8, frame.staff + frame.gap, 16, 7.5, "ink-fill"))
    shapes += _column(d, x + bar / 2, frame, top)
    shapes += _signs(d, x, bar, frame)
    return DrawnBar(d, x, bar, tuple(shapes))


def _barlines(x: float, frame: _Frame, last: bool, week_end: bool) -> list[Shape]:
    if last:
        return [
            line(x - 7, frame.staff, x - 7, frame.foot, "barline"),
            rect(x - 4, frame.staff - 0.5, 5, 4 * frame.gap + 1, "ink-fill"),
        ]
    shapes = [line(x, frame.staff, x, frame.foot, "barline")]
    if week_end:
        shapes.append(line(x - 4, frame.staff, x - 4, frame.foot, "barline"))
    return shapes


def _date(d: ScoreDay, x: float, bar: float, frame: _Frame, one_letter: bool) -> list[Shape]:
    said = d.overrule or d.call
    shapes = call(said, x + 8, frame.dates - 5, 5) if said else []
    label = f"{d.day.day}" if one_letter else f"{d.day:%a}"[:2] + f" {d.day.day}"
    return [*shapes, words(x + 19, frame.dates, label, "tick today" if d.today else "tick")]


def _column(d: ScoreDay, x: float, frame: _Frame, top: float) -> list[Shape]:
    if d.load is None:
        return [rect(x - 4.5, frame.base - 12, 9, 12, "load-unrated")] if d.played else []
    if d.load <= 0:
        return []
    y = _load_y(frame, top, d.load)
    if d.usual and d.load > d.usual[1]:
        edge = _load_y(frame, top, d.usual[1])
        return [rect(x - 4.5, edge, 9, frame.base - edge, "ink-fill"), rect(x - 6, y, 12, edge - y - 1.5, "load-cap")]
    return [rect(x - 4.5, y, 9, frame.base - y, "ink-fill")]


@cache
def _shifts(bar: int) -> tuple[int, ...]:
    """The ways a head may move sideways in a bar, the nearest first."""
    return tuple(step * side for step in range(0, bar, 2) for side in ((1, -1) if step else (1,)))


def placed_signs(
    d: ScoreDay, x: float, bar: float, line_of: dict[str, float]
) -> list[tuple[ScoreMark, float, float, float]]:
    """Return (mark, x, y, radius) so that no two heads touch: each keeps its line and moves sideways within the bar.

    The strongest are placed first, at their timing; when a bar is too full to part them the rest overlap least.
    """
    placed: list[tuple[ScoreMark, float, float, float]] = []
    for mark in sorted(d.marks, key=lambda m: (-m.intensity, m.timing, m.region)):
        r = sign_radius(mark.intensity, SIGN_SCALE)
        y, home = line_of[mark.region], x + TIMING_AT[mark.timing] * bar
        low, high = x + r + 1, x + bar - r - 1
        inside = [at for shift in _shifts(int(bar)) if low <= (at := home + shift) <= high] or [home]

        near = [(px, (y - py) ** 2, (r + pr) * 1.12) for _, px, py, pr in placed]

        def room(at: float, near: list[tuple[float, float, float]] = near) -> float:
            return min((((at - px) ** 2 + down) ** 0.5 - apart for px, down, apart in near), default=99.0)

        free = next((c for c in inside if room(c) >= 0), None)
        placed.append((mark, max(inside, key=room) if free is None else free, y, r))
    return placed


def _signs(d: ScoreDay, x: float, bar: float, frame: _Frame) -> list[Shape]:
    shapes: list[Shape] = []
    lines = {region: frame.line_of(region) for region in (*STAFF_REGIONS, *LEDGER_REGIONS)}
    for mark, px, py, r in placed_signs(d, x, bar, lines):
        if mark.region in LEDGER_REGIONS:
            shapes.append(line(px - r * 1.7, py, px + r * 1.7, py, "ledger"))
        if mark.side == "right":
            shapes.append(line(px + r * 1.1, py - 1, px + r * 1.1, py - STEM, "stem"))
        elif mark.side == "left":
            shapes.append(line(px - r * 1.1, py + 1, px - r * 1.1, py + STEM, "stem"))
        shapes += symptom(mark.kind, px, py, r)
    return shapes


def runs(days: Sequence[ScoreDay]) -> list[tuple[int, int, bool]]:
    """Return (first, last, rising) of every stretch in which the load rose, or fell, three days running or more."""
    found = []
    for rising in (True, False):
        start = 0
        for i in range(1, len(days) + 1):
            a, b = days[i - 1].load, days[i].load if i < len(days) else None
            if a is None or b is None or not (b > a if rising else b < a):
                if i - 1 - start >= RISE_DAYS:
                    found.append((start, i - 1, rising))
                start = i
    return sorted(found)


def _hairpins(days: Sequence[ScoreDay], layout: Layout, bar: float, frame: _Frame) -> list[Shape]:
    shapes = []
    for first, last, rising in runs(days):
        a, b, h = layout.label + (first + 0.15) * bar, layout.label + (last + 0.85) * bar, 5.5
        point, mouth = (a, b) if rising else (b, a)
        shapes.append(
            path(f"M{mouth:.1f} {frame.pins - h}L{point:.1f} {frame.pins}L{mouth:.1f} {frame.pins + h}", "hairpin")
        )
    return shapes


def _rings(here: Sequence[Remark], days: Sequence[ScoreDay], layout: Layout, bar: float, frame: _Frame) -> list[Shape]:
    shapes = []
    first, last = days[0].day, days[-1].day
    for seed, remark in enumerate(here):
        if remark.region is None:
            continue
        since, until = min(remark.days, default=remark.day), max(remark.days, default=remark.day)
        a = layout.label + (max(since, first) - first).days * bar
        b = layout.label + ((min(until, last) - first).days + 1) * bar
        shapes.append(
            pencil_ring((a + b) / 2, frame.line_of(remark.region), (b - a) / 2 - 7, 15, seed, faint=not remark.text)
        )
    return shapes


def _note_rows(here: Sequence[Remark], days: Sequence[ScoreDay], layout: Layout) -> list[list[tuple[float, str, bool]]]:
    """Lay the pencilled words in rows so that none runs into another; each begins under its bar if it fits."""
    bar = (layout.width - layout.label - 6) / layout.bars
    rows: list[list[tuple[float, str, bool]]] = []
    ends: list[float] = []
    for remark in (r for r in here if r.text):
        text = remark.text + (" ✓" if remark.settled else "")
        wide = len(text) * 7.4
        x = min(layout.label + (remark.day - days[0].day).days * bar, layout.width - wide - 4)
        x = max(x, layout.label + 2)
        for i, end in enumerate(ends):
            if x >= end + 12:
                rows[i].append((x, text, remark.settled))
                ends[i] = x + wide
                break
        else:
            rows.append([(x, text, remark.settled)])
            ends.append(x + wide)
    return rows


def _notes(rows: list[list[tuple[float, str, bool]]], frame: _Frame) -> list[Shape]:
    return [
        words(x, frame.notes + 20 * i, text, "remark-text settled" if settled else "remark-text")
        for i, row in enumerate(rows)
        for x, text, settled in row
    ]
