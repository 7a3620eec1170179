"""The fitting bench: string and hand, holes and keys, what carries the instrument, sticks side by side.

Core's numbers become points here; forces and lengths are drawn to scale within one picture.
"""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from chirotend.core.fit.hands import OUT_OF_REACH, STRETCHED, Asked
from chirotend.core.fit.statics import Carried, Support, direction, on_axis
from chirotend.core.fit.strings import Fingering, Run, fret_x
from chirotend.drawing.measured import Picture
from chirotend.drawing.pencil import arrow, balance_disc, dimension, hatched
from chirotend.drawing.shapes import Point, Shape, circle, line, path, polygon, rect, words

HATCH = {STRETCHED: "stretched", OUT_OF_REACH: "out"}
WORD_WIDTH = 8.4  # of a letter at 16 px, units


@dataclass(frozen=True)
class StringScene:
    """What the string picture shows: the string, where the first finger stands, and the map of every system."""

    length_mm: float
    first: int
    fingering: Fingering
    asked_text: str
    have_text: str
    maps: Mapping[str, tuple[Run, ...]]
    systems: Sequence[Fingering]
    names: Sequence[str]  # of the notes at semitones 1-12


def string_picture(scene: StringScene, width: float) -> Picture:
    """Return the board seen from above, the fingers on it, and under it the map of where each system is at ease."""
    left = 104.0 if width > 500 else 52.0
    last = 12.6
    scale = (width - left - 16) / fret_x(scene.length_mm, last)

    def x(n: float) -> float:
        return left + fret_x(scene.length_mm, max(0.0, n)) * scale

    top, foot = 74.0, 122.0
    shapes: list[Shape] = [
        path(polygon([(left - 14, top), (x(last), top - 8), (x(last), foot + 8), (left - 14, foot)]), "board"),
        line(left, top, left, foot, "nut"),
        *(line(x(n), top - 4, x(n), foot + 4, "fret") for n in range(1, 13)),
        *(line(left - 14, top + 8 + i * 11, x(last), top + 5 + i * 12.5, f"string s{i}") for i in range(4)),
        words(left, foot + 24, "nut", "tick", "middle"),
    ]
    stood = {scene.first + n: finger for finger, n in scene.fingering.fingers}
    for n in range(1, 13):
        if width > 500 or n in stood or n in (1, 5, 7, 12):
            shapes.append(words(x(n), foot + 28, scene.names[n - 1], "tick strong" if n in stood else "tick", "middle"))
    for n, finger in stood.items():
        if n <= last:
            shapes += [circle(x(n), top + 14, 12, "finger"), words(x(n), top + 20, finger, "finger-name", "middle")]
    low, high = scene.first, min(scene.first + scene.fingering.width, 12)
    shapes += dimension((x(low), 42), (x(high), 42), scene.asked_text, (top, top), above=12)
    if width > 500 and scene.have_text and x(high) + 12 + len(scene.have_text) * 7 < width:
        shapes.append(words(x(high) + 12, 47, scene.have_text, "tick"))
    shapes += _reach_rows(scene, x, width, foot + 66)
    height = foot + 66 + len(scene.systems) * 64 + 40
    return Picture(width, height, tuple(shapes))


def _reach_rows(scene: StringScene, x: Callable[[float], float], width: float, y0: float) -> list[Shape]:
    shapes: list[Shape] = []
    late: list[Shape] = []
    bottom = y0 + len(scene.systems) * 64 - 20
    for r, system in enumerate(scene.systems):
        y = y0 + r * 64
        shapes.append(words(0, y + 20, system.name, "system-name"))
        if width > 500:
            shapes.append(words(0, y + 40, system.asks, "tick"))
        for run in scene.maps[system.id]:
            a, b = x(run.first - 0.5), x(run.last + 0.5)
            shapes.append(rect(a, y, b - a, 44, "reach-cell"))
            if run.verdict in HATCH:
                shapes.append(hatched(a, y, b - a, 44, HATCH[run.verdict]))
            elif run.verdict == "comfortable":
                shapes.append(line(a, y + 44, b, y + 44, "at-ease"))
            wide = len(run.verdict) * WORD_WIDTH + 12
            inside = wide < b - a
            tx, ty = ((a + b) / 2, y + 28) if inside else (min(a + 2, width - wide), y + 58)
            if inside and run.verdict in HATCH:
                late.append(rect(tx - wide / 2, y + 11, wide, 23, "paper-fill"))
            if inside or width > 500:
                late.append(words(tx, ty, run.verdict, "reach-word", "middle" if inside else "start"))
    here = x(scene.first)
    shapes += [line(here, y0 - 18, here, bottom, "here-under"), line(here, y0 - 18, here, bottom, "here"), *late]
    for n in range(1, 13):
        if width > 500 or n % 2 or n == scene.first:
            shapes.append(words(x(n), bottom + 38, str(n), "tick strong" if n == scene.first else "tick", "middle"))
    return shapes


def holes_picture(
    before: Sequence[tuple[str, float, float]],
    after: Sequence[tuple[str, float, float]],
    asked: Sequence[tuple[Asked, str]],
    width: float,
) -> Picture:
    """Return the tube with the holes (finger, along mm, across mm) as they are and as they would be, and the asks."""
    longest = max(max(a for _, a, _ in before), max(a for _, a, _ in after), 60.0)
    scale = (width - 90) / longest
    y = 120.0
    shapes: list[Shape] = [rect(10, y - 30, width - 20, 60, "tube"), line(10, y, width - 10, y, "tube-axis")]
    for _, along, across in before:
        shapes.append(circle(45 + along * scale, y - across * scale * 0.6, 13, "hole-was"))
    places = {}
    for finger, along, across in after:
        places[finger] = 45 + along * scale
        shapes += [
            circle(places[finger], y - across * scale * 0.6, 13, "finger"),
            words(places[finger], y - across * scale * 0.6 + 6, finger, "finger-name", "middle"),
        ]
    for i, (ask, text) in enumerate(asked):
        low, high = (places[f] for f in ask.pair.split("-"))
        level = 62 - (26 if i == len(asked) - 1 and len(asked) > 1 else 0)
        shapes += dimension((low, level), (high, level), text, (y - 32, y - 32), above=6)
        if ask.verdict in HATCH:
            shapes.append(hatched(low, y + 38 + 22 * i, high - low, 14, HATCH[ask.verdict]))
        elif ask.verdict == "comfortable":
            shapes.append(line(low, y + 45 + 22 * i, high, y + 45 + 22 * i, "at-ease"))
        shapes.append(words((low + high) / 2, y + 50 + 22 * i, ask.verdict, "reach-word halo", "middle"))
    return Picture(width, y + 60 + 22 * len(asked), tuple(shapes))


@dataclass(frozen=True)
class CarryScene:
    """A leaning instrument with its supports (id, name), what they carry now and before, and the texts beside them."""

    length_m: float
    balance_m: float
    lean_deg: float
    supports: Sequence[tuple[Support, str]]
    now: Carried
    before: Carried
    texts: Mapping[str, tuple[str, str]]  # by support id (and "weight"): the force, and what it was


def carry_picture(scene: CarryScene) -> Picture:
    """Return the instrument from the side with its forces to scale: ink down, pencil up, dashed as it was."""
    width, height = 480.0, 590.0
    reach_x, reach_y = on_axis(scene.lean_deg, scene.length_m)
    scale = min(420 / max(reach_y, 0.3), 230 / max(reach_x, 0.1))
    foot = (165.0, 500.0)

    def point(s: float, off: float = 0.0) -> Point:
        px, py = on_axis(scene.lean_deg, s, off)
        return foot[0] + px * scale, foot[1] - py * scale

    def tube(a: float, b: float, half: float, cls: str) -> Shape:
        return path(polygon([point(a, half), point(b, half * 0.8), point(b, -half * 0.8), point(a, -half)]), cls)

    length = scene.length_m
    shapes: list[Shape] = [
        line(8, height - 40, width - 8, height - 40, "staff"),
        line(foot[0], foot[1], foot[0], foot[1] - 250, "witness"),
        tube(0, length, 12 / scale, "instrument"),
        tube(length * 0.97, length * 1.02, 14 / scale, "instrument-end"),
        tube(-length * 0.01, length * 0.03, 14 / scale, "instrument-end"),
    ]
    lean = math.radians(scene.lean_deg)
    arc = 200.0
    end = (foot[0] + arc * math.sin(lean), foot[1] - arc * math.cos(lean))
    shapes += [
        path(f"M{foot[0]:.1f} {foot[1] - arc:.1f}A{arc} {arc} 0 0 1 {end[0]:.1f} {end[1]:.1f}", "dim-bow"),
        words(foot[0] + 8, foot[1] - arc - 10, f"{scene.lean_deg:.0f}°", "dim-text"),
    ]
    biggest = max([scene.now.W_N, *map(abs, scene.now.forces_N.values()), *map(abs, scene.before.forces_N.values())])
    per_newton = 120 / biggest
    balance = point(scene.balance_m)
    labels: list[tuple[float, float, float, str, str]] = []
    for support, name in scene.supports:
        force, was = scene.now.forces_N.get(support.id, 0.0), scene.before.forces_N.get(support.id, 0.0)
        u, v = direction(support, scene.lean_deg)
        at = point(support.s_m, support.off_axis_m)
        if abs(was - force) > 0.05:
            shapes += arrow(at[0] - 7, at[1], u * was * per_newton, -v * was * per_newton, "force-was", 9)
        shapes += arrow(*at, u * force * per_newton, -v * force * per_newton, "force")
        shapes.append(circle(*at, 6, "joint"))
        # the words stand on the side the force points to; a level or upright one has them away from the tube
        labels.append((at[0] + u * force * per_newton, at[1] - v * force * per_newton, u * force, name, support.id))
    shapes += arrow(*balance, 0, scene.now.W_N * per_newton * 0.85, "weight", 14)
    shapes += balance_disc(*balance)
    labels.append((balance[0], balance[1] + scene.now.W_N * per_newton * 0.85, 1.0, "weight", "weight"))
    return Picture(width, height, (*shapes, *_labels(labels, scene.texts, width, height)))


def _labels(
    labels: Sequence[tuple[float, float, float, str, str]],
    texts: Mapping[str, tuple[str, str]],
    width: float,
    height: float,
) -> list[Shape]:
    """Write each force beside its arrow head, on the side it points to, apart where two would meet."""
    shapes: list[Shape] = []
    taken: dict[str, list[float]] = {"start": [], "end": []}
    for x, y, across, name, key in sorted(labels, key=lambda each: each[1]):
        force, was = texts[key]
        anchor = "end" if across <= 0.01 else "start"
        if anchor == "start" and x + 14 + (len(name) + len(force)) * WORD_WIDTH > width:
            anchor = "end"
        while any(abs(y - other) < 44 for other in taken[anchor]):
            y += 8
        taken[anchor].append(y)
        y = min(max(y, 22.0), height - 24)
        tx = x + 14 if anchor == "start" else x - 12
        shapes += [
            words(tx, y, f"{name} {force}", "force-text halo", anchor),
            words(tx, y + 19, was, "dim-text small halo", anchor),
        ]
    return shapes


@dataclass(frozen=True)
class StickScene:
    """A stick: name, length, fulcrum, balance, fulcrum without shock (mm), the hand's push as shares of the most."""

    name: str
    length_mm: float
    fulcrum_mm: float
    balance_mm: float
    zero_shock_mm: float
    free_share: float
    choked_share: float
    texts: tuple[str, str]


def sticks_picture(sticks: Sequence[StickScene], width: float) -> Picture:
    """Return sticks one above the other, butt at the left, each with the hand's push in a free and a choked stroke."""
    longest = max(s.length_mm for s in sticks)
    scale = (width - 30) / longest
    shapes: list[Shape] = []
    y = 44.0
    for stick in sticks:
        tip = 14 + stick.length_mm * scale
        shapes += [
            words(14, y - 22, stick.name, "system-name"),
            path(
                f"M14 {y - 7:.1f}H{tip - 70:.1f}L{tip - 16:.1f} {y - 3:.1f}V{y + 3:.1f}L{tip - 70:.1f} {y + 7:.1f}H14Z",
                "stick",
            ),
            Shape("ellipse", {"cx": round(tip - 8, 1), "cy": round(y, 1), "rx": 9, "ry": 6, "class": "stick"}),
        ]
        fulcrum, zero = 14 + stick.fulcrum_mm * scale, 14 + stick.zero_shock_mm * scale
        shapes += [
            path(f"M{fulcrum:.1f} {y + 9:.1f}l-8 15h16z", "fulcrum"),
            words(fulcrum, y + 42, "hold", "tick", "middle"),
            line(zero, y - 14, zero, y + 14, "zero-shock"),
            *balance_disc(14 + stick.balance_mm * scale, y, 7),
        ]
        for i, (share, text, cls) in enumerate(
            ((stick.free_share, stick.texts[0], "work-free"), (stick.choked_share, stick.texts[1], "work-choked"))
        ):
            top = y + 56 + i * 28
            long = max(2.0, share * (width - 30) * 0.55)
            shapes += [rect(14, top, long, 18, cls), words(22 + long, top + 14, text, "tick")]
        y += 158
    return Picture(width, y - 24, tuple(shapes))
