"""The wrist angles at which pressure in the tunnel rises: published, and shown on no page."""

from dataclasses import dataclass

from chirotend.core.errors import check_range, check_word


@dataclass(frozen=True)
class Keir:
    """A wrist angle beside the one at which pressure in the tunnel rises in about one person in four."""

    limit: float
    over: bool
    excess: float


KEIR = {"extension": 32.7, "flexion": 48.6, "ulnar": 14.5, "radial": 21.8}


def wrist_keir(direction: str, deg: float) -> Keir:
    """Return how `deg` in one direction lies to the published angle (strictly above = over).

    75 % of healthy wrists stay under 30 mmHg there, one direction at a time, unloaded fingers. Keir, Bach, Hudes &
    Rempel 2007, Hum Factors 49:88-99, from memory. Playing hands pass it routinely.
    """
    limit = KEIR[check_word("direction", direction, tuple(KEIR))]
    angle = check_range("deg", deg, 0, 180, "degrees")
    return Keir(limit, angle > limit, max(0.0, angle - limit))
