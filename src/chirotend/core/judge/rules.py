"""The numbers of the call table, read from one data file, with a version."""

from dataclasses import dataclass
from functools import cache

from chirotend.core.tables import numbers

OPEN, MUTED_MP, MUTED_PP, TACET = range(4)
LEVELS = ("open", "muted_mp", "muted_pp", "tacet")
NOT_ENOUGH = "not_enough"


@dataclass(frozen=True)
class Dose:
    """What a level allows: minutes a day (None = her own range), block and rest minutes, dynamic, tempo %."""

    minutes: float | None
    block_min: float
    rest_min: float
    dynamic: str
    tempo_pct: float


@cache
def rules() -> dict[str, float]:
    """Return the numbers of `call_rules.csv` by key."""
    return numbers("call_rules")


def rules_version() -> int:
    return int(rules()["version"])


def muted_dose(level: int, usual_minutes: float | None) -> Dose:
    """Return the dose of a Muted level: a share of the usual playing-day minutes, with a ceiling.

    Without a usual (None) the ceiling alone holds. Common practice, not yet reviewed by a clinician.
    """
    name, dynamic = ("mp", "p") if level == MUTED_MP else ("pp", "p")
    r = rules()
    most = r[f"{name}_most_min"]
    minutes = most if usual_minutes is None else min(most, usual_minutes * r[f"{name}_share"] / 100)
    return Dose(minutes, r[f"{name}_block_min"], r[f"{name}_rest_min"], dynamic, r[f"{name}_tempo"])
