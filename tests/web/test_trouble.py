"""When the disk is locked, full or read-only, the session ended, or two pages cross: said in words, nothing lost."""

import io
import sqlite3
import threading
from contextlib import closing, contextmanager

import pytest
from sqlalchemy import event, text
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session as Db

from chirotend.core.record import DayNote
from chirotend.services.plan import plan_page
from chirotend.services.play import running_session
from chirotend.store import engine as store
from chirotend.store.day_stamps import KEPT
from chirotend.store.models import AccountRow
from tests.conftest import add_player, sign_in

WORDS = {"went_well": "The low F spoke <b>softly</b>", "day": "2026-11-11", "minutes": "30", "kind": "lesson"}
WORDS |= {"instrument": "bassoon", "effort": "4"}


@contextmanager
def locked(app):
    """Another program holds the write lock."""
    file = app.extensions["database"].folder / "chirotend.db"
    with closing(sqlite3.connect(file)) as other:
        other.execute("BEGIN EXCLUSIVE")
        yield
        other.rollback()


@contextmanager
def refusing(app, words: str):
    """Every write is refused as the database does when `words` is the matter."""

    def refuse(_conn, _cursor, statement, *_):
        if statement.lstrip().split()[0].upper() in ("INSERT", "UPDATE", "DELETE"):
            raise OperationalError(statement, {}, sqlite3.OperationalError(words))

    engine = app.extensions["database"].engine
    event.listen(engine, "before_cursor_execute", refuse)
    yield
    event.remove(engine, "before_cursor_execute", refuse)


@pytest.fixture
def impatient(monkeypatch):
    monkeypatch.setattr(store, "WRITER_WAITS_MS", 50)
    monkeypatch.setattr(store, "READER_WAITS_MS", 20)


TROUBLE = [
    ("database is locked", "Busy"),
    ("database or disk is full", "The disk is full"),
    ("attempt to write a readonly database", "cannot be written"),
]


@pytest.mark.parametrize(("words", "title"), TROUBLE)
def test_reading_pages_stand_and_what_was_typed_is_kept(app, client, words, title):
    with refusing(app, words):
        for page in ("/", "/score/", "/body/", "/plan/", "/play/", "/warm-up", "/curtain/", "/urgent", "/settings"):
            assert client.get(page).status_code == 200, page
        answer = client.post("/record/session/new", data=WORDS)
        assert answer.status_code == 503 and title in answer.text
        assert "The low F spoke &lt;b&gt;softly" in answer.text and "Send it again" in answer.text
        told = client.post("/play/events", json=[], headers={"HX-Request": "true"})
        assert told.status_code == 503 and "Nothing was changed" in told.json["problem"]
    assert client.post("/record/session/new", data=WORDS).status_code == 302
    assert "The low F spoke" in client.get("/score/2026-11-11").text


def test_what_is_not_committed_is_never_acknowledged(app, client, monkeypatch):
    """The disk fills up at the very last: as the answer, a way to another page, is about to leave."""

    def full(_db) -> None:
        raise OperationalError("COMMIT", {}, sqlite3.OperationalError("database or disk is full"))

    with monkeypatch.context() as disk:
        disk.setattr(Db, "commit", full)
        answer = client.post("/record/session/new", data=WORDS)
        assert answer.status_code == 503 and "The disk is full" in answer.text and "Send it again" in answer.text
        told = client.post("/play/events", json=[], headers={"HX-Request": "true"})
        assert told.status_code == 503 and "Nothing was changed" in told.json["problem"]
    assert "The low F spoke" not in client.get("/score/2026-11-11").text


def test_what_was_committed_is_said_to_be_saved_when_only_its_page_fails(app, client, monkeypatch):
    def broken(*_asked) -> None:
        raise RuntimeError("no page today")

    client.post("/plan/aim", data={"week": "2026-11-16", "aim_title": "Thirds", "aim_minutes": "40"})
    app.config["PROPAGATE_EXCEPTIONS"] = False
    with monkeypatch.context() as page:
        page.setattr(plan_page, "planned_week_page", broken)
        answer = client.post(
            "/plan/aim",
            data={"week": "2026-11-16", "aim_title": "Sixths", "aim_minutes": "40"},
            headers={"HX-Request": "true"},
        )
    assert answer.status_code == 500 and "What you sent was saved" in answer.json["problem"]
    assert "Sixths" in client.get("/plan/?week=2026-11-16").text


def test_a_lock_of_another_program_is_waited_for_and_then_said(app, client, impatient):
    with locked(app):
        assert client.get("/").status_code == 200
        assert client.post("/morning/as-usual").status_code == 503
    assert client.post("/morning/as-usual").status_code == 302


def test_a_password_is_never_shown_again(app, client):
    with refusing(app, "database is locked"):
        form = {"old_password": "bars and rests", "new_password": "secret words", "again": "secret words"}
        answer = client.post("/settings/password", data=form)
    assert answer.status_code == 503 and "secret words" not in answer.text and "bars and rests" not in answer.text


def test_the_urgent_page_opens_whatever_the_record_is_like(app, client):
    client.post(
        "/settings", data={"player": "Ilse", "zone": "Europe/Vienna", "units": "metric", "emergency_number": "0 11"}
    )
    for words in ("database is locked", "database disk image is malformed", "disk I/O error"):
        with refusing(app, words):
            assert "one side of the face droops" in client.get("/urgent").text
    file = app.extensions["database"].folder / "chirotend.db"
    with closing(sqlite3.connect(file)) as connection:
        connection.execute("insert into day (player_id, day, off, sleep, note) values (1, '2026-11-12', 0, 'well', '')")
        connection.commit()
    page = client.get("/urgent").text
    assert "one side of the face droops" in page and "0 11" in page, "a bad row: the list and her number"
    app.extensions["database"].engine.dispose()
    for end in ("", "-wal", "-shm"):
        beside = file.with_name(file.name + end)
        if beside.exists():
            beside.write_bytes(b"this is no database any more" * 300)
    broken = client.get("/urgent")
    assert broken.status_code == 200 and "one side of the face droops" in broken.text
    assert client.get("/").status_code == 503


def test_the_urgent_page_stands_after_a_sign_out_without_anything_of_hers(app, client):
    client.post("/morning", data={"red_flags": "chest_pain"})
    assert "chest" in client.get("/urgent").text
    client.post("/sign-out")
    page = client.get("/urgent").text
    assert "You wrote" not in page and "css/urgent.css" in page and "one side of the face droops" in page


def test_many_pages_opened_at_once_on_a_new_day_all_open(app, client, clock):
    clock.on(days=1)
    cookie = client.get_cookie("chirotend-0").value
    for path in ("/", "/urgent", "/plan/", "/body/"):
        clock.on(days=1)
        answers: list[int] = []

        def read(path=path, answers=answers):
            other = app.test_client()
            other.set_cookie("chirotend-0", cookie)
            answers.append(other.get(path).status_code)

        threads = [threading.Thread(target=read) for _ in range(12)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        assert answers == [200] * 12, path
    calls = client.get("/record/export.json").json["calls"]
    assert len(calls) == len({c["day"] for c in calls}), "one call a day, however many pages asked"


def test_start_touched_by_two_pages_at_once_is_one_session(app, client):
    cookie = client.get_cookie("chirotend-0").value

    def start(n: int) -> None:
        other = app.test_client()
        other.set_cookie("chirotend-0", cookie)
        other.post("/play/start", data={"instrument": "bassoon", "block_kind": "technique", "uid": f"touch{n % 2}"})

    threads = [threading.Thread(target=start, args=(n,)) for n in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    events = client.get("/record/export.json").json["events"]
    assert [e["kind"] for e in events] == ["start"]


def test_a_crossed_write_never_commits_a_broken_session(app, client, monkeypatch):
    def crossing(context):
        context.store.put_note(DayNote(context.today, note="half written"))
        context.db.execute(text("insert into account (id) values (null)"))

    monkeypatch.setattr("chirotend.web.transaction.todays_call", crossing)
    assert client.post("/morning/as-usual").status_code == 409
    monkeypatch.undo()
    assert client.get("/record/export.json").json["days"] == []


def test_a_page_that_crossed_another_is_read_again(app, client, monkeypatch):
    real, crossed = running_session.running_session, []

    def crossing(context):
        if not crossed:
            crossed.append(1)
            context.db.add(AccountRow(id=99, name="x", name_key="ilse", password_hash="", created_utc=context.now))
            context.db.flush()
        return real(context)

    monkeypatch.setattr("chirotend.services.play.running_session.running_session", crossing)
    answer = client.get("/")
    assert answer.status_code == 302 and client.get(answer.headers["Location"]).status_code == 200


# --- a session that ended ---------------------------------------------------------------------------------------


def test_a_script_is_told_by_number_and_never_led_to_another_page(app):
    add_player(app)
    client = app.test_client()
    script = {"HX-Request": "true"}
    assert client.get("/play/", headers=script).status_code == 401
    assert client.post("/play/events", json=[]).status_code == 401
    assert client.post("/curtain/", data={"problem": "thumb"}, headers=script).status_code == 401
    assert client.get("/token", headers=script).status_code == 401
    sign_in(client)
    assert client.get("/token", headers=script).json["token"]


def test_a_stale_token_is_named_so_that_it_can_be_renewed(app, client):
    app.config["WTF_CSRF_ENABLED"] = True
    script = {"HX-Request": "true"}
    answer = client.post("/play/events", json=[], headers=script)
    assert answer.status_code == 400 and answer.headers["X-Stale-Token"]
    token = client.get("/token", headers=script).json["token"]
    assert client.post("/play/events", json=[], headers={**script, "X-CSRFToken": token}).status_code == 200


def test_a_form_sent_after_the_session_ended_keeps_its_words(app, client):
    client.post("/sign-out")
    answer = client.post("/record/session/new", data=WORDS)
    assert answer.status_code == 401 and "The low F spoke" in answer.text and "Sign in, in another tab" in answer.text
    sign_in(client)
    assert client.post("/record/session/new", data=WORDS).status_code == 302


# --- days and their notes ---------------------------------------------------------------------------------------


def test_day_off_and_not_a_day_off_keep_the_note_and_the_day_page_shows_what_stands(client):
    client.post("/record/day", data={"day": "2026-11-12", "off": "no", "note": "Reed broke before the overture"})
    client.post("/day-off", data={"off": "yes"})
    client.post("/day-off", data={"off": "no"})
    (day,) = client.get("/record/export.json").json["days"]
    assert day["note"] == "Reed broke before the overture" and day["off"] is False
    client.post("/day-off", data={"off": "yes"})
    page = client.get("/record/day?day=2026-11-12").text
    assert "Reed broke before the overture" in page and 'selected value="yes"' in page


# --- the worker -------------------------------------------------------------------------------------------------


def test_the_worker_lives_through_a_locked_database_and_a_failed_job_says_why(app, client, impatient):
    worker = app.extensions["worker"]
    turns = []
    worker.run_one = lambda _which: (
        turns.append(1)
        or (_ for _ in ()).throw(OperationalError("x", {}, sqlite3.OperationalError("database is locked")))
    )
    worker._wake.set()
    thread = threading.Thread(target=worker._loop, args=("",), daemon=True)
    thread.start()
    for _ in range(3):
        worker.wake()
        thread.join(0.2)
    assert thread.is_alive() and turns


def test_delete_everything_leaves_no_word_of_hers_on_the_disk(app, client):
    folder = app.extensions["database"].folder
    word = "Salzfahrerprobe"
    client.post("/record/session/new", data={**WORDS, "went_well": word})
    client.post(
        "/record/import",
        data={"files": (io.BytesIO(f"day,minutes,question\n2026-11-01,30,{word}\n".encode()), "s.csv")},
    )
    assert any(word.encode() in p.read_bytes() for p in folder.rglob("*") if p.is_file())
    client.get("/")
    assert KEPT._days
    client.post("/record/delete", data={"sure": "delete"})
    assert not KEPT._days and not app.extensions["worker"].read
    held = [p.name for p in folder.rglob("*") if p.is_file() and word.encode() in p.read_bytes()]
    assert held == []
