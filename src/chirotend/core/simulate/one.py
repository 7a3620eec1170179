"""One invented player with a plan of her own: what the plan does to her places, and what she tells of it."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from chirotend.core.judge.signs.chain import Floats
from chirotend.core.record import Entry
from chirotend.core.simulate.cohort import BURN_IN
from chirotend.core.simulate.mechanics import MECHANICS
from chirotend.core.simulate.telling import Telling, Whole

#: of a usual playing day, day for day, before the diary begins
BALANCE_DOSE = 0.75
#: a mark's timing by the half of its character
TIMINGS = ("playing", "after", "waking", "night")
#: tingling lasts longer than ten minutes from this excess on
LASTS_FROM = 4.0


@dataclass(frozen=True)
class Spot:
    """A place of an invented player: its zone and side, and the kind of its harmless marks."""

    zone: str
    side: str
    kind: str = "tension"

    def entry(self, strength: float, character: int, excess: float, nerve: bool = False) -> Entry:
        """Return a mark there; one that tells more is pain, or tingling where a nerve is the matter."""
        if not character % 2:
            return Entry(self.zone, self.side, self.kind, strength)
        if nerve:
            return Entry(self.zone, self.side, "tingling", strength, "longer" if excess >= LASTS_FROM else "brief")
        return Entry(self.zone, self.side, "pain", strength)


@dataclass(frozen=True)
class SimulatedLife:
    """Each (days, places): excess over her usual, what she would mark (0-10), its character (0-7); `nerve` (places)."""

    excess: Floats
    strength: Floats
    character: Whole
    nerve: NDArray[np.bool_]

    def marks(self, day: int, spots: Sequence[Spot]) -> dict[str, list[Entry]]:
        """Return what she marks of a day by timing."""
        return marks_of_a_day(spots, self.strength[day], self.character[day], self.excess[day], self.nerve)


def marks_of_a_day(
    spots: Sequence[Spot], strength: Floats | Whole, character: Whole, excess: Floats, nerve: NDArray[np.bool_]
) -> dict[str, list[Entry]]:
    """Return the marks of a day by timing, values by place; waking marks belong to the next morning. Where `nerve` is
    true a mark that tells more is tingling."""
    found: dict[str, list[Entry]] = {timing: [] for timing in TIMINGS}
    for n, spot in enumerate(spots):
        if strength[n] > 0:
            what = int(character[n])
            found[TIMINGS[what // 2]].append(spot.entry(float(strength[n]), what, float(excess[n]), bool(nerve[n])))
    return found


def live_plan(mechanics: str, telling: Telling, dose: Floats, weakness: Floats, seed: int) -> SimulatedLife:
    """Return the days of a plan lived under a mechanics, after ninety usual days that bring it into balance.

    `dose` (days, places) relative to her usual playing day, `weakness` (days, places) 0-1; `telling` of one player.
    """
    rng = np.random.default_rng(seed)
    shape = (1, dose.shape[1])
    body, noise = MECHANICS[mechanics](shape), rng.normal(size=shape)
    quiet = np.zeros(shape)
    for _ in range(BURN_IN):
        body.step(quiet + BALANCE_DOSE, quiet, rng)
    days = []
    for today, weak in zip(dose, weakness, strict=True):
        excess = body.step(today[None, :], weak[None, :], rng)
        noise, strength, character = telling.tell(noise, excess, telling.nerve & (excess > 0), rng)
        days.append((excess[0], strength[0], character[0]))
    excess, strength, character = (np.array(column) for column in zip(*days, strict=True))
    return SimulatedLife(excess, strength, character, telling.nerve[0])
