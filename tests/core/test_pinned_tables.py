"""The numbers and tiers of the safety rules, written out by hand from the clinical rules and the published methods.

Nothing here is read from the files it checks: whoever changes a table changes it here too and says so.
"""

import hashlib
from dataclasses import asdict, astuple, fields

import pytest

from chirotend.core.body.redflags import red_flag_pairs, red_flags
from chirotend.core.body.territories import places
from chirotend.core.judge.evidence import WATCHES
from chirotend.core.judge.rules import MUTED_MP, MUTED_PP, level_rules, rules, rules_of_version
from chirotend.core.judge.signs.chain import sign_rules
from chirotend.core.judge.signs.own_threshold import watch_threshold
from chirotend.core.plan.rests import presets
from chirotend.core.plan.week import plan_rules
from chirotend.core.session.ladder import MANNERS, ladder_rules, manner_rules
from chirotend.core.tables import numbers, rows

#: clinical rules (first and second reading) and methods 8; from memory, a clinician must sign
TIERS = {
    "emergency": """
        chest_pain breathless face_droop speech_trouble sudden_weakness sudden_one_sided_numbness
        sudden_severe_neck_or_head_pain bladder_bowel_loss saddle_numbness cold_pale_hand trauma_deformity
        tense_forearm_severe_pain deep_cut sudden_dropped_wrist worst_headache vision_loss collapse_or_fit
        sudden_weak_leg neck_injury_arm_signs arm_or_jaw_pain_sweating fever_with_infection
        pregnant_swelling_head
    """,
    "same_day": """
        hot_swollen_joint finger_sheath_infection arm_swelling_blue sudden_tendon_loss spreading_redness_wound
        wrist_or_finger_drop tendon_pain_after_new_medicine pain_after_fall bite jaw_pain_chewing_headache
        sudden_deafness finger_white_or_blue arm_pop_weakness swollen_calf clumsy_hands_unsteady
        after_operation_worse knock_on_thinners
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
            row = 4 if code.startswith("night_") else 0
        assert flag.row == row, code


def test_every_pair_has_its_tier():
    assert {tuple(sorted(p.codes)): p.tier for p in red_flag_pairs()} == {tuple(sorted(k)): v for k, v in PAIRS.items()}


#: clinical rules, the table of the call, the doses and the way back; architecture, starting numbers; judgement
CALL = {
    "version": 9,
    "baseline_days": 28,
    "baseline_high_percentile": 80,
    "baseline_high_from_days": 8,
    "baseline_high_to_days": 63,
    "baseline_high_min_days": 14,
    "apart_days": 42,
    "baseline_range_days": 42,
    "baseline_range_ends_before": 7,
    "baseline_range_low": 10,
    "baseline_range_high": 90,
    "baseline_range_min_days": 7,
    "baseline_growth": 10,
    "single_event_hours": 48,
    "tacet_pain": 5,
    "tacet_pain_hours": 24,
    "tacet_stage": 4,
    "tacet_stage_week": 5,
    "tacet_repeat_days": 14,
    "tacet_tightness": 7,
    "pp_stage": 3,
    "stage_pain": 2,
    "pp_tingling_nights": 2,
    "pp_tingling_playing_days": 3,
    "pp_morning_rise": 2,
    "first_morning_pain": 4,
    "woken_tightness": 3,
    "mp_pain": 3,
    "brief_nerve_days": 7,
    "mp_tightness": 3,
    "mp_tightness_rise": 2,
    "mp_days_with_load": 3,
    "mp_days_without_load": 5,
    "load_days": 3,
    "rate_days": 91,
    "rate_chance": 0.01,
    "sign_caps_days": 14,
    "sign_quiet_days": 7,
    "sign_quiet_mark": 1,
    "heavy_week_days": 3,
    "often_mark": 3,
    "often_days": 14,
    "often_within": 21,
    "long_level_days": 14,
    "long_level_book_days": 21,
    "enough_days": 3,
    "off_days_half": 7,
    "off_days_quarter": 28,
    "return_step_min": 10,
    "mp_share": 70,
    "mp_most_min": 0,
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
    "clear_wakings_mp": 1,
    "strong_once_skips": 1,
    "clear_wakings_nerve": 5,
    "unclear_resets": 0,
    "off_day_counts": 1,
    "other_day_counts": 0.5,
    "evening_counts": 0.5,
    "release_settles_signs": 0,
    "cusum_m": 14,
    "cusum_k": 0.5,
    "cusum_cap": 2,
    "cusum_gate": 1,
    "judge_days": 180,
    "judge_load_days": 90,
}


def test_there_is_no_number_of_the_call_but_these():
    assert set(numbers("call_rules")) == set(CALL)


#: what each change of version 7 is switched off by; version 6 is kept for comparison
EARLIER = {
    "clear_wakings_mp": 2,
    "strong_once_skips": 0,
    "apart_days": 0,
    "version": 6,
    "baseline_high_percentile": 0,
    "baseline_growth": 0,
    "tacet_tightness": 11,
    "stage_pain": 0,
    "first_morning_pain": 0,
    "woken_tightness": 0,
    "brief_nerve_days": 0,
    "rate_chance": 1,
    "sign_caps_days": 0,
    "sign_quiet_days": 0,
    "often_days": 0,
    "long_level_days": 0,
    "mp_most_min": 120,
    "off_day_counts": 0,
    "unclear_resets": 1,
    "other_day_counts": 0,
    "evening_counts": 0,
    "release_settles_signs": 1,
}


def test_the_earlier_version_differs_in_these_numbers_only():
    assert numbers("call_rules", "version_6") == CALL | EARLIER
    with rules_of_version(6):
        assert rules().version == 6 and rules().off_day_counts == 0 and level_rules(MUTED_MP).most_min == 120
    assert rules().version == 9


@pytest.mark.parametrize(("key", "value"), CALL.items())
def test_every_number_of_the_call_is_the_one_of_the_clinical_rules(key, value):
    level = {"mp": MUTED_MP, "pp": MUTED_PP}.get(key[:2])
    part = key[3:]
    kept = level_rules(level) if level and hasattr(level_rules(level), part) else rules()
    assert getattr(kept, part if kept is not rules() else key) == value


#: how a week is laid (ours, common practice), minutes unless said
PLAN = {
    "unit_min": 10,
    "piece_least_min": 20,
    "piece_most_min": 40,
    "rest_min": 5,
    "session_most_min": 75,
    "buffer_min": 45,
    "performance_day_most_min": 30,
    "day_before_most_min": 60,
    "light_day_most_min": 15,
    "no_baseline_day_min": 60,
    "new_instrument_days": 14,
    "new_instrument_step_min": 5,
    "dense_performances": 3,
    "dense_days": 4,
    "new_hard_share": 50,
    "peak_price": 0.02,
    "busy_price": 0.00001,
    "piece_price": 0.5,
}
#: the tempo ladder (ours, common practice): clean runs, steps in per cent, beats per minute
LADDER = {
    "soft_runs": 3,
    "soft_up": 4,
    "soft_down": 10,
    "edge_runs": 1,
    "edge_up": 8,
    "edge_down": 6,
    "look_back": 3,
    "top_runs": 3,
    "lowest": 20,
    "highest": 400,
}
#: domain rules, where schools disagree about breaks: (play, rest) minutes, whether the bar shrinks
PRESETS = {
    "fixed": (((30, 5), (20, 15)), False),
    "listen": (((5, 5),), False),
    "shrinking": (((30, 5),), True),
    "quarter": (((15, 4),), False),
}


@pytest.mark.parametrize(("table", "expected"), [("plan_rules", PLAN), ("ladder", LADDER)])
def test_every_number_of_a_table_is_the_one_written_out_here(table, expected):
    assert numbers(table) == expected


def test_every_number_of_a_table_reaches_its_attribute():
    assert {f.name: getattr(plan_rules(), f.name) for f in fields(plan_rules())} == PLAN
    schools = {f"{s}_{f.name}": getattr(manner_rules(s), f.name) for s in MANNERS for f in fields(manner_rules(s))}
    shared = {f.name: getattr(ladder_rules(), f.name) for f in fields(ladder_rules())}
    assert {**schools, **shared} == LADDER


def test_every_preset_of_rests_is_the_one_written_out_here():
    assert {p.id: (p.bars, p.shrinks) for p in presets().values()} == PRESETS


#: methods 8 (`nerve_zone`, the hand drawing's classes) with the two shared places of the second reading
NERVES = {
    "median": """
        thumb_tip_palm thumb_base_palm index_tip_palm index_mid_palm index_base_palm middle_tip_palm middle_mid_palm
        middle_base_palm ring_tip_palm_thumbhalf ring_mid_palm_thumbhalf ring_base_palm_thumbhalf index_pulley
        middle_pulley thumb_end_back index_end_back middle_end_back index_mid_back middle_mid_back
    """,
    "ulnar": """
        ring_tip_palm_littlehalf ring_mid_palm_littlehalf ring_base_palm_littlehalf little_tip_palm little_mid_palm
        little_base_palm little_pulley little_ball little_end_back little_mid_back little_knuckle
    """,
    "median/ulnar": "ring_pulley ring_end_back ring_mid_back",
    "palmar branch of the median": "thumb_ball palm_centre",
    "superficial radial": "thumb_knuckle index_knuckle middle_knuckle thumb_base_joint web_thumb hand_back_thumb",
    "superficial radial/ulnar": "ring_knuckle",
    "dorsal branch of the ulnar": "hand_back_little",
}
DIGITS = {"thumb": 1, "index": 2, "middle": 3, "ring": 4, "little": 5}


def expected_part(zone: str) -> str:
    if zone.endswith("_pulley") or zone in ("thumb_ball", "palm_centre", "little_ball"):
        return {"ring_pulley": "palm_whole", "little_pulley": "palm_ulnar", "little_ball": "palm_ulnar"}.get(
            zone, "palm_radial"
        )
    on_the_back = zone.endswith("_knuckle") or zone.startswith(("web", "hand_back", "thumb_base_joint"))
    return "dorsum" if on_the_back else "digit"


def test_every_zone_of_the_hand_has_its_nerve_its_digit_and_its_part():
    expected = {zone: nerve for nerve, zones in NERVES.items() for zone in zones.split()}
    assert {z: "/".join(p.nerves) for z, p in places().items()} == expected
    for zone, place in places().items():
        assert place.part == expected_part(zone), zone
        on_a_digit = place.part == "digit" or zone.endswith("_knuckle")
        assert place.digit == (DIGITS[zone.split("_")[0]] if on_a_digit else 0), zone


#: the recipe of the early signs as it was handed over: scalars, states (kind, level, share), priors and weights
SIGNS = {
    "strongest": 8,
    "guard": 0.5,
    "guard_gap_1": 0.65,
    "guard_gap_2": 0.75,
    "guard_gap_3": 0.85,
    "nerve_prior": 0.3,
    "nerve_share": 0.4,
    "nerve_scale": 1.5,
    "nerve_power": 0.7,
    "speaks_level": 1.5,
    "noise_sd": 1.3,
    "silent_least": 0.3,
    "silent_more": 0.4,
    "silent_scale": 1.5,
    "character": 0.28,
    "character_most": 4,
    "rare_share": 0.6,
    "rare_days": 300,
    "often_days": 25,
    "passes": 0.25,
    "begins_days": 240,
    "slow_up": 0.15,
    "slow_down": 0.08,
    "fast_up": 0.5,
    "fast_down": 0.05,
    "ends": 0.05,
    "baseline_weight": 5,
    "character_weight": 6,
    "joins_after": 7,
    "first_days": 14,
    "half_lasting": 0.5,
    "sum_weight": 0.35,
    "quiet_days": 14,
    "since_days": 28,
    "since_near": 0.5,
    "faint_below": 1.2,
    "own_threshold_from_days": 60,
    "record_ends_days": 21,
    "lately_days": 14,
    "lately_asked": 3,
    "not_so_within_days": 365,
    "not_so_from": 2,
    "not_so_step": 0.5,
    "not_so_most": 1.0,
    "threshold_watched": 12,
}
#: first, low, high, above her record: set on irritation, a seed of its own
WATCH_THRESHOLDS = {"calmer": (2.8, 2.3, 3.0, 1.0), "usual": (1.8, 1.3, 2.2, 0.9), "earlier": (1.1, 0.5, 1.8, 0.0)}
STATES = [("passing", 1, 0.55), ("passing", 2, 0.30), ("passing", 3.5, 0.15)]
STATES += [("lasting", level, None) for level in (0.5, 1, 1.5, 2, 3, 4, 5.5, 7)]
STRENGTHS = (0.86, 0.06, 0.035, 0.02, 0.012, 0.006, 0.004, 0.002, 0.001)
CHARACTERS = (0.55, 0.09, 0.13, 0.03, 0.13, 0.03, 0.02, 0.02)
WEIGHTS = (0, 0.7, 1, 1.4, 1.5, 2, 2.3, 2.6)


def test_every_number_of_the_signs_is_the_one_decided_on():
    assert numbers("sign_rules") == SIGNS and asdict(sign_rules()) == SIGNS
    assert {watch: astuple(watch_threshold(watch)) for watch in WATCHES} == WATCH_THRESHOLDS
    kept = [(r["kind"], float(r["level"]), float(r["share"]) if r["share"] else None) for r in rows("sign_states")]
    assert kept == STATES
    usual = [(r["of"], int(r["value"]), float(r["prior"]), r["weight"]) for r in rows("sign_baseline")]
    assert usual[:9] == [("strength", n, prior, "") for n, prior in enumerate(STRENGTHS)]
    assert [(of, n, p, float(w)) for of, n, p, w in usual[9:]] == [
        ("character", n, *both) for n, both in enumerate(zip(CHARACTERS, WEIGHTS, strict=True))
    ]


#: raised with every change to a rule or number of the call; the digest is of the tables it rests on
VERSION, DIGEST = 9, "b1dc50371f8e29ed"


def test_a_changed_table_of_the_call_raises_the_version_of_the_rules():
    ruling = ("key", "value", "version_6", "code", "codes", "tier", "row", "kind", "level", "share", "of", "prior")
    ruling += ("weight", "watch", "first", "low", "high", "above_record")
    tables = [
        rows(name)
        for name in (
            "call_rules",
            "red_flags",
            "red_flag_pairs",
            "sign_rules",
            "sign_states",
            "sign_baseline",
            "sign_watches",
        )
    ]
    kept = [[{k: v for k, v in row.items() if k in ruling} for row in table] for table in tables]
    digest = hashlib.sha256(repr(kept).encode()).hexdigest()[:16]
    assert (rules().version, digest) == (VERSION, DIGEST), "raise the version, say why in the changelog, pin both here"
