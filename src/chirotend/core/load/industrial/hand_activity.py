"""Hand activity and its threshold values (industrial: one task by hand, 4 hours a day or more). Ratings 0-10."""

import math
from dataclasses import dataclass

from chirotend.core.errors import check_range

#: exertions a second above which the work it was made from ends (about; from memory)
FASTEST_HZ = 2.0


@dataclass(frozen=True)
class Threshold:
    """`al` and `tlv`: action limit and threshold of the normalised peak force; `zone` in words; `pfi` = force / TLV
    (None when the TLV is 0)."""

    al: float
    tlv: float
    zone: str
    pfi: float | None


def hal_radwin(F_hz: float, D_pct: float) -> float:
    """Return the hand activity level (0-10) of `F_hz` exertions a second at a duty cycle of `D_pct` per cent.

    6.56 ln D * F^1.31/(1 + 3.18 F^1.31), held between 0 and 10. Radwin et al. 2015, Ergonomics 58:173-183, from memory.
    `OutOfRange`: F <= 0, D outside (0, 100].
    """
    frequency = check_range("F_hz", F_hz, low=math.nextafter(0, 1), unit="1/s")
    duty = check_range("D_pct", D_pct, math.nextafter(0, 1), 100, "%")
    power = float(frequency**1.31)
    return min(10.0, max(0.0, 6.56 * math.log(duty) * power / (1 + 3.18 * power)))


def hal_tlv_2018(hal: float, npf: float) -> Threshold:
    """Return the limits of 2018 for an activity `hal` and a normalised peak force `npf`, both 0-10.

    TLV = 5.6 - 0.56 HAL, AL = 3.6 - 0.56 HAL, neither below 0. ACGIH 2018; Yung et al. 2019, J Occup Environ Hyg
    16:628-633, from memory.
    """
    level = check_range("hal", hal, 0, 10)
    return threshold_at(max(0.0, 3.6 - 0.56 * level), max(0.0, 5.6 - 0.56 * level), npf)


def threshold_at(al: float, tlv: float, npf: float) -> Threshold:
    """Return where a normalised peak force `npf` (0-10) lies between an action limit and a threshold."""
    force = check_range("npf", npf, 0, 10)
    zone = "above TLV" if force > tlv else "between" if force > al else "below AL"
    return Threshold(al, tlv, zone, force / tlv if tlv else None)
