"""Check values: methods.md 7 (recomputed there by a separate script), unless another source stands beside."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.errors import Degenerate, NotANumber, OutOfRange
from chirotend.core.measure.angles import (
    angle3,
    arm_elevation,
    camera_turn,
    level,
    off_square,
    time_at_angle,
    trunk_inclination,
    wrist_deviation,
    wrist_flexion,
)
from chirotend.core.measure.limits import angle_limit, beside, is_tracking_error, iso11226, range_of
from chirotend.core.measure.rula import Asked, rula, scored
from tests.reference.turned_camera import foreshortened


def near(value):
    return pytest.approx(value, rel=1e-5, abs=1e-9)


def test_angles_by_their_check_values():
    assert angle3((100, 0), (0, 0), (0, 100)) == near(90)
    assert angle3((0.2, 0.5), (0.5, 0.5), (0.7, 0.3), 1280, 720) == near(150.642)
    hand = {"elbow": (0, 100), "wrist": (0, 50), "mcp3": (10, 10)}
    assert wrist_deviation("right", **hand) == near(14.0362)
    assert wrist_deviation("left", **hand) == near(-14.0362)
    assert wrist_deviation("left", **hand, mirrored=True) == near(14.0362)
    assert wrist_flexion((0, 0), (100, 0), (140, -30), (0, 1)) == near(-36.8699)
    assert wrist_flexion((0, 0), (100, 0), (140, 20), (0, 1)) == near(26.5651)
    assert wrist_flexion((0, 0), (100, 0), (140, 20), (0, -1)) == near(-26.5651)  # the palm on the other side
    assert trunk_inclination((200, 500), (260, 280), "right") == near(15.2551)
    assert trunk_inclination((200, 500), (260, 280), "left") == near(-15.2551)
    assert arm_elevation((300, 200), (360, 300)) == near(30.9638)
    assert arm_elevation((300, 200), (300, 300)) == near(0)
    assert foreshortened(30, 30) == near(26.5651)
    assert foreshortened(40, 60) == near(22.7605)


def test_what_no_angle_can_be_made_of():
    with pytest.raises(Degenerate, match="pt"):
        angle3((1, 1), (1, 1), (2, 2))
    with pytest.raises(Degenerate, match="palm_dir"):
        wrist_flexion((0, 0), (100, 0), (140, 20), (1, 0))
    with pytest.raises(OutOfRange, match="yaw_deg"):
        foreshortened(30, 90)
    with pytest.raises(OutOfRange, match="facing"):
        trunk_inclination((0, 0), (1, 1), "up")


@given(st.floats(-170, 170), st.floats(0, 360), st.floats(20, 900), st.floats(20, 900), st.floats(-500, 500))
def test_an_angle_built_with_numpy_is_found_again(bend, turn, first, second, shift):
    """Source: the construction itself, with complex numbers of numpy."""
    forearm = first * np.exp(1j * math.radians(turn))
    hand = second * np.exp(1j * math.radians(turn + bend))
    elbow = complex(shift, -shift)
    wrist, mcp3 = elbow + forearm, elbow + forearm + hand
    a, b, c = ((float(z.real), float(z.imag)) for z in (elbow, wrist, mcp3))
    assert angle3(a, b, c) == pytest.approx(180 - abs(bend), abs=1e-6)
    palm = np.exp(1j * math.radians(turn + 90))
    assert wrist_flexion(a, b, c, (float(palm.real), float(palm.imag))) == pytest.approx(bend, abs=1e-6)
    assert wrist_deviation("right", a, b, c) == pytest.approx(bend, abs=1e-6)


@given(st.floats(0, 85), st.floats(0, 60))
def test_a_turned_camera_is_told_by_the_shoulders(lean, turn):
    """Source: a figure of usual build turned in space and seen from far away (numpy)."""
    trunk, breadth = 288.0, 259.0
    up = trunk * math.cos(math.radians(lean))
    along = trunk * math.sin(math.radians(lean)) * math.cos(math.radians(turn))
    hip, near_side = (0.0, 0.0), (along, -up)
    seen_trunk = math.hypot(along, up)
    far = (along + breadth * math.sin(math.radians(turn)) * seen_trunk / trunk, -up)
    assert camera_turn(near_side, far, hip) == pytest.approx(turn, abs=1e-6)
    assert trunk_inclination(hip, near_side, "right") == pytest.approx(foreshortened(lean, turn), abs=1e-6)


def test_lines_and_clips():
    assert level((0, 0), (100, 10)) == near(5.71059)
    assert off_square((0, 0), (0, 100), (-50, 40), (50, 58)) == near(10.2040)
    found = time_at_angle([30, 34, 36, 20], 33)
    assert (found.past_pct, found.median, found.most) == (50, 32, 36)
    assert time_at_angle([-50, -48.6, 0, 33], 32.7, 48.6).past_pct == 50
    with pytest.raises(OutOfRange):
        time_at_angle([], 33)


def test_published_limits():
    """Keir, Bach, Hudes & Rempel 2007: extension 32.7, flexion 48.6, ulnar 14.5, radial 21.8, from memory."""
    bend, side = angle_limit("wrist_bend"), angle_limit("wrist_side")
    assert [bend.edge(40), bend.edge(-40), side.edge(10), side.edge(-10)] == [32.7, 48.6, 14.5, 21.8]
    assert angle_limit("trunk").edge(-5) is None
    with pytest.raises(OutOfRange):
        angle_limit("up")
    zones = [
        iso11226("trunk", 40),
        iso11226("head", 55),
        iso11226("upper_arm", 75),
        iso11226("trunk", -5, full_support=True),
        iso11226("trunk", 20),
        iso11226("trunk", 60),
        iso11226("upper_arm", -5, full_support=True),
        iso11226("trunk", 61, full_support=True),
    ]
    assert [(z.zone, z.max_hold_min) for z in zones] == [
        ("time limited", near(2.5)),
        ("time limited", near(4.5)),
        ("not recommended", None),
        ("acceptable", None),
        ("acceptable", None),
        ("time limited", near(1)),
        ("not recommended", None),
        ("not recommended", None),
    ]
    assert range_of("wrist", "extension").deg == 70
    assert (is_tracking_error("wrist", "extension", 91), is_tracking_error("wrist", "extension", 90)) == (True, False)
    assert [beside(d, 33) for d in (27.9, 28, 34, 38, 38.1)] == ["under", "near", "near", "near", "past"]


RULA = ("upper_arm", "lower_arm", "wrist", "twist", "muscle_arm", "force_arm")
RULA += ("neck", "trunk", "legs", "muscle_body", "force_body")


@pytest.mark.parametrize(
    ("scores", "found"),
    [
        ((1, 1, 1, 1, 0, 0, 1, 1, 1, 0, 0), (1, 1, 1, 1, 1, 1)),
        ((2, 1, 4, 1, 1, 0, 2, 2, 1, 1, 0), (4, 2, 5, 3, 4, 2)),
        ((3, 3, 4, 1, 1, 1, 4, 2, 1, 1, 0), (5, 5, 7, 6, 7, 4)),
        ((4, 1, 2, 1, 1, 0, 3, 1, 1, 1, 0), (4, 3, 5, 4, 5, 3)),
    ],
)
def test_rula(scores, found):
    r = rula(**dict(zip(RULA, scores, strict=True)))
    assert (r.A, r.B, r.C, r.D, r.grand, r.action_level) == found


def test_rula_refuses_and_never_falls():
    """Property 7b, 7c of methods.md: no table falls as a part score rises."""
    good = dict.fromkeys(RULA, 1) | {"muscle_arm": 0, "force_arm": 0, "muscle_body": 0, "force_body": 0}
    with pytest.raises(NotANumber):
        rula(**good | {"wrist": 1.5})
    with pytest.raises(OutOfRange):
        rula(**good | {"neck": 7})
    for name, most in (("upper_arm", 6), ("lower_arm", 3), ("wrist", 4), ("twist", 2), ("neck", 6), ("trunk", 6)):
        grades = [rula(**good | {name: n}).grand for n in range(1, most + 1)]
        assert grades == sorted(grades)


def test_a_posture_is_scored_from_its_angles():
    """By hand from the worksheet: arm 30° (2), elbow 80° (1), wrist 20° (3), neck 15° (2), trunk 10° (2)."""
    assert scored(30, 80, 20, 15, 10, Asked()) == rula(2, 1, 3, 1, 0, 0, 2, 2, 1, 0, 0)
    asked = Asked(shoulder_raised=True, wrist_sideways=True, neck_turned=True, held_or_repeated=True)
    assert scored(30, 80, 20, 15, 10, asked) == rula(3, 1, 4, 1, 1, 0, 3, 2, 1, 1, 0)
    assert scored(10, 110, 0, -5, 0, Asked()) == rula(1, 2, 1, 1, 0, 0, 4, 1, 1, 0, 0)
