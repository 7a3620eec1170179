"""Technique over HTTP: long files in the background, a broken one leaves nothing, an odd record is refused."""

import io
import json

import pytest

from chirotend.formats.cells import UnreadableFile
from chirotend.services.account import accounts
from chirotend.services.record import kept as rows
from chirotend.services.technique import reading
from tests.web.steps import probes, words_of


def kept(client) -> list[dict]:
    return json.loads(client.get("/record/export.json").data)["probes"]


@pytest.mark.parametrize(
    ("path", "field", "name", "words"),
    [
        ("/technique/trace", "trace", "band.csv", "no trace that can be read"),
        ("/technique/evenness", "sound", "low F.wav", "broken"),
    ],
)
def test_a_long_broken_file_says_so_and_leaves_nothing(client, app, monkeypatch, path, field, name, words):
    monkeypatch.setattr(reading, "AT_ONCE_BYTES", 10)
    data = b"RIFF" + bytes(4000)
    form = {"instrument": "bassoon", "figure": "trill", field: (io.BytesIO(data), name)}
    answer = client.post(path, data=form)
    page = client.get(answer.headers["Location"])
    assert page.status_code == 200 and words in words_of(page.text)
    assert kept(client) == [] and list(app.extensions["database"].blobs.iterdir()) == []


def test_an_odd_probe_in_a_record_is_refused_by_name(client, app):
    for path, files, form in probes():
        assert client.post(path, data={**form, **files}).status_code == 302
    record = json.loads(client.get("/record/export.json").data)
    by_kind = {row["kind"]: row for row in record["probes"]}
    odd = (
        ("pressure", {"task": "luck"}, "no task"),
        ("posture", {"template": "luck"}, "not those of"),
        ("posture", {"points": {"ear": [0.5, 0.5]}}, "not those of"),
        ("evenness", {"levels": [-20.0]}, "1 levels where there should be"),
        ("evenness", {"lengths": [1.0, 1.0, 1.0]}, "3 lengths where there should be 2"),
    )
    with app.extensions["database"].open_db() as db:
        context = accounts.context_of(db, accounts.the_only_account(db), app.extensions["clock"]())
        for row in record["probes"]:
            rows.check(context, "probes", row)
        for kind, changed, words in odd:
            row = {**by_kind[kind], "data": {**by_kind[kind]["data"], **changed}}
            with pytest.raises(UnreadableFile, match=words):
                rows.check(context, "probes", row)


def test_a_picture_is_private_and_goes_when_it_is_taken_out(client, app):
    path, files, form = probes()[2]
    client.post(path, data={**form, **files})
    uid = kept(client)[0]["uid"]
    assert client.get(f"/technique/file/{uid}").mimetype == "image/jpeg"
    client.post(f"/technique/probe/{uid}/delete")
    assert client.get(f"/technique/file/{uid}").status_code == 404 and kept(client) == []
    client.post("/record/delete", data={"sure": "delete"})
    assert list(app.extensions["database"].blobs.iterdir()) == []
