"""Two spans side by side: what each number counts, and when it says that it cannot tell. Common practice, no source."""

from datetime import date, timedelta

import pytest

from chirotend.core.record import Block, Check, DayNote, Entry, Record, Session
from chirotend.core.review.spans import most_marked, span_facts

FIRST = date(2026, 9, 7)
PLACE = ("wrist & thumb", "left")


def on(days):
    return FIRST + timedelta(days=days)


def played(day, minutes=60.0, effort=4.0, kind="repertoire"):
    return Session(f"s{day}", on(day), (Block(minutes, "bassoon", kind, effort),))


def asked(day, strength=0.0, timing="waking", zone="thumb_base_joint", side="left"):
    entries = (Entry(zone, side, "tension", strength),) if strength else ()
    return Check(f"c{day}{timing}", on(day), timing, entries)


FORTNIGHT = Record(
    tuple(played(d, kind="performance" if d in (3, 5) else "repertoire") for d in range(14) if d not in (6, 13)),
    tuple(asked(d, 3.0 if d >= 10 else 0.0) for d in range(14)),
    (DayNote(on(6), off=True), DayNote(on(13), off=True)),
)


def test_each_number_is_of_the_days_that_can_tell_it():
    calls = {on(d): "muted_mp" if d < 2 else "tacet" if d == 2 else "open" for d in range(14)}
    f = span_facts(FORTNIGHT, calls, FIRST, on(13), PLACE)
    assert (f.known, f.asked) == (14, 14)
    assert f.load_week == pytest.approx(7 * 12 * 240 / 14) and f.minutes_week == pytest.approx(7 * 12 * 60 / 14)
    assert (f.performances_week, f.off_28, f.marked_7, f.muted_28) == (1, 4, 2, 6)
    assert f.waking == 0  # ten clear mornings of fourteen


def test_the_waking_of_a_place_is_of_its_own_marks_alone():
    neck = Record((), tuple(asked(d, 6.0, zone="neck_back", side="right") for d in range(8)))
    assert span_facts(neck, {}, FIRST, on(7), PLACE).waking == 0
    assert span_facts(neck, {}, FIRST, on(7), ("neck & shoulder", "right")).waking == 6


def test_six_days_tell_nothing():
    f = span_facts(FORTNIGHT, {on(0): "open"}, FIRST, on(5), PLACE)
    assert f.known == 6 and {f.load_week, f.minutes_week, f.off_28, f.marked_7, f.muted_28, f.waking} == {None}


def test_a_day_that_is_not_written_is_neither_rest_nor_clear():
    holes = Record(FORTNIGHT.sessions, tuple(c for c in FORTNIGHT.checks if c.day < on(7)))
    f = span_facts(holes, {}, FIRST, on(13))
    assert (f.known, f.asked, f.off_28, f.marked_7) == (12, 7, 0, 0)


def test_the_place_marked_on_most_days():
    more = Record((), (*FORTNIGHT.checks, asked(1, 8.0, "after", "neck_back", "right")))
    assert most_marked(more, FIRST, on(13)) == PLACE  # four days, however strong the other was
    assert most_marked(more, FIRST, on(5)) == ("neck & shoulder", "right")
    assert most_marked(more, on(2), on(5)) is None
