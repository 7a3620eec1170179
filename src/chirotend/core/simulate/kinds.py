"""Kinds of invented players: what becomes of them, what they tell of it, how they play. Values assumed."""

from dataclasses import dataclass
from functools import cache

from chirotend.core.tables import rows


@dataclass(frozen=True)
class Kind:
    """A row of `simulated_kinds.csv`.

    A trouble begins on a day of `onset` and weakens its place within a number of days of `weakens`; None = it never
    does. `silent` is the share of marks she does not tell, `scale` the part of an excess she tells, `more` what she
    adds to each mark (0-10); `logs` and `logs_later` the share of days answered at first and eight weeks on; `season`
    and `cold` multiply the dose of a season and of cold days. `beside`: a second place of the same hand weakens with
    the first. `second` multiplies the dose at the places that a second instrument takes, from the season on for good;
    `begins_at` is the share of the usual minutes that is played at first, growing evenly until `GROWN_DAYS`; `bad_week`
    the excess of a bad week at places of that week (0-10, 0 = there are none); `tingles` the share of her marks, at
    whichever place, that are tingling.
    """

    name: str
    onset: tuple[int, int] | None
    weakens: tuple[int, int] | None
    nerve: bool
    silent: tuple[float, float]
    scale: float
    more: float
    logs: float
    logs_later: float
    season: float
    cold: float
    beside: bool
    second: float
    begins_at: float
    bad_week: float
    tingles: float

    @property
    def troubled(self) -> bool:
        return self.onset is not None


@cache
def kinds() -> dict[str, Kind]:
    return {row["kind"]: _kind(row) for row in rows("simulated_kinds")}


def _kind(row: dict[str, str]) -> Kind:
    def days(name: str) -> tuple[int, int] | None:
        return (int(row[f"{name}_from"]), int(row[f"{name}_to"])) if row[f"{name}_from"] else None

    return Kind(
        name=row["kind"],
        onset=days("onset"),
        weakens=days("weakens"),
        nerve=row["nerve"] == "1",
        silent=(float(row["silent_from"]), float(row["silent_to"])),
        scale=float(row["scale"]),
        more=float(row["more"]),
        logs=float(row["logs"]),
        logs_later=float(row["logs_later"]),
        season=float(row["season"]),
        cold=float(row["cold"]),
        beside=row["beside"] == "1",
        second=float(row["second"]),
        begins_at=float(row["begins_at"]),
        bad_week=float(row["bad_week"]),
        tingles=float(row["tingles"]),
    )
