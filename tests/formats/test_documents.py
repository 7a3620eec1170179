"""Everything as JSON: each document comes back the same, and a wrong one is refused with its place."""

import json

import pytest
from hypothesis import given

from chirotend.core.record import Record
from chirotend.formats import documents, json_record
from chirotend.formats.cells import UnreadableFile
from tests.formats.test_csv_log import records

TABLES = ("aims", "kit")
NOTHING: dict = {name: [] for name in TABLES}


@given(records())
def test_every_document_comes_back_the_same(record):
    text = json_record.write_record({"name": "Ilse"}, record, NOTHING)
    player, again, kept = json_record.read_record(text.encode(), "all.json", TABLES)
    assert (player, again, kept) == ({"name": "Ilse"}, record, NOTHING)
    assert json_record.write_record(player, again, kept) == text


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        ({"version": 8}, "reads up to version 7"),
        ({"sessions": [3]}, "sessions number 1: expected an object"),
        ({"checks": [{"uid": "a", "day": "2026-11-12", "timing": "noon"}]}, "checks number 1"),
        (
            {"checks": [{"uid": "a", "day": "2026-11-12", "timing": "waking", "mood": 3}]},
            "unexpected keyword argument 'mood'",
        ),
        ({"days": [{"day": "2026-13-12"}]}, "days number 1"),
        (
            {
                "sessions": [
                    {"uid": "a", "day": "2026-11-12", "blocks": [{"minutes": 9}], "start_utc": "2026-11-12T10:00"}
                ]
            },
            "offset",
        ),
        ({"sessions": [{"uid": "a", "day": "2026-11-12", "blocks": [{"minutes": -9}]}]}, "minutes"),
    ],
)
def test_a_wrong_document_is_refused_with_its_place(change, sentence):
    everything = {**json.loads(json_record.write_record({}, Record(), NOTHING)), **change}
    with pytest.raises(UnreadableFile, match=sentence):
        json_record.read_record(json.dumps(everything).encode(), "all.json", TABLES)


def test_instants_are_written_in_utc():
    assert documents.instant_text(documents.instant("2026-11-12T10:30:00+01:00")) == "2026-11-12T09:30:00Z"
    assert documents.instant_text(None) is None and documents.instant(None) is None
