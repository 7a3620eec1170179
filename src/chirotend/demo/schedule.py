"""Twenty-six invented weeks of an opera-pit bassoonist, as a plan of what is played when.

Week 1 begins on 18 May 2026. Weeks 1-6 rehearsals and repertoire nights; 7-9 summer, light; 10-14 practice; from week
15 on the contrabassoon, ten minutes a day at first; week 18 a flu; from week 20 the run of "Das Haus Arvedal". On
3 November the seat strap tears and the left thumb carries for nine days.
"""

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from chirotend.core.simulate.player import Played, Spot

FIRST, LAST = date(2026, 5, 18), date(2026, 11, 12)
FLU = (date(2026, 9, 14), date(2026, 9, 22))
STRAP_TORN = date(2026, 11, 3)
SEED = 20261112
TORN_STRAP = 1.9  # how much more the left thumb takes without the strap (assumed)

BASSOONIST = (
    Spot(
        "thumb_base_joint",
        "left",
        "tension",
        0.2,
        {"bassoon": 0.9, "contrabassoon": 0.8},
        half_life_days=5.0,
        noise_sd=0.5,
    ),
    Spot(
        "forearm_outer_high",
        "right",
        "tension",
        0.9,
        {"bassoon": 0.9, "contrabassoon": 1.0},
        half_life_days=3.0,
        noise_sd=0.7,
    ),
    Spot(
        "neck_back", "right", "stiffness", 1.1, {"bassoon": 0.8, "contrabassoon": 1.0}, half_life_days=2.0, noise_sd=0.7
    ),
    Spot("lower_lip", "none", "tension", 0.5, {"bassoon": 0.8, "contrabassoon": 0.6}, half_life_days=2.0, noise_sd=0.6),
)


@dataclass(frozen=True)
class Sitting:
    """One sitting of the plan: local start "HH:MM", kind, blocks."""

    start: str
    kind: str
    blocks: tuple[Played, ...]
    words: str = ""


def week_of(day: date) -> int:
    return (day - FIRST).days // 7 + 1


def days() -> list[date]:
    return [FIRST + timedelta(days=n) for n in range((LAST - FIRST).days + 1)]


def plan(day: date, seed: int = SEED) -> list[Sitting]:
    """Return the sittings of `day`; empty = a day off (or the flu)."""
    rng = np.random.default_rng([seed, day.toordinal(), 99])
    week, weekday = week_of(day), day.weekday()
    if FLU[0] <= day <= FLU[1] or (weekday == 6 and week < 20) or (weekday == 0 and week >= 20):
        return []
    posture = {"thumb_base_joint": TORN_STRAP} if day >= STRAP_TORN else {}
    contra = min(10 + 3 * max(0, week - 15), 30) if week >= 15 else 0
    practice = {7: 40, 8: 35, 9: 40}.get(week, 70) + int(rng.integers(-3, 4)) * 5
    blocks = [Played("bassoon", practice, 3.0 + float(rng.integers(0, 3)) / 2, posture)]
    if contra and weekday in (1, 3, 4):
        blocks.append(Played("contrabassoon", contra, 4.0, posture))
    found = [Sitting("10:30", "repertoire", tuple(blocks))]
    if week >= 20:
        found += _run(day, weekday, posture, rng)
    elif week not in (7, 8, 9) and weekday in (1, 2, 4):
        found.append(
            Sitting("14:00", "rehearsal", (Played("bassoon", 120 + int(rng.integers(0, 5)) * 5, 4.0, posture),))
        )
    elif week < 7 and weekday == 5:
        found.append(Sitting("19:00", "performance", (Played("bassoon", 130, 5.0, posture),)))
    return found


def _run(day: date, weekday: int, posture: dict[str, float], rng: np.random.Generator) -> list[Sitting]:
    """The run: performances on Wednesday, Friday, Saturday and some Sundays, rehearsals on Tuesday."""
    if weekday == 1:
        return [Sitting("14:00", "rehearsal", (Played("bassoon", 130, 4.0, posture),))]
    late = day >= date(2026, 10, 26)
    if weekday in (2, 4, 5) or (weekday == 6 and late):
        effort = 5.5 if late else 5.0
        return [
            Sitting(
                "19:00",
                "performance",
                (
                    Played("bassoon", 90 + int(rng.integers(0, 3)) * 5, effort, posture),
                    Played("contrabassoon", 48, effort + 1, posture),
                ),
            )
        ]
    return []


STEADY = (
    Spot("shoulder_top", "left", "tension", 1.2, {"violin": 0.2}, half_life_days=2.0, noise_sd=0.8),
    Spot("forearm_inner_high", "left", "tension", 0.6, {"violin": 0.2}, half_life_days=2.0, noise_sd=0.8),
)


def steady_plan(day: date) -> list[Sitting]:
    """The second player: a violinist with the same two hours every day but Sunday."""
    if day.weekday() == 6:
        return []
    minutes = 100 + 10 * (day.toordinal() % 3)
    return [Sitting("09:30", "technique", (Played("violin", minutes, 4.0),))]
