"""Load of the places of the body: what the ways of playing of each day asked of each hand and region. AU a day.

A place has the whole load of every block that asks something of it, not a share: nobody knows the shares. So loads of
two places are not added and not compared; each is seen beside its own usual.
"""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, timedelta

from chirotend.core.load.series import NOT_KNOWN
from chirotend.core.load.session import srpe_load
from chirotend.core.record import Block, Place, Record

#: the places a block asks something of; None when nobody has said what its instrument or use loads
Asks = Callable[[Block], frozenset[Place] | None]


@dataclass(frozen=True)
class PlaceLoads:
    """Loads in AU by place, one a day from `first` on: nan = not known, 0 = known and nothing asked of it.

    `untold_min` are the minutes of blocks of which nobody said what they load; they are in no place.
    """

    first: date
    by_place: dict[Place, tuple[float, ...]]
    untold_min: float

    def week(self, place: Place, last: date) -> tuple[float, int]:
        """Return the load of the seven days that end with `last` as far as it is known, and how many of them are."""
        end = (last - self.first).days + 1
        known = [v for v in self.by_place[place][max(0, end - 7) : end] if v == v]
        return sum(known), len(known)


# nobody knows the shares, so each place has the whole and none are added up: decision 84
def place_loads(record: Record, first: date, last: date, asks: Asks) -> PlaceLoads:
    """Return the load of every place that anything was asked of from `first` to `last`, both included."""
    n = (last - first).days + 1
    known = [day in record.load_days for day in (first + timedelta(days=i) for i in range(n))]
    days: dict[Place, list[float]] = {}
    untold = 0.0
    for session in record.sessions:
        i = (session.day - first).days
        if not 0 <= i < n:
            continue
        for block in session.blocks:
            places = asks(block)
            if places is None:
                untold += block.minutes
            effort = session.effort_of(block)
            load = NOT_KNOWN if effort is None else srpe_load(effort, block.minutes)
            for place in places or ():
                days.setdefault(place, [0.0 if k else NOT_KNOWN for k in known])[i] += load if block.minutes else 0.0
    return PlaceLoads(first, {place: tuple(values) for place, values in days.items()}, untold)
