"""Reach, carrying and sticks against handbooks and general solvers."""

import math

import numpy as np
import pytest
import sympy
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import linprog, lsq_linear

from chirotend.core.fit import hands, statics, sticks, strings
from tests.reference.sticks import fulcrum_impulse


@given(st.floats(300, 1100), st.integers(0, 24))
def test_notes_lie_where_equal_temperament_puts_them(length, n):
    """Equal temperament: n semitones multiply the frequency by 2^(n/12); a string's frequency is as 1 / its length."""
    sounding = length - strings.fret_x(length, n)
    assert length / sounding == pytest.approx(2 ** (n / 12))
    assert 1200 * math.log2(length / sounding) == pytest.approx(100 * n, abs=1e-6)  # cents


def test_a_minor_third_at_seven_asks_three_per_cent_more_than_a_whole_tone_at_one():
    """Methods notes, section 11 (a separate script): ratio 1.0312 whatever the length, equal at 7.53."""
    for length in (1041.4, 1050, 1060):
        ratio = strings.interval_span(length, 7, 3) / strings.interval_span(length, 1, 2)
        assert ratio == pytest.approx(1.0312, abs=5e-5)
        assert strings.interval_span(length, 7.53, 3) == pytest.approx(strings.interval_span(length, 1, 2), rel=5e-4)


def test_guitar_frets_against_the_rule_of_eighteen():
    """Luthiers' old rule: each fret takes 1/17.817 of what is left (general handbooks, from memory)."""
    left = 650.0
    for n in range(1, 13):
        left -= left / 17.817
        assert strings.fret_x(650, n) == pytest.approx(650 - left, abs=0.02)


def test_three_supports_solved_exactly_by_sympy():
    m, g = sympy.Rational(5, 2), sympy.Rational("9.80665")
    a, b, c = sympy.symbols("a b c")
    root = sympy.sqrt(2) / 2
    lines = [(0, 0, 0, 1), (sympy.Rational("0.297"), -sympy.Rational("0.297"), root, root), (0, 0, 1, 0)]
    forces = (a, b, c)
    across = sum(f * line[2] for f, line in zip(forces, lines, strict=True))
    up = sum(f * line[3] for f, line in zip(forces, lines, strict=True)) - m * g
    moment = sum(f * (x * v - y * u) for f, (x, y, u, v) in zip(forces, lines, strict=True))
    exact = sympy.solve([across, up, moment - sympy.Rational("0.212") * m * g], forces)
    found = statics.solve3(2.5, (0.212, -0.212), [tuple(float(v) for v in line) for line in lines])
    assert found.forces_N == pytest.approx([float(exact[f]) for f in forces])


@given(st.floats(0.5, 12), st.floats(5, 60), st.floats(0.2, 0.7), st.floats(0, 0.15), st.floats(0.75, 1.0))
@settings(max_examples=40)
def test_three_supports_against_a_general_least_squares_solver(m, phi, s_g, hook, hand):
    supports = (
        statics.Support("strap", hook, "strap", 5, 0.03),
        statics.Support("left", hand, "square"),
        statics.Support("rest", 0.3, "square back"),
    )
    points = [statics.on_axis(phi, s.s_m, s.off_axis_m) for s in supports]
    ways = [statics.direction(s, phi) for s in supports]
    rows = np.array(
        [
            [u for u, _ in ways],
            [v for _, v in ways],
            [x * v - y * u for (x, y), (u, v) in zip(points, ways, strict=True)],
        ]
    )
    weight = m * 9.80665
    target = np.array([0, weight, weight * statics.on_axis(phi, s_g)[0]])
    general = lsq_linear(rows, target, tol=1e-14)
    found = statics.carried(m, phi, s_g, supports)
    assert list(found.forces_N.values()) == pytest.approx(list(general.x), rel=1e-6, abs=1e-6)


def test_two_supports_against_linear_programming():
    """Vertical forces and moments about the mouth as equalities of a general solver."""
    weight = 0.8 * 9.80665
    solved = linprog(
        [0, 0], A_eq=[[1, 1], [0.39, 0]], b_eq=[weight - 4, weight * 0.36 - 4 * 0.38], bounds=[(None, None)] * 2
    )
    found = statics.two_support(0.8, 35, 0.36, 0.39, 4, 0.38)
    assert (found.thumb_N, found.mouth_N) == pytest.approx(tuple(solved.x))


@given(st.floats(0.01, 0.5), st.floats(0.2, 1.0))
def test_rods_against_handbook_formulas(m, length):
    """Engineering handbooks: uniform rod about its end mL²/3, about its middle mL²/12; centre of percussion at 2L/3."""
    assert sticks.rod_about_fulcrum(m, length, 0).I == pytest.approx(m * length**2 / 3)
    assert sticks.rod_about_fulcrum(m, length, length / 2).I == pytest.approx(m * length**2 / 12)
    assert sticks.rod_about_fulcrum(m, length, 0).tip_mass_kg == pytest.approx(m / 3)
    # struck at the tip, the point that stays still lies a third from the butt
    assert sticks.rod_about_fulcrum(m, length, 0).zero_shock_a_m == pytest.approx(length / 3)


@given(st.floats(0.02, 0.2), st.floats(0.3, 0.5), st.floats(0, 0.15), st.floats(0.1, 1))
def test_the_blow_at_the_fulcrum_against_plain_mechanics(m, length, a, impulse):
    """A free rod struck at its tip: velocity of the centre J/m and turn J·d/I_c; the fulcrum must undo what is left."""
    rod = sticks.rod_about_fulcrum(m, length, a)
    turn = impulse * (length - a) / rod.I  # angular velocity about the held point
    centre = turn * (length / 2 - a)
    assert fulcrum_impulse(m, length, a, impulse) == pytest.approx(m * centre - impulse, abs=1e-9)


def test_pounds_force_exactly():
    assert sticks.N_PER_LBF == 0.45359237 * 9.80665


def test_hand_spans_against_the_published_shares():
    """Boyle, Boyle & Booker 2015 (from memory): 24 % of men and 87 % of women span less than 8.5 in."""
    men, women = hands.hand_norms("span")
    assert hands.normal_percentile(8.5 * 25.4, men.mean_mm, men.sd_mm) == pytest.approx(24, abs=1.5)
    assert hands.normal_percentile(8.5 * 25.4, women.mean_mm, women.sd_mm) == pytest.approx(87, abs=1.5)
    assert all(n.status == "from memory" for n in (men, women))
