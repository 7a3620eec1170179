"""The blow of a stick and the push at its fulcrum: handbook formulas to hold `core.fit.sticks` against."""

import math
from dataclasses import dataclass

from chirotend.core.errors import check_range
from chirotend.core.fit.sticks import TINY, rod_about_fulcrum


@dataclass(frozen=True)
class Impact:
    """Impulse (N·s), peak and mean force (N) of a half-sine contact, share of the energy that comes back."""

    J_Ns: float
    F_peak_N: float
    F_mean_N: float
    energy_back: float


def impact(m_eff_kg: float, v_ms: float, e: float, tau_ms: float) -> Impact:
    """Return the blow of a tip mass at `v_ms` with restitution `e` (0-1) and contact time `tau_ms`."""
    check_range("m_eff_kg", m_eff_kg, TINY, 5, "kg")
    check_range("v_ms", v_ms, 0, 60, "m/s")
    check_range("e", e, 0, 1)
    check_range("tau_ms", tau_ms, TINY, 100, "ms")
    impulse = m_eff_kg * v_ms * (1 + e)
    tau = tau_ms / 1000
    return Impact(impulse, math.pi * impulse / (2 * tau), impulse / tau, e * e)


def fulcrum_impulse(m_kg: float, L_m: float, a_m: float, J_Ns: float, balance_m: float | None = None) -> float:
    """Return the impulse at the fulcrum (N·s): + the hand must push up, − the stick kicks up into the hand."""
    rod = rod_about_fulcrum(m_kg, L_m, a_m, balance_m)
    centre = L_m / 2 if balance_m is None else balance_m
    return J_Ns * (m_kg * (centre - a_m) * (L_m - a_m) / rod.I - 1)
