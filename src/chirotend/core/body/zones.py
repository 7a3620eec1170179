"""Body zones: 79 places a side and a few in the middle, grouped in regions. Names are the players' own words."""

from dataclasses import dataclass
from functools import cache

from chirotend.core.errors import OutOfRange
from chirotend.core.tables import rows


@dataclass(frozen=True)
class Zone:
    """A place on the body. `view` says on which drawing it lies: palm, back or front."""

    id: str
    name: str
    anatomical_term: str
    region: str
    view: str
    sided: bool

    def spoken(self, side: str) -> str:
        return self.name if side == "none" else f"{side} {self.name}"


#: The five regions of the staff, top line first, and the two that stand on ledger lines.
STAFF_REGIONS = ("neck & shoulder", "upper arm & elbow", "forearm", "wrist & thumb", "fingers")
LEDGER_REGIONS = ("jaw & lips", "back & seat")


@cache
def zones() -> dict[str, Zone]:
    """Return every zone by its id, in the order of the table."""
    return {
        r["id"]: Zone(
            r["id"],
            r["name"],
            r["anatomical_term"],
            r["region"],
            r["view"],
            r["sided"] == "yes",
        )
        for r in rows("zones")
    }


def zone(zone_id: str) -> Zone:
    """Return the zone called `zone_id`; `OutOfRange` if there is none."""
    try:
        return zones()[zone_id]
    except KeyError:
        raise OutOfRange("zone", zone_id, words=("a zone id of the zone list",)) from None


def regions() -> tuple[str, ...]:
    return (*LEDGER_REGIONS[:1], *STAFF_REGIONS, *LEDGER_REGIONS[1:])
