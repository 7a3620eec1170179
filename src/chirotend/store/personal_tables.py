"""The personal tables, read from the models: export, import, undo, delete and the check of a record follow from it."""

from chirotend.store.models import InRecord, Personal


def every_table() -> tuple[type[Personal], ...]:
    """Return every personal table, what hangs on another one first: in this order they can be deleted."""
    order = [table.name for table in Personal.metadata.sorted_tables]
    return tuple(sorted(Personal.__subclasses__(), key=lambda m: order.index(m.__tablename__), reverse=True))


def tables_in_record() -> dict[str, type[Personal]]:
    """Return the tables whose rows are taken along as they are, by their name in the JSON record."""
    return {kept.table: model for model, kept in _in_record()}


def table_of_subject() -> dict[str, type[Personal]]:
    """Return the tables whose rows are changed and undone one by one, by what a row is called in the history."""
    return {kept.subject: model for model, kept in _in_record() if kept.subject}


def in_record(model: type[Personal]) -> InRecord:
    """Return what a table that is taken along is called; ValueError for one that is not."""
    if model.in_record is None:
        raise ValueError(f"{model.__tablename__} is not taken along")
    return model.in_record


def _in_record() -> list[tuple[type[Personal], InRecord]]:
    return [(model, model.in_record) for model in Personal.__subclasses__() if model.in_record is not None]
