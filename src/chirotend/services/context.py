"""The player's context: her settings, her store, her clock. Every service takes one."""

from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any, TypeVar
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session as Db

from chirotend.core.days import practice_day, zone_named
from chirotend.library.loader import instrument_name
from chirotend.store.models import PlayerRow
from chirotend.store.player_store import PlayerStore
from chirotend.store.repository import R

T = TypeVar("T")


@dataclass(frozen=True)
class Context:
    """Bound to one player and one instant; whoever opened `db` commits or rolls back.

    `writes` is False for a page that is only read: what it would note it can do without.
    """

    db: Db
    player: PlayerRow
    now: datetime
    writes: bool = True
    #: what was worked out for this page already; only a page that changes nothing keeps any
    worked_out: dict[str, Any] = field(default_factory=dict, compare=False, repr=False)
    #: the first change of the deed that is being done, while one is (0 = none yet)
    deed: list[int] = field(default_factory=list, compare=False, repr=False)

    def per_request(self, key: str, work: Callable[[], T]) -> T:
        """Return what `work` finds, kept under `key` for the rest of a page that changes nothing."""
        if self.writes:
            return work()
        if key not in self.worked_out:
            self.worked_out[key] = work()
        found: T = self.worked_out[key]
        return found

    @property
    def store(self) -> PlayerStore:
        return PlayerStore(self.db, self.player.id)

    def row(self, model: type[R], uid: str) -> R:
        """Return a row of hers by its id; `NotThere` when she has none of that id."""
        found = self.store.repository(model).get(uid)
        if found is None:
            raise NotThere(uid)
        return found

    @property
    def zone(self) -> ZoneInfo:
        return zone_named(self.player.zone)

    @property
    def today(self) -> date:
        return practice_day(self.now, self.zone)

    @property
    def plays(self) -> str:
        """What she plays as one line: "Bassoon, doubling Contrabassoon"."""
        names = [instrument_name(i) for i in self.player.instruments]
        return (
            names[0] + (", doubling " + ", ".join(n.lower() for n in names[1:]) if names[1:] else "") if names else ""
        )


class FieldError(ValueError):
    """Something the player typed cannot be taken: the field and a sentence that says how to mend it."""

    def __init__(self, field: str, sentence: str) -> None:
        super().__init__(sentence)
        self.field = field
        self.sentence = sentence


class NotThere(LookupError):
    """What was asked for is not in this player's record."""
