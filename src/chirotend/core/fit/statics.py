"""What carries the instrument: equilibrium in one plane, no friction. Kilograms, metres, degrees, newtons.

Good for comparing two ways of hanging the same instrument, not for exact newtons. Mathematics certain; the geometry
must be measured on the player.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from chirotend.core.errors import Degenerate, OutOfRange, TooFew, check_range

G_MS2 = 9.80665  # standard gravity, m/s²
CONDITION_MAX = 1e6
LEAN_MIN_DEG = 1.0

Line = tuple[float, float, float, float]  # x, y, direction x, direction y; x right, y up, metres


@dataclass(frozen=True)
class TwoSupport:
    """Weight and the vertical forces of thumb and mouth (N), and the shares of thumb and strap (%)."""

    W_N: float
    thumb_N: float
    mouth_N: float
    thumb_share_pct: float
    strap_share_pct: float


def two_support(
    m_kg: float, phi_deg: float, s_G: float, s_T: float, S_N: float = 0.0, s_S: float | None = None
) -> TwoSupport:
    """Return thumb and mouth force of an instrument leaning `phi_deg` from vertical, all forces vertical.

    Distances along the axis from the mouthpiece tip (m): balance point `s_G`, thumb `s_T`, strap ring `s_S` with
    tension `S_N`. A negative mouth force = the lip presses down; a negative thumb force = the strap is too tight.
    Moments about the mouth; exact for these assumptions.

    Raises
    ------
    OutOfRange
        Mass, distances or tension outside their ranges, or a tension without a place for it.
    Degenerate
        Lean below 1 degree: the lever arms vanish.
    """
    check_range("m_kg", m_kg, math.nextafter(0, 1), 40, "kg")
    check_range("phi_deg", phi_deg, 0, 90, "degrees")
    check_range("s_G", s_G, math.nextafter(0, 1), 5, "m")
    check_range("s_T", s_T, math.nextafter(0, 1), 5, "m")
    check_range("S_N", S_N, 0, 500, "N")
    if S_N and s_S is None:
        raise OutOfRange("s_S", s_S, 0, 5, "m")
    at = check_range("s_S", s_S, 0, 5, "m") if s_S is not None else 0.0
    if phi_deg < LEAN_MIN_DEG:
        raise Degenerate("phi_deg", "an upright instrument has no lever arms")
    weight = m_kg * G_MS2
    thumb = (weight * s_G - S_N * at) / s_T
    return TwoSupport(weight, thumb, weight - S_N - thumb, 100 * thumb / weight, 100 * S_N / weight)


@dataclass(frozen=True)
class ThreeSupports:
    """Weight (N), force along each line of action (N; negative = it would have to pull back), vertical shares (%)."""

    W_N: float
    forces_N: tuple[float, float, float]
    share_vert_pct: tuple[float, float, float]


def solve3(m_kg: float, G_pos: tuple[float, float], supports: Sequence[Line]) -> ThreeSupports:
    """Return the forces of three supports with known lines of action that hold `m_kg` at `G_pos` (m, y up).

    Raises
    ------
    TooFew, OutOfRange
        Not exactly three supports, or a mass out of range.
    Degenerate
        A direction of length 0, or lines that cannot fix the body (parallel or through one point).
    """
    check_range("m_kg", m_kg, math.nextafter(0, 1), 40, "kg")
    if len(supports) < 3:
        raise TooFew("supports", f"{len(supports)} supports, three are needed")
    if len(supports) > 3:
        raise OutOfRange("supports", len(supports), 3, 3, "supports")
    weight = m_kg * G_MS2
    columns = []
    for x, y, ux, uy in supports:
        length = math.hypot(ux, uy)
        if length == 0:
            raise Degenerate("supports", "a support without a direction")
        u, v = ux / length, uy / length
        columns.append((u, v, x * v - y * u))
    matrix = np.array(columns).T
    if np.linalg.cond(matrix) > CONDITION_MAX:
        raise Degenerate("supports", "these three lines of action cannot hold the instrument")
    forces = np.linalg.solve(matrix, np.array([0.0, weight, G_pos[0] * weight]))
    shares = 100 * forces * matrix[1] / weight
    a, b, c = (float(f) for f in forces)
    p, q, r = (float(s) for s in shares)
    return ThreeSupports(weight, (a, b, c), (p, q, r))


@dataclass(frozen=True)
class Support:
    """Something that carries: where on the axis (m from its lower end), how far off the axis, which way it pushes.

    `way`: "up" (vertical), "sideways" (horizontal), "square" (at right angles to the axis, against the lean),
    "square back" (the other way), or "strap" (up, `off_vertical_deg` to the left; negative: to the right).
    """

    id: str
    s_m: float
    way: str
    off_vertical_deg: float = 0.0
    off_axis_m: float = 0.0


@dataclass(frozen=True)
class Carried:
    """The force of each support by id (N), its vertical share (%), and whether the strap hangs slack."""

    W_N: float
    forces_N: dict[str, float]
    shares_pct: dict[str, float]
    slack: bool


def on_axis(phi_deg: float, s_m: float, off_m: float = 0.0) -> tuple[float, float]:
    """Return the point `s_m` up an axis leaning `phi_deg` to the right, `off_m` to its left. Metres, y up."""
    phi = math.radians(phi_deg)
    return s_m * math.sin(phi) - off_m * math.cos(phi), s_m * math.cos(phi) + off_m * math.sin(phi)


def direction(support: Support, phi_deg: float) -> tuple[float, float]:
    """Return the unit vector along which a support pushes (x right, y up)."""
    phi = math.radians(phi_deg)
    if support.way == "strap":
        a = math.radians(support.off_vertical_deg)
        return -math.sin(a), math.cos(a)
    ways = {
        "up": (0.0, 1.0),
        "sideways": (1.0, 0.0),
        "square": (-math.cos(phi), math.sin(phi)),
        "square back": (math.cos(phi), -math.sin(phi)),
    }
    try:
        return ways[support.way]
    except KeyError:
        raise OutOfRange("way", support.way, words=(*ways, "strap")) from None


def carried(
    m_kg: float, phi_deg: float, s_G: float, supports: Sequence[Support], spare: Support | None = None
) -> Carried:
    """Return what each of three supports carries. A strap that would have to push is slack: `spare` takes its place.

    Raises `Degenerate` when the supports cannot hold the instrument (and there is no spare to take over).
    """
    check_range("phi_deg", phi_deg, 0, 90, "degrees")
    check_range("s_G", s_G, 0, 5, "m")
    solved = solve3(m_kg, on_axis(phi_deg, s_G), [_line(s, phi_deg) for s in supports])
    slack = [s for s, force in zip(supports, solved.forces_N, strict=True) if s.way == "strap" and force < 0]
    if slack and spare is not None:
        rest = [spare if s in slack else s for s in supports]
        found = carried(m_kg, phi_deg, s_G, rest)
        return Carried(found.W_N, found.forces_N, found.shares_pct, True)
    return Carried(
        solved.W_N,
        {s.id: f for s, f in zip(supports, solved.forces_N, strict=True)},
        {s.id: p for s, p in zip(supports, solved.share_vert_pct, strict=True)},
        bool(slack),
    )


def carried_upright(
    m_kg: float,
    phi_deg: float,
    s_G: float,
    thumb_m: float,
    mouth_m: float,
    strap_m: float = 0.0,
    tension_N: float = 0.0,
) -> Carried:
    """Return what thumb, mouth and strap carry when all forces are vertical and the strap's tension is known.

    Distances along the axis from its lower end (m); the mouth stands above all others, else `OutOfRange`.
    """
    found = two_support(m_kg, phi_deg, mouth_m - s_G, mouth_m - thumb_m, tension_N, max(0.0, mouth_m - strap_m))
    forces = {"thumb": found.thumb_N, "mouth": found.mouth_N, "strap": tension_N}
    return Carried(found.W_N, forces, {k: 100 * f / found.W_N for k, f in forces.items()}, tension_N == 0)


def _line(support: Support, phi_deg: float) -> Line:
    return (*on_axis(phi_deg, support.s_m, support.off_axis_m), *direction(support, phi_deg))


def joint_moment_Nm(force_N: float, lever_mm: float) -> float:
    """Return the moment at the thumb's base joint: force times the lever from pad to joint (mm, above 0 to 120)."""
    check_range("lever_mm", lever_mm, math.nextafter(0, 1), 120, "mm")
    return abs(force_N) * lever_mm / 1000
