"""Values measured on her: one way in, one way back, through undo and through a file."""

import pytest

from chirotend.core.errors import OutOfRange
from chirotend.devices.listener import answers
from chirotend.formats.cells import UnreadableFile
from chirotend.services.record import corrections, kept, measured
from chirotend.services.technique import least_pressure
from chirotend.store.models import MeasurementRow
from chirotend.store.repository import as_document


def test_a_value_is_kept_read_back_and_undone(context):
    measured.keep(context, "tempo.top_clean", 96, instrument="bassoon")
    measured.keep(context, "tempo.top_clean", 84, instrument="contrabassoon")
    measured.keep(context, "hand.span", 214, hand="left")
    tempi = {(r.instrument, r.value, r.unit, r.version) for r in measured.kept(context, "tempo.top_clean")}
    assert tempi == {("bassoon", 96, "bpm", 1), ("contrabassoon", 84, "bpm", 1)}
    assert [r.value for r in measured.kept(context, "tempo.*", instrument="bassoon")] == [96]
    assert [r.value for r in measured.kept(context, "hand.*", hand="right")] == []
    corrections.undo(context, corrections.offered(context).number)
    assert measured.kept(context, "hand.*") == []


def test_a_value_of_an_older_version_is_no_longer_compared(context):
    measured.keep(context, "hand.span", 214, hand="left")
    (row,) = context.store.repository(MeasurementRow).all()
    row.version = 0
    assert measured.kept(context, "hand.*") == []


@pytest.mark.parametrize(("method", "value"), [("hand.span", 400), ("hand.colour", 1)])
def test_what_cannot_be_measured_is_refused(context, method, value):
    with pytest.raises(OutOfRange):
        measured.keep(context, method, value)


@pytest.mark.parametrize("change", [{"value": 5000.0}, {"unit": "cm"}, {"method": "hand.aura"}, {"version": 2}])
def test_a_file_brings_only_what_could_have_been_measured(context, change):
    measured.keep(context, "hand.span", 214, hand="left")
    (row,) = context.store.repository(MeasurementRow).all()
    document = as_document(row)
    kept.check(context, "measurements", document)
    with pytest.raises(UnreadableFile):
        kept.check(context, "measurements", {**document, **change})


def test_values_with_another_kit_are_another_series(context):
    """A new reed moves the press at once: beside the old one it would look like a sign."""
    for reed, threshold in (("old reed", 60), ("new reed", 90), ("", 75)):
        typed = {"task": "key", "part": "left thumb", "what": "low F", "instrument": "bassoon", "kit": reed}
        uid = least_pressure.begin(context, typed)
        for number, each in enumerate(answers(threshold, 2.0, 3)):
            least_pressure.answer(context, uid, number, each.spoke)
    assert sorted(measured.followed(context)) == [
        f"pressure.wasted.key|bassoon|left|low F, left thumb{kit}" for kit in ("", ", new reed", ", old reed")
    ]
