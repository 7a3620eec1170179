"""The score to take away: a drawing that stands by itself, pages of paper, and nothing asked of any network."""

import builtins
import io
import re
import socket
import zlib
from xml.etree import ElementTree

import pytest
from PIL import Image

from chirotend.formats import pdf, png
from chirotend.web import sheet
from tests.web.steps import furnish, write_session

SVG = "{http://www.w3.org/2000/svg}"


def unpacked(pdf: bytes) -> bytes:
    """What stands in the packed streams of a PDF."""
    packed = re.findall(rb"stream\r?\n(.*?)\r?\nendstream", pdf, re.DOTALL)
    return b"\n".join(zlib.decompressobj().decompress(p) for p in packed if p[:1] == b"x")


def written(client):
    write_session(client, minutes="60", kind="repertoire", effort="5")
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


def test_each_drawing_stands_by_itself_as_svg_and_png(client):
    ids = furnish(client)
    for address in [f"{kind}/{ids[kind]}" for kind in ("part", "programme", "trial", "report")] + ["body/2026-11-12"]:
        answer = client.get(f"/drawings/{address}.svg")
        root = ElementTree.fromstring(answer.data)
        style = root.find(f"{SVG}style").text
        classes = {c for e in root.iter() for c in (e.get("class") or "").split()}
        assert classes and not {c for c in classes if f".{c}" not in style}, address
        assert set(re.findall(r"url\(#([a-z-]+)\)", answer.text)) <= {e.get("id") for e in root.iter()}, address
        assert "Written by the player; not a medical record." in answer.text
        drawn = client.get(f"/drawings/{address}.png")
        assert drawn.mimetype == "image/png" and "attachment" in drawn.headers["Content-Disposition"]
        picture = Image.open(io.BytesIO(drawn.data))
        width, height = (float(root.get(side)) for side in ("width", "height"))
        assert picture.size == pytest.approx((2 * width, 2 * height), abs=2), address
        assert picture.convert("L").getextrema()[0] < 60, "it is drawn on"
        assert client.get(f"/drawings/{address}.gif").status_code == 404
    assert client.get("/drawings/body/no-day.svg").status_code == 404


def test_a_very_high_drawing_is_no_larger_than_a_picture_may_be():
    tall = pdf.from_html("<style>@page{size:100px 30000px;margin:0}</style><p>x", lambda name: b"")
    assert Image.open(io.BytesIO(png.of_page(tall, 2))).size == (40, 12_000)


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
    for address in ("/score/sheet.pdf", "/score/sheet.png", "/drawings/body/2026-11-12.png"):
        answer = client.get(address)
        assert answer.status_code == 501 and "choose “save as PDF”" in answer.text


def test_looks_on_paper_are_ink_on_white():
    assert "#2F5D83" not in re.findall(r"\.pencil-ring\{[^}]*\}", sheet.style())[-1]
