"""No request answers 500, and none breaks a page for good. `make fuzz` sends many more of the same."""

import os
import resource
from io import BytesIO

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from chirotend.web import create_app
from tests.conftest import add_player, sign_in
from tests.web import fuzzing
from tests.web.files import PLACES, file_requests, seeds
from tests.web.fuzzing import Target

REQUESTS = int(os.environ.get("FUZZ_REQUESTS", "500"))
LOOK_EVERY = 40


@pytest.fixture
def target(tmp_path, clock):
    app = create_app(tmp_path / "data", clock=clock, testing=True, limit_tries=False)
    app.config.update(WTF_CSRF_ENABLED=False, PROPAGATE_EXCEPTIONS=False, TESTING=True)
    add_player(app)
    client = app.test_client()
    sign_in(client)
    client.post("/morning/as-usual")
    for day in ("2026-11-08", "2026-11-10", "2026-11-11"):
        client.post(
            "/record/session/new",
            data={"day": day, "instrument": "bassoon", "minutes": "40", "kind": "rehearsal", "effort": "4"},
        )
    client.post("/plan/aim", data={"aim_title": "Thirds", "aim_minutes": "60", "week": "2026-11-09"})
    client.post("/kit/thing", data={"kind": "strap", "name": "Strap"})
    yield Target(app, client)
    app.extensions["database"].engine.dispose()


def test_no_request_answers_500_and_no_page_is_broken_for_good(target):
    forms = fuzzing.forms_of(target.client)
    assert len(forms) > 40, "the pages’ forms are found"
    fuzzing.begun(target.client)
    forms += [f for f in fuzzing.forms_of(target.client) if f.action.startswith("/play")]
    requests = st.one_of(
        fuzzing.form_requests(forms),
        fuzzing.form_requests(forms),
        fuzzing.address_requests(target.app),
        fuzzing.events.map(lambda drawn: {"events": drawn}),
        fuzzing.states,
        file_requests(),
    )
    memory: list[float] = []

    @settings(
        max_examples=REQUESTS,
        derandomize="FUZZ_REQUESTS" not in os.environ,
        database=None,
        suppress_health_check=list(HealthCheck),
    )
    @given(st.lists(requests, min_size=1, max_size=1) | st.lists(requests, min_size=2, max_size=3))
    def fire(drawn):
        codes = [target.fire(drawn[0])] if len(drawn) == 1 else target.at_once(drawn)
        assert max(codes) < 500, drawn
        if target.looked < target.sent // LOOK_EVERY:
            target.looked = target.sent // LOOK_EVERY
            memory.append(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)
            assert [(page, c) for page, c in target.pages_open() if c >= 400] == [], drawn

    fire()
    print(f"\n{target.sent} requests: " + ", ".join(f"{n} × {code}" for code, n in sorted(target.answers.items())))
    slowest, what = target.slowest
    print(f"slowest {slowest:.1f} s ({what}), {target.over_5_s} over 5 s")
    print(f"most memory after a tenth of them {memory[len(memory) // 10]:.0f} MB, after all {memory[-1]:.0f} MB")


@pytest.mark.parametrize(("path", "field", "form", "name"), PLACES)
def test_a_whole_file_is_taken_where_files_are_fired(target, path, field, form, name):
    """So that damaged ones are read there too, and not turned away at the door."""
    whole = {"path": path, "field": field, "form": form, "name": name, "body": dict(seeds())[name]}
    assert target.bring(whole) in (200, 204, 302)


BOUNDS = [
    ("GET", "/score/?until=9999-12-31", {}),
    ("GET", "/score/?until=0001-01-01&weeks=26", {}),
    ("GET", "/plan/?week=0001-01-01", {}),
    ("GET", "/plan/?week=9999-12-31", {}),
    ("POST", "/plan/lay", {"week": "9999-12-31"}),
    ("GET", "/score/9999-12-31", {}),
    ("GET", "/score/0001-01-01", {}),
    ("POST", "/plan/habits", {"from_hour": "9" * 400, "to_hour": "20:00"}),
    ("GET", "/plan/?line=Sa+28%2C+" + "9" * 400 + ".00%2C+octet%2C+3+h", {}),
    ("GET", "/warm-up/cycles?cycle=i+m&notes=%C2%B2", {}),
    ("GET", "/warm-up/cycles?cycle=%C2%B2&octaves=%C2%B2&group=%C2%B2", {}),
    ("POST", "/undo/99999999999999999999", {}),
    ("POST", "/use", {"use": "typing", "use_minutes": "1e-320"}),
    ("POST", "/kit/thing", {"kind": "chair", "name": "x", "service_months": "²", "service_on": "9999-12-31"}),
    ("POST", "/kit/thing/a%20b/delete", {}),
    ("POST", "/record/check/2026-11-11/a%20b/delete", {}),
    ("POST", "/kit/library/exercise/a%20b/delete", {}),
    ("POST", "/plan/block/a%20b/rub-out", {}),
    ("POST", "/body/", {"places": "thumb_ball.left", "kind": "pain", "intensity": "2", "day": "0001-01-01"}),
    ("POST", "/body/rub-out", {"day": "2026-11-12", "timing": "noon", "zone": "x", "side": "y", "kind": "z"}),
    ("POST", "/record/day", {"day": "0001-01-01", "off": "yes"}),
    ("POST", "/record/day", {"day": "9999-12-31", "off": "yes"}),
    ("POST", "/record/session/new", {"day": "0001-01-01", "minutes": "5", "start": "00:00"}),
    ("POST", "/record/check/2026-11-12/noon/delete", {}),
    ("POST", "/play/forgotten", {"minutes": "1e308"}),
    ("POST", "/settings", {"player": "I", "zone": "Mars/Olympus", "units": "metric"}),
    ("POST", "/play/start", {"instrument": "\x00", "block_kind": "nap"}),
    ("POST", "/play/start", {"instrument": "bassoon", "block_kind": "technique", "uid": "x" * 500}),
]  # fmt: skip


@pytest.mark.parametrize(("method", "path", "form"), BOUNDS)
def test_what_lies_at_the_edge_is_refused_in_words(target, method, path, form):
    assert target.client.open(path, method=method, data=form).status_code < 500
    assert [page for page, code in target.pages_open() if code >= 400] == []


@pytest.mark.parametrize("days", ["1e308", "-1e308", "nan", "9" * 400, "1e9"])
def test_a_block_is_not_moved_out_of_time(target, days):
    target.client.post("/plan/aim", data={"aim_title": "x", "aim_minutes": "60", "week": "2026-11-16"})
    target.client.post("/plan/lay?week=2026-11-16")
    uid = target.client.get("/record/export.json").json["planned"][0]["uid"]
    for name in ("days", "minutes", "longer"):
        answer = target.client.post(f"/plan/block/{uid}/move", data={name: days})
        assert answer.status_code < 500
    assert [p for p, code in target.pages_open() if code >= 400] == []


@pytest.mark.parametrize(
    "name", ["🎻" * 80 + ".csv", "a\x00b.csv", "../../x.csv", "", "x" * 300, "\ud800.csv", "sessions.csv"]
)
@pytest.mark.parametrize(
    ("path", "field"), [("/record/import", "files"), ("/plan/calendar", "calendar"), ("/play/takes", "sound")]
)
def test_a_file_by_any_name_and_with_any_bytes_is_answered(target, path, field, name):
    for body in (
        b"",
        b"\x00\xff\xfe",
        b"day,minutes\n2026-11-01,30\n",
        b"BEGIN:VCALENDAR\nEND:VCALENDAR",
        b'{"format": 1e999}',
    ):
        assert target.send_file(path, name, field, body) < 500


@pytest.mark.parametrize(
    "document",
    [
        '{"format": "chirotend-record", "version": 2, "sessions": 5}',
        '{"format": "chirotend-record", "version": 2, "player": []}',
        '{"format": "chirotend-record", "version": 2, "player": {"zone": "Mars"}}',
        '{"format": "chirotend-record", "version": 2, "player": {"name": 5}}',
        '{"format": "chirotend-record", "version": 2, "player": {"password_hash": "x"}}',
        '{"format": "chirotend-record", "version": 2, "takes": [{"blob": "../../secret.key", "media": "audio/webm"}]}',
        '{"format": "chirotend-record", "version": 2, "kit": [{"uid": "a b"}]}',
        '{"format": "chirotend-record", "version": 2, "calls": [{"day": "2026-11-01", "findings": [{"code": "x"}]}]}',
        '{"format": "chirotend-record", "version": 2, "profile": [{"data": {"warm_minutes": NaN}}]}',
        '{"format": "chirotend-record", "version": 2, "days": [{"day": "2026-11-01", "note": "\\ud800"}]}',
        '{"format": "chirotend-record", "version": 2, "days": [{"day": "0001-01-01"}]}',
        '{"format": "chirotend-record", "version": ' + "9" * 400 + "}",
        "[" * 5000,
    ],
)
def test_a_record_with_one_odd_row_is_refused_whole_and_says_which(target, document):
    target.client.post("/record/delete", data={"sure": "delete"})
    answer = target.client.post("/record/import", data={"files": (BytesIO(document.encode()), "all.json")})
    page = target.client.get(answer.headers["Location"])
    assert page.status_code == 422 and "could not be read" in page.text
    assert "Something went wrong" not in page.text
    assert [p for p, code in target.pages_open() if code >= 400] == []
