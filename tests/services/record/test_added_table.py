"""A table that is added as a model alone is exported, brought, checked, changed, undone and deleted with the others."""

import json
import multiprocessing
import warnings
from collections.abc import Callable
from datetime import UTC, date, datetime

import pytest
from flask import Flask
from sqlalchemy import String
from sqlalchemy.orm import Mapped, mapped_column

from chirotend.formats import json_record
from chirotend.formats.cells import UnreadableFile
from chirotend.services.account import accounts
from chirotend.services.context import Context
from chirotend.services.record import corrections, exports, kept
from chirotend.services.server import health
from chirotend.store.models import InRecord, Personal, UTCDateTime
from chirotend.store.personal_tables import table_of_subject, tables_in_record
from tests.conftest import Clock, add_player

ROW = {
    "uid": "low_e",
    "day": date(2026, 11, 3),
    "at_utc": datetime(2026, 11, 3, 9, tzinfo=UTC),
    "cents": -12.5,
    "note": "the low E, after the new bocal",
    "fixed_on": None,
}


def _add_table() -> type[Personal]:
    class TuningRow(Personal):
        __tablename__ = "tuning"
        in_record = InRecord("tunings", subject="tuning", order=("day",))
        uid: Mapped[str] = mapped_column(String(64), primary_key=True)
        day: Mapped[date]
        at_utc: Mapped[datetime] = mapped_column(UTCDateTime)
        cents: Mapped[float]
        note: Mapped[str] = mapped_column(String(40), default="")
        fixed_on: Mapped[date | None]

    return TuningRow


def _in_another_process(steps: Callable[..., None], *given: object) -> None:
    """A table cannot be taken out of the models again: it is added in a copy of this process."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", DeprecationWarning)
        copy = multiprocessing.get_context("fork").Process(target=steps, args=given)
        copy.start()
    copy.join(60)
    assert copy.exitcode == 0


def _steps(context: Context) -> None:
    model = _add_table()
    model.metadata.tables["tuning"].create(context.db.connection())
    assert tables_in_record()["tunings"] is model and table_of_subject()["tuning"] is model
    change = corrections.put_row(context, "tuning", ROW)
    assert change is not None
    text = exports.everything(context)
    written = json.loads(text)["tunings"]
    assert written == [{**ROW, "day": "2026-11-03", "at_utc": "2026-11-03T09:00:00Z"}]
    for wrong in ({"cents": "flat"}, {"note": "x" * 41}, {"day": "yesterday"}, {"pitch": 1}, {"cents": None}):
        with pytest.raises(UnreadableFile):
            kept.check(context, "tunings", {**written[0], **wrong})
    assert list(kept.faults(context, {"tunings": written})) == []
    corrections.undo(context, change)
    assert context.store.repository(model).all() == []
    _, _, tables = json_record.read_record(text.encode(), "all.json", tables_in_record())
    exports.take_over(context, {}, {**{name: [] for name in tables}, "tunings": tables["tunings"]})
    assert [(r.cents, r.fixed_on) for r in context.store.repository(model).all()] == [(-12.5, None)]  # type: ignore[attr-defined]
    deleted = corrections.delete(context, "tuning", "low_e")
    corrections.undo(context, deleted)
    assert not exports.is_empty(context)
    context.store.drop_everything()
    assert context.store.repository(model).all() == [] and exports.is_empty(context)


def test_a_model_alone_makes_a_table_of_her_record(context: Context):
    _in_another_process(_steps, context)


def _check_of_the_database(app: Flask, clock: Clock) -> None:
    model = _add_table()
    opened = app.extensions["database"]
    model.metadata.tables["tuning"].create(opened.engine)
    with opened.open_db() as db:
        context = accounts.context_of(db, accounts.the_only_account(db), clock())
        assert context is not None
        corrections.put_row(context, "tuning", {**ROW, "cents": float("inf")})
        db.commit()
    faults = health.faults(opened.folder, clock())
    assert any("tuning" in fault and "cents" in fault for fault in faults), faults


def test_the_check_of_a_database_reads_an_added_table(app: Flask, clock: Clock):
    add_player(app)
    _in_another_process(_check_of_the_database, app, clock)
