"""B Plan, G Hands & kit and the warm-up over HTTP: parts only for htmx, refusals in words, nobody else's things."""

import io
import re

import pytest

from tests.conftest import add_player, sign_in

HTMX = {"HX-Request": "true"}


def plan_uid(client, pattern: str, text: str) -> str:
    found = re.search(pattern, text)
    assert found, pattern
    return found[1]


def a_laid_block(client) -> str:
    client.post(
        "/plan/aim",
        data={"week": "2026-11-16", "aim_title": "Thirds", "aim_minutes": "40", "aim_instrument": "bassoon"},
    )
    text = client.post("/plan/lay", data={"week": "2026-11-16"}, headers=HTMX).text
    return plan_uid(client, r'data-uid="(\w+)"', text)


def test_the_bench_answers_htmx_with_the_drawing_alone(client):
    part = client.get("/kit/bench/carry?strap=120", headers=HTMX)
    assert part.text.lstrip().startswith('<div id="bench-result"') and "<html" not in part.text
    assert "<html" in client.get("/kit/bench/carry?strap=120").text
    refused = client.get("/kit/bench/carry?strap=a lot", headers=HTMX)
    assert refused.status_code == 422 and "type a number from 0 to 200 mm" in refused.text
    whole = client.get("/kit/bench/carry?strap=a lot")
    assert whole.status_code == 422 and 'value="a lot"' in whole.text
    assert client.get("/kit/bench/levers").status_code == 404
    assert client.get("/kit/bench/string?system=9876").status_code == 404


def test_a_wrong_measure_stays_as_typed_and_nothing_of_the_form_is_kept(client):
    typed = {"left.span": "198", "right.span": "enormous", "dominant": "right"}
    answer = client.post("/kit/hands", data=typed)
    assert answer.status_code == 422
    assert "“enormous” cannot be read" in answer.text and 'value="enormous"' in answer.text
    assert 'value="198 mm"' not in client.get("/kit/hands").text
    assert client.post("/kit/hands", data={**typed, "right.span": "204"}).status_code == 302
    assert 'value="198 mm"' in client.get("/kit/hands").text


@pytest.mark.parametrize(
    ("path", "form", "sentence"),
    [
        ("/kit/thing", {"kind": "strap", "name": ""}, "Give it a name"),
        ("/kit/room", {"chair": "sofa"}, "Choose one of"),
        ("/kit/library/exercise/new", {"name": "x", "family": "all", "stage": "sleep"}, "is not a stage"),
        ("/kit/library/instrument/new", {"name": "x", "family": "flutes", "mass_kg": "light"}, "valid number"),
        ("/kit/bench/carry/keep", {"choice": "bassoon_seat", "lean": "400"}, "type a number"),
        ("/plan/engagement", {"title": "x", "day": "2026-02-30", "start": "19:00", "end": "22:00"}, "day that exists"),
        ("/plan/engagement", {"title": "x", "day": "2026-11-20", "start": "25:00", "end": "22:00"}, "when it begins"),
        ("/plan/engagement", {"title": "", "day": "2026-11-20", "start": "19:00", "end": "22:00"}, "Give it a title"),
        ("/plan/aim", {"aim_title": "x", "aim_minutes": "many"}, "is not a number"),
        ("/plan/aim", {"aim_title": "", "aim_minutes": "20"}, "Say the aim"),
        ("/plan/lay", {"week": "2026-01-05"}, "This week is over"),
        ("/plan/take", {"line": "sometime"}, "Which day?"),
        ("/plan/habits", {"from_hour": "late", "to_hour": "20:00"}, "Type hours such as"),
        ("/plan/habits", {"from_hour": "20:00", "to_hour": "09:00"}, "ends after it begins"),
        ("/warm-up", {"warm_minutes": "500"}, "5 to 90 minutes"),
        ("/warm-up", {"instrument": "kazoo"}, "one of your instruments"),
        ("/use", {"use": "typing", "use_minutes": "0"}, "Choose how long"),
    ],
)
def test_what_is_typed_wrongly_is_refused_in_words(client, path, form, sentence):
    answer = client.post(path, data=form)
    assert answer.status_code == 422
    assert sentence in answer.text


@pytest.mark.parametrize("data", [b"", b"\x89PNG\r\n", b"BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART:yesterday\r\n"])
def test_a_file_that_is_no_calendar_is_refused(client, data):
    answer = client.post("/plan/calendar", data={"calendar": (io.BytesIO(data), "x.ics")})
    assert answer.status_code == 422 or "0 new" in answer.text


def test_a_calendar_comes_in_and_the_plan_goes_out(client):
    lines = ("BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//x//EN", "BEGIN:VEVENT", "UID:a", "DTSTART:20261118T180000Z")
    lines += ("DTEND:20261118T210000Z", "SUMMARY:Dress rehearsal", "END:VEVENT", "END:VCALENDAR", "")
    text = "\r\n".join(lines)
    answer = client.post("/plan/calendar", data={"calendar": (io.BytesIO(text.encode()), "x.ics")})
    assert "1 new" in answer.text
    a_laid_block(client)
    out = client.get("/plan/plan.ics")
    assert out.mimetype == "text/calendar" and "Dress rehearsal" in out.text and "SUMMARY:Thirds" in out.text
    uid = plan_uid(client, r"/plan/calendar/(\w+)/take-back", answer.text)
    assert client.post(f"/plan/calendar/{uid}/take-back").status_code == 302
    assert "Dress rehearsal" not in client.get("/plan/?week=2026-11-16").text
    assert client.post(f"/plan/calendar/{uid}/take-back").status_code == 404


def test_a_block_is_moved_refused_and_rubbed_out_as_a_part(client):
    uid = a_laid_block(client)
    moved = client.post(f"/plan/block/{uid}/move", data={"week": "2026-11-16", "minutes": "30"}, headers=HTMX)
    assert moved.status_code == 200 and f'data-chosen="{uid}"' in moved.text and "<html" not in moved.text
    refused = client.post(f"/plan/block/{uid}/move", data={"week": "2026-11-16", "longer": "999"}, headers=HTMX)
    assert refused.status_code == 422 and "5 to 180 minutes" in refused.text
    assert client.post(f"/plan/block/{uid}/rub-out", data={"week": "2026-11-16"}).status_code == 302
    assert client.post(f"/plan/block/{uid}/move", data={"minutes": "15"}).status_code == 404


def test_a_date_is_asked_and_taken(client):
    asked = client.get("/plan/?line=Sa+28,+10.00,+octet,+3+h")
    assert asked.status_code == 302 and "week=2026-11-23" in asked.headers["Location"]
    page = client.get(asked.headers["Location"]).text
    assert "Yes." in page and "Take it" in page
    assert client.get("/plan/?line=octet").status_code == 422
    taken = client.post("/plan/take", data={"line": "Sa 28, 10.00, octet, 3 h"})
    assert taken.status_code == 302
    assert "octet" in client.get(taken.headers["Location"]).text


def test_an_engagement_is_written_in_as_planned_on_today(client, clock):
    client.post(
        "/plan/engagement",
        data={"title": "Rehearsal", "day": "2026-11-12", "start": "08:00", "end": "09:00", "minutes": "40"},
    )
    page = client.get("/").text
    assert "As planned" in page
    uid = plan_uid(client, r"/plan/engagement/(\w+)/as-planned", page)
    assert client.post(f"/plan/engagement/{uid}/as-planned", data={"effort": "7"}).status_code == 302
    assert "As planned" not in client.get("/").text
    assert "40 min" in client.get("/").text
    assert client.post(f"/plan/engagement/{uid}/as-planned").status_code == 422


def test_another_use_of_the_hands_takes_two_taps(client):
    page = client.get("/").text
    assert page.count('<summary class="btn-line">') >= 6  # the first tap opens, the second writes
    assert client.post("/use", data={"use": "gym", "use_minutes": "45"}).status_code == 302
    assert "Gym" in client.get("/").text and "Undo" in client.get("/").text


def test_own_items_are_escaped_and_taken_out(client):
    form = {
        "name": "<script>alert(1)</script> shake",
        "family": "all",
        "stage": "release",
        "hands": "both",
        "minutes": "1",
        "note": "shake",
    }
    assert client.post("/kit/library/exercise/new", data=form).status_code == 302
    page = client.get("/kit/library/exercise").text
    assert "<script>alert" not in page and "&lt;script&gt;" in page and "your own" in page
    uid = plan_uid(client, r"/kit/library/exercise/(own_\w+)/delete", page)
    assert client.post(f"/kit/library/exercise/{uid}/delete").status_code == 302
    assert client.post(f"/kit/library/exercise/{uid}/delete").status_code == 404
    assert client.get("/kit/library/secrets").status_code == 404


def test_nobody_else_sees_or_moves_what_is_hers(app, client):
    uid = a_laid_block(client)
    client.post("/kit/thing", data={"kind": "chair", "name": "My chair"})
    thing = plan_uid(client, r"/kit/thing/(\w+)", client.get("/kit/").text)
    client.post(
        "/plan/engagement", data={"title": "Secret date", "day": "2026-11-18", "start": "08:00", "end": "09:00"}
    )
    week = client.get("/plan/?week=2026-11-16").text
    engagement = plan_uid(client, r'class="blk (?:fixed|travel)"[^>]*data-uid="(\w+)"', week)
    aim = plan_uid(client, r"/plan/aim/(\w+)/rub-out", week)
    add_player(app, "jonas")
    stranger = app.test_client()
    sign_in(stranger, "jonas")
    assert stranger.get(f"/kit/thing/{thing}").status_code == 404
    assert stranger.get(f"/plan/engagement/{engagement}").status_code == 404
    assert stranger.get(f"/plan/?block={uid}").status_code == 404
    for path in (
        f"/plan/block/{uid}/move",
        f"/plan/block/{uid}/rub-out",
        f"/plan/engagement/{engagement}/delete",
        f"/plan/engagement/{engagement}/as-planned",
        f"/plan/aim/{aim}/rub-out",
        f"/kit/thing/{thing}/delete",
    ):
        assert stranger.post(path, data={"minutes": "15"}).status_code == 404, path
    assert "Secret date" not in stranger.get("/plan/?week=2026-11-16").text


def test_an_export_comes_back_over_a_first_look_at_today(app, client, clock):
    client.post("/kit/thing", data={"kind": "chair", "name": "My chair"})
    client.post("/morning/as-usual")
    a_laid_block(client)
    text = client.get("/record/export.json").data
    add_player(app, "jonas")
    other = app.test_client()
    sign_in(other, "jonas")
    other.get("/")  # a call about nothing is said here
    answer = other.post("/record/import", data={"files": (io.BytesIO(text), "all.json")})
    other.post(answer.headers["Location"] + "/confirm")
    assert other.get("/record/export.json").data == text
