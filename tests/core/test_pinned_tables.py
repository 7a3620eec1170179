"""The numbers and tiers of the safety rules, written out by hand from the clinical rules and the published methods.

Nothing here is read from the files it checks: whoever changes a table changes it here too and says so.
"""

import pytest

from chirotend.core.body.redflags import red_flag_pairs, red_flags
from chirotend.core.judge.rules import rules

#: clinical rules (first and second reading) and methods 8; from memory, a clinician must sign
TIERS = {
    "emergency": """
        chest_pain breathless face_droop speech_trouble sudden_weakness sudden_one_sided_numbness
        sudden_severe_neck_or_head_pain bladder_bowel_loss saddle_numbness cold_pale_hand trauma_deformity
        tense_forearm_severe_pain deep_cut sudden_dropped_wrist worst_headache vision_loss collapse_or_fit
        sudden_weak_leg neck_injury_arm_signs arm_or_jaw_pain_sweating fever_with_infection
    """,
    "same_day": """
        hot_swollen_joint finger_sheath_infection arm_swelling_blue sudden_tendon_loss spreading_redness_wound
        wrist_or_finger_drop tendon_pain_after_new_medicine pain_after_fall bite jaw_pain_chewing_headache
        sudden_deafness finger_white_or_blue arm_pop_weakness swollen_calf clumsy_hands_unsteady
    """,
    "prompt": """
        constant_numbness spreading_numbness bilateral_hand_numbness thenar_wasting both_hands_clumsy dropping_things
        progressive_weakness gait_trouble weight_loss growing_lump several_swollen_joints fever
        curling_only_when_playing
    """,
    "routine": "night_pain night_tingling symptoms_over_2_weeks",
}
#: rows of the call table: 1 for the first two tiers, 2 where playing stops, 8 for fever, 0 for an appointment only
ONLY_AN_APPOINTMENT = {"weight_loss", "growing_lump", "several_swollen_joints"}
PAIRS = {
    ("bilateral_hand_numbness", "gait_trouble"): "same_day",
    ("both_hands_clumsy", "gait_trouble"): "same_day",
    ("fever", "hot_swollen_joint"): "emergency",
    ("fever", "spreading_redness_wound"): "emergency",
    ("fever", "finger_sheath_infection"): "emergency",
}


def test_every_urgent_sign_has_its_tier_and_its_row():
    expected = {code: tier for tier, codes in TIERS.items() for code in codes.split()}
    assert {code: flag.tier for code, flag in red_flags().items()} == expected
    for code, flag in red_flags().items():
        row = 1 if flag.tier in ("emergency", "same_day") else 8 if code == "fever" else 2
        if flag.tier == "routine" or code in ONLY_AN_APPOINTMENT:
            row = 0
        assert flag.row == row, code


def test_every_pair_has_its_tier():
    assert {tuple(sorted(p.codes)): p.tier for p in red_flag_pairs()} == {tuple(sorted(k)): v for k, v in PAIRS.items()}


#: clinical rules, the table of the call, the doses and the way back; architecture, starting numbers; judgement
CALL = {
    "version": 2,
    "usual_days": 28,
    "usual_range_days": 42,
    "usual_range_ends_before": 7,
    "usual_range_low": 10,
    "usual_range_high": 90,
    "usual_range_min_days": 7,
    "single_event_hours": 48,
    "tacet_pain": 5,
    "tacet_pain_hours": 24,
    "tacet_stage": 4,
    "tacet_stage_week": 5,
    "tacet_repeat_days": 14,
    "pp_stage": 3,
    "pp_tingling_nights": 2,
    "pp_tingling_playing_days": 3,
    "pp_morning_rise": 2,
    "mp_pain": 3,
    "mp_tightness": 3,
    "mp_tightness_rise": 2,
    "mp_days_with_load": 3,
    "mp_days_without_load": 5,
    "load_days": 3,
    "enough_days": 3,
    "off_days_half": 7,
    "off_days_quarter": 28,
    "return_step_min": 10,
    "mp_share": 70,
    "mp_most_min": 120,
    "mp_block_min": 20,
    "mp_rest_min": 5,
    "mp_tempo": 80,
    "pp_share": 40,
    "pp_most_min": 45,
    "pp_block_min": 10,
    "pp_rest_min": 10,
    "pp_tempo": 60,
    "clear_below_rise": 2,
    "clear_wakings": 2,
    "clear_wakings_nerve": 5,
    "cusum_m": 14,
    "cusum_k": 0.5,
    "cusum_cap": 2,
    "cusum_gate": 1,
    "cusum_h": 7,
    "cusum_h_per_ln": 2,
    "cusum_h_faint": 5,
    "judge_days": 180,
    "judge_load_days": 90,
}


def test_there_is_no_number_of_the_call_but_these():
    assert set(rules()) == set(CALL)


@pytest.mark.parametrize(("key", "value"), CALL.items())
def test_every_number_of_the_call_is_the_one_of_the_clinical_rules(key, value):
    assert rules()[key] == value
