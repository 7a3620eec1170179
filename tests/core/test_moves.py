"""Wide moves: on strings against handbook fingerings, on keys against the width of keys. Tunings: see test_parts."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.errors import OutOfRange, TooFew
from chirotend.core.fit.moves import leaps, midi_of, on_keys, on_strings
from chirotend.core.fit.strings import interval_span

VIOLIN = [midi_of(name) for name in ("G3", "D4", "A4", "E5")]
L = 328.0
#: first to fourth finger in first position: a fourth above the open string and a tone
FRAME = interval_span(L, 2, 5)
violin = on_strings(VIOLIN, L, FRAME)


def test_pitches_by_name():
    assert [midi_of(n) for n in ("C4", "A4", "E1", "F#2", "Bb3")] == [60, 69, 28, 42, 58]
    with pytest.raises(OutOfRange):
        midi_of("H4")


@pytest.mark.parametrize(
    ("a", "b", "at_once", "wide"),
    [
        ("A3", "D4", False, False),  # first to third finger, or an open string
        ("B3", "B4", False, False),  # an octave in first position: second finger, first finger
        ("A3", "A5", False, False),  # first and third finger in one place, three strings apart
        ("G3", "C6", False, False),  # from an open string anywhere
        ("A3", "C6", False, True),
        ("B5", "E6", False, False),  # first to fourth finger, in a place farther up
        ("B5", "G6", False, False),  # a sixth high up: over two strings
        ("A3", "A6", False, True),
        ("B3", "G6", False, True),
        ("G3", "A3", True, True),  # both on the lowest string only
        ("A3", "F4", True, False),  # a sixth over two strings
        ("A3", "A4", True, False),  # an octave, one of them open
        ("C3", "C6", False, False),  # below all strings: never judged
    ],
)
def test_moves_and_double_stops_of_a_violin_in_one_place(a, b, at_once, wide):
    """Handbook fingerings of the first position: common practice, from memory."""
    assert violin(midi_of(a), midi_of(b), at_once) is wide


@given(st.integers(55, 100), st.integers(55, 100), st.floats(20, 120), st.booleans())
def test_a_wider_hand_never_has_more_wide_moves_and_both_ways_are_alike(a, b, reach, at_once):
    narrow, wide = (on_strings(VIOLIN, L, mm) for mm in (reach, reach + 15))
    assert narrow(a, b, at_once) >= wide(a, b, at_once)
    assert narrow(a, b, at_once) == narrow(b, a, at_once)


def test_keys_are_as_wide_as_they_are():
    """An octave of white keys is 164 mm or a little more: common practice, from memory."""
    small = on_keys(180)
    assert not small(60, 72, True)
    assert not small(60, 73, False)
    assert small(60, 74, False)
    assert small(74, 60, False)
    assert not on_keys(200)(60, 74, True)
    with pytest.raises(OutOfRange):
        leaps(0)
    with pytest.raises(TooFew):
        on_strings([], L, FRAME)
