"""Sticks and mallets as rigid uniform rods: for comparing two of them. Kilograms, metres, seconds, newtons.

Real sticks taper, so a measured balance point is taken where there is one. Gravity, the mass of the hand and the
damping of the grip are left out. Mathematics certain, realism moderate.
"""

import math
from dataclasses import dataclass

from chirotend.core.errors import check_range

N_PER_LBF = 4.4482216152605  # exact
TINY = math.nextafter(0, 1)


@dataclass(frozen=True)
class Rod:
    """Moment of inertia about the fulcrum (kg·m²), mass felt at the tip (kg), fulcrum without shock (m from butt)."""

    I: float  # noqa: E741  the field's own name
    tip_mass_kg: float
    zero_shock_a_m: float


def rod_about_fulcrum(m_kg: float, L_m: float, a_m: float, balance_m: float | None = None) -> Rod:
    """Return how a stick feels held `a_m` from its butt.

    A uniform rod has its balance point at L/2; a measured one (`balance_m` from the butt) shifts the centre of mass and
    keeps the rod's own inertia about it (our simplification). Handbook formula: I = m(L²/12 + d²).
    """
    _check(m_kg, L_m, a_m)
    centre = L_m / 2 if balance_m is None else check_range("balance_m", balance_m, TINY, L_m, "m")
    own = m_kg * L_m**2 / 12
    inertia = own + m_kg * (centre - a_m) ** 2
    # struck at the tip, the fulcrum feels nothing where d·(L−a) = I/m
    zero_shock = centre - L_m**2 / 12 / (L_m - centre) if centre < L_m else 0.0
    return Rod(inertia, inertia / (L_m - a_m) ** 2, zero_shock)


@dataclass(frozen=True)
class HandCycle:
    """Angular impulse the hand supplies for one stroke (N·m·s), rebounding freely or choked, and the stop (N·s)."""

    free: float
    choked: float
    stop_impulse_Ns: float


def hand_cycle(
    m_kg: float, L_m: float, a_m: float, v_tip: float, e: float, r_m: float, balance_m: float | None = None
) -> HandCycle:
    """Return what the hand does in one stroke: a free rebound is topped up, a choked one is stopped and lifted.

    `v_tip` m/s at the tip, `r_m` the distance of the fingers from the fulcrum.
    """
    rod = rod_about_fulcrum(m_kg, L_m, a_m, balance_m)
    check_range("v_tip", v_tip, 0, 60, "m/s")
    check_range("e", e, 0, 1)
    check_range("r_m", r_m, TINY, 0.5, "m")
    turn = rod.I * v_tip / (L_m - a_m)
    return HandCycle(turn * (1 - e), turn * (1 + e), turn * e / r_m)


def _check(m_kg: float, L_m: float, a_m: float) -> None:
    check_range("m_kg", m_kg, TINY, 2, "kg")
    check_range("L_m", L_m, TINY, 1.5, "m")
    check_range("a_m", a_m, 0, math.nextafter(L_m, 0), "m")
