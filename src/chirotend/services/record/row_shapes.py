"""The shape of a row as its columns tell it, for a table whose fields need no closer description."""

from functools import cache
from typing import Annotated, Any

from pydantic import Field, create_model
from sqlalchemy import JSON, Boolean, Date, Float, Integer, String

from chirotend.formats.kept_rows import Day, Instant, KeptRow, Text
from chirotend.store.models import Personal, UTCDateTime
from chirotend.store.repository import columns

#: what a column of each type may hold
OF_TYPES: tuple[tuple[type, Any], ...] = (
    (UTCDateTime, Instant),
    (Date, Day),
    (Boolean, bool),
    (Integer, Annotated[int, Field(ge=-(2**31), le=2**31 - 1)]),
    (Float, float),
    (JSON, Any),
)
#: characters a text without a length may have, as in a note
LONGEST = 20_000


@cache
def shape_of(model: type[Personal]) -> type[KeptRow]:
    """Return what a row of a table may be in a record: types, lengths, and which fields may be missing or null."""
    fields: dict[str, Any] = {}
    for name, column in columns(model).items():
        kind = _kind(column.type)
        needed = column.default is None and not column.nullable
        fields[name] = (kind | None if column.nullable else kind, ... if needed else None)
    return create_model(f"{model.__name__}Entry", __base__=KeptRow, **fields)


def _kind(column_type: Any) -> Any:
    if isinstance(column_type, String):
        return Annotated[Text, Field(max_length=column_type.length or LONGEST)]
    return next(kind for of_type, kind in OF_TYPES if isinstance(column_type, of_type))
