"""Takes over HTTP: sent, heard in ranges, kept, thrown away with their file; nobody else's."""

import io
import re

from tests.conftest import add_player, sign_in

WEBM = b"\x1aE\xdf\xa3" + bytes(range(256)) * 20


def send(client, data: bytes = WEBM, media: str = "audio/webm"):
    form = {"title": "Low F", "instrument": "bassoon", "seconds": "61.5", "sound": (io.BytesIO(data), "take", media)}
    return client.post("/play/takes", data=form, content_type="multipart/form-data")


def test_a_take_is_sent_heard_kept_and_thrown_away(app, client):
    assert send(client).status_code == 302
    page = client.get("/play/takes").text
    uid = re.search(r"/play/takes/(\w+)/sound", page)[1]
    assert "Low F" in page and "kept for a day only" in page
    heard = client.get(f"/play/takes/{uid}/sound", headers={"Range": "bytes=4-9"})
    assert heard.status_code == 206 and heard.data == WEBM[4:10] and heard.mimetype == "audio/webm"
    client.post(f"/play/takes/{uid}/keep")
    assert ", kept" in client.get("/play/takes").text
    add_player(app, "jonas")
    stranger = app.test_client()
    sign_in(stranger, "jonas")
    assert stranger.get(f"/play/takes/{uid}/sound").status_code == 404
    assert stranger.post(f"/play/takes/{uid}/discard").status_code == 404
    blobs = app.extensions["database"].blobs
    assert len(list(blobs.iterdir())) == 1
    assert client.post(f"/play/takes/{uid}/discard").status_code == 302
    assert list(blobs.iterdir()) == []


def test_what_is_no_sound_is_refused_and_deleting_everything_deletes_sounds(app, client):
    assert send(client, b"not sound").status_code == 422
    assert send(client, WEBM, "text/html").status_code == 422
    assert "empty or broken" in send(client, b"").text
    send(client)
    client.post("/record/delete", data={"sure": "delete"})
    assert list(app.extensions["database"].blobs.iterdir()) == []
