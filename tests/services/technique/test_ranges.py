"""The range of joints: typed or from a picture, by side and what it was read from, never by a hand that is spared."""

from dataclasses import replace
from datetime import timedelta

import pytest

from chirotend.devices import camera
from chirotend.formats.probe_data import Range
from chirotend.library.probes import movements
from chirotend.services.body import checks
from chirotend.services.context import FieldError
from chirotend.services.record import measured
from chirotend.services.technique import probes, ranges
from tests.services.technique.test_posture import taken

TYPED = {"movement": "wrist_back", "hand": "left", "deg": "60", "by": "level"}


def on(context, days: int):
    return replace(context, now=context.now + timedelta(days=days), worked_out={})


def test_a_reading_is_said_beside_the_one_before_and_the_other_side(context):
    assert ranges.line(context).sentence.startswith("How far do wrist")
    ranges.keep(context, TYPED)
    ranges.keep(context, {**TYPED, "hand": "right", "deg": "61"})
    later = on(context, 14)
    ranges.keep(later, {**TYPED, "deg": "53.5"})
    page = ranges.ranges_page(later)
    assert page.headline == "Left wrist bent back: 54°."
    assert page.beside.startswith("About as on Thursday 12 November: two readings can be out by 7° together.")
    assert "The right side goes 8° further." in page.beside and "in two weeks" in page.next
    last = on(context, 28)
    ranges.keep(last, {**TYPED, "deg": "40"})
    page = ranges.ranges_page(last)
    assert "14° less than on" in page.beside and "someone licensed" in page.next
    values = [row.value for row in measured.kept(last, "joint.range", "left")]
    assert values == [60, 53.5, 40] and ranges.line(last).value == "40°"
    assert [s.text for s in page.wide.shapes if s.text][:3] == ["0°", "35°", "70°"]


def test_what_was_read_from_another_thing_is_joined_to_none(context):
    ranges.keep(context, TYPED)
    later = on(context, 14)
    ranges.keep(later, {**TYPED, "deg": "40", "by": "protractor"})
    page = ranges.ranges_page(later)
    assert (page.headline, page.beside) == ("Left wrist bent back: 40°.", "")


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        ({"movement": "ear"}, "movement"),
        ({"hand": ""}, "hand"),
        ({"by": "eye"}, "by"),
        ({"deg": ""}, "deg"),
        ({"deg": "181"}, "deg"),
        ({"deg": "150"}, "deg"),
        ({"picture": "none"}, "picture"),
    ],
)
def test_what_cannot_be_read_is_refused_at_its_field(context, typed, field):
    with pytest.raises(FieldError) as refused:
        ranges.keep(context, {**TYPED, **typed})
    assert refused.value.field == field
    assert probes.of_kind(context, Range) == []


def test_both_ends_are_taken_from_two_pictures_of_the_day(context, folder):
    back, palm = (taken(context, folder, camera.Pose(wrist_back=deg)) for deg in (62, -71))
    offered = dict(ranges.ranges_page(context).pictures)
    assert offered[back] == "right hand: wrist bent back 62°"
    assert offered[palm] == "right hand: wrist bent to the palm 71°"
    typed = {"movement": "wrist_palm", "hand": "right", "by": "level", "deg": "", "picture": palm}
    ranges.keep(context, typed)
    (kept,) = probes.of_kind(context, Range)
    assert (kept.data.deg, kept.data.by) == (pytest.approx(71, abs=0.5), "picture")
    for wrong, field in (({"hand": "left"}, "hand"), ({"picture": back}, "movement")):
        with pytest.raises(FieldError) as refused:
            ranges.keep(context, {**typed, **wrong})
        assert refused.value.field == field
    assert ranges.ranges_page(on(context, 1)).pictures == ()


def test_a_hand_that_a_muted_day_spares_is_not_moved_to_its_end(context):
    checks.write_marks(context, checks.TypedMarks(["thumb_ball.left"], "pain", 4, ["playing"]))
    assert list(probes.spared_today(context)) == ["left"]
    with pytest.raises(FieldError) as refused:
        ranges.keep(context, TYPED)
    assert refused.value.field == "hand"
    assert ranges.ranges_page(context).hand == "right"
    ranges.keep(context, {**TYPED, "hand": "right"})


def test_every_movement_says_how_it_is_read_and_what_most_people_reach():
    assert all(m.how and m.usual.deg > 0 for m in movements().values())
