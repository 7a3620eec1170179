"""Pages over HTTP: access, refusals at their fields with 4xx and nothing changed, headers, the whole and the part."""

import io
import json
import re
import threading
import zipfile

import pytest
from sqlalchemy.exc import IntegrityError

from chirotend.services.account import accounts
from chirotend.services.call import todays_call
from chirotend.web import create_app
from tests.conftest import add_player, sign_in
from tests.web.steps import TECHNIQUE, words_of, write_session

PAGES = [
    "/",
    "/play/",
    "/body/",
    "/score/",
    "/score/?weeks=2",
    "/score/?weeks=26",
    "/score/table",
    "/score/?region=fingers&instrument=bassoon&under=luck",
    "/score/years",
    "/score/sheet.svg",
    "/score/sheet.pdf",
    "/score/sheet.png",
    "/drawings/body/2026-11-12.svg",
    "/score/load",
    "/score/background",
    "/score/2026-11-12",
    "/record/",
    "/record/session/new",
    "/record/day",
    "/record/delete",
    "/settings",
    "/help",
    "/urgent",
    "/away/",
    "/body/history/thumb_ball/left",
    "/plan/",
    "/plan/engagement",
    "/plan/programmes/",
    "/score/trials/",
    "/record/reports/",
    "/plan/parts/",
    "/plan/plan.ics",
    "/kit/",
    "/kit/bench/string",
    "/kit/bench/holes",
    "/kit/bench/sticks",
    "/kit/hands",
    "/kit/room",
    "/kit/thing",
    "/kit/library/instrument",
    "/kit/library/grip",
    "/kit/library/exercise",
    "/kit/library/exercise/new",
    "/warm-up",
    "/warm-up/cycles",
    "/curtain/",
    "/body/self-checks",
    *TECHNIQUE,
    "/body/beside",
    "/record/lists",
    "/record/words",
    "/play/takes",
    "/record/export.json",
    "/record/export.csv.zip",
]


def counts(client) -> dict:
    return json.loads(client.get("/record/export.json").data)


@pytest.mark.parametrize("path", PAGES)
def test_every_page_opens_on_an_empty_record_with_a_strict_policy(client, path):
    answer = client.get(path)
    assert answer.status_code == 200
    assert (
        "default-src 'self'" in answer.headers["Content-Security-Policy"]
        and answer.headers["Cache-Control"] == "no-store"
        and "geolocation=()" in answer.headers["Permissions-Policy"]
        and "Strict-Transport-Security" not in answer.headers
    )
    assert not re.search(r"<script(?![^>]*src=)|\sstyle=|\son[a-z]+=", answer.text if "html" in answer.mimetype else "")


def test_over_https_the_browser_is_told_to_stay_there(client):
    answer = client.get("/urgent", base_url="https://localhost")
    assert answer.headers["Strict-Transport-Security"].startswith("max-age=")


@pytest.mark.parametrize("path", PAGES)
def test_nothing_opens_without_signing_in(app, path):
    add_player(app)
    answer = app.test_client().get(path)
    if path == "/urgent":  # the one page that always opens: its list, and nothing of hers
        assert answer.status_code == 200 and "one side of the face droops" in answer.text
    else:
        assert answer.status_code == 302 and "/sign-in" in answer.headers["Location"]


def test_another_players_data_answers_404(app, client):
    write_session(client)
    uid = counts(client)["sessions"][0]["uid"]
    add_player(app, "jonas")
    with app.extensions["database"].open_db() as db:
        account = accounts.store.account_named(db, "jonas")
        other = accounts.context_of(db, account, app.extensions["clock"]())
        assert other.store.session(uid) is None
    stranger = app.test_client()
    sign_in(stranger, "jonas")
    assert stranger.get(f"/record/session/{uid}").status_code == 404
    assert stranger.post(f"/record/session/{uid}/delete").status_code == 404
    assert stranger.post("/undo/1").status_code == 404
    assert stranger.get("/record/import/abc").status_code == 404
    assert counts(client)["sessions"] and not counts(stranger)["sessions"]


def test_csrf_is_asked_for(app, client):
    app.config["WTF_CSRF_ENABLED"] = True
    for path in ("/morning/as-usual", "/body/", "/play/start", "/record/delete", "/play/events"):
        assert client.post(path).status_code == 400
    assert counts(client)["checks"] == []


TYPED = {"kind": "lesson", "went_well": "low F", "instrument": "bassoon", "effort": "4"}


@pytest.mark.parametrize(
    ("form", "sentence"),
    [
        ({"day": "2026-02-30", "minutes": "30"}, "a day that exists"),
        ({"day": "2026-11-13", "minutes": "30"}, "lies in the future"),
        ({"day": "2026-11-11", "minutes": "1620"}, "1 to 1440"),
        ({"day": "2026-11-11", "minutes": "-5"}, "1 to 1440"),
        ({"day": "2026-11-11", "minutes": "30", "effort": "11"}, "from 0 to 10"),
        ({"day": "2026-11-11", "minutes": "30", "effort": ""}, "Say how hard it was"),
        ({"day": "2026-11-11", "minutes": "soon"}, "from 1 to 1440"),
        ({"day": "2026-11-11"}, "Say how long"),
        ({"day": "2026-11-11", "start": "10:00", "end": "25:00"}, "a time of the day"),
        ({"day": "2026-11-11", "minutes": "30", "instrument": "spoons"}, "Choose what you played"),
        ({"day": "2026-11-11", "minutes": "30", "grip": "upside_down"}, "Choose a hold"),
        ({"day": "2026-11-11", "minutes": "30", "after": "perhaps"}, "anything after"),
        ({"day": "2026-11-11", "minutes": "30", "note": "x" * 20_001}, "hold at most"),
        ({}, "Choose a day"),
        ({"day": "2026-11-11", "minutes": "30", "start": "10:20"}, "overlaps"),
        (
            {"day": "2026-11-11", "instrument": "bassoon", "effort": "4", "minutes": "30", "kind": "sleep"},
            "Choose one of",
        ),
        ({"day": "2026-11-11", "minutes": "30", "question": "x" * 20_001}, "At most 20000"),
    ],
)
def test_an_added_session_is_refused_at_its_field_and_what_was_typed_stays(client, form, sentence):
    first = {
        "day": "2026-11-11",
        "start": "10:00",
        "minutes": "60",
        "effort": "4",
        "kind": "lesson",
        "instrument": "bassoon",
    }
    assert client.post("/record/session/new", data=first).status_code == 302
    answer = client.post("/record/session/new", data={**TYPED, **form})
    assert answer.status_code == 422 and re.search(sentence, answer.text), answer.text
    assert "low F" in answer.text or not form
    assert len(counts(client)["sessions"]) == 1


@pytest.mark.parametrize(
    ("path", "form", "sentence"),
    [
        ("/body/", {"kind": "pain", "intensity": "3", "timings": "after"}, "Touch where"),
        (
            "/body/",
            {"places": "ear.left", "kind": "pain", "intensity": "3", "timings": "after"},
            "not a place on the body map",
        ),
        ("/body/", {"places": "thumb_ball.left", "kind": "pain", "timings": "after"}, "how strong"),
        ("/body/", {"places": "thumb_ball.left", "kind": "pain", "intensity": "12", "timings": "after"}, "0 to 10"),
        (
            "/body/",
            {"places": "thumb_ball.left", "kind": "pain", "intensity": "3", "timings": "after", "other_uses": "x"},
            "Choose one",
        ),
        ("/body/nothing", {"timing": "noon"}, "Choose among"),
        ("/morning", {"red_flags": "headache"}, "not on the urgent list"),
        ("/morning", {"sleep": "well"}, "Choose one of"),
        ("/play/start", {"block_kind": "sleep"}, "Choose one of"),
        ("/call", {"to": "open"}, "cannot be overruled"),
        ("/call", {"to": "loud"}, "Choose Open or Tacet"),
        ("/record/delete", {"sure": "yes"}, "Type the word delete"),
        ("/record/day", {"day": "2027-01-01", "off": "yes"}, "future"),
        ("/record/import", {}, "Choose a file"),
        ("/settings", {"player": "", "zone": "Europe/Vienna", "units": "metric"}, "Type your name"),
        (
            "/settings",
            {"player": "I", "zone": "Europe/Vienna", "units": "metric", "emergency_number": "call me"},
            "digits",
        ),
    ],
)
def test_what_is_touched_wrongly_is_refused_in_words(client, path, form, sentence):
    answer = client.post(path, data=form)
    assert answer.status_code == 422 and sentence in answer.text.replace("&#39;", "'")
    after = counts(client)
    assert after["sessions"] == after["checks"] == after["days"] == []


@pytest.mark.parametrize(
    ("name", "data", "code", "sentence"),
    [
        ("sessions.csv", b"\x89PNG\x00\x00", 422, "neither a table nor text"),
        ("sessions.csv", b"", 422, "is empty"),
        ("all.json", b'{"format": "chirotend-record", "ver', 422, "breaks off"),
        ("sessions.csv", b"day,minutes,question\n2026-11-01,30," + b"x" * 1_000_000, 422, "field larger than"),
        ("sessions.csv", b'day,minutes,question\n2026-11-01,30,"a half-writ', 422, "quotes in pairs"),
        (
            "symptoms.csv",
            b"day,timing,zone,side,kind,intensity\n2026-11-01,after,ear,left,pain,3",
            422,
            "a zone of the list",
        ),
        ("sessions.csv", b"day,minutes\n2026-11-01,1620\n", 422, "0 to 1440"),
        ("sessions.csv", b"day,minutes,effort\n2026-11-01,-30,11\n", 422, "0 to 10"),
        ("sessions.csv", b"day,minutes\n2027-11-01,30\n", 422, "in the future"),
    ],
)
def test_an_upload_that_is_no_log(client, name, data, code, sentence):
    answer = client.post("/record/import", data={"files": (io.BytesIO(data), name)}, follow_redirects=True)
    assert answer.status_code == code and sentence in answer.text
    assert counts(client)["sessions"] == []


def test_an_upload_of_100_mb_is_refused(client):
    answer = client.post(
        "/record/import", data={"files": (io.BytesIO(b"day,minutes\n" + b"x" * 100_000_000), "sessions.csv")}
    )
    assert answer.status_code == 413 and "32 MB" in answer.text


def test_import_over_http_shows_then_saves_and_can_be_left(client):
    files = {"files": (io.BytesIO(b"day,minutes,effort\n2026-11-10,60,4\n2026-11-40,60,4\n"), "sessions.csv")}
    shown = client.post("/record/import", data=files, follow_redirects=True)
    assert "1 row cannot be read" in shown.text and "2026-11-40" in shown.text
    job = shown.request.path
    assert client.post(job + "/confirm").status_code == 422 and counts(client)["sessions"] == []
    part = client.get(job, headers={"HX-Request": "true"})
    assert "<html" not in part.text and 'id="job"' in part.text
    done = client.post(job + "/confirm", data={"leave_bad_out": "1"}, follow_redirects=True)
    assert "It is saved" in done.text and len(counts(client)["sessions"]) == 1
    assert client.post(job + "/cancel", follow_redirects=True).status_code == 200


def test_the_csv_export_is_a_zip_of_three_tables_and_the_load_ratio_with_the_case_against_it(client):
    write_session(client, question="=1+1")
    archive = zipfile.ZipFile(io.BytesIO(client.get("/record/export.csv.zip").data))
    assert archive.namelist() == ["sessions.csv", "symptoms.csv", "days.csv", "load_ratio.csv", "load_ratio.txt"]
    assert b"'=1+1" in archive.read("sessions.csv") and b"no zones of it" in archive.read("load_ratio.txt")


def test_what_the_player_wrote_is_escaped(client):
    nasty = "<script>alert(1)</script>"
    write_session(client, note=nasty, question=nasty)
    for path in ("/score/2026-11-11", "/", "/record/session/new"):
        assert nasty not in client.get(path).text


def test_the_morning_in_one_touch_and_an_urgent_answer(client):
    assert client.post("/morning/as-usual").status_code == 302
    assert "No call yet" in client.get("/").text
    answer = client.post("/morning", data={"hands": "cold", "red_flags": "face_droop"})
    assert answer.headers["Location"] == "/urgent"
    urgent = client.get("/urgent").text
    assert "one side of the face droops" in urgent and "Ring now." in urgent
    today = client.get("/").text
    assert "Tacet" in today and "Start playing" not in today
    assert today.index("Put it down") < today.index("How were your hands")
    client.post("/urgent/mistake")
    assert "Put it down" not in client.get("/").text
    client.post("/morning", data={"red_flags": "hot_swollen_joint"})
    assert "Be seen today." in client.get("/urgent").text


def test_a_session_without_scripts(client, clock):
    client.post("/play/start", data={"instrument": "bassoon", "block_kind": "lesson"})
    session = counts(client)["events"][0]["session_uid"]
    clock.on(minutes=20)
    event = {"uid": "m", "session": session, "kind": "mark", "place": "thumb"}
    for _ in range(2):
        assert client.post("/play/events", data=event).status_code == 302
    told = client.post("/play/events", json=[], headers={"HX-Request": "true"}).json
    assert "<html" not in told["part"] and "marked 1×" in told["part"]
    clap = client.post("/play/events", json=[{"uid": "x", "session": session, "kind": "clap"}]).json
    assert clap["stored"] == [] and clap["refused"][0]["uid"] == "x"
    assert client.post("/play/events", json={"a": 1}).status_code == 422
    client.post("/play/events", data={"uid": "e", "session": session, "kind": "stop"})
    assert client.post("/play/write", data={"anything": "nothing"}).status_code == 422
    answer = client.post(
        "/play/write",
        data={
            "effort": "4",
            "anything": "tingling",
            "mark": "thumb-tension",
            "side-thumb-tension": "left",
            "strength-thumb-tension": "3",
        },
    )
    assert answer.status_code == 302, answer.text
    assert answer.headers["Location"] == "/body/?timing=after&kind=tingling"
    assert counts(client)["sessions"][0]["blocks"][0]["minutes"] == 20
    assert "20 min, effort 4" in client.get("/").text


def test_a_forgotten_session_is_asked_about_on_today(client, clock):
    client.post("/play/start", data={"instrument": "bassoon", "block_kind": "lesson"})
    clock.on(hours=5)
    assert "Say when you stopped" in client.get("/").text
    assert client.post("/play/forgotten", data={"minutes": ""}).status_code == 422
    assert client.post("/play/forgotten", data={"minutes": "40"}).status_code == 302
    assert "How hard was it?" in client.get("/play/").text


def test_first_run_happens_once_and_sign_in_refuses_politely(app):
    with app.extensions["database"].open_db() as db:
        secret = accounts.make_setup_link(db, app.extensions["clock"]())
        db.commit()
    client = app.test_client()
    assert client.get("/first-run/wrong").status_code == 404
    form = {"player": "Ilse", "zone": "Europe/Vienna", "instruments": ["bassoon"], "password": "short"}
    answer = client.post(f"/first-run/{secret}", data=form)
    assert answer.status_code == 422 and "At least 10 characters" in answer.text and "Ilse" in answer.text
    assert client.post(f"/first-run/{secret}", data={**form, "password": "bars and rests"}).status_code == 302
    assert client.get("/").status_code == 200 and client.get(f"/first-run/{secret}").status_code == 404
    client.post("/sign-out")
    answer = client.post("/sign-in?next=//elsewhere.example", data={"name": "Ilse", "password": "bars and test"})
    assert answer.status_code == 422 and "do not fit together" in answer.text
    answer = client.post("/sign-in?next=//elsewhere.example", data={"name": "Ilse", "password": "bars and rests"})
    assert answer.headers["Location"] == "/"
    with app.extensions["database"].open_db() as db:
        accounts.set_password(db, app.extensions["passwords"], "ilse", "another one now")
        db.commit()
    assert client.get("/").status_code == 302  # a new password signs every browser out


def test_the_demo_signs_in_by_itself_on_loopback_only(tmp_path, clock):
    app = create_app(tmp_path, clock=clock, testing=True, demo=True)
    add_player(app)
    assert app.test_client().get("/").status_code == 200
    assert app.test_client().get("/", headers={"Host": "evil.example"}).status_code == 302
    assert app.test_client().get("/", environ_overrides={"REMOTE_ADDR": "192.0.2.7"}).status_code == 302
    app.extensions["database"].engine.dispose()


def test_a_crash_shows_a_calm_page_and_changes_nothing(app, client, monkeypatch):
    app.config["PROPAGATE_EXCEPTIONS"] = False
    monkeypatch.setattr("chirotend.web.transaction.todays_call", lambda context: 1 / 0)
    answer = client.post("/morning/as-usual")
    assert answer.status_code == 500 and "reference" in answer.text and "ZeroDivision" not in answer.text
    monkeypatch.undo()
    assert counts(client)["checks"] == []
    assert client.get("/nowhere").status_code == 404 and client.get("/score/noday").status_code == 404


def test_a_mark_and_a_nothing_can_be_backdated_but_not_ahead(client):
    mark = {"places": "thumb_ball.left", "kind": "pain", "intensity": "2", "timings": "after"}
    assert client.post("/body/", data={**mark, "day": "2026-11-09"}).headers["Location"].endswith("day=2026-11-09")
    assert "Marking <b>Monday 9 November" in client.get("/body/?day=2026-11-09").text
    client.post("/body/nothing", data={"timing": "waking", "day": "2026-11-08"})
    client.post("/body/", data={**mark, "day": "2026-12-24"})  # a later day becomes today
    assert [(c["day"], c["timing"]) for c in counts(client)["checks"]] == [
        ("2026-11-08", "waking"),
        ("2026-11-09", "after"),
        ("2026-11-12", "after"),
    ]
    assert counts(client)["checks"][1]["at_utc"] is None
    assert "Waking: nothing" in client.get("/score/2026-11-09").text


def test_many_pages_read_at_once_say_one_call(app, client):
    client.post("/morning/as-usual")
    cookies = client.get_cookie("chirotend-0").value
    answers = []

    def read() -> None:
        other = app.test_client()
        other.set_cookie("chirotend-0", cookies)
        answers.append(other.get("/", follow_redirects=True).status_code)

    threads = [threading.Thread(target=read) for _ in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert answers == [200] * 8 and len({c["number"] for c in counts(client)["calls"]}) == len(counts(client)["calls"])


def test_answers_that_cross_are_read_again_or_said(app, client, monkeypatch):
    real, failed = todays_call.computed_call, []

    def once(context, morning=False):
        if not failed:
            failed.append(1)
            raise IntegrityError("insert", {}, Exception("unique"))
        return real(context, morning)

    monkeypatch.setattr(todays_call, "computed_call", once)
    assert client.get("/", follow_redirects=True).status_code == 200 and failed
    failed.clear()
    answer = client.post("/morning/as-usual")
    assert answer.status_code == 409 and "Two answers crossed" in answer.text and counts(client)["checks"] == []


def test_guessing_passwords_is_slowed_down(tmp_path, clock):
    app = create_app(tmp_path, clock=clock, testing=True)
    app.config["WTF_CSRF_ENABLED"] = False
    add_player(app)
    client = app.test_client()
    tries = [client.post("/sign-in", data={"name": "ilse", "password": f"guess {n}"}).status_code for n in range(14)]
    assert tries == [422] * 12 + [429] * 2
    answer = client.post("/sign-in", data={"name": "ilse", "password": "bars and rests"})
    assert answer.status_code == 429 and "Wait a minute" in answer.text
    assert client.get("/sign-in").status_code == 200
    app.extensions["database"].engine.dispose()


def test_guessing_one_name_from_many_addresses_is_slowed_down_too(tmp_path, clock):
    app = create_app(tmp_path, clock=clock, testing=True)
    app.config["WTF_CSRF_ENABLED"] = False
    add_player(app)

    def tried(n: int, name: str = "ilse", password: str = "guess") -> int:
        given = {"name": name, "password": password}
        return app.test_client().post("/sign-in", data=given, environ_base={"REMOTE_ADDR": f"10.0.{n}.1"}).status_code

    assert [tried(n, "Ilse") for n in range(40)] == [422] * 40
    assert tried(41) == 429 and tried(42, "ada") == 422 and tried(43, "ilse", "bars and rests") == 429
    codes = [
        app.test_client().post("/shown", data={"code": f"{n}"}, environ_base={"REMOTE_ADDR": f"10.1.{n}.1"}).status_code
        for n in range(121)
    ]
    assert codes == [422] * 120 + [429]
    app.extensions["database"].engine.dispose()


def test_the_old_password_is_not_guessed_in_the_settings(tmp_path, clock):
    app = create_app(tmp_path, clock=clock, testing=True)
    app.config["WTF_CSRF_ENABLED"] = False
    add_player(app)
    client = app.test_client()
    sign_in(client)
    typed = {"new_password": "another long one", "again": "another long one"}
    wrong = [
        client.post("/settings/password", data={"old_password": f"guess {n}", **typed}).status_code for n in range(13)
    ]
    assert wrong == [422] * 12 + [429]
    app.extensions["database"].engine.dispose()


@pytest.mark.parametrize(
    ("call", "shown"),
    [
        ({"kind": "pain", "intensity": 4}, ["Muted", "At most 42 min today, in blocks of 20, soft.", "Why lighter?"]),
        (
            {"kind": "tingling", "intensity": 2, "lasting": "longer"},
            ["Muted", "At most 24 min today, in blocks of 10, soft.", "cannot be overruled here", "by Thu 26 November"],
        ),
        (
            {"kind": "weakness", "intensity": 2},
            ["Tacet", "no playing today", "I was seen", "by Thu 19 November"],
        ),
    ],
)
def test_each_call_says_what_to_do_and_what_may_be_changed(client, call, shown):
    for day in ("2026-11-08", "2026-11-09", "2026-11-10"):
        write_session(client, day=day, minutes="60")
    client.post("/body/", data={"places": "thumb_ball.left", "timings": "after", **call})
    page = words_of(client.get("/").text)
    assert [words for words in shown if words not in page] == []
    assert "Row" in page and "Source:" in page and "not yet been reviewed by a clinician" in page


def test_a_dose_that_is_passed_is_said(client):
    for day in ("2026-11-08", "2026-11-09", "2026-11-10"):
        write_session(client, day=day, minutes="60")
    client.post("/body/", data={"places": "thumb_ball.left", "timings": "after", "kind": "pain", "intensity": "4"})
    assert "limit is played" not in client.get("/").text
    write_session(client, day="2026-11-12", minutes="50", kind="rehearsal")
    assert "Today’s limit is played: stop here." in words_of(client.get("/").text)


def test_settings_are_kept_and_letters_can_be_turned_off(client):
    form = {
        "player": "Ilse V.",
        "zone": "Australia/Lord_Howe",
        "units": "inch",
        "emergency_number": "+00 (0) 00-00",
        "instruments": ["flute"],
    }
    assert client.post("/settings", data=form).status_code == 302
    page = client.get("/settings").text
    assert "Ilse V." in page and "data-letters" not in page and "+00 (0) 00-00" in client.get("/urgent/offline").text
    assert "Flute" in page and "20.10" in client.get("/help").text  # 9:10 UTC on Lord Howe: UTC+11 in November


def test_what_if_answers_beside_usual_and_dose_and_writes_nothing(client):
    for day in ("2026-11-08", "2026-11-09", "2026-11-10"):
        write_session(client, day=day, minutes="60")
    client.post("/body/", data={"places": "thumb_ball.left", "timings": "after", "kind": "pain", "intensity": "4"})
    before = words_of(client.get("/record/").text)
    page = words_of(client.get("/what-if?if_minutes=90&if_effort=3").text)
    assert "90 min at 3 are a load of 270" in page and "270 today" in page and "your usual day is not known yet" in page
    assert "past what today’s call allows" in page
    assert "of the 42 min that today’s call allows" in words_of(client.get("/what-if?if_minutes=20&if_effort=3,5").text)
    assert words_of(client.get("/record/").text) == before
    for asked in (
        "if_minutes=many&if_effort=3",
        "if_minutes=0&if_effort=3",
        "if_minutes=9&if_effort=11",
        "if_minutes=9",
    ):
        answer = client.get(f"/what-if?{asked}")
        assert answer.status_code == 422 and 'role="alert"' in answer.text


def test_a_refused_form_does_not_offer_to_undo_what_was_saved_before(client):
    client.post("/body/", data={"places": "thumb_ball.left", "kind": "pain", "intensity": "2", "timings": "after"})
    assert ">Undo<" in client.get("/body/").text
    refused = client.post("/body/", data={"places": "thumb_ball.left", "kind": "pain", "timings": "after"})
    assert refused.status_code == 422 and ">Undo<" not in refused.text and ">Undo<" in client.get("/body/").text
