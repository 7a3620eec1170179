"""One table of one player, row by row: what needs no values of the core. Rows as plain dictionaries and back."""

from collections.abc import Mapping
from datetime import UTC, date, datetime
from functools import cache
from typing import Any, Generic, TypeVar

from sqlalchemy import Date, Select, bindparam, delete, inspect, select
from sqlalchemy.orm import Session as Db

from chirotend.store.models import Personal, UTCDateTime

R = TypeVar("R", bound=Personal)


class Repository(Generic[R]):
    """Reads and writes rows of `model` that belong to one player; keys are what its primary key adds to the player."""

    def __init__(self, db: Db, player_id: int, model: type[R]) -> None:
        self.db, self.player_id, self.model = db, player_id, model

    @property
    def key_names(self) -> tuple[str, ...]:
        return tuple(c.name for c in inspect(self.model).primary_key if c.name != "player_id")

    def get(self, *key: Any) -> R | None:
        return self.db.get(self.model, (self.player_id, *key))

    def all(self, *wanted: Any, order: tuple[Any, ...] = (), most: int | None = None) -> list[R]:
        """Return the rows that meet `wanted`, in `order` (by primary key without one), `most` of them (None = all)."""
        if not wanted and not order and most is None:
            return list(self.db.scalars(_whole(self.model), {"player": self.player_id}))
        query = select(self.model).where(self.model.player_id == self.player_id, *wanted)
        return list(self.db.scalars(query.order_by(*order, *inspect(self.model).primary_key).limit(most)))

    def some(
        self, names: tuple[str, ...], *wanted: Any, order: tuple[Any, ...] = (), most: int | None = None
    ) -> list[Any]:
        """Return the named columns of the rows that meet `wanted`, by name: a fifth of the time of whole rows."""
        columns = [getattr(self.model, name) for name in names]
        query = select(*columns).where(self.model.player_id == self.player_id, *wanted)
        return list(self.db.execute(query.order_by(*order, *inspect(self.model).primary_key).limit(most)))

    def put(self, values: Mapping[str, Any]) -> R:
        """Write a row, in the place of an older one with the same key."""
        row = self.db.merge(self.model(player_id=self.player_id, **values))
        self.db.flush()
        return row

    def drop(self, *key: Any) -> None:
        row = self.get(*key)
        if row is not None:
            self.db.delete(row)
            self.db.flush()

    def drop_all(self, *wanted: Any) -> None:
        self.db.execute(delete(self.model).where(self.model.player_id == self.player_id, *wanted))


@cache
def _whole(model: type[Personal]) -> Select[Any]:
    """All rows of one player, asked for on every page: made once, for making a query takes longer than running it."""
    return select(model).where(model.player_id == bindparam("player")).order_by(*inspect(model).primary_key)


def columns(model: type[Personal]) -> dict[str, Any]:
    """Return the columns of a table by name, without the player."""
    return {c.key: c for c in inspect(model).columns if c.key != "player_id"}


def as_document(row: Personal) -> dict[str, Any]:
    """Return a row as JSON values: days and instants as ISO 8601 text, instants in UTC."""
    found = {}
    for name in columns(type(row)):
        value = getattr(row, name)
        if isinstance(value, datetime):
            value = value.astimezone(UTC).isoformat().replace("+00:00", "Z")
        elif isinstance(value, date):
            value = value.isoformat()
        found[name] = value
    return found


def as_values(model: type[Personal], document: Mapping[str, Any]) -> dict[str, Any]:
    """Return the values of a row from such a document; a field it lacks keeps the column's default.

    Raises ValueError for a field the table does not have, or a day or instant that cannot be read.
    """
    known = columns(model)
    if unknown := set(document) - set(known):
        raise ValueError(f"{model.__tablename__} has no field {sorted(unknown)}")
    values = {}
    for name, value in document.items():
        kind = known[name].type
        if value is not None and isinstance(kind, UTCDateTime):
            value = datetime.fromisoformat(value)
        elif value is not None and isinstance(kind, Date):
            value = date.fromisoformat(value)
        values[name] = value
    return values
