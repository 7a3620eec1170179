"""Invented years of an opera-pit bassoonist, as a plan of what is played when.

From March 2022 seasons and summers; in early 2025 three operas at once, a forearm that weakens with them, and five
weeks without playing. The last twenty-six weeks are told week by week: week 1 begins on 18 May 2026. Weeks 1-6
rehearsals and repertoire nights; 7-9 summer, light; 10-14 practice; from week 15 on the contrabassoon, ten minutes a
day at first; week 18 a flu; from week 20 the run of "Das Haus Arvedal". On 3 November the seat strap tears and the
left thumb carries.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from chirotend.core.judge.signs.chain import Floats
from chirotend.core.late import late
from chirotend.core.simulate.one import Spot
from chirotend.core.simulate.telling import Telling

special = late("scipy.special")

BEGAN = date(2022, 3, 7)
FIRST, LAST = date(2026, 5, 18), date(2026, 11, 12)
FLU = (date(2026, 9, 14), date(2026, 9, 22))
STRAP_TORN = date(2026, 11, 3)
THREE_OPERAS = (date(2025, 1, 13), date(2025, 4, 6))
LAID_OFF = (date(2025, 4, 7), date(2025, 5, 11))
SEED = 20261112
LIFE_SEED = 14  # of what she feels: one life among many that fits the story
MECHANICS = "irritation"


@dataclass(frozen=True)
class Played:
    """One block as planned: instrument, minutes, effort 0-10."""

    instrument: str
    minutes: float
    effort: float


@dataclass(frozen=True)
class DemoSession:
    """One session of the plan: local start "HH:MM", kind, blocks."""

    start: str
    kind: str
    blocks: tuple[Played, ...]


@dataclass(frozen=True)
class Habits:
    """A place of the player: how hard each instrument is on it (1 = usual), share of days without a mark."""

    spot: Spot
    share: dict[str, float]
    zeros: float


#: a usual playing day: minutes and effort that make a dose of 1
USUAL_MIN, USUAL_EFFORT = 190.0, 4.6
BASSOONIST = (
    Habits(Spot("thumb_base_joint", "left"), {"bassoon": 1.0, "contrabassoon": 0.9}, 0.7),
    Habits(Spot("forearm_outer_high", "right"), {"bassoon": 1.0, "contrabassoon": 1.1}, 0.65),
    Habits(Spot("neck_back", "right", "stiffness"), {"bassoon": 0.9, "contrabassoon": 1.1}, 0.6),
    Habits(Spot("lower_lip", "none"), {"bassoon": 0.9, "contrabassoon": 0.7}, 0.85),
)
STEADY = (
    Habits(Spot("shoulder_top", "left"), {"violin": 1.7}, 0.55),
    Habits(Spot("forearm_inner_high", "left"), {"violin": 1.7}, 0.75),
)


def telling(habits: Sequence[Habits]) -> Telling:
    """Return how the player tells: one player, her places."""
    shape = (1, len(habits))
    return Telling(
        above=special.ndtri(np.array([[h.zeros for h in habits]])),
        sd=np.full(shape, 0.9),
        likeness=np.full(shape, 0.3),
        silent=np.full(shape, 0.1),
        scale=np.ones(shape),
        more=np.zeros(shape),
        nerve=np.zeros(shape, dtype=bool),
    )


def dose(sessions: Sequence[DemoSession], habits: Sequence[Habits]) -> list[float]:
    """Return the dose of a day at each place: minutes x effort squared, beside a usual playing day."""
    blocks = [b for s in sessions for b in s.blocks]
    return [
        sum(b.minutes / USUAL_MIN * (b.effort / USUAL_EFFORT) ** 2 * h.share.get(b.instrument, 0.0) for b in blocks)
        for h in habits
    ]


def weakness(all_days: Sequence[date]) -> Floats:
    """Return how weak each place of the bassoonist is: the forearm in early 2025, the thumb without its strap."""
    found = np.zeros((len(all_days), len(BASSOONIST)))
    for n, day in enumerate(all_days):
        if THREE_OPERAS[0] <= day <= LAID_OFF[1]:
            found[n, 1] = min(0.8, 0.8 * (day - THREE_OPERAS[0]).days / 60)
        if day >= STRAP_TORN:
            found[n, 0] = min(0.7, 0.25 * ((day - STRAP_TORN).days + 1))
    return found


def week_of(day: date) -> int:
    return (day - FIRST).days // 7 + 1


def days() -> list[date]:
    return [BEGAN + timedelta(days=n) for n in range((LAST - BEGAN).days + 1)]


def plan(day: date, seed: int = SEED) -> list[DemoSession]:
    """Return the sessions of `day`; empty = a day off (or the flu)."""
    rng = np.random.default_rng([seed, day.toordinal(), 99])
    return _season(day, rng) if day < FIRST else _half_year(day, rng)


def _season(day: date, rng: np.random.Generator) -> list[DemoSession]:
    """The years before: Mondays and six weeks of summer off, rehearsals, two nights a week and more from October on."""
    summer = date(day.year, 7, 12) <= day <= date(day.year, 8, 22)
    if summer or day.weekday() == 0 or LAID_OFF[0] <= day <= LAID_OFF[1]:
        return []
    practice = 55 + int(rng.integers(-4, 5)) * 5
    found = [DemoSession("10:30", "repertoire", (Played("bassoon", practice, 3.0 + float(rng.integers(0, 3)) / 2),))]
    busy = THREE_OPERAS[0] <= day <= THREE_OPERAS[1]
    nights = {4, 5} | ({2} if day.month in (10, 11, 12) else set()) | ({1, 2, 6} if busy else set())
    if day.weekday() in nights:
        effort = 5.0 + float(rng.integers(0, 2)) / 2 + (0.5 if busy else 0.0)
        found.append(
            DemoSession("19:00", "performance", (Played("bassoon", 110 + int(rng.integers(0, 7)) * 5, effort),))
        )
    elif day.weekday() in (1, 3):
        found.append(DemoSession("14:00", "rehearsal", (Played("bassoon", 110 + int(rng.integers(0, 5)) * 5, 4.0),)))
    return found


def _half_year(day: date, rng: np.random.Generator) -> list[DemoSession]:
    week, weekday = week_of(day), day.weekday()
    if FLU[0] <= day <= FLU[1] or (weekday == 6 and week < 20) or (weekday == 0 and week >= 20):
        return []
    contra = min(10 + 3 * max(0, week - 15), 30) if week >= 15 else 0
    practice = {7: 40, 8: 35, 9: 40}.get(week, 70) + int(rng.integers(-3, 4)) * 5
    blocks = [Played("bassoon", practice, 3.0 + float(rng.integers(0, 3)) / 2)]
    if contra and weekday in (1, 3, 4):
        blocks.append(Played("contrabassoon", contra, 4.0))
    found = [DemoSession("10:30", "repertoire", tuple(blocks))]
    if week >= 20:
        found += _run(day, weekday, rng)
    elif week not in (7, 8, 9) and weekday in (1, 2, 4):
        found.append(DemoSession("14:00", "rehearsal", (Played("bassoon", 120 + int(rng.integers(0, 5)) * 5, 4.0),)))
    elif week < 7 and weekday == 5:
        found.append(DemoSession("19:00", "performance", (Played("bassoon", 130, 5.0),)))
    return found


def _run(day: date, weekday: int, rng: np.random.Generator) -> list[DemoSession]:
    """The run: performances on Wednesday, Friday, Saturday and some Sundays, rehearsals on Tuesday."""
    if weekday == 1:
        return [DemoSession("14:00", "rehearsal", (Played("bassoon", 130, 4.0),))]
    late = day >= date(2026, 10, 26)
    if weekday in (2, 4, 5) or (weekday == 6 and late):
        effort = 5.5 if late else 5.0
        night = (
            Played("bassoon", 90 + int(rng.integers(0, 3)) * 5, effort),
            Played("contrabassoon", 48, effort + 1),
        )
        return [DemoSession("19:00", "performance", night)]
    return []


def steady_plan(day: date) -> list[DemoSession]:
    """The second player: a violinist with the same two hours every day but Sunday."""
    if day.weekday() == 6:
        return []
    minutes = 100 + 10 * (day.toordinal() % 3)
    return [DemoSession("09:30", "technique", (Played("violin", minutes, 4.0),))]
