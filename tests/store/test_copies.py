"""Copies and going back to them; a look that changes nothing; migrations that are whole or not at all."""

import sqlite3
import subprocess
import sys
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from click.testing import CliRunner

from chirotend.cli import main
from chirotend.services.account import accounts
from chirotend.services.record import log
from chirotend.services.server import database, health, restore
from chirotend.services.server.database import CannotOpen
from chirotend.store import copies
from chirotend.store import engine as store

NOW = datetime(2026, 11, 12, 9, 10, tzinfo=UTC)


def made(folder: Path, minutes: float = 30) -> database.Database:
    """A database with one player and one session of yesterday."""
    opened = database.open_database(folder, NOW)
    with opened.open_db() as db:
        row = accounts.add_account(
            db, accounts.Passwords(cheap=True), "ilse", "bars and rests", "Ilse", "Europe/Vienna", ["bassoon"], NOW
        )
        context = accounts.context_of(db, row, NOW)
        log.write_session(context, log.TypedSession(context.today - timedelta(days=1), minutes))
        db.commit()
    return opened


def minutes_in(file: Path) -> list[float]:
    with closing(sqlite3.connect(file)) as connection:
        return [m for (m,) in connection.execute("select minutes from block order by minutes")]


def all_files(folder: Path) -> dict[str, tuple[bytes, int]]:
    return {str(p): (p.read_bytes(), p.stat().st_mode) for p in sorted(folder.rglob("*")) if p.is_file()}


def test_every_file_of_the_record_is_for_its_owner_alone(tmp_path):
    opened = made(tmp_path)
    saved = database.backup(opened, NOW)
    for file in (tmp_path / "chirotend.db", tmp_path / "chirotend.db-wal", saved):
        assert file.stat().st_mode & 0o077 == 0, file
    opened.engine.dispose()


def test_a_copy_gets_its_name_only_when_it_was_read_back(tmp_path, monkeypatch):
    opened = made(tmp_path)
    monkeypatch.setattr(copies, "file_faults", lambda file: ["torn"])
    with pytest.raises(sqlite3.DatabaseError, match="torn"):
        database.backup(opened, NOW)
    assert list((tmp_path / "backups").glob("*.db")) == []
    monkeypatch.undo()
    first, second = database.backup(opened, NOW), database.backup(opened, NOW)
    assert first != second and minutes_in(first) == minutes_in(second) == [30]
    opened.engine.dispose()


def test_going_back_sets_the_present_aside_and_says_what_is_older(tmp_path):
    opened = made(tmp_path)
    saved = database.backup(opened, NOW)
    with opened.open_db() as db:
        context = accounts.context_of(db, accounts.the_only_account(db), NOW)
        log.write_session(context, log.TypedSession(context.today, 45))
        db.commit()
    opened.engine.dispose()
    done = restore.restore(tmp_path, saved, NOW)
    assert minutes_in(tmp_path / "chirotend.db") == [30] and minutes_in(done.set_aside) == [30, 45]
    assert "2026-11-12" in done.older and "set aside" in done.older
    assert [p for p in tmp_path.glob("chirotend.db-*") if p.stat().st_size] == []


@pytest.mark.parametrize("what", ["text", "torn", "other", "newer", "nothing"])
def test_what_is_no_whole_copy_is_refused_and_nothing_changes(tmp_path, what):
    opened = made(tmp_path)
    saved = database.backup(opened, NOW)
    opened.engine.dispose()
    if what == "text":
        saved.write_text("dear diary")
    elif what == "torn":
        saved.write_bytes(saved.read_bytes()[:-5000])
    elif what == "other":
        saved.unlink()
        sqlite3.connect(saved).execute("create table t (a)").connection.close()
    elif what == "newer":
        with sqlite3.connect(saved) as connection:
            connection.execute("update alembic_version set version_num = '20991231_later'")
    else:
        saved.unlink()
    before = all_files(tmp_path)
    with pytest.raises(CannotOpen):
        restore.restore(tmp_path, saved, NOW)
    after = all_files(tmp_path)
    assert {k: v for k, v in after.items() if not k.endswith("lock")} == before


def test_a_damaged_database_is_set_aside_with_its_log_and_the_copy_stands_alone(tmp_path):
    opened = made(tmp_path)
    saved = database.backup(opened, NOW)
    opened.engine.dispose()
    (tmp_path / "chirotend.db").write_bytes(b"no database at all" * 400)
    (tmp_path / "chirotend.db-wal").write_bytes(b"w" * 5000)
    done = restore.restore(tmp_path, saved, NOW)
    assert minutes_in(tmp_path / "chirotend.db") == [30]
    assert done.set_aside.read_bytes().startswith(b"no database") and Path(f"{done.set_aside}-wal").exists()


def test_nothing_is_put_back_under_a_running_server(tmp_path):
    opened = made(tmp_path)
    saved = database.backup(opened, NOW)
    with restore.serving(tmp_path), pytest.raises(CannotOpen, match="Stop it"):
        restore.restore(tmp_path, saved, NOW)
    opened.engine.dispose()


def test_a_look_changes_nothing_and_says_damage_in_words(tmp_path):
    assert health.faults(tmp_path / "none", NOW)[0].startswith("There is no database")
    assert not (tmp_path / "none").exists()
    opened = made(tmp_path)
    opened.engine.dispose()
    before = all_files(tmp_path)
    assert health.faults(tmp_path, NOW) == []
    assert all_files(tmp_path) == before
    with sqlite3.connect(tmp_path / "chirotend.db") as connection:
        for row in (
            "insert into kit (player_id, uid, kind, name, instrument, note) values (1, 'k', 'sofa', 'Sofa', '', '')",
            "insert into event (player_id, uid, session_uid, device, seq, at_utc, kind, payload)"
            " values (1, 'e', 's', '', 0, '2026-11-01 10:00:00', 'applause', '{}')",
            "insert into event (player_id, uid, session_uid, device, seq, at_utc, kind, payload)"
            " values (1, 'f', 's', '', 0, '2026-11-01 10:00:00', 'mark', '[1, 2]')",
            'insert into "check" (player_id, uid, day, timing, red_flags)'
            " values (1, 'c', '2026-11-01', 'waking', '')",
            "insert into entry (player_id, check_uid, position, zone, side, kind, intensity, flags)"
            " values (1, 'c', 0, 'left_ear', 'left', 'pain', 3, '')",
            "insert into own_item (player_id, kind, uid, document) values (1, 'grip', 'own_x', '{\"id\": \"own_x\"}')",
            "insert into day (player_id, day, off, note) values (1, 'someday', 0, '')",
        ):
            connection.execute(row)
    found = " | ".join(health.faults(tmp_path, NOW))
    for said in (
        "kit k: kind",
        "events e: kind",
        "events f: payload",
        "left_ear",
        "own_items grip own_x",
        "day someday",
    ):
        assert said in found, (said, found)


def test_an_odd_event_in_the_store_breaks_no_page(client, app):
    with sqlite3.connect(app.extensions["database"].folder / "chirotend.db") as connection:
        for uid, kind, payload in (
            ("a", "start", "[]"),
            ("b", "applause", "{}"),
            ("c", "block", '{"bar": 7, "x": []}'),
        ):
            connection.execute(
                "insert into event (player_id, uid, session_uid, device, seq, at_utc, kind, payload)"
                " values (1, ?, 's', '', 0, '2026-11-12 09:00:00', ?, ?)",
                (uid, kind, payload),
            )
    assert client.get("/").status_code == 200 and client.get("/play/").status_code == 200


#: begins to bring an old database up to date, and is killed when it comes to the step that is named
KILLED = """
import os, signal, sys
from datetime import UTC, datetime
from pathlib import Path
from alembic import op
from chirotend.services.server import database
real, count = op.create_table, [0]
def dying(*a, **k):
    count[0] += 1
    if count[0] == int(sys.argv[2]):
        os.kill(os.getpid(), signal.SIGKILL)
    return real(*a, **k)
op.create_table = dying
database.open_database(Path(sys.argv[1]), datetime(2026, 11, 12, tzinfo=UTC))
"""


@pytest.mark.parametrize("step", [1, 3, 7, 12])
def test_a_server_killed_while_it_brings_a_database_up_to_date_starts_again(tmp_path, step):
    ended = subprocess.run([sys.executable, "-c", KILLED, str(tmp_path), str(step)], capture_output=True, timeout=60)
    assert ended.returncode < 0
    opened = made(tmp_path)
    assert not store.pending(opened.engine) and minutes_in(tmp_path / "chirotend.db") == [30]
    opened.engine.dispose()


def test_a_folder_that_cannot_be_used_is_said_in_a_sentence(tmp_path, monkeypatch):
    blocked = tmp_path / "file"
    blocked.write_text("")
    answer = CliRunner().invoke(main, ["backup", "--data", str(blocked / "data")])
    assert answer.exit_code == 1 and "cannot be used" in answer.output and "Traceback" not in answer.output
    (tmp_path / "broken").mkdir()
    (tmp_path / "broken/chirotend.db").write_bytes(b"not a database at all, but long enough" * 200)
    answer = CliRunner().invoke(main, ["serve", "--data", str(tmp_path / "broken")])
    assert answer.exit_code == 1 and "restore" in answer.output and "Traceback" not in answer.output


def test_the_command_goes_back_and_prints_what_it_did(tmp_path):
    opened = made(tmp_path)
    saved = database.backup(opened, NOW)
    opened.engine.dispose()
    answer = CliRunner().invoke(main, ["restore", str(saved), "--data", str(tmp_path)])
    assert answer.exit_code == 0 and "set aside" in answer.output
    assert CliRunner().invoke(main, ["restore", str(tmp_path / "no.db"), "--data", str(tmp_path)]).exit_code == 1
