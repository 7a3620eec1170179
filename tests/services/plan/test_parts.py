"""A part is brought for an instrument, read for her hand, and its heaviest bars laid into the week and played."""

from dataclasses import replace
from datetime import timedelta

import pytest

from chirotend.core.record import Block, Session
from chirotend.services.context import FieldError, NotThere
from chirotend.services.kit import hands
from chirotend.services.plan import own_blocks, parts, scheduling, week_aims
from chirotend.services.record import corrections
from chirotend.store.models import PartRow
from tests.parts import FIRST, NOTE, bar, pitch, score, simple
from tests.services.conftest import HAND, NEXT

TYPED = {"instrument": "bassoon", "pace": "", "title": "", "part": ""}


def brought(context, data=None, **typed):
    found = parts.read_part("night.musicxml", data or score(simple(16, range(4, 7))))
    return parts.keep(context, found, {**TYPED, **typed})


def test_its_heaviest_bars_are_named_with_what_they_ask_and_what_to_try(played):
    page = parts.part_page(played, brought(played))
    assert (page.row.title, page.bars, page.has_tempo) == ("Night music", 16, True)
    assert page.minutes == pytest.approx(16 * 4 / 96)
    heavy = {b.name: b for b in page.heavy}
    assert heavy["Bars 5–7"].asks.startswith("6.4 notes a second")
    assert heavy["Bars 5–7"].tries == "Slow it until it is clean, then up by little."
    assert (page.calibrated, page.forecasts[0].effort) == (False, 5)


def test_her_tempo_is_taken(played):
    slow = parts.part_page(played, brought(played, pace="50"))
    assert slow.minutes == pytest.approx(2 * 16 * 4 / 96)
    parts.set_pace(played, slow.row.uid, "200")
    fast = parts.part_page(played, slow.row.uid)
    assert fast.minutes == pytest.approx(slow.minutes / 4)
    assert fast.heavy[0].asks != slow.heavy[0].asks
    for typed in ("29", "201", "", "quick"):
        with pytest.raises(FieldError) as refused:
            parts.set_pace(played, slow.row.uid, typed)
        assert refused.value.field == "pace"


def test_its_own_part_is_taken_or_asked_for(played):
    both = score(simple(4, name="Flute"), simple(6, name="Bassoon I"))
    assert parts.part_page(played, brought(played, both)).bars == 6
    assert parts.part_page(played, brought(played, both, part="flute")).bars == 4
    with pytest.raises(FieldError, match="holds Horn and Oboe") as refused:
        brought(played, score(simple(4, name="Horn"), simple(6, name="Oboe")))
    assert refused.value.field == "part"


@pytest.mark.parametrize(
    ("typed", "data", "field"),
    [
        ({"instrument": "kazoo"}, None, "instrument"),
        ({"pace": "0"}, None, "pace"),
        ({"pace": "fast"}, None, "pace"),
        ({}, b"no part", "file"),
    ],
)
def test_what_cannot_be_taken_says_what_is_wrong_and_keeps_nothing(played, typed, data, field):
    with pytest.raises(FieldError) as refused:
        brought(played, data, **typed)
    assert refused.value.field == field
    assert not played.store.repository(PartRow).all()


def wide_in(context, instrument, *pitches):
    inside = "".join(NOTE.format(pitch(step, octave), 4, "") for step, octave in pitches)
    data = score(("Part", [bar(1, inside, FIRST)]))
    return parts.part_page(context, brought(context, data, instrument=instrument))


def test_wide_goes_by_her_own_hand_on_keys_and_strings_and_by_a_leap_elsewhere(played):
    ninth, tenth, far = (("C", 4), ("D", 5)), (("C", 4), ("F", 5)), (("A", 3), ("C", 7))
    for instrument, moves, wide in (
        ("bassoon", ninth, True),
        ("piano", ninth, True),
        ("violin", ninth, False),
        ("violin", far, True),
    ):
        assert ("wide moves: 1" in wide_in(played, instrument, *moves).heavy[0].asks) is wide, instrument
    assert "first position" in wide_in(played, "violin", *ninth).wide
    hands.measure(played, "left", HAND)
    assert "wide" not in wide_in(played, "piano", *ninth).heavy[0].asks, "her span of 198 mm takes a ninth"
    assert "wide moves: 1" in wide_in(played, "piano", *tenth).heavy[0].asks
    assert "198 mm" in wide_in(played, "piano", *ninth).wide
    up = (("A", 3), ("C", 6))
    for n, (ease, wide) in enumerate((("70", True), ("90", False))):
        context = replace(played, now=played.now + timedelta(minutes=n))
        hands.measure(context, "left", {"1-4.ease": ease, "1-4.most": "100"})
        page = wide_in(context, "violin", *up)
        assert ("wide moves: 1" in page.heavy[0].asks) is wide, "85 mm along the board are asked"
        assert f"{ease} mm. That is what your left hand spans at ease" in page.wide


def test_holding_through_it_is_worked_out_with_what_is_typed(played):
    uid = brought(played)
    typed = {"joint": "shoulder", "load_pct": "5", "let_go_s": "1"}
    found = parts.part_page(played, uid, typed).holding
    left = [float(text.removesuffix(" %")) for text in (found.throughout, found.written, found.with_let_gos)]
    assert left[0] <= left[1] <= left[2]
    assert parts.part_page(played, uid, {**typed, "load_pct": "70"}).holding.throughout == "too little to hold on"
    for field, value in (("joint", "ear"), ("load_pct", "0"), ("load_pct", "71"), ("let_go_s", "11"), ("let_go_s", "")):
        with pytest.raises(FieldError) as refused:
            parts.part_page(played, uid, {**typed, field: value})
        assert refused.value.field == field


def test_repeats_are_played_in_minutes_and_forecast(played):
    back = '<barline location="right"><repeat direction="backward"/></barline>'
    once, twice = (
        score(("Bassoon", [bar(1, NOTE.format(pitch(), 16, ""), FIRST), bar(2, NOTE.format(pitch(), 16, "") + end)]))
        for end in ("", back)
    )
    short, long = (parts.part_page(played, brought(played, data)) for data in (once, twice))
    assert (short.again, long.again, long.bars) == (0, 2, 2)
    assert long.minutes == pytest.approx(2 * short.minutes)
    assert long.forecasts[0].load == pytest.approx(2 * short.forecasts[0].load)


def test_its_passages_are_laid_played_and_then_its_effort_is_hers(played):
    uid = brought(played)
    assert parts.schedule(played, uid, NEXT) == NEXT
    assert parts.schedule(played, uid, NEXT) == NEXT, "asked twice it makes them once"
    aims = week_aims.aims(played, NEXT)
    assert [a.title for a in aims] == [f"{p}, Night music" for p in parts.part_page(played, uid).passages]
    scheduling.schedule(played, NEXT)
    block = next(b for b in own_blocks.blocks_between(played, NEXT, NEXT + timedelta(days=6)) if b.aim_uid)
    day = played.today - timedelta(days=1)
    kept = Session("played", day, (Block(20, "bassoon", "repertoire", planned=block.uid),), 8.0)
    corrections.put(played, kept)
    page = parts.part_page(played, uid)
    assert (page.calibrated, page.forecasts[0].effort) == (True, 8)
    parts.drop(played, uid)
    with pytest.raises(NotThere):
        parts.part_page(played, uid)
