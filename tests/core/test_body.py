"""Check values: methods.md section 8; the additions of clinical.md beside them."""

import csv
from importlib.resources import files

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.body.redflags import TIERS, red_flags, redflag_tier
from chirotend.core.body.stages import fry_grade
from chirotend.core.body.zones import regions, zone, zones
from chirotend.core.errors import Inconsistent, OutOfRange
from chirotend.core.judge.rules import MUTED_MP, MUTED_PP, muted_dose
from chirotend.core.record import Block, Check, Entry, Session
from tests.core.diary import Diary


@pytest.mark.parametrize(
    ("flags", "tier"),
    [
        ([], "none"),
        (["bilateral_hand_numbness", "gait_trouble"], "same_day"),
        (["night_tingling", "face_droop"], "emergency"),
        (["thenar_wasting"], "prompt"),
        (["breathless"], "emergency"),
        (["tendon_pain_after_new_medicine"], "same_day"),  # clinical.md
        (["pain_after_fall"], "same_day"),  # notes to the library drafts
    ],
)
def test_redflag_tier_check_values(flags, tier):
    assert redflag_tier(flags) == tier


@given(st.sets(st.sampled_from(sorted(red_flags()))), st.sampled_from(sorted(red_flags())))
def test_another_red_flag_never_lowers_the_tier(flags, more):
    assert TIERS.index(redflag_tier({*flags, more})) >= TIERS.index(redflag_tier(flags))


def test_unknown_codes_and_zones_are_refused():
    with pytest.raises(OutOfRange):
        redflag_tier(["headache"])
    with pytest.raises(OutOfRange):
        zone("left_ear")


@pytest.mark.parametrize(
    ("answers", "grade"),
    [
        ((True, 1, False, "none", False), 1),
        ((True, 3, False, "none", False), 2),
        ((True, 2, True, "all", False), 4),
        ((True, 1, True, "none", False), 3),
        ((True, 1, False, "some", False), 3),
        ((True, 1, False, "none", True), 5),
        ((False, 0, False, "none", False), 0),
    ],
)
def test_fry_grade(answers, grade):
    assert fry_grade(*answers) == grade


@pytest.mark.parametrize("answers", [(False, 0, True, "none", False), (False, 2, False, "none", False)])
def test_fry_grade_refuses_contradictions(answers):
    with pytest.raises(Inconsistent):
        fry_grade(*answers)


def test_the_zone_table_is_whole():
    assert len(zones()) == 84 and sum(z.sided for z in zones().values()) == 79
    for z in zones().values():
        assert z.region in regions() and z.view in ("palm", "back", "front") and z.name and z.anatomical_term
    assert zone("upper_lip").spoken("none") == "upper lip"


@pytest.mark.parametrize("table", ["call_rules", "red_flags", "red_flag_pairs", "zone_territories"])
def test_every_row_of_a_table_says_where_it_comes_from(table):
    text = files("chirotend.core").joinpath("tables", f"{table}.csv").read_text()
    for row in csv.DictReader(text.splitlines()):
        assert row["source"] and row["status"], row
        assert None not in row and None not in row.values(), row


@pytest.mark.parametrize(
    "make",
    [
        lambda: Entry("thumb_ball", "none", "pain", 3),
        lambda: Entry("upper_lip", "left", "pain", 3),
        lambda: Entry("thumb_ball", "left", "ache", 3),
        lambda: Entry("thumb_ball", "left", "pain", 11),
        lambda: Entry("thumb_ball", "left", "pain", 3, "forever"),
        lambda: Entry("thumb_ball", "left", "pain", 3, None, ("x",)),
        lambda: Check("a", None, "noon"),
        lambda: Block(-5),
        lambda: Block(10, kind="sleep"),
        lambda: Block(10, effort=11),
        lambda: Session("a", None, ()),
        lambda: Session("a", None, (Block(900), Block(900))),
        lambda: Block(10, dynamic="fff"),
        lambda: Block(10, tempo_bpm=4000),
    ],
)
def test_the_record_refuses_what_cannot_be(make):
    with pytest.raises(OutOfRange):
        make()


def test_doses_are_shares_of_her_usual_rounded_down():
    # by hand: 70 % of 100 min; 40 % of 100 min, at most 45 (clinical rules); 70 % of 45 is 31.5
    assert muted_dose(MUTED_MP, 100).minutes == 70 and muted_dose(MUTED_MP, 300).minutes == 210
    assert muted_dose(MUTED_PP, 100).minutes == 40 and muted_dose(MUTED_PP, 300).minutes == 45
    assert muted_dose(MUTED_MP, 45).minutes == 31 and muted_dose(MUTED_MP, 90).minutes == 63
    assert muted_dose(MUTED_PP, 15).block_min == 6  # no block is longer than the day
    assert muted_dose(MUTED_PP, None).minutes is None  # whose usual nobody knows has no limit of minutes


#: from the second clinical reading (from memory, a clinician must sign), written out here and not read from the table
SECOND_READING = {
    "emergency": (
        "worst_headache vision_loss collapse_or_fit sudden_weak_leg neck_injury_arm_signs arm_or_jaw_pain_sweating"
        " fever_with_infection"
    ),
    "same_day": (
        "bite jaw_pain_chewing_headache sudden_deafness finger_white_or_blue arm_pop_weakness swollen_calf"
        " clumsy_hands_unsteady"
    ),
}


@pytest.mark.parametrize(("tier", "code"), [(t, c) for t, codes in SECOND_READING.items() for c in codes.split()])
def test_the_signs_of_the_second_reading_end_the_day(tier, code):
    assert redflag_tier([code]) == tier
    call = Diary().steady().checks_in(0, "waking", flags=[code]).call()
    assert (call.call, call.row, call.urgent, call.dose.minutes) == ("tacet", 1, True, 0.0)
    assert call.findings[0].book == {"emergency": "now", "same_day": "today"}[tier]


@pytest.mark.parametrize(
    ("together", "tier"),
    [
        (["bilateral_hand_numbness", "gait_trouble"], "same_day"),
        (["both_hands_clumsy", "gait_trouble"], "same_day"),
        (["fever", "hot_swollen_joint"], "emergency"),
        (["fever", "spreading_redness_wound"], "emergency"),
        (["fever", "weight_loss"], "prompt"),
    ],
)
def test_signs_that_count_for_more_together(together, tier):
    assert redflag_tier(together) == tier
    call = Diary().steady().checks_in(0, "waking", flags=together[:1]).checks_in(1, "after", flags=together[1:]).call()
    assert call.findings[0].values["tier"] == tier if tier != "prompt" else not call.urgent
