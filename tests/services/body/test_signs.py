"""The page of a place, in words: what stands out, what passed, what cannot be told."""

import pytest

from chirotend.services.body import checks, signs
from chirotend.services.body.checks import TypedMarks
from chirotend.services.desk import NotThere


def test_an_empty_record_says_what_cannot_be_told(desk):
    page = signs.page(desk, "fingers", "left")
    assert "Nothing here stands out" in page.lead and "No trend can be told" in page.trend and page.asked == 0
    assert {b.said for b in page.before} == {signs.BEFORE_SAYS["cannot_tell"]} and page.place == "left fingers"
    assert page.timing == "Nothing was marked here."


def test_a_mark_is_a_stroke_of_its_day(desk):
    checks.write_marks(desk, TypedMarks(("thumb_base_joint.left",), "tension", 3, ("after",)))
    page = signs.page(desk, "wrist & thumb", "left")
    strokes = [s for s in page.wide.shapes if s.tag == "rect" and s.attrs["class"] == "ink-fill"]
    assert len(strokes) == 1 and page.weeks[-1].days.endswith("3")
    assert strokes[0].attrs["height"] == pytest.approx(130 * 0.3)


@pytest.mark.parametrize(("region", "side"), [("knee", "left"), ("fingers", "upper")])
def test_no_such_place_is_not_there(desk, region, side):
    with pytest.raises(NotThere):
        signs.page(desk, region, side)
