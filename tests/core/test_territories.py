"""Hand drawings and nerve territories: the published classes branch by branch, and the table of usual territories."""

import re
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.body import patterns, territories
from chirotend.core.body.patterns import Felt, Pattern
from chirotend.core.body.zones import zones
from chirotend.core.errors import OutOfRange
from tests.reference.nerves import nerve_zone


@pytest.mark.parametrize(
    ("sensory", "pain", "palm", "dorsum", "drawn"),
    [
        # methods notes, section 8 (Katz & Stirrat 1990, from memory)
        ([1, 2], [], "none", False, "classic"),
        ([2, 3, 4], [], "whole", False, "probable"),
        ([3], [], "none", False, "possible"),
        ([4, 5], [], "ulnar_only", True, "unlikely"),
        # every branch, drawn case by case
        ([1, 2, 3], [], "none", False, "classic"),
        ([2, 3], [1], "none", False, "classic"),
        ([1, 3, 4, 5], [], "none", False, "classic"),
        ([1, 2, 3], [], "radial", False, "probable"),
        ([1, 2], [], "whole", False, "probable"),
        ([1, 2], [3], "radial", False, "probable"),
        ([1, 2], [], "ulnar_only", False, "possible"),
        ([1, 2, 3], [], "none", True, "possible"),
        ([1, 2, 3], [], "whole", True, "possible"),
        ([1], [], "none", False, "possible"),
        ([2], [1], "none", False, "possible"),
        ([], [1], "none", False, "possible"),
        ([], [1, 2, 3], "none", False, "possible"),
        ([3], [], "radial", False, "possible"),
        ([3], [], "none", True, "possible"),
        ([1, 4, 5], [], "none", False, "possible"),
        ([], [], "none", False, "unlikely"),
        ([], [], "whole", True, "unlikely"),
        ([4], [], "none", False, "unlikely"),
        ([5], [4], "none", False, "unlikely"),
        ([], [5], "radial", False, "unlikely"),
    ],
)
def test_hand_drawing_classes(sensory, pain, palm, dorsum, drawn):
    assert territories.katz_class(sensory, pain, palm, dorsum) == drawn


@pytest.mark.parametrize(
    ("digit", "face", "half", "nerve"),
    [
        (4, "palmar", "radial", "median"),
        (4, "palmar", "ulnar", "ulnar"),
        (4, "dorsal_proximal", "radial", "superficial radial"),
        (2, "dorsal_proximal", None, "superficial radial"),
        (2, "dorsal_distal", None, "median"),
        (5, "dorsal_distal", None, "ulnar"),
        (1, "palmar", None, "median"),
        (1, "dorsal_distal", None, "median"),
    ],
)
def test_nerve_zones(digit, face, half, nerve):
    assert nerve_zone(digit, face, half) == nerve


@pytest.mark.parametrize("bad", [(4, "palmar", None), (6, "palmar", None), (2, "side", None), (True, "palmar", None)])
def test_a_part_that_is_none_is_refused(bad):
    with pytest.raises(OutOfRange):
        nerve_zone(*bad)
    with pytest.raises(OutOfRange):
        territories.katz_class([7], [], "none", False)


def expected(place: territories.Place) -> tuple[set[str], str]:
    """The territories and part of a zone by the published rule (methods 8), worked out from its name alone."""
    zone = place.zone
    if zone.endswith("_pulley"):
        finger = zone.removesuffix("_pulley")
        nerves = {"ring": {"median", "ulnar"}, "little": {"ulnar"}}.get(finger, {"median"})
        return nerves, {"ring": "palm_whole", "little": "palm_ulnar"}.get(finger, "palm_radial")
    whole = {
        "thumb_ball": ({"palmar branch of the median"}, "palm_radial"),
        "palm_centre": ({"palmar branch of the median"}, "palm_radial"),
        "little_ball": ({"ulnar"}, "palm_ulnar"),
        "thumb_base_joint": ({"superficial radial"}, "dorsum"),
        "web_thumb": ({"superficial radial"}, "dorsum"),
        "hand_back_thumb": ({"superficial radial"}, "dorsum"),
        "hand_back_little": ({"dorsal branch of the ulnar"}, "dorsum"),
    }
    if zone in whole:
        return whole[zone]
    digit = ["thumb", "index", "middle", "ring", "little"].index(zone.partition("_")[0]) + 1
    assert place.digit == digit
    face = "palmar" if "_palm" in zone else "dorsal_proximal" if zone.endswith("_knuckle") else "dorsal_distal"
    half = {"thumbhalf": ("radial",), "littlehalf": ("ulnar",)}.get(zone.rpartition("_")[2], ("radial", "ulnar"))
    nerves = {nerve_zone(digit, face, h if digit == 4 else None) for h in half}
    return nerves, "dorsum" if face == "dorsal_proximal" else "digit"


def test_every_zone_of_the_hand_agrees_with_the_published_rule():
    hand = {
        z for z in zones() if re.match("(thumb|index|middle|ring|little)_(tip|mid|base_palm|end|knuckle|pulley)", z)
    }
    assert hand <= set(territories.places()), "each part of every finger has its territory, the ring finger's back too"
    for zone, place in territories.places().items():
        assert zone in zones() and set(place.nerves) <= set(territories.TERRITORIES)
        assert (set(place.nerves), place.part) == expected(place), zone


def test_a_knuckle_is_the_back_of_the_hand_and_where_halves_meet_both_nerves_count():
    finger = [("thumb_tip_palm", "tingling"), ("index_tip_palm", "numbness")]
    assert territories.drawn_class([*finger, ("index_knuckle", "tingling")]) == "possible"
    assert territories.drawn_class([*finger, ("ring_pulley", "tingling")]) == "probable"
    shared = [("little_tip_palm", "tingling"), ("ring_pulley", "tingling")]
    assert territories.territory(shared).nerve == "ulnar"
    assert territories.territory([("ring_end_back", "tingling"), ("middle_end_back", "tingling")]).nerve == "median"


def test_marks_of_a_hand_are_read_as_a_drawing():
    finger = [("thumb_tip_palm", "tingling"), ("index_tip_palm", "numbness")]
    assert territories.drawn_class(finger) == "classic"
    assert territories.drawn_class([*finger, ("palm_centre", "tingling")]) == "probable"
    assert territories.drawn_class([*finger, ("little_ball", "tingling")]) == "possible"
    assert territories.drawn_class([*finger, ("hand_back_thumb", "pain")]) == "possible"
    assert territories.drawn_class([("thumb_tip_palm", "tension"), ("elbow_outer", "pain")]) == "unlikely"


def test_a_territory_needs_two_places_and_two_thirds():
    three = [("thumb_tip_palm", "tingling"), ("index_tip_palm", "tingling"), ("middle_tip_palm", "numbness")]
    found = territories.territory(three)
    assert (found.nerve, len(found.zones), found.share) == ("median", 3, 1.0)
    assert territories.territory([*three, ("little_tip_palm", "tingling")]).share == 0.75
    assert territories.territory(three[:1]) is None
    assert territories.territory([*three[:2], ("little_tip_palm", "tingling"), ("little_mid_palm", "numbness")]) is None
    assert territories.territory([("thumb_tip_palm", "pain")] * 3) is None


THUMB = Pattern(
    "thumb",
    frozenset({"thumb_base_joint", "thumb_ball", "web_thumb"}),
    frozenset({"pain"}),
    frozenset({"swelling"}),
    frozenset(),
    "one or both",
    "routine",
)
LIFT = Pattern(
    "lift",
    frozenset({"forearm_outer_high", "elbow_outer"}),
    frozenset({"pain", "weakness"}),
    frozenset({"loss_of_control"}),
    frozenset({"playing"}),
    "one",
    "prompt",
)
BOTH = Pattern(
    "both",
    frozenset({"forearm_outer_high", "forearm_inner_high"}),
    frozenset({"tension"}),
    frozenset(),
    frozenset(),
    "both",
    "routine",
)


def felt(
    zone: str, side: str = "left", kind: str = "pain", timing: str = "playing", flags: tuple[str, ...] = ()
) -> Felt:
    return Felt(zone, side, kind, timing, flags)


def test_a_pattern_needs_two_places_of_one_side_or_one_with_its_flag():
    assert patterns.resemblances([felt("thumb_ball")], [THUMB]) == ()
    assert patterns.resemblances([felt("thumb_ball"), felt("web_thumb", "right")], [THUMB]) == ()
    (found,) = patterns.resemblances([felt("thumb_ball"), felt("web_thumb")], [THUMB])
    assert (found.pattern, found.side, found.overlap) == ("thumb", "left", pytest.approx(0.8))
    assert patterns.resemblances([felt("thumb_ball", flags=("swelling",))], [THUMB])[0].zones == ("thumb_ball",)


def test_a_pressing_pattern_is_not_called_up_by_an_ache():
    ache = [felt("forearm_outer_high"), felt("elbow_outer")]
    assert patterns.resemblances(ache, [LIFT]) == ()
    weak = [felt("forearm_outer_high", kind="weakness"), felt("elbow_outer")]
    assert patterns.resemblances(weak, [LIFT])[0].pattern == "lift"
    assert patterns.resemblances([felt("elbow_outer", flags=("loss_of_control",), timing="night")], [LIFT]) == ()


def test_a_pattern_of_both_sides_needs_both():
    left = [felt("forearm_outer_high", kind="tension"), felt("forearm_inner_high", kind="tension")]
    assert patterns.resemblances(left, [BOTH]) == ()
    assert patterns.resemblances([*left, felt("forearm_outer_high", "right", "tension")], [BOTH])[0].side == "both"


@given(
    st.lists(
        st.builds(
            felt,
            st.sampled_from(sorted({*THUMB.zones, *LIFT.zones, *BOTH.zones, "ring_tip_palm"})),
            st.sampled_from(["left", "right", "none"]),
            st.sampled_from(["pain", "tension", "weakness"]),
        )
    )
)
def test_overlap_is_a_share_and_the_closest_comes_first(marks):
    found = patterns.resemblances(marks, [THUMB, LIFT, BOTH])
    overlaps = [r.overlap for r in found]
    assert overlaps == sorted(overlaps, reverse=True)
    assert all(patterns.LEAST_OVERLAP <= o <= 1 for o in overlaps)


def test_a_mark_that_a_pattern_does_not_explain_makes_it_less_close():
    """Common practice, no source: twice the product of both shares by their sum (the harmonic mean)."""
    wide = replace(THUMB, id="wide", zones=THUMB.zones | {"a", "b", "c", "d", "e"})
    marks = [felt("thumb_ball"), felt("web_thumb"), felt("ring_tip_palm")]
    close, far = patterns.resemblances(marks, [wide, THUMB])
    explained, covered = 2 / 3, 2 / len(THUMB.zones)
    assert (close.pattern, far.pattern) == ("thumb", "wide")
    assert close.overlap == pytest.approx(2 * explained * covered / (explained + covered))
    more = [felt(z) for z in sorted(zones()) if z not in wide.zones][:20]
    assert patterns.resemblances([*marks, *more], [wide, THUMB]) == ()


def test_the_most_urgent_tier_is_shown():
    assert patterns.soonest([]) == "routine"
    assert patterns.soonest(["prompt", "routine", "same_day"]) == "same_day"


def test_at_most_three_resemblances_are_named():
    alike = [replace(THUMB, id=f"thumb {n}") for n in range(5)]
    assert len(patterns.resemblances([felt("thumb_ball"), felt("web_thumb")], alike)) == 3
