"""The call rules every page: with a finding of rows 1 or 2 open nothing to play is offered anywhere."""

import re
from html import unescape

import pytest

from chirotend.library.loader import cautions

OFFERS = [
    ("GET", "/warm-up"),
    ("POST", "/warm-up"),
    ("POST", "/warm-up/keep"),
    ("POST", "/warm-up/afresh"),
    ("POST", "/warm-up/school"),
    ("POST", "/warm-up/start"),
    ("GET", "/warm-up/cycles"),
    ("GET", "/what-if?if_minutes=90&if_effort=3"),
    ("GET", "/score/week"),
    ("GET", "/play/"),
    ("POST", "/play/start"),
    ("POST", "/play/start/plan"),
    ("GET", "/plan/"),
    ("POST", "/plan/lay"),
    ("GET", "/plan/programmes/"),
    ("POST", "/plan/programmes/begin/return"),
    ("GET", "/score/trials/"),
    ("POST", "/score/trials/begin"),
    ("GET", "/plan/parts/"),
    ("POST", "/plan/parts/"),
    ("POST", "/plan/aim"),
    ("POST", "/plan/take"),
    ("POST", "/plan/block/x/move"),
    ("GET", "/curtain/"),
    ("GET", "/technique/"),
    ("GET", "/technique/pressure"),
    ("POST", "/technique/pressure"),
    ("GET", "/technique/grips"),
    ("GET", "/technique/awareness"),
    ("GET", "/technique/strokes"),
    ("POST", "/technique/ranges"),
    ("POST", "/technique/wrists"),
    ("POST", "/technique/activities"),
    ("POST", "/technique/evenness"),
    ("GET", "/technique/posture"),
]
OFFERED = re.compile(
    r"Start, 90 seconds|Record 40 seconds|Look now|"
    r"Play with that|Start it on the stand|>Start<|Plan the week|Count it out|do tonight|Can I take this date"
)


def ticked(client, code: str) -> None:
    client.post("/morning/as-usual")
    client.post("/morning", data={"red_flags": code})


@pytest.mark.parametrize(("method", "path"), OFFERS)
def test_an_urgent_sign_leads_every_page_to_the_urgent_one(client, method, path):
    ticked(client, "chest_pain")
    answer = client.open(path, method=method, data={"instrument": "bassoon", "block_kind": "technique"})
    assert (answer.status_code, answer.headers["Location"]) == (302, "/urgent")


@pytest.mark.parametrize(("method", "path"), OFFERS)
def test_a_sign_of_row_2_hands_over_on_every_page(client, method, path):
    ticked(client, "dropping_things")
    answer = client.open(path, method=method, data={"instrument": "bassoon", "block_kind": "technique"})
    assert answer.status_code == (200 if method == "GET" else 409)
    assert "Hand it over" in answer.text and not OFFERED.search(answer.text)


def test_without_such_a_sign_the_same_pages_offer_to_play(client):
    client.post("/morning/as-usual")
    for path in ("/warm-up", "/play/", "/plan/", "/curtain/"):
        assert OFFERED.search(client.get(path).text), path


def test_a_mark_of_row_2_does_the_same_and_a_clinicians_answer_opens_it(client):
    form = {"places": "index_tip_palm.left", "kind": "numbness", "intensity": "3", "timings": "after"}
    client.post("/body/", data={**form, "lasting": "longer"})
    assert "Hand it over" in client.get("/play/").text
    uid = re.search(r'action="/matters/(\w+)/seen"', client.get("/").text)[1]
    refused = client.post(f"/matters/{uid}/seen", data={"words": "Wait."})
    assert refused.status_code == 422 and "There is no default dose" in refused.text
    client.post(f"/matters/{uid}/seen", data={"start_dose_min": "20"})
    assert "Hand it over" not in client.get("/play/").text


def test_a_session_that_runs_can_only_be_stopped_and_is_still_written_in(client, clock):
    client.post("/play/start", data={"instrument": "bassoon", "block_kind": "technique"})
    clock.on(minutes=12)
    ticked(client, "chest_pain")
    stand = client.get("/play/")
    assert stand.status_code == 200 and "Put it down." in stand.text and "Stop, and save" in stand.text
    assert not re.search(r"ladder|Change the session|pedal", stand.text)
    session = re.search(r'data-session="(\w+)"', stand.text)[1]
    client.post("/play/events", data={"uid": "s", "session": session, "kind": "stop"})
    answer = client.post("/play/write", data={"effort": "2", "anything": "pain"})
    assert answer.status_code == 302
    assert client.get("/record/export.json").json["sessions"][0]["blocks"][0]["minutes"] == 12


def test_what_is_ahead_can_be_handed_over_and_practice_leaves_the_calendar(client):
    client.post(
        "/plan/engagement",
        data={
            "day": "2026-11-14",
            "start": "19:00",
            "end": "22:00",
            "title": "Evening in the pit",
            "kind": "performance",
        },
    )
    assert "Evening in the pit" in client.get("/plan/plan.ics").text
    ticked(client, "dropping_things")
    page = client.get("/plan/").text
    assert "To hand over in the next fortnight" in page and "Evening in the pit" in page
    client.post(re.search(r'action="(/plan/engagement/\w+/delete)"', page)[1])
    assert "Evening in the pit" not in client.get("/plan/").text


def test_a_yes_on_the_card_is_written_and_rules_from_then_on(client):
    assert client.post("/curtain/sign", data={"code": "sudden_weakness"}).headers["Location"] == "/urgent"
    assert "went weak within minutes" in client.get("/urgent").text
    assert client.get("/curtain/").headers["Location"] == "/urgent"
    client.post("/urgent/mistake")
    assert client.post("/curtain/sign", data={"code": "dropping_things"}).headers["Location"].endswith("hand-over")
    ending = client.get("/curtain/written/play").text
    assert "Hand it over" in ending and "Play soft" not in ending


def test_a_passed_attack_counts_and_only_a_mistake_is_taken_back(client):
    ticked(client, "chest_pain")
    page = client.get("/urgent").text
    assert "I ticked this by mistake" in page and "A sign that has passed still counts." in page
    assert "all right" not in page and "slip" not in page


@pytest.mark.parametrize("codes", [["chest_pain"], ["both_hands_clumsy", "gait_trouble"]])
def test_a_mistake_is_taken_back_on_a_later_day_too_and_a_pair_whole(client, clock, codes):
    client.post("/morning", data={"red_flags": codes})
    clock.on(days=1)
    assert "I ticked this by mistake" in client.get("/urgent").text
    client.post("/urgent/mistake")
    assert "You wrote" not in client.get("/urgent").text


def test_nothing_is_preselected_after_playing_or_on_the_body(client, clock):
    client.post("/play/start", data={"instrument": "bassoon", "block_kind": "technique"})
    session = re.search(r'data-session="(\w+)"', client.get("/play/").text)[1]
    clock.on(minutes=3)
    client.post("/play/events", data={"uid": "s", "session": session, "kind": "stop"})
    assert "checked" not in client.get("/play/").text
    refused = client.post("/play/write", data={"effort": "2"})
    assert refused.status_code == 422 and "Say whether anything is there" in refused.text
    assert "checked" not in client.get("/body/").text
    differs = client.post("/body/self-checks", data={"check": "gentle_fist", "said": "differs"}).headers["Location"]
    page = client.get(differs).text
    assert not re.search(r'name="(kind|flags|intensity)"[^>]*checked', page)


# --- what she says of herself once ---------------------------------------------------------------------------


def test_six_questions_are_asked_once_each_of_them_optional(client):
    assert "Six questions, so that nothing unsuitable is offered" in client.get("/").text
    page = client.get("/kit/left-out").text
    assert page.count("<fieldset") == 6 and "checked" not in page
    assert client.post("/kit/left-out", data={"pregnant": "yes"}).status_code == 302
    assert "Six questions, so that nothing unsuitable is offered" not in client.get("/").text
    assert client.post("/kit/left-out", data={"pregnant": "perhaps"}).status_code == 422


def test_what_she_said_leaves_exercises_out_and_names_them(client):
    client.post("/morning/as-usual")
    client.post("/kit/left-out", data={"loose_joints": "many", "thin_bones": "yes"})
    page = client.get("/warm-up").text
    assert "Left out because of what you said of yourself (loose joints)" in page
    assert "Left out because of what you said of yourself (thin bones)" in page


def test_putting_the_questions_aside_is_an_answer_too(client):
    client.post("/kit/left-out", data={"later": "yes"})
    assert "Six questions, so that nothing unsuitable is offered" not in client.get("/").text


PAGES_OF = {
    "today": "/",
    "body": "/body/",
    "score": "/score/",
    "play": "/play/",
    "warmup": "/warm-up",
    "technique": "/kit/",
    "library": "/kit/library/exercise",
    "concert_card": "/curtain/",
    "account": "/settings",
    "help": "/help",
}


def test_every_caution_stands_on_its_pages_and_those_of_a_state_only_for_whom_it_holds(client):
    client.post("/morning/as-usual")
    pages = {screen: unescape(client.get(path).text) for screen, path in PAGES_OF.items()}
    for caution in cautions():
        for screen in set(caution.screens) & set(PAGES_OF) - {"help"}:
            shown = caution.text in pages[screen]
            assert caution.tone == "urgent" or shown == (caution.when == "always"), (caution.id, screen)
    client.post("/kit/left-out", data={"pregnant": "yes", "thin_bones": "yes"})
    page = unescape(client.get("/warm-up").text)
    told = {c.id for c in cautions() if c.when != "always" and c.text in page}
    assert told == {"pregnancy", "thin_bones"}
