"""What every part of a player's store shares: the database, the player, and the ways to read and to write many rows."""

from collections.abc import Callable, Iterable, Mapping
from datetime import date
from itertools import islice
from typing import Any

from sqlalchemy import insert
from sqlalchemy.orm import Session as Db

from chirotend.store.models import (
    Personal,
)

CHUNK = 2000


class Bound:
    """Bound to one player: another player's rows do not exist for it. Nothing commits here: the edge does."""

    def __init__(self, db: Db, player_id: int) -> None:
        self.db = db
        self.player_id = player_id

    def tuples(self, query: Any, values: Mapping[str, Any] | None = None) -> Any:
        """Run a query for plain tuples, past the identity map: most of what is read here is only looked at."""
        self.db.flush()
        return self.db.connection().execute(query, values).fetchall()

    def add_rows(
        self, model: type[Personal], rows: Iterable[dict[str, Any]], step: Callable[[int], None] = lambda n: None
    ) -> None:
        """Insert rows of one table in chunks, each row with its player."""
        own = ({"player_id": self.player_id, **row} for row in rows)
        table = model.metadata.tables[model.__tablename__]
        while chunk := list(islice(own, CHUNK)):
            self.db.execute(insert(table), chunk)
            step(len(chunk))


def columns_of(value: Any, names: tuple[str, ...]) -> dict[str, Any]:
    return {name: getattr(value, name) for name in names}


def shared(seen: dict[Any, Any], make: Callable[..., Any], values: Any) -> Any:
    """Return the frozen value of `values`, made (and checked) once for rows that are alike."""
    found = seen.get(values)
    if found is None:
        found = seen[values] = make(*values)
    return found


def span(model: Any, first: date | None, last: date | None) -> list[Any]:
    """Return the conditions that keep `model.day` between two days (None = no limit)."""
    wanted = []
    if first is not None:
        wanted.append(model.day >= first)
    if last is not None:
        wanted.append(model.day <= last)
    return wanted
