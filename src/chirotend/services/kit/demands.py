"""Which places of her body an instrument, a grip or another use of the hands asks something of, as the library says."""

from collections.abc import Iterable

from chirotend.core.body.zones import zones
from chirotend.core.record import Place
from chirotend.library.loader import families
from chirotend.library.schema import Grip, Instrument, OtherUse
from chirotend.services.context import Context
from chirotend.services.kit import own_library
from chirotend.services.kit.profile import profile

SIDES = ("left", "right")


def of_instrument(context: Context, instrument: Instrument) -> frozenset[Place]:
    """Return the places an instrument loads; a mirrored player has its left on her right."""
    found = _loaded(context, instrument)
    return frozenset(place for side, named in found.items() for place in _places(named, side))


def zones_of_first(context: Context) -> frozenset[str]:
    """Return the zones that the player's main instrument loads, as "zone.side"; none when it is not known."""
    first = own_library.instruments(context).get(next(iter(context.player.instruments), ""))
    if first is None:
        return frozenset()
    keys = set()
    for side, named in _loaded(context, first).items():
        for zone in (zones()[z] for z in named):
            sides = ("none",) if not zone.sided else SIDES if side == "none" else (side,)
            keys |= {f"{zone.id}.{s}" for s in sides}
    return frozenset(keys)


def _loaded(context: Context, instrument: Instrument) -> dict[str, list[str]]:
    """The zones an instrument loads on each of her sides, "none" = in the middle."""
    swapped = profile(context).mirrored == "yes" and families()[instrument.family].one_way_round
    left, right = SIDES[::-1] if swapped else SIDES
    loads = {left: instrument.left_load, right: instrument.right_load, "none": instrument.centre_load}
    return {side: [z.zone for z in load] for side, load in loads.items()}


def of_grip(grip: Grip) -> frozenset[Place]:
    """Return the places a grip costs, on the hand that holds it; on both where either may."""
    return _places(grip.costs, *_hands(grip))


def relieved_by(grip: Grip) -> frozenset[Place]:
    """Return the places a grip relieves. Less is not nothing: what the instrument asks of them stays."""
    return _places(grip.relieves, *_hands(grip))


def of_use(use: OtherUse) -> frozenset[Place]:
    return _places(use.loads, *SIDES)


def _hands(grip: Grip) -> tuple[str, ...]:
    return (grip.hand,) if grip.hand in SIDES else SIDES


def _places(found: Iterable[str], *sides: str) -> frozenset[Place]:
    known = [zones()[z] for z in found]
    return frozenset((z.region, side if z.sided else "none") for z in known for side in sides)
