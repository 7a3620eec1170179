"""A grade of a whole posture by looking (industrial: seated work). Steps of a worksheet, from angles and answers.

RULA: McAtamney & Corlett 1993, Appl Ergon 24:91-99, from memory; table A as in the later worksheet most software uses
(the print of 1993 may differ in some cells, never by more than 2 in the grand score).
"""

from dataclasses import dataclass
from functools import cache

from chirotend.core.errors import NotANumber, check_number, check_range
from chirotend.core.tables import rows

VERSION = "later worksheet"


@dataclass(frozen=True)
class Rula:
    """The four part scores, the grand score 1-7 and its action level 1-4."""

    A: int
    B: int
    C: int
    D: int
    grand: int
    action_level: int


def rula(
    upper_arm: int,
    lower_arm: int,
    wrist: int,
    twist: int,
    muscle_arm: int,
    force_arm: int,
    neck: int,
    trunk: int,
    legs: int,
    muscle_body: int,
    force_body: int,
) -> Rula:
    """Return the grade of scored body parts. Whole numbers: arm 1-6, forearm 1-3, wrist 1-4, twist 1-2, neck and trunk
    1-6, legs 1-2, muscle 0-1, force 0-3; `NotANumber` for a fraction, `OutOfRange` outside."""
    arm, fore = _whole("upper_arm", upper_arm, 1, 6), _whole("lower_arm", lower_arm, 1, 3)
    hand, turn = _whole("wrist", wrist, 1, 4), _whole("twist", twist, 1, 2)
    own_muscle, own_force = _whole("muscle_arm", muscle_arm, 0, 1), _whole("force_arm", force_arm, 0, 3)
    head, back, feet = _whole("neck", neck, 1, 6), _whole("trunk", trunk, 1, 6), _whole("legs", legs, 1, 2)
    body_muscle, body_force = _whole("muscle_body", muscle_body, 0, 1), _whole("force_body", force_body, 0, 3)
    a = _table("rula_a")[f"{arm},{fore}", f"w{hand}t{turn}"]
    b = _table("rula_b")[str(head), f"t{back}l{feet}"]
    c, d = a + own_muscle + own_force, b + body_muscle + body_force
    grand = _table("rula_c")[str(min(c, 8)), f"b{min(d, 7)}"]
    return Rula(a, b, c, d, grand, (grand + 1) // 2)


@cache
def _table(name: str) -> dict[tuple[str, str], int]:
    keys = ("upper_arm", "lower_arm") if name == "rula_a" else ("neck",) if name == "rula_b" else ("arm",)
    cells = {}
    for row in rows(name):
        first = ",".join(row[k] for k in keys)
        cells.update({(first, k): int(v) for k, v in row.items() if k not in (*keys, "source", "status")})
    return cells


def _whole(field: str, value: int, low: int, high: int) -> int:
    number = check_number(field, value)
    if number != int(number):
        raise NotANumber(field, f"{value!r} is not a whole number")
    return int(check_range(field, number, low, high))


@dataclass(frozen=True)
class Asked:
    """What one picture cannot show and is asked; False = no."""

    shoulder_raised: bool = False
    arm_out: bool = False
    arm_supported: bool = False
    across_middle: bool = False
    wrist_sideways: bool = False
    forearm_near_end: bool = False
    neck_turned: bool = False
    neck_tilted: bool = False
    trunk_turned: bool = False
    trunk_tilted: bool = False
    legs_uneven: bool = False
    held_or_repeated: bool = False


def scored(arm_deg: float, elbow_deg: float, wrist_deg: float, head_deg: float, trunk_deg: float, asked: Asked) -> Rula:
    """Return the grade of one picture. Degrees: upper arm raised, elbow bent, wrist bent either way (its size), head
    against the trunk and trunk against upright (forward +, back −). A load under 2 kg is taken (force 0)."""
    still = int(asked.held_or_repeated)
    arm = _step(check_range("arm_deg", arm_deg, 0, 180), (20, 45, 90)) + asked.shoulder_raised + asked.arm_out
    neck_deg = check_number("head_deg", head_deg)
    neck = 4 if neck_deg < 0 else _step(neck_deg, (10, 20))
    back_deg = check_number("trunk_deg", trunk_deg)
    return rula(
        max(1, arm - asked.arm_supported),
        (1 if 60 <= elbow_deg <= 100 else 2) + asked.across_middle,
        (1 if abs(wrist_deg) < 1 else _step(abs(wrist_deg), (0, 15))) + asked.wrist_sideways,
        1 + asked.forearm_near_end,
        still,
        0,
        neck + asked.neck_turned + asked.neck_tilted,
        (1 if abs(back_deg) < 1 else _step(abs(back_deg), (0, 20, 60))) + asked.trunk_turned + asked.trunk_tilted,
        1 + asked.legs_uneven,
        still,
        0,
    )


def _step(value: float, edges: tuple[float, ...]) -> int:
    """1 up to the first edge, 2 up to the second, and so on."""
    return 1 + sum(value > edge for edge in edges)
