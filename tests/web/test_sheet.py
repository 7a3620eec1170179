"""The score to take away: a drawing that stands by itself, pages of paper, and nothing asked of any network."""

import builtins
import re
import socket
import zlib
from xml.etree import ElementTree

import pytest

from chirotend.web import sheet

SVG = "{http://www.w3.org/2000/svg}"


def unpacked(pdf: bytes) -> bytes:
    """What stands in the packed streams of a PDF."""
    packed = re.findall(rb"stream\r?\n(.*?)\r?\nendstream", pdf, re.DOTALL)
    return b"\n".join(zlib.decompressobj().decompress(p) for p in packed if p[:1] == b"x")


def written(client):
    client.post("/record/session/new", data={"day": "2026-11-11", "minutes": "60", "kind": "repertoire", "effort": "5"})
    places = {"places": "thumb_base_joint.left", "kind": "numbness", "intensity": "3", "timings": "after"}
    client.post("/body/", data={**places, "day": "2026-11-11"})


@pytest.mark.parametrize("asked", ["weeks=2", "weeks=26&region=fingers", "view=years&until=2026"])
def test_the_drawing_stands_by_itself(client, asked):
    written(client)
    answer = client.get(f"/score/sheet.svg?{asked}")
    assert answer.mimetype == "image/svg+xml" and 'filename="score.svg"' in answer.headers["Content-Disposition"]
    root = ElementTree.fromstring(answer.data)
    style = root.find(f"{SVG}style").text
    assert "var(" not in style and "url(" not in answer.text and "href" not in answer.text
    classes = {c for e in root.iter() for c in (e.get("class") or "").split()}
    assert classes and not {c for c in classes - {"today"} if f".{c}" not in style}
    assert "Written by the player; not a medical record." in answer.text


def test_what_was_chosen_is_in_the_title(client):
    title = ElementTree.fromstring(client.get("/score/sheet.svg?region=neck+%26+shoulder").data).find(f"{SVG}title")
    assert title.text.endswith("(neck & shoulder)")


def test_the_pages_of_paper_are_set_without_any_network(client, monkeypatch):
    def refuse(*args: object) -> None:
        raise AssertionError("a network was asked")

    monkeypatch.setattr(socket.socket, "connect", refuse)
    written(client)
    for asked, pages in (("weeks=2", 1), ("weeks=26", 3), ("view=years", 1)):
        answer = client.get(f"/score/sheet.pdf?{asked}")
        assert answer.mimetype == "application/pdf" and answer.data.startswith(b"%PDF-")
        inside = unpacked(answer.data)
        assert len(re.findall(rb"/Type\s*/Page\b(?!s)", inside)) == pages
        assert b"Literata" in inside and b"Atkinson" in inside  # the fonts that ship are in it


def test_without_the_library_of_texts_the_page_says_what_to_do(client, monkeypatch):
    real = builtins.__import__

    def lacking(name, *rest):
        if name.startswith("weasyprint"):
            raise OSError("cannot load library 'libpango-1.0-0'")
        return real(name, *rest)

    monkeypatch.setattr(builtins, "__import__", lacking)
    answer = client.get("/score/sheet.pdf")
    assert answer.status_code == 501 and "choose “save as PDF”" in answer.text


def test_looks_on_paper_are_ink_on_white():
    assert "#2F5D83" not in re.findall(r"\.pencil-ring\{[^}]*\}", sheet.style())[-1]
