"""Strain indices of one task of one hand (industrial: distal upper limb). Forces as shares of the strongest effort."""

import math
from bisect import bisect_left, bisect_right
from dataclasses import dataclass

from chirotend.core.errors import Inconsistent, check_range, check_word

POSTURES = ("flexion", "extension")
_ABOVE_ZERO = math.nextafter(0, 1)


@dataclass(frozen=True)
class RevisedStrain:
    """The multipliers of intensity, efforts, duration, posture and hours, their product, and its side of 10."""

    IM: float
    EM: float
    DM: float
    PM: float
    HM: float
    RSI: float
    zone: str


@dataclass(frozen=True)
class Strain1995:
    """The six multipliers (intensity, duration, efforts, posture, speed, hours), their product, its band."""

    mult: tuple[float, float, float, float, float, float]
    SI: float
    zone: str


def rsi(I: float, E_per_min: float, D_s: float, P_deg: float, posture: str, H: float) -> RevisedStrain:  # noqa: E741
    """Return the revised strain index. Garg, Moore & Kapellusch 2017, Ergonomics 60:912-922, from memory.

    Parameters
    ----------
    I : float
        Intensity, share of the strongest effort, above 0 to 1 (effort 0-10 divided by 10).
    E_per_min, D_s : float
        Efforts a minute and seconds each, both above 0 and together at most a minute (else `Inconsistent`).
    P_deg, posture : float, str
        Wrist angle 0-90 degrees, "flexion" or "extension"; there is no term for the other directions.
    H : float
        Hours a day, above 0 to 24.
    """
    force = check_range("I", I, _ABOVE_ZERO, 1)
    efforts = check_range("E_per_min", E_per_min, low=_ABOVE_ZERO)
    seconds = check_range("D_s", D_s, low=_ABOVE_ZERO, unit="s")
    angle = check_range("P_deg", P_deg, 0, 90, "degrees")
    check_word("posture", posture, POSTURES)
    hours = check_range("H", H, _ABOVE_ZERO, 24, "h")
    if efforts * seconds > 60:
        raise Inconsistent("E_per_min*D_s", f"{efforts:g} efforts of {seconds:g} s do not fit into a minute")
    factors = (
        _intensity(force),
        0.10 + 0.25 * efforts if efforts <= 90 else 0.00334 * efforts**1.96,
        0.45 + 0.31 * seconds if seconds <= 60 else 19.17 * math.log(seconds) - 59.44,
        _posture(angle, posture),
        0.20 if hours <= 0.05 else 0.042 * hours + 0.090 * math.log(hours) + 0.477,
    )
    index = math.prod(factors)
    return RevisedStrain(*factors, index, "10 or less" if index <= 10 else "over 10")


def _intensity(f: float) -> float:
    if f <= 0.4:
        return 30 * f**3 - 15.6 * f**2 + 13 * f + 0.4
    return 36 * f**3 - 33.3 * f**2 + 24.77 * f - 1.86


def _posture(angle: float, posture: str) -> float:
    if posture == "flexion":
        return 1.2 * math.exp(0.009 * angle) - 0.2
    return 1.0 if angle <= 30 else 1 + 0.00028 * (angle - 30) ** 2


#: lower edges of the second to fifth rating, and the multipliers; edges between whole numbers are ours
_INTENSITY = ((10, 30, 50, 80), (1, 3, 6, 9, 13))
_DURATION = ((10, 30, 50, 80), (0.5, 1, 1.5, 2, 3))
_EFFORTS = ((4, 9, 15, 20), (0.5, 1, 1.5, 2, 3))
_HOURS = ((1, 2, 4, 8), (0.25, 0.5, 0.75, 1, 1.5))
_POSTURE = (1, 1, 1.5, 2, 3)
_SPEED = (1, 1, 1, 1.5, 2)
_BANDS = ((3, "below 3"), (5, "3-5"), (7, "5-7"))


def si1995(
    intensity_pct: float,
    duration_pct: float,
    efforts_per_min: float,
    posture_rating: int,
    speed_rating: int,
    hours: float,
) -> Strain1995:
    """Return the strain index of 1995. Moore & Garg 1995, AIHAJ 56:443-458, from memory.

    Intensity in % of the strongest effort and duration in % of the cycle, 0-100 (all of it: a static hold, efforts
    count 3); efforts a minute 0 and more; posture and speed rated 1-5; hours a day above 0 to 24, closed above.
    """
    intensity = check_range("intensity_pct", intensity_pct, 0, 100, "%")
    duration = check_range("duration_pct", duration_pct, 0, 100, "%")
    efforts = check_range("efforts_per_min", efforts_per_min, low=0)
    posture = int(check_range("posture_rating", posture_rating, 1, 5))
    speed = int(check_range("speed_rating", speed_rating, 1, 5))
    day = check_range("hours", hours, _ABOVE_ZERO, 24, "h")
    mult = (
        float(_INTENSITY[1][bisect_right(_INTENSITY[0], intensity)]),
        float(_DURATION[1][bisect_right(_DURATION[0], duration)]),
        3.0 if duration == 100 else float(_EFFORTS[1][bisect_right(_EFFORTS[0], efforts)]),
        float(_POSTURE[posture - 1]),
        float(_SPEED[speed - 1]),
        float(_HOURS[1][bisect_left(_HOURS[0], day)]),
    )
    index = math.prod(mult)
    return Strain1995(mult, index, next((name for edge, name in _BANDS if index <= edge), ">7"))
