"""Reports against general libraries: the bundle by fhir.resources (R4B) 8.3, the page by pypdf 7.1."""

import base64
import io
import json
import re
from datetime import date

import pytest
from fhir.resources.R4B.bundle import Bundle
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from pypdf import PdfReader

from chirotend.core.body.zones import zones
from chirotend.core.record.words import SIDES, SYMPTOM_KINDS, TIMINGS
from chirotend.devices import camera
from chirotend.formats import fhir, png
from chirotend.formats.cells import UnreadableFile
from chirotend.formats.picture import made_again
from tests.conftest import add_player, sign_in
from tests.web.steps import write_session

WHY = "My left thumb wakes tight; two fingers tingled."


@pytest.fixture
def address(client):
    """A report with marks, a name in right-to-left letters among its questions, as its player has made it."""
    for day, zone in (("2026-10-01", "thumb_ball.left"), ("2026-11-10", "index_tip_palm.left")):
        mark = {"places": zone, "kind": "pain", "intensity": "2", "timings": "after", "day": day}
        client.post("/body/", data=mark)
    write_session(client)
    typed = {"audience": "clinician", "why": WHY, "question_1": "שלום, may I play?", "named": "yes"}
    answer = client.post("/record/reports/", data=typed)
    return answer.headers["Location"]


def test_the_page_is_one_with_its_text_title_fonts_and_structure(client, address):
    pdf = PdfReader(io.BytesIO(client.get(f"{address}/page.pdf").data))
    assert len(pdf.pages) == 1
    assert pdf.metadata.title.startswith("A player’s record, 2026-09-04 to 2026-11-12")
    text = re.sub(r"\s+", " ", pdf.pages[0].extract_text())
    for words in (WHY, "may I play?", "שלום"[::-1], "not a medical record", "no rule has been reviewed by a clinician"):
        assert words in text or words[::-1] in text, words
    root = pdf.trailer["/Root"]
    assert root["/MarkInfo"]["/Marked"]
    assert "/StructTreeRoot" in root
    assert "en" in root["/Lang"]
    fonts = [font.get_object() for font in pdf.pages[0]["/Resources"]["/Font"].values()]
    assert fonts
    for font in fonts:
        described = font["/DescendantFonts"][0].get_object()["/FontDescriptor"].get_object()
        assert {"/FontFile2", "/FontFile3"} & set(described), font["/BaseFont"]


def test_what_is_drawn_on_it_is_drawn_in_lines_and_not_filled_black(client, address):
    """Painted by pdfium: hands and body are white inside, the player’s usual is grey."""
    page = Image.open(io.BytesIO(png.of_page(client.get(f"{address}/page.pdf").data, 1))).convert("L")
    shades = page.histogram()
    assert sum(shades[:64]) / sum(shades) < 0.02
    fonts = PdfReader(io.BytesIO(client.get(f"{address}/page.pdf").data)).pages[0]["/Resources"]["/Font"].values()
    assert sum("DejaVu" in font["/BaseFont"] for font in fonts) <= 1, "only for letters that the own fonts lack"


def test_the_bundle_is_valid_and_holds_what_the_page_says(client, address):
    text = client.get(f"{address}/bundle.json").text
    bundle = Bundle.model_validate_json(text)
    kinds = [entry.resource.get_resource_type() for entry in bundle.entry]
    assert kinds[0] == "Patient"
    assert kinds[-1] == "DocumentReference"
    values = json.loads(client.get(f"{address}/page.json").text)
    marks = [e.resource for e in bundle.entry if e.resource.get_resource_type() == "Observation"][
        : len(values["marks"])
    ]
    assert [m.valueInteger for m in marks] == [round(m["intensity"]) for m in values["marks"]]
    assert bundle.entry[0].resource.name[0].text == values["who"] == "Ilse"
    document = base64.b64decode(json.loads(text)["entry"][-1]["resource"]["content"][0]["attachment"]["data"])
    assert document.startswith(b"%PDF")
    assert len({e.fullUrl for e in bundle.entry}) == len(bundle.entry)


WORDS = st.text(st.characters(codec="utf-8", exclude_categories=("C", "Z")), min_size=1, max_size=30)
DAYS = st.dates(min_value=date(1950, 1, 1)).map(date.isoformat)
MARKS = st.fixed_dictionaries(
    {
        "day": DAYS,
        "timing": st.sampled_from(TIMINGS),
        "zone": st.sampled_from(sorted(zones())),
        "side": st.sampled_from(SIDES),
        "kind": st.sampled_from(SYMPTOM_KINDS),
        "intensity": st.floats(0, 10),
    }
)
NUMBER = st.floats(-1e6, 1e6)
MEASURES = st.fixed_dictionaries(
    {"name": WORDS, "unit": st.just("") | WORDS, "first": NUMBER, "first_day": DAYS, "last": NUMBER, "last_day": DAYS}
)
WEEKS = st.fixed_dictionaries({"from": DAYS, "minutes": st.floats(0, 10_080)})
REPORTS = st.fixed_dictionaries(
    {
        "who": st.just("A player") | WORDS,
        "first": DAYS,
        "last": DAYS,
        "marks": st.lists(MARKS, max_size=3),
        "week_minutes": st.lists(WEEKS, max_size=3),
        "measures": st.lists(MEASURES, max_size=3),
    }
)


@given(REPORTS)
def test_the_bundle_of_any_report_is_valid(values):
    bundle = Bundle.model_validate_json(fhir.bundle(values, "2026-11-12T09:00:00+01:00", b"%PDF-1.7"))
    count = len(values["marks"]) + len(values["week_minutes"]) + 2 * len(values["measures"])
    assert [e.resource.get_resource_type() for e in bundle.entry].count("Observation") == count


def test_a_picture_that_is_cut_off_is_refused_after_a_page_was_made_too(client, address):
    """The library that sets pages has pictures read however little of them is there, unless it is told otherwise."""
    assert client.get(f"{address}/page.pdf").status_code == 200
    with pytest.raises(UnreadableFile, match="cut off"):
        made_again(camera.picture(camera.Pose())[:2000])


def test_without_her_consent_no_name_leaves(client):
    address = client.post("/record/reports/", data={"audience": "teacher"}).headers["Location"]
    for kind in ("page.json", "page.csv", "bundle.json"):
        assert "Ilse" not in client.get(f"{address}/{kind}").text, kind
    bundle = Bundle.model_validate_json(client.get(f"{address}/bundle.json").text)
    assert bundle.entry[0].resource.name is None


def test_nobody_else_opens_it(app, client, address):
    add_player(app, "jonas")
    stranger = app.test_client()
    sign_in(stranger, "jonas")
    for kind in ("", "/page.pdf", "/page.json", "/page.csv", "/bundle.json"):
        assert stranger.get(address + kind).status_code == 404
    assert stranger.post(f"{address}/show").status_code == 404
