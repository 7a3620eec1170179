"""Laboratory holds and cadaver tendon: sums that are never shown, to hold `core.load.industrial` against."""

from collections.abc import Sequence

from chirotend.core.errors import TooFew, check_range
from chirotend.core.load.industrial.hand_activity import Threshold, threshold_at
from chirotend.core.load.industrial.holding import joint_of
from chirotend.core.load.industrial.tendon import tendon_cycles


def joint_endurance_s(joint: str, f: float) -> float:
    """Return the seconds a hold of a joint at the share `f` (.1-1) lasted: b0 f^b1.

    Frey-Law & Avin 2010, Ergonomics 53:109-129, from memory.
    """
    known = joint_of(joint)
    return known.b0 * float(check_range("f", f, 0.1, 1) ** known.b1)


def miner_sum(blocks: Sequence[tuple[float, float]]) -> float:
    """Return the sum of n/N over blocks of (stress in %, cycles n >= 0). Miner 1945, J Appl Mech 12:A159 (from memory).

    Never shown: it has a meaning only beside another sum.
    """
    if not blocks:
        raise TooFew("blocks", "no cycle at all")
    return sum(check_range("n", n, low=0) / tendon_cycles(stress) for stress, n in blocks)


def hal_tlv_2001(hal: float, npf: float) -> Threshold:
    """Return the limits of 2001 for an activity `hal` 1-10 and a normalised peak force `npf` 0-10.

    TLV = 7 (10 - HAL)/9, AL = 5 (10 - HAL)/9. ACGIH 2001; Latko et al. 1997, AIHAJ 58:278-285, from memory.
    """
    level = check_range("hal", hal, 1, 10)
    return threshold_at(5 * (10 - level) / 9, 7 * (10 - level) / 9, npf)
