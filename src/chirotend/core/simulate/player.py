"""A believable player: load makes fatigue and irritation, irritation makes tightness, pain lags, logging is patchy.

Directions are known, values assumed (common practice, no source; see the clinical rules). The mechanics here are for
the demo and for tuning; proofs use other mechanics (`steady.py`). Randomness is an argument.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date

import numpy as np

from chirotend.core.record import Entry

FATIGUE_HALF_LIFE_H = 8.0
CAPACITY_TAU_DAYS = 30.0
PER_INTENSITY = 230.0  # irritation (dose units) that is felt as one step of intensity


@dataclass(frozen=True)
class Spot:
    """A place that takes load: its zone and side, how hard each instrument is on it, its habitual tightness 0-3."""

    zone: str
    side: str
    kind: str
    habit: float
    share: dict[str, float]
    half_life_days: float = 6.0
    noise_sd: float = 0.9
    noise_r: float = 0.35


@dataclass(frozen=True)
class Played:
    """One block as planned: instrument, minutes, effort 0-10, posture factor (1 = usual), cold factor 1.1-1.4."""

    instrument: str
    minutes: float
    effort: float
    posture: dict[str, float] = field(default_factory=dict)  # by zone
    cold: float = 1.0


@dataclass(frozen=True)
class FeltDay:
    """What was felt on a day: entries on waking, while playing and after, at night."""

    day: date
    waking: tuple[Entry, ...]
    playing: tuple[Entry, ...]
    after: tuple[Entry, ...]


def dose(block: Played, spot: Spot) -> float:
    """Return the dose of a block at a spot: minutes x (effort/5)^2 x posture x instrument share x cold."""
    return (
        block.minutes
        * (block.effort / 5) ** 2
        * block.posture.get(spot.zone, 1.0)
        * spot.share.get(block.instrument, 0.0)
        * block.cold
    )


def live(
    days: Sequence[date],
    played: dict[date, Sequence[Played]],
    spots: Sequence[Spot],
    seed: int,
    short_sleep: frozenset[date] = frozenset(),
) -> list[FeltDay]:
    """Return what a player feels on each of `days`; each day has its own keyed seed, so a change stays local."""
    state = [_State(capacity=_usual_dose(s, played)) for s in spots]
    felt = []
    for day in days:
        waking: list[Entry] = []
        playing: list[Entry] = []
        after: list[Entry] = []
        for i, spot in enumerate(spots):
            rng = np.random.default_rng([seed, day.toordinal(), i])
            st = state[i]
            st.night(spot, day in short_sleep)
            morning = st.felt(spot, rng, fatigue=0.0)
            _note(waking, spot, morning)
            total = sum(dose(b, spot) for b in played.get(day, ()))
            if total > 0:
                st.work(total)
                evening = st.felt(spot, rng, fatigue=st.fatigue / PER_INTENSITY)
                _note(playing if rng.random() < 0.5 else after, spot, evening)
        felt.append(FeltDay(day, tuple(waking), tuple(playing), tuple(after)))
    return felt


@dataclass
class _State:
    capacity: float
    irritation: float = 0.0
    fatigue: float = 0.0
    noise: float = 0.0

    def night(self, spot: Spot, short: bool) -> None:
        self.fatigue *= 0.5 ** (16 / FATIGUE_HALF_LIFE_H)
        self.irritation *= 0.5 ** ((0.75 if short else 1.0) / spot.half_life_days)
        self.capacity -= 0.2 * self.capacity / CAPACITY_TAU_DAYS

    def work(self, total: float) -> None:
        self.irritation += max(0.0, total - self.capacity)
        self.fatigue += total * 0.5
        self.capacity += (total - self.capacity) / CAPACITY_TAU_DAYS

    def felt(self, spot: Spot, rng: np.random.Generator, fatigue: float) -> int:
        self.noise = spot.noise_r * self.noise + rng.normal() * spot.noise_sd * (1 - spot.noise_r**2) ** 0.5
        level = spot.habit - 1.2 + fatigue * 0.6 + self.irritation / PER_INTENSITY + self.noise
        return int(np.clip(np.floor(level + 0.5), 0, 10))


def _usual_dose(spot: Spot, played: dict[date, Sequence[Played]]) -> float:
    totals = [sum(dose(b, spot) for b in blocks) for blocks in played.values()]
    totals = [t for t in totals if t > 0]
    return float(np.percentile(totals, 90)) if totals else 0.0


def _note(entries: list[Entry], spot: Spot, level: int) -> None:
    if level > 0:
        entries.append(Entry(spot.zone, spot.side, spot.kind, float(level)))
