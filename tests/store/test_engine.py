"""Opening the database: migrations agree with the models and go back; a backup comes before an upgrade."""

import sqlite3
from datetime import UTC, datetime

from alembic import command
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from click.testing import CliRunner

from chirotend.cli import main, running_clock
from chirotend.services.account import accounts
from chirotend.services.server import database
from chirotend.store import engine as engine_module
from chirotend.store.engine import alembic_config, migrate, open_engine, pending
from chirotend.store.models import Base
from chirotend.store.personal_tables import every_table

NOW = datetime(2026, 11, 12, 9, 10, tzinfo=UTC)


def test_the_migrations_make_what_the_models_say_and_can_be_undone(tmp_path):
    engine = open_engine(f"sqlite:///{tmp_path}/x.db")
    assert migrate(engine, tmp_path / "backups", NOW) is None and not pending(engine)
    with engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []
    command.downgrade(alembic_config(engine), "base")
    assert pending(engine)
    engine.dispose()


def test_what_an_older_database_holds_is_still_there_after_every_step(tmp_path):
    engine = open_engine(f"sqlite:///{tmp_path}/x.db")
    config = alembic_config(engine)
    command.upgrade(config, "20261123_first_slice")
    rows = (
        "insert into player (id, name, zone, instruments, emergency_number, units, letter_keys, created_utc)"
        " values (1, 'Ilse', 'Europe/Vienna', '[]', '', 'metric', 1, '2026-11-01')",
        "insert into \"check\" (player_id, uid, day, timing, red_flags) values (1, 'c', '2026-11-01', 'waking', '')",
        "insert into entry (player_id, check_uid, position, zone, side, kind, intensity, flags)"
        " values (1, 'c', 0, 'thumb_ball', 'left', 'pain', 3, '')",
        'insert into change (player_id, number, at_utc, action, subject, "key")'
        " values (1, 1, '2026-11-01', 'new', 'check', 'x')",
    )
    with engine.begin() as connection:
        for row in rows:
            connection.exec_driver_sql(row)
    command.upgrade(config, "20261125_before_playing")
    with engine.begin() as connection:
        connection.exec_driver_sql(
            "insert into aim (player_id, uid, week, title, minutes, effort, instrument, new_hard, manner, weight,"
            " unlaid, done) values (1, 'a', '2026-11-09', 'Thirds', 40, 4, '', 0, 'soft', 1, '', 0)"
        )
    assert migrate(engine, tmp_path / "backups", NOW) is not None
    with engine.connect() as connection:
        found = [connection.exec_driver_sql(f'select count(*) from "{t}"').scalar() for t in ("entry", "change", "aim")]
        assert found == [1, 1, 1]
        assert connection.exec_driver_sql("select grip from aim").scalar() == ""
    engine.dispose()


def test_an_older_database_is_backed_up_before_it_is_changed(tmp_path):
    engine = open_engine(f"sqlite:///{tmp_path}/x.db")
    migrate(engine, tmp_path, NOW)
    with engine.begin() as connection:
        connection.exec_driver_sql("update alembic_version set version_num = 'older'")
    try:
        migrate(engine, tmp_path / "backups", NOW)
    except Exception as error:
        assert "older" in str(error)
    assert [p.name for p in (tmp_path / "backups").iterdir()] == ["chirotend-20261112T091000Z.db"]
    engine.dispose()


def test_check_password_and_backup_from_the_command_line(tmp_path):
    run = CliRunner()
    opened = database.open_database(tmp_path, NOW)
    with opened.open_db() as db:
        accounts.add_account(
            db, accounts.Passwords(cheap=True), "ilse", "bars and rests", "Ilse", "Europe/Vienna", [], NOW
        )
        db.commit()
    opened.engine.dispose()
    data = ["--data", str(tmp_path)]
    assert run.invoke(main, ["check", *data]).output == "Nothing wrong.\n"
    assert run.invoke(main, ["password", "ilse", *data], input="a longer one\n").exit_code == 0
    refused = run.invoke(main, ["password", "jonas", *data], input="a longer one\n")
    assert refused.exit_code == 1 and "no account “jonas”" in refused.output
    assert "at least 10" in run.invoke(main, ["password", "ilse", *data], input="short\n").output.lower()
    assert "backups" in run.invoke(main, ["backup", *data]).output
    with sqlite3.connect(tmp_path / "chirotend.db") as connection:
        connection.execute("insert into day (player_id, day, off, sleep, note) values (1, '2026-11-01', 0, 'well', '')")
    broken = run.invoke(main, ["check", *data])
    assert broken.exit_code == 1 and "sleep" in broken.output
    assert (tmp_path / "secret.key").exists() is False and oct(tmp_path.stat().st_mode)[-3:] == "700"


def test_the_demo_clock_runs_on_from_its_start():
    clock = running_clock(NOW)
    assert 0 <= (clock() - NOW).total_seconds() < 5


def test_every_table_of_a_player_is_emptied_with_her_record():
    """Derived from the tables themselves: one that is added cannot be forgotten."""
    with_player = {t.name for t in Base.metadata.sorted_tables if "player_id" in t.c and t.name != "grant"}
    assert {model.__tablename__ for model in every_table()} == with_player


def test_a_reader_who_waits_for_nobody_leaves_the_next_one_its_patience(tmp_path):
    opened = database.open_database(tmp_path, NOW)

    def waits(db) -> int:
        return db.connection().exec_driver_sql("PRAGMA busy_timeout").scalar()

    hurried = opened.open_patient_db(True)
    assert waits(hurried) == engine_module.READER_WAITS_MS
    hurried.close()
    with opened.open_db() as db:
        assert waits(db) == engine_module.WRITER_WAITS_MS
    opened.engine.dispose()
