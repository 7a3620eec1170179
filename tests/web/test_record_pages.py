"""What is hers stays hers; an export comes back."""

import io

from tests.conftest import add_player, sign_in
from tests.web.steps import a_laid_block, plan_uid


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
