"""Check values of the fitting methods (from memory; recomputed by a separate script), their edges and refusals."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.errors import Degenerate, Inconsistent, MethodError, OutOfRange, TooFew
from chirotend.core.fit import hands, holes, statics, sticks, strings
from chirotend.core.fit.hands import Gap, Hand
from tests.reference import sticks as struck

#: an invented left hand of a low-string player
LEFT = Hand(
    "left",
    {
        "1-2": Gap(58, 66),
        "2-3": Gap(40, 50),
        "3-4": Gap(42, 52),
        "2-4": Gap(50, 60),
        "1-3": Gap(82, 98),
        "1-4": Gap(104, 120),
    },
)
STRAP, SQUARE, MOUTH = (
    (0.198, -0.198, -0.258819, 0.965926),
    (0.297, -0.297, 0.707107, 0.707107),
    (0.0, 0.0, 0.0, 1.0),
)


@pytest.mark.parametrize(("length", "n", "x"), [(650, 5, 163.05), (330, 12, 165), (1050, 7, 349.209)])
def test_where_a_note_lies(length, n, x):
    assert strings.fret_x(length, n) == pytest.approx(x, rel=1e-5)


def test_the_width_of_a_fingering_is_from_its_first_finger_to_its_last():
    widths = {key: strings.fingerings()[key].width for key in ("124", "134", "123", "1234")}
    assert widths == {"124": 2, "134": 2, "123": 2, "1234": 3}


@pytest.mark.parametrize(
    ("length", "n", "k", "span"), [(1050, 1, 2, 108.127), (1050, 7, 3, 111.498), (328, 0, 5, 82.2776)]
)
def test_spans(length, n, k, span):
    assert strings.interval_span(length, n, k) == pytest.approx(span, rel=1e-5)


def test_across_strings():
    assert strings.cross_string_reach(650, 1, 5, 4, 8.6, 10.8) == pytest.approx(131.756, rel=1e-5)


@given(st.floats(200, 1200), st.floats(0, 12), st.floats(0, 12))
def test_spans_add_up_and_shrink_up_the_string(length, n, k):
    whole = strings.interval_span(length, n, k)
    assert strings.interval_span(length, n, k / 2) + strings.interval_span(length, n + k / 2, k / 2) == pytest.approx(
        whole, abs=1e-9
    )
    assert strings.interval_span(length, n + 1, k) <= whole + 1e-9


def test_the_map_says_where_each_system_is_comfortable_and_where_to_switch():
    found = strings.reach_map(1050, LEFT)
    assert [(r.first, r.last, r.verdict) for r in found["124"]] == [(1, 1, "stretched"), (2, 12, "comfortable")]
    assert found["1234"][0].verdict == "out of reach"
    assert strings.comfortable_from(found["124"]) == 2
    assert strings.comfortable_from(found["134"]) == 5
    # the thumb's gaps were not measured: nothing is called comfortable that nobody knows
    assert {r.verdict for r in found["thumb"]} == {"out of reach", "stretched", "not measured"}
    assert strings.comfortable_from(found["thumb"]) is None


def test_a_gap_that_was_not_measured_is_not_judged():
    assert hands.asked_of(Hand("left"), "1-2", 60).verdict == "not measured"
    assert hands.worst(()) == "not measured"


@pytest.mark.parametrize(
    ("make", "error", "field"),
    [
        (lambda: Gap(70, 60), Inconsistent, "ease_mm"),
        (lambda: Gap(2, 60), OutOfRange, "ease_mm"),
        (lambda: Hand("middle"), OutOfRange, "side"),
        (lambda: Hand("left", span_mm=900), OutOfRange, "span_mm"),
        (lambda: Hand("left", {"5-6": Gap(20, 30)}), OutOfRange, "gaps"),
        (lambda: strings.fret_x(0, 5), OutOfRange, "L_mm"),
        (lambda: strings.fret_x(650, -1), OutOfRange, "n"),
        (lambda: strings.cross_string_reach(650, 1, 5, 12, 8, 10), OutOfRange, "strings_apart"),
        (lambda: hands.hand_norms("foot"), OutOfRange, "measure"),
        (lambda: holes.changed([holes.Hole("1", 0), holes.Hole("2", 20)], extension_mm={"2": 25}), Inconsistent, None),
        (lambda: holes.stroke_work_mJ(-1, 2), OutOfRange, "force_N"),
        (lambda: statics.carried(0.8, 90.5, 0.36, ()), OutOfRange, "phi_deg"),
        (lambda: statics.two_support(0.8, 0, 0.36, 0.39), Degenerate, "phi_deg"),
        (lambda: statics.two_support(0.8, 35, 0.36, 0.39, 4), OutOfRange, "s_S"),
        (lambda: statics.solve3(2.5, (0.2, -0.2), [MOUTH, SQUARE]), TooFew, "supports"),
        (lambda: statics.solve3(2.5, (0.2, -0.2), [MOUTH] * 4), OutOfRange, "supports"),
        (lambda: statics.solve3(2.5, (0.2, -0.2), [MOUTH, (1, 0, 0, 1), (2, 0, 0, 1)]), Degenerate, "supports"),
        (lambda: statics.solve3(2.5, (0.2, -0.2), [MOUTH, SQUARE, (1, 0, 0, 0)]), Degenerate, "supports"),
        (lambda: statics.direction(statics.Support("x", 0, "down"), 30), OutOfRange, "way"),
        (lambda: sticks.rod_about_fulcrum(0.055, 0.4, 0.4), OutOfRange, "a_m"),
        (lambda: struck.impact(0.01, 6, 1.2, 2), OutOfRange, "e"),
        (lambda: sticks.hand_cycle(0.055, 0.4, 0.1, 6, 0.8, 0), OutOfRange, "r_m"),
    ],
)
def test_what_cannot_be_is_refused_with_its_field(make, error, field):
    with pytest.raises(error) as refused:
        make()
    assert isinstance(refused.value, MethodError)
    assert field is None or refused.value.field == field


def test_a_percentile():
    assert hands.normal_percentile(21, 20.07, 1.35) == pytest.approx(75.4553, rel=1e-5)


def test_an_extension_key_and_a_smaller_scale_shorten_the_reach():
    row = [holes.Hole("1", 0), holes.Hole("2", 40), holes.Hole("3", 90)]
    assert [a.asked_mm for a in holes.asked_on(row, LEFT)] == [40, 50, 90]
    assert [a.asked_mm for a in holes.asked_on(holes.changed(row, 90), LEFT)] == pytest.approx([36, 45, 81])
    longer = holes.changed(row, extension_mm={"3": 12})
    assert [(a.pair, a.asked_mm) for a in holes.asked_on(longer, LEFT)] == [("1-2", 40), ("2-3", 38), ("1-3", 78)]


def test_thumb_and_mouth():
    bare = statics.two_support(0.8, 35, 0.36, 0.39)
    assert (bare.W_N, bare.thumb_N, bare.mouth_N) == pytest.approx((7.84532, 7.24183, 0.603486), rel=1e-5)
    assert bare.thumb_share_pct == pytest.approx(92.3077, rel=1e-5)
    strapped = statics.two_support(0.8, 35, 0.36, 0.39, 4, 0.38)
    assert (strapped.thumb_N, strapped.strap_share_pct) == pytest.approx((3.3444, 50.9858), rel=1e-4)


def test_three_supports():
    found = statics.solve3(2.5, (0.212, -0.212), [STRAP, SQUARE, MOUTH])
    assert found.W_N == pytest.approx(24.5166, rel=1e-5)
    assert found.forces_N == pytest.approx((17.694, 6.47644, 2.84603), rel=1e-4)
    assert found.share_vert_pct == pytest.approx((69.7121, 18.6793, 11.6086), rel=1e-4)
    bare = statics.solve3(2.5, (0.212, -0.212), [(0, 0, 1, 0), SQUARE, MOUTH])
    assert bare.forces_N == pytest.approx((-8.75004, 12.3744, 15.7666), rel=1e-4)


def test_the_ways_a_support_can_push():
    """By hand, at 30 degrees: along the vertical, the horizontal, and square to the axis on either side."""
    half, most = 0.5, math.sqrt(3) / 2
    ways = {"up": (0, 1), "sideways": (1, 0), "square": (-most, half), "square back": (most, -half)}
    for way, expected in ways.items():
        assert statics.direction(statics.Support("s", 0.1, way), 30) == pytest.approx(expected)
    with pytest.raises(OutOfRange):
        statics.direction(statics.Support("s", 0.1, "down"), 30)


def test_a_slack_strap_gives_way_to_the_spare():
    strap, hand = statics.Support("strap", 0.1, "strap", 60), statics.Support("hand", 0.9, "square")
    peg, grip = statics.Support("peg", 0.0, "up"), statics.Support("grip", 0.0, "sideways")
    # the peg carries it all: the strap below the hand would have to push
    found = statics.carried(3.0, 30, 0.04, (strap, hand, peg), spare=grip)
    assert found.slack
    assert set(found.forces_N) == {"grip", "hand", "peg"}
    higher = statics.Support("strap", 0.95, "strap", 60)
    assert not statics.carried(3.0, 30, 0.04, (higher, hand, peg), spare=grip).slack


@given(st.floats(1, 12), st.floats(5, 60), st.floats(0.2, 0.6), st.floats(0.0, 0.2))
def test_forces_balance_whatever_the_geometry(m, phi, s_g, hook):
    supports = (
        statics.Support("strap", hook, "strap", 5),
        statics.Support("left", 0.86, "square"),
        statics.Support("rest", 0.3, "square back"),
    )
    found = statics.carried(m, phi, s_g, supports)
    across = sum(found.forces_N[s.id] * statics.direction(s, phi)[0] for s in supports)
    up = sum(found.forces_N[s.id] * statics.direction(s, phi)[1] for s in supports)
    assert across == pytest.approx(0, abs=1e-6)
    assert up == pytest.approx(found.W_N)
    assert sum(found.shares_pct.values()) == pytest.approx(100)


def test_measured_from_the_lower_end_the_published_examples_come_out_the_same():
    upright = statics.carried_upright(0.8, 35, 0.66 - 0.36, 0.66 - 0.39, 0.66, 0.66 - 0.38, 4)
    assert (upright.forces_N["thumb"], upright.forces_N["mouth"]) == pytest.approx((3.3444, 0.500922), rel=1e-4)
    lines = statics.carried(
        2.5,
        45,
        0.7 - 0.2998,
        (
            statics.Support("strap", 0.7 - 0.28, "strap", -15),
            statics.Support("thumb", 0.7 - 0.42, "square"),
            statics.Support("mouth", 0.7, "up"),
        ),
    )
    assert lines.forces_N["strap"] == pytest.approx(17.694, rel=2e-3)
    assert lines.forces_N["thumb"] == pytest.approx(6.47644, rel=5e-3)


def test_a_moment():
    assert statics.joint_moment_Nm(7.24, 55) == pytest.approx(0.398, abs=1e-3)


def test_sticks():
    rod = sticks.rod_about_fulcrum(0.055, 0.406, 0.135)
    assert (rod.I, rod.tip_mass_kg, rod.zero_shock_a_m) == pytest.approx((0.00100982, 0.0137501, 0.135333), rel=1e-5)
    assert sticks.rod_about_fulcrum(0.055, 0.406, 0).I == pytest.approx(0.00302199, rel=1e-5)
    blow = struck.impact(0.0137, 6, 0.8, 2)
    assert (blow.J_Ns, blow.F_peak_N, blow.F_mean_N, blow.energy_back) == pytest.approx(
        (0.14796, 116.208, 73.98, 0.64), rel=1e-5
    )
    assert struck.impact(0.0137, 6, 0, 2).F_peak_N == pytest.approx(64.5597, rel=1e-5)
    assert struck.fulcrum_impulse(0.055, 0.406, 0.1, 0.15) == pytest.approx(0.0441933, rel=1e-5)
    assert struck.fulcrum_impulse(0.055, 0.406, 0.2, 0.15) == pytest.approx(-0.143256, rel=1e-5)
    cycle = sticks.hand_cycle(0.055, 0.406, 0.135, 6, 0.8, 0.08)
    assert (cycle.free, cycle.choked, cycle.stop_impulse_Ns) == pytest.approx(
        (0.00447152, 0.0402437, 0.223576), rel=1e-5
    )
    assert 10 * sticks.N_PER_LBF == pytest.approx(44.4822, rel=1e-6)


@given(st.floats(0.02, 0.2), st.floats(0.3, 0.5), st.floats(0.05, 0.2))
def test_a_measured_balance_in_the_middle_changes_nothing_and_the_zero_shock_point_is_without_shock(m, length, a):
    assert sticks.rod_about_fulcrum(m, length, a, length / 2) == sticks.rod_about_fulcrum(m, length, a)
    for balance in (None, length * 0.4):
        free = sticks.rod_about_fulcrum(m, length, a, balance).zero_shock_a_m
        if 0 <= free < length:
            assert struck.fulcrum_impulse(m, length, free, 1.0, balance) == pytest.approx(0, abs=1e-9)
