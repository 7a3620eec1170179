"""The pages of hands, kit and bench; what is typed wrongly."""

import pytest

from tests.web.steps import HTMX, plan_uid


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
