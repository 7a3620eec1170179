"""Holding still: how long laboratory holds lasted, and a model of tiring and recovering. Forces as shares of the most.

Healthy adults, one joint, one posture. Minutes that a player can hold are never said from these.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

from chirotend.core.errors import Inconsistent, TooFew, check_range, check_word
from chirotend.core.tables import rows


@dataclass(frozen=True)
class Joint:
    """Endurance b0 (s) * f^b1; fatigue `F` and recovery `R` (1/s), the latter `r` times as fast in a rest."""

    b0: float
    b1: float
    F: float
    R: float
    r: float


@dataclass(frozen=True)
class Endurance:
    """`sustain_limit`: the share that never fails in the model; `seconds` until it fails (None = never)."""

    sustain_limit: float
    seconds: float | None


@dataclass(frozen=True)
class Fatigue:
    """When a pattern failed (s, None = not), the tired share at its end, what is left (%), seconds held in all."""

    failed_at_s: float | None
    MF: float
    capacity_pct: float
    held_s: float


@cache
def joints() -> dict[str, Joint]:
    """Return the joints of the models by name, from `holding_joints.csv`."""
    return {r["joint"]: Joint(*(float(r[k]) for k in ("b0", "b1", "F", "R", "r"))) for r in rows("holding_joints")}


def rohmert_endurance_min(f: float) -> float:
    """Return the minutes a hold at the share `f` (.15-1) lasted: -1.5 + 2.1/f - .6/f^2 + .1/f^3.

    Rohmert 1960, Int Z angew Physiol 18:123-164, from memory. Below .15 it says "for ever", which is refuted
    (Bjorksten & Jonsson 1977, Scand J Work Environ Health 3:23-27): `OutOfRange`.
    """
    share = check_range("f", f, 0.15, 1)
    return float(-1.5 + 2.1 / share - 0.6 / share**2 + 0.1 / share**3)


def rohmert_rest_pct(f: float, t_min: float) -> float:
    """Return the rest in % of `t_min` minutes held at `f`: 1800 (t/T)^1.4 (f - .15)^.5. Longer than T: `Inconsistent`.

    Rohmert 1973, Appl Ergon 4:158-162, from memory.
    """
    most = rohmert_endurance_min(f)
    held = check_range("t_min", t_min, low=math.nextafter(0, 1), unit="min")
    if held > most:
        raise Inconsistent("t_min", f"{held:g} min is longer than the {most:.2f} min the hold lasts")
    return 1800 * float((held / most) ** 1.4) * math.sqrt(f - 0.15)


def hold_endurance_s(joint: str, TL: float) -> Endurance:
    """Return when a hold at the target load `TL` (0-1, both excluded) fails in the three-compartment model.

    Xia & Frey-Law 2008, J Biomech 41:3046-3052; Frey-Law, Looft & Heitsman 2012, J Biomech 45:1803-1808, from memory.
    Above .7 it is far too short; nothing above that is shown.
    """
    known = joint_of(joint)
    load = check_range("TL", TL, math.nextafter(0, 1), math.nextafter(1, 0))
    return Endurance(known.R / (known.F + known.R), _fails_after(known, load, 0.0))


def fatigue_pattern(
    joint: str, pattern: Sequence[tuple[float, float]], total_s: float, r: float | None = None
) -> Fatigue:
    """Return what a pattern of (target load 0 to below 1, seconds), repeated from rest for `total_s` seconds, leaves.

    The model of `hold_endurance_s`, its recovery `r` times as fast in a rest (r >= 1; Looft, Herkert & Frey-Law 2018,
    J Biomech 77:16-25, from memory). `r` was fitted to rests of several seconds: for one second it is extrapolation.
    """
    known = joint_of(joint)
    if not pattern:
        raise TooFew("pattern", "no hold at all")
    total = check_range("total_s", total_s, low=math.nextafter(0, 1), unit="s")
    faster = known.r if r is None else check_range("r", r, low=1)
    steps = [
        (
            check_range("pattern", load, 0, math.nextafter(1, 0)),
            check_range("pattern", seconds, low=math.nextafter(0, 1)),
        )
        for load, seconds in pattern
    ]
    tired = at = held = 0.0
    number = 0
    while at < total:
        load, wanted = steps[number % len(steps)]
        seconds = min(wanted, total - at)
        if load > 0:
            fails = _fails_after(known, load, tired)
            if fails is not None and fails <= seconds:
                return Fatigue(at + fails, 1 - load, 100 * load, held + fails)
            level = known.F * load / known.R
            tired = level + (tired - level) * math.exp(-known.R * seconds)
            held += seconds
        else:
            tired *= math.exp(-faster * known.R * seconds)
        at += seconds
        number += 1
    return Fatigue(None, tired, 100 * (1 - tired), held)


def _fails_after(joint: Joint, load: float, tired: float) -> float | None:
    """Seconds until the tired share would pass 1 - load; None when it never does."""
    level = joint.F * load / joint.R
    if level <= 1 - load:
        return None
    if tired >= 1 - load:
        return 0.0
    return -math.log((1 - load - level) / (tired - level)) / joint.R


def joint_of(name: str) -> Joint:
    """Return a joint of the models; `OutOfRange` for one that is not in the table."""
    check_word("joint", name, tuple(joints()))
    return joints()[name]
