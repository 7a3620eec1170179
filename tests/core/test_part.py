"""What a written part asks, by hand-made bars; sums and shares by property. Weights: common practice, no source."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.errors import TooFew
from chirotend.core.fit.moves import leaps
from chirotend.core.load.part import (
    LetGo,
    WrittenBar,
    WrittenNote,
    bar_asks,
    heaviest,
    holding,
    let_gos,
    passages,
    through,
)

OCTAVE = leaps(12)


def bars(count, bpm=60.0):
    return [WrittenBar(n + 1, 4.0 * n, 4.0 * n + 4.0, bpm) for n in range(count)]


def test_a_bar_of_eighths_a_held_note_and_a_bar_of_rest():
    notes = [WrittenNote(n / 2, 0.5, 60 + n % 2) for n in range(8)]
    notes.append(WrittenNote(4, 4, 40, True))
    eighths, held, rest = bar_asks(notes, bars(3), OCTAVE)
    assert (eighths.seconds, eighths.notes_min, eighths.rest, eighths.wide) == (4, 120, 0, 0)
    assert (held.held_s, held.wide, held.loud) == (4, 1, 1.0)
    assert (eighths.run_s, held.run_s, rest.run_s) == (8, 8, 0)
    assert (rest.rest, rest.notes_min, rest.weight) == (1, 0, 0)
    assert held.asks[0] in ("wide", "loud")


def test_tempo_repeats_and_chords():
    notes = [WrittenNote(0, 1, 60), WrittenNote(0, 1, 64), WrittenNote(1, 1, 64), WrittenNote(2, 1, 64)]
    slow, fast = (bar_asks(notes, bars(1, bpm), leaps(3))[0] for bpm in (60, 120))
    assert (slow.notes_min, fast.notes_min) == (45, 90)
    assert (slow.repeated, slow.wide) == (2, 1)
    assert fast.seconds == 2
    assert bar_asks([WrittenNote(0, 0, None)], bars(1), OCTAVE)[0].notes_min == 15
    with pytest.raises(TooFew):
        bar_asks(notes, [], OCTAVE)


def test_each_staff_moves_by_itself_and_a_grace_note_comes_before_its_note():
    left, right = ([WrittenNote(n, 1, pitch + n, staff=staff) for n in range(4)] for pitch, staff in ((36, 2), (72, 1)))
    assert bar_asks(left + right, bars(1), OCTAVE)[0].wide == 0
    assert bar_asks([n for pair in zip(left, right, strict=True) for n in pair], bars(1), OCTAVE)[0].wide == 0
    one_staff = [WrittenNote(n.onset, 1, n.pitch) for n in left + right]
    assert bar_asks(one_staff, bars(1), OCTAVE)[0].wide == 4
    assert bar_asks([WrittenNote(0, 0, 50), WrittenNote(0, 1, 64)], bars(1), lambda a, b, at_once: at_once)[0].wide == 0
    assert bar_asks([WrittenNote(0, 1, 50), WrittenNote(0, 1, 64)], bars(1), lambda a, b, at_once: at_once)[0].wide == 1
    turn = [WrittenNote(0, 0, 64), WrittenNote(0, 0, 50), WrittenNote(0, 1, 64)]
    assert bar_asks(turn, bars(1), lambda a, b, at_once: at_once)[0].wide == 0


def test_a_part_is_held_and_let_go_in_the_order_it_is_played():
    notes = [WrittenNote(0, 4, 60), WrittenNote(4, 2, 60)]
    asks = through(bar_asks(notes, bars(3), OCTAVE), (0, 1, 0, 1, 2))
    assert [a.number for a in asks] == [1, 2, 1, 2, 3]
    assert holding(asks, 0.1) == ((0.1, 4), (0.1, 2), (0, 2), (0.1, 4), (0.1, 2), (0, 2), (0, 4))
    assert holding(asks[:2], 0.1, {1, 2}, 3) == ((0.1, 1), (0, 3), (0.1, 1), (0, 3))
    assert holding(asks[:1], 0.1, {1}, 9) == ((0, 4),), "no longer than the bar"


def test_a_silence_of_a_quarter_second_lets_go():
    for gap, run in ((0.24, 2.0), (0.26, 1.0)):
        notes = [WrittenNote(0, 1 - gap, 60), WrittenNote(1, 1, 60)]
        assert bar_asks(notes, bars(1), OCTAVE)[0].run_s == pytest.approx(run, abs=0.01)


def test_the_heaviest_bars_passages_and_let_gos():
    notes = [WrittenNote(4.0 * bar + n / 4, 0.25, 60) for bar in (2, 3, 9) for n in range(16)]
    asks = bar_asks(notes, bars(12), OCTAVE)
    assert [a.number for a in heaviest(asks, 3)] == [3, 4, 10]
    assert passages(heaviest(asks, 3)) == ((3, 4), (10, 10))
    assert let_gos(asks, 16) == (LetGo(2, True), LetGo(8, True), LetGo(12, True))
    busy = [WrittenNote(n / 2, 0.5, 60) for n in range(32)] + [WrittenNote(16, 2, 60), WrittenNote(18, 2, 62)]
    assert let_gos(bar_asks(busy, bars(6), OCTAVE), 12) == (LetGo(1, False), LetGo(6, True))
    assert let_gos(bar_asks(busy, bars(5), OCTAVE), 20) == (LetGo(5, False),), "the longer notes ask least"


NOTE = st.builds(WrittenNote, st.integers(0, 31).map(float), st.integers(0, 8).map(float), st.integers(30, 90))


@given(st.lists(NOTE, max_size=40), st.floats(30, 200), st.integers(1, 30))
def test_shares_are_shares_and_time_is_kept(notes, bpm, wide):
    asks = bar_asks(notes, bars(8, bpm), leaps(wide))
    assert sum(a.seconds for a in asks) == pytest.approx(32 * 60 / bpm)
    assert sum(round(a.notes_min * a.seconds / 60) for a in asks) == len({n.onset for n in notes})
    for a in asks:
        assert 0 <= a.weight <= 1
        assert 0 <= a.rest <= 1
        assert 0 <= a.loud <= 1
