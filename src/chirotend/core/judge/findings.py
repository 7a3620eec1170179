"""What a rule saw: a code with values, so that the sentence can be made (and translated) when it is shown."""

from dataclasses import dataclass, field
from datetime import date

from chirotend.core.body.zones import zone


@dataclass(frozen=True)
class Finding:
    """One matching row of the call table.

    `level` is the call it asks for (0 open … 3 tacet), `values` what was seen, `days` where to look,
    `book` how soon to see someone ("" = no need), `nerve` whether the way back takes the longer count.
    """

    code: str
    row: int
    level: int
    values: dict[str, str | float | int] = field(default_factory=dict)
    days: tuple[date, ...] = ()
    book: str = ""
    nerve: bool = False

    @property
    def cause(self) -> tuple[str, str, str, float] | None:
        """What it rests on: region, side, kind ("" = several) and strength; None when it is about no one place."""
        if self.place is None:
            return None
        return (*self.place, str(self.values.get("kind", "")), float(self.values.get("intensity", 0.0)))

    @property
    def place(self) -> tuple[str, str] | None:
        """The (region, side) it is about; None when it is about no one place."""
        if "zone" in self.values:
            return zone(str(self.values["zone"])).region, str(self.values["side"])
        return (str(self.values["region"]), str(self.values["side"])) if "region" in self.values else None
