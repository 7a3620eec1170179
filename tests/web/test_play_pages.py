"""The stand without scripts, the card, self-checks, lists."""

import re

import pytest

from tests.conftest import add_player, sign_in
from tests.web.steps import words_of, write_session


@pytest.mark.parametrize(
    ("path", "form", "sentence"),
    [
        ("/curtain/", {"problem": "thumb", "place": "thumb_ball", "strength": "clearly", "still": "no"}, "which side"),
        ("/curtain/", {"problem": "thumb", "side": "left"}, "Touch where it is"),
        ("/curtain/sign", {"code": "hiccups"}, "not on the urgent list"),
        ("/curtain/", {}, "Choose what it is"),
        ("/body/self-checks", {"check": "palm_flat", "said": "perhaps"}, "as always, or differs"),
        ("/play/start/plan", {}, "Nothing is planned for today"),
        (
            "/body/",
            {"places": "thumb_ball.left", "kind": "pain", "intensity": "2", "timings": "after", "eased": "magic"},
            "Choose what eased it",
        ),
    ],
)
def test_what_is_answered_wrongly_is_refused_in_words(client, path, form, sentence):
    answer = client.post(path, data=form)
    assert answer.status_code == 422
    assert sentence in answer.text


def test_the_card_asks_first_and_is_one_tap_from_every_page(client):
    card = client.get("/curtain/").text
    assert (
        card.index("First: any of these, now or today?")
        < card.index("None of these")
        < card.index("What you can do tonight")
    )
    for path in ("/", "/plan/", "/body/", "/score/", "/kit/", "/record/"):
        assert 'href="/curtain/"' in client.get(path).text
    client.post("/play/start", data={"instrument": "bassoon", "block_kind": "technique"})
    assert 'href="/curtain/"' in client.get("/play/").text


def test_a_card_written_in_stands_in_the_day_and_in_the_plan(client):
    form = {"problem": "thumb", "place": "thumb_ball", "side": "left", "strength": "clearly", "still": "no"}
    form["done"] = "Play soft."
    assert client.post("/curtain/", data=form).headers["Location"] == "/curtain/written/play"
    assert client.post("/curtain/", data=form, headers={"HX-Request": "true"}).json == {"ending": "play"}
    assert "Did: Play soft." in client.get("/score/2026-11-12").text
    assert (
        client.get("/plan/?week=2026-11-09").text.count("Make an appointment: thumb hurts,") == 3
    )  # once, in three drawings


def test_a_self_check_that_differs_leads_to_the_body(client):
    assert client.post("/body/self-checks", data={"check": "gentle_fist", "said": "same"}).status_code == 302
    differs = client.post("/body/self-checks", data={"check": "gentle_fist", "said": "differs"})
    assert "flag=catching" in differs.headers["Location"]
    assert client.post("/body/self-checks", data={"check": "pull_the_thumb", "said": "same"}).status_code == 404
    assert "Last: differs" in client.get("/body/self-checks").text


def test_what_marks_resemble_stands_on_the_body_page(client):
    places = ["thumb_tip_palm.left", "index_tip_palm.left", "middle_tip_palm.left"]
    form = {"places": places, "kind": "tingling", "intensity": "3", "timings": ["night"]}
    client.post("/body/", data=form)
    page = client.get("/body/").text
    assert "the usual area of the median nerve" in page and "Not a diagnosis; not reviewed" in page
    assert "Could also be" in page and "Write down next" in page and "Show it to" in page


def test_lists_are_found_by_their_words_and_escaped(app, client):
    write_session(client, question="<b>Why?</b>")
    assert "&lt;b&gt;Why?" in client.get("/record/lists?kind=question&search=why").text
    assert "Nothing holds these words" in client.get("/record/lists?search=never").text
    assert client.get("/record/lists?kind=secrets").status_code == 422
    add_player(app, "jonas")
    stranger = app.test_client()
    sign_in(stranger, "jonas")
    assert "Why?" not in stranger.get("/record/lists").text


def test_the_stand_takes_its_new_touches_without_scripts(client, clock):
    client.post("/play/start", data={"instrument": "bassoon", "block_kind": "technique"})
    session = re.search(r'data-session="(\w+)"', client.get("/play/").text)[1]

    def touch(kind: str, **payload: str):
        clock.on(seconds=5)
        return client.post(
            "/play/events", data={"uid": f"{kind}{clock.now:%H%M%S}", "session": session, "kind": kind, **payload}
        )

    assert touch("ladder", tempo="96", school="soft").status_code == 302
    page = words_of(client.get("/play/").text)
    assert " 96 " in page and "not clean" in page
    touch("run", clean="no")
    touch("run", clean="no")
    assert " 86 " in words_of(client.get("/play/").text)
    touch("mark", place="good")
    touch("rest")
    assert re.findall(r"[a-z]\.[A-Z]\w*", words_of(client.get("/play/").text)) == [], "a blank between sentences"
    touch("block")
    touch("stop")
    wrap = client.get("/play/").text
    assert "1 good, 0 errors" in wrap and "Rests skipped: 1." in wrap
