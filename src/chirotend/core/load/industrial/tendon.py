"""Cycles to failure of cadaver tendon, as a ratio between two ways of playing (tools built on it are industrial).

Living tendon heals, and the stress of a note is not known: no absolute number of this is ever shown.
"""

import math

from chirotend.core.errors import check_range

_SLOPE, _AT_ONE = 14.83, 101.25


def tendon_cycles(S_pct: float) -> float:
    """Return the cycles at a stress of `S_pct` % of the strength (above 0 to 100): S = 101.25 - 14.83 log10 N.

    Tested at about 10-90 %. Schechtman & Bader 1997, J Biomech 30:829-835, from memory.
    """
    stress = check_range("S_pct", S_pct, math.nextafter(0, 1), 100, "%")
    return float(10 ** ((_AT_ONE - stress) / _SLOPE))


def wear_ratio(S_loud: float, S_soft: float, n_loud: float = 1.0, n_soft: float = 1.0) -> float:
    """Return how many times `n_soft` notes at stress `S_soft` % the `n_loud` ones at `S_loud` % count, in that line.

    (n1/n2) 10^((S1 - S2)/14.83). Reasoning of Gallagher & Schall 2017, Ergonomics 60:255-269, from memory.
    """
    check_range("n_loud", n_loud, low=math.nextafter(0, 1))
    check_range("n_soft", n_soft, low=math.nextafter(0, 1))
    return n_loud / tendon_cycles(S_loud) / (n_soft / tendon_cycles(S_soft))
