"""Who gets in: browsers kept on the server, names, links, where a redirect may lead, and the matrix of access."""

import io
import json
import re

import pytest
from flask import url_for

from chirotend.services.account import accounts
from tests.conftest import add_player, sign_in
from tests.web.steps import furnish, write_session

COOKIE = "chirotend-0"
ELSEWHERE = [
    "//elsewhere.example",
    "/\\elsewhere.example",
    "/\t/elsewhere.example",
    "/\n/elsewhere.example",
    "\\/elsewhere.example",
    "https://elsewhere.example",
    "/\x00/elsewhere.example",
    "javascript:alert(1)",
]


@pytest.mark.parametrize("target", ELSEWHERE)
def test_no_redirect_leads_to_another_place(app, client, target):
    client.post("/sign-out")
    form = {"name": "ilse", "password": "bars and rests"}
    assert client.post("/sign-in", query_string={"next": target}, data=form).headers["Location"] == "/"
    write_session(client)
    assert client.post("/undo/1", data={"back": target}).headers["Location"] == "/"
    assert client.post("/sign-in", query_string={"next": "/score/?weeks=2"}, data=form).headers["Location"] != "/"


def test_a_copied_cookie_is_worth_nothing_after_the_sign_out(app, client):
    copied = client.get_cookie(COOKIE).value
    client.post("/sign-out")
    thief = app.test_client()
    thief.set_cookie(COOKIE, copied)
    assert thief.get("/record/export.json").status_code == 302
    assert thief.post("/morning/as-usual").status_code == 401


def test_browsers_are_listed_and_signed_out_one_by_one_or_all(app, client):
    phone = app.test_client()
    phone.post("/sign-in", data={"name": "ilse", "password": "bars and rests"}, headers={"User-Agent": "A phone"})
    page = client.get("/settings").text
    assert "a phone or tablet" in page and "This browser" in page
    client.post(re.search(r'action="(/sign-out/[0-9a-f]+)"', page)[1])
    assert phone.get("/").status_code == 302 and client.get("/").status_code == 200
    assert client.post("/sign-out/0123456789abcdef").status_code == 404
    phone.post("/sign-in", data={"name": "ilse", "password": "bars and rests"})
    client.post("/sign-out/everywhere")
    assert phone.get("/").status_code == 302 and client.get("/").status_code == 302


def test_two_weeks_without_a_visit_end_a_session_and_a_visit_keeps_it(app, client, clock):
    for _ in range(4):
        clock.on(days=10)
        assert client.post("/morning/as-usual").status_code == 302
    assert client.get("/").status_code == 200
    clock.on(days=15)
    assert client.get("/").status_code == 302


def test_a_changed_password_signs_the_others_out_and_asks_for_the_old_one(app, client):
    phone = app.test_client()
    sign_in(phone)
    form = {"old_password": "bars and rests", "new_password": "rests and bars", "again": "rests and bars"}
    for wrong, sentence in (
        ({"old_password": "no"}, "not the password that holds"),
        ({"again": "other"}, "differ"),
        ({"new_password": "short", "again": "short"}, "At least 10"),
    ):
        answer = client.post("/settings/password", data={**form, **wrong})
        assert answer.status_code == 422 and sentence in answer.text
    assert client.post("/settings/password", data=form).status_code == 302
    assert phone.get("/").status_code == 302 and client.get("/").status_code == 200
    assert phone.post("/sign-in", data={"name": "ilse", "password": "rests and bars"}).status_code == 302


def test_the_cookie_is_named_for_this_application_and_port_and_kept_from_scripts(client):
    cookie = client.get_cookie(COOKIE)
    assert cookie is not None and cookie.http_only and cookie.same_site == "Lax" and cookie.expires is not None


@pytest.mark.parametrize(("kept", "typed"), [("Öhlinger", "öhlinger"), ("STRAẞE", "strasse"), ("Ilse ", "ILSE")])
def test_names_are_compared_whatever_their_case(app, kept, typed):
    add_player(app, kept)
    client = app.test_client()
    sign_in(client, typed)
    with app.extensions["database"].open_db() as db, pytest.raises(accounts.FieldError, match="taken"):
        accounts.add_account(
            db,
            app.extensions["passwords"],
            typed,
            "bars and rests",
            "X",
            "Europe/Vienna",
            [],
            app.extensions["clock"](),
        )


FORM = {"player": "Jonas", "zone": "Europe/Vienna", "name": "anybody", "password": "bars and rests"}


def link(app, name: str = "") -> str:
    with app.extensions["database"].open_db() as db:
        secret = accounts.make_setup_link(db, app.extensions["clock"](), name)
        db.commit()
    return f"/first-run/{secret}"


def test_a_link_makes_one_account_within_a_day(app, clock):
    late = link(app)
    clock.on(hours=25)
    assert app.test_client().get(late).status_code == 404
    fresh = link(app)
    assert app.test_client().post(fresh, data=FORM).status_code == 302
    assert app.test_client().post(fresh, data={**FORM, "name": "second"}).status_code == 404
    assert app.test_client().get(link(app)).status_code == 404, "the first account’s link, when there is one already"


def test_several_players_each_see_their_own_record_only(app, client):
    write_session(client)
    jonas = app.test_client()
    made = link(app, "Jonas")
    assert "You sign in with the name “Jonas”" in jonas.get(made).text
    assert jonas.post(made, data=FORM).status_code == 302
    assert json.loads(jonas.get("/record/export.json").data)["sessions"] == []
    again = app.test_client()
    sign_in(again, "jonas")
    with pytest.raises(accounts.FieldError, match="already"):
        link(app, "JONAS")


def test_a_large_body_is_refused_before_it_is_read_but_where_files_are_brought(app, client):
    app.config["WTF_CSRF_ENABLED"] = True
    big = b"a=" + b"x" * (1024 * 1024)
    kind = "application/x-www-form-urlencoded"
    for path in ("/sign-in", "/body/", "/play/events", "/curtain/"):
        assert client.post(path, data=big, content_type=kind).status_code == 413, path
    app.config["WTF_CSRF_ENABLED"] = False
    log = b"day,minutes\n" + b"2026-11-01,30\n" * 100_000
    answer = client.post("/record/import", data={"files": (io.BytesIO(log), "sessions.csv")})
    assert answer.status_code == 302


# --- the matrix, read off the map of addresses ----------------------------------------------------------------

OPEN = {"asset", "account.sign_in_page", "account.first_run", "help.urgent", "help.urgent_offline", "help.manifest"}
OPEN |= {"help.service_worker", "help.health", "report.ask_code", "report.look"}
#: what stands for a variable part: an id of hers, made by `furnish`
PARTS = {
    "kind": "exercise",
    "door": "fever",
    "suffix": "svg",
    "tab": "carry",
    "zone_id": "thumb_ball",
    "side": "left",
    "day": "2026-11-11",
    "timing": "waking",
    "ending": "play",
    "number": 1,
    "handle": "0123456789abcdef",
    "region": "fingers",
    "secret": "no-link",
    "filename": "icon.svg",
    "digest": "000000000000",
    "name": "icon.svg",
    "import_uid": "x",
    "key": "jaw_rests",
    "instrument": "bassoon",
}
#: addresses that name a thing of one player by its id
BY_ID = {"uid", "import_uid", "handle"}  # a change is numbered for each player anew


def addresses(app):
    for rule in sorted(app.url_map.iter_rules(), key=str):
        for method in sorted(rule.methods - {"HEAD", "OPTIONS"}):
            yield rule, method


#: the kind of probe that an address of technique names
PROBES = {
    **dict.fromkeys(("pressure_search", "answer_pressure", "back_pressure", "stop_pressure"), "pressure"),
    **dict.fromkeys(("evenness_result", "set_my_p"), "evenness"),
    **dict.fromkeys(("trace_result", "describe_trace", "mark_trace", "hear_beside"), "trace"),
    **dict.fromkeys(("posture_result", "look_at", "suggest_points", "set_points", "file", "delete"), "posture"),
    **dict.fromkeys(("job", "cancel_job"), "no-job"),
}


def built(rule, ids: dict[str, str]) -> str:
    name = rule.endpoint
    chosen = (
        ids.get(PROBES[name.partition(".")[2]], "x")
        if name.partition(".")[2] in PROBES
        else ids.get(name.partition(".")[2], "x")
        if name.startswith("drawings")
        else ids["engagement"]
        if "engagement" in name or "as_planned" in name
        else ids["aim"]
        if "aim" in name
        else ids["own"]
        if name == "kit.remove"
        else ids["known"]
        if "known" in name
        else ids["trial"]
        if name.startswith("trials")
        else ids["programme"]
        if name.startswith("programmes")
        else ids["report"]
        if name.startswith("report.")
        else ids["part"]
        if name.startswith("parts")
        else ids["kit"]
        if name.startswith("kit")
        else ids["record"]
    )
    parts = {k: {**PARTS, "uid": chosen}[k] for k in rule.arguments}
    return url_for(name, **parts)


def test_the_matrix_of_access_anonymous_another_player_the_right_one(app, client):
    ids = furnish(client)
    add_player(app, "jonas")
    stranger = app.test_client()
    sign_in(stranger, "jonas")
    before = client.get("/record/export.json").data
    seen = 0
    with app.test_request_context():
        asked = [(rule, method, built(rule, ids)) for rule, method in addresses(app)]
    for rule, method, path in asked:
        anonymous = app.test_client().open(path, method=method)
        if rule.endpoint in OPEN:
            assert anonymous.status_code < 500, path
        else:
            assert anonymous.status_code in (302, 401), (path, method, anonymous.status_code)
            assert b"Ilse" not in anonymous.data
        if rule.endpoint.startswith("account.sign_out"):
            continue
        theirs = stranger.open(path, method=method)
        if set(rule.arguments) & BY_ID:
            assert theirs.status_code == 404, (path, method, theirs.status_code)
            seen += 1
        assert theirs.status_code < 500 and b"Ilse" not in theirs.data, path
    assert seen > 18
    assert client.get("/record/export.json").data == before, "nobody else changed anything of hers"
    for rule, method, path in asked:
        if method == "GET" and rule.endpoint not in (
            "play.sound",
            "record.import_job",
            "record.import_rows",
            "account.first_run",
            "technique.job",
        ):
            assert client.get(path).status_code < 400, path
    assert client.post(f"/kit/thing/{ids['kit']}/delete").status_code == 302
    assert client.post(f"/plan/engagement/{ids['engagement']}/delete").status_code == 302
