"""Diaries by the command line: the same rules and words as the page, told in words or as JSON."""

import json
from datetime import UTC, datetime

import pytest
from click.testing import CliRunner

from chirotend.cli import main
from chirotend.demo.scenario import make_demo
from chirotend.services.account import accounts
from chirotend.services.server import database
from tests.diaries import FOLDER


def run(*arguments: object) -> str:
    answer = CliRunner().invoke(main, [str(a) for a in arguments])
    assert answer.exit_code == 0, answer.output
    return answer.stdout


def test_a_dry_run_needs_no_account_and_tells_what_would_be_saved():
    told = json.loads(run("import", FOLDER / "worst.csv", "--dry-run", "--json"))
    assert list(told) == ["sessions", "checks", "days", "minutes", "questions", "left_out"]
    assert (told["sessions"], told["days"], told["minutes"]) == (15, 15, 1020)
    assert [q["taken"] for q in told["questions"]][1:3] == ["as it looks", "0 to 10"]
    assert {(row["line"], row["column"], row["value"]) for row in told["left_out"]} >= {
        (17, "Dat", "31/04"),
        (18, "h", "~"),
    }
    assert all(set(row) == {"line", "column", "value", "why"} for row in told["left_out"])
    words = run("import", FOLDER / "worst.csv", "--dry-run")
    assert "15 sessions on 15 days" in words and "would be saved" in words and "Taken as: as it looks." in words


def test_what_is_imported_is_there_and_known_the_second_time(tmp_path):
    make_demo(tmp_path, "steady")
    first = run("import", FOLDER / "old-sheet.xls", "--data", tmp_path)
    assert "42 sessions" in first and "1 sessions look like what is there. Taken as: the same ones." in first
    assert json.loads(run("import", FOLDER / "old-sheet.xls", "--data", tmp_path, "--json"))["sessions"] == 0
    run("export", tmp_path / "all.json", "--data", tmp_path)
    run("export", tmp_path / "log.zip", "--data", tmp_path)
    again = json.loads(run("import", tmp_path / "log.zip", "--data", tmp_path, "--json"))
    assert (again["sessions"], again["checks"], again["left_out"]) == (0, 0, [])
    assert json.loads((tmp_path / "all.json").read_text())["format"] == "chirotend-record"


def test_a_player_is_named_where_there_are_several(tmp_path):
    make_demo(tmp_path, "steady")
    opened = database.open_database(tmp_path, datetime.now(UTC))
    with opened.open_db() as db:
        accounts.add_account(
            db, accounts.Passwords(cheap=True), "ilse", "bars and rests", "Ilse", "UTC", [], datetime.now(UTC)
        )
        db.commit()
    answer = CliRunner().invoke(main, ["import", str(FOLDER / "worst.csv"), "--data", str(tmp_path)])
    assert answer.exit_code == 1 and "Say --player NAME" in answer.output
    assert "15 sessions" in run("import", FOLDER / "worst.csv", "--data", tmp_path, "--player", "ilse")


@pytest.mark.parametrize("data", [b"\x89PNG\r\n\x00\x00\x00\rIHDR", b"PK\x03\x04 broken", b"hello\n"])
def test_what_cannot_be_read_ends_with_a_sentence(tmp_path, data):
    (tmp_path / "x.csv").write_bytes(data)
    answer = CliRunner().invoke(main, ["import", str(tmp_path / "x.csv"), "--dry-run"])
    assert answer.exit_code == 1 and answer.output.startswith("Error: x.csv") and "Traceback" not in answer.output
