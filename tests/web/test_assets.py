"""Styles and scripts: one bundle, a name that changes with the content, kept for ever, small on the way."""

import brotli
import pytest

from chirotend.web import assets, styles


def test_what_a_page_names_is_there_and_kept_for_ever(client):
    text = client.get("/").text
    named = {part.split('"')[0] for part in text.split("/assets/")[1:]}
    assert any(name.endswith(assets.BUNDLE) for name in named) and any(name.endswith(".js") for name in named)
    for name in named:
        answer = client.get(f"/assets/{name}")
        assert answer.status_code == 200 and "immutable" in answer.headers["Cache-Control"]
        assert answer.headers["X-Content-Type-Options"] == "nosniff"


def test_the_bundle_is_its_parts_in_their_order_and_travels_small(client):
    answer = client.get(assets.url(assets.BUNDLE), headers={"Accept-Encoding": "br"})
    whole = brotli.decompress(answer.data)
    assert whole == styles.bundle(assets.STATIC).encode()
    assert len(answer.data) < len(whole) / 4 and answer.mimetype == "text/css"
    plain = client.get(assets.url(assets.BUNDLE), headers={"Accept-Encoding": "identity"})
    assert plain.data == whole and "Content-Encoding" not in plain.headers


def test_every_style_sheet_of_the_pages_is_in_the_bundle():
    """The urgent page and the card have one of their own: they must stand without the rest."""
    ships = {str(path.relative_to(assets.STATIC)) for path in (assets.STATIC / "css").rglob("*.css")}
    assert ships - {"css/urgent.css", "css/concert_card.css"} == {
        part for part in styles.sheets() if part.startswith("css/")
    }


def test_a_page_from_before_an_update_gets_todays_file_and_asks_again(client):
    answer = client.get("/assets/000000000000/css/tokens.css")
    assert answer.status_code == 200 and answer.headers["Cache-Control"] == "no-cache"


@pytest.mark.parametrize("name", ["../app.py", "css/../../app.py", "css/none.css", "", "css"])
def test_nothing_else_is_served(client, name):
    assert client.get(f"/assets/{assets.version()}/{name}").status_code == 404


def test_a_first_load_is_small(client):
    """Styles, scripts and two fonts of a first look at Today, as they travel."""
    text = client.get("/").text
    named = {part.split('"')[0] for part in text.split("/assets/")[1:]}
    sent = sum(len(client.get(f"/assets/{n}", headers={"Accept-Encoding": "br"}).data) for n in named)
    assert sent < 260_000


def test_what_any_cache_may_keep_holds_nobodys_cookie(client):
    page, sheet = client.get("/"), client.get(assets.url(assets.BUNDLE))
    assert "Set-Cookie" in page.headers and "Cookie" in page.headers["Vary"]
    assert "Set-Cookie" not in sheet.headers and "Cookie" not in sheet.headers["Vary"]


@pytest.mark.parametrize("name", ["/etc/passwd", "../app.py", "css/../../app.py"])
def test_no_other_file_is_read(name):
    with pytest.raises(FileNotFoundError):
        assets.content(name)
