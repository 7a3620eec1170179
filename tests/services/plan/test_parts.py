"""A part is brought for an instrument, read for her hand, and its heaviest bars laid into the week and played."""

from datetime import timedelta

import pytest

from chirotend.core.record import Block, Session
from chirotend.services.desk import NotThere, Refused
from chirotend.services.kit import hands
from chirotend.services.plan import laying, own_blocks, parts, week_aims
from chirotend.services.record import corrections
from chirotend.store.models import PartRow
from tests.parts import score, simple
from tests.services.conftest import HAND, NEXT

TYPED = {"instrument": "bassoon", "pace": "", "title": "", "part": ""}


def brought(desk, data=None, **typed):
    return parts.bring(desk, "night.musicxml", data or score(simple(16, range(4, 7))), {**TYPED, **typed})


def test_its_heaviest_bars_are_named_with_what_they_ask_and_what_to_try(played):
    page = parts.page(played, brought(played))
    assert (page.row.title, page.bars, page.has_tempo) == ("Night music", 16, True)
    assert page.minutes == pytest.approx(16 * 4 / 96)
    heavy = [b for b in page.heavy if "notes a second" in b.asks.split(",")[0]]
    assert {5, 6, 7} <= {b.number for b in heavy}
    assert next(b for b in page.heavy if b.number == 6).asks.startswith("6.4 notes a second")
    assert next(b for b in page.heavy if b.number == 6).tries == "Slow it until it is clean, then up by little."
    assert (page.calibrated, page.forecasts[0].effort) == (False, 5)


def test_her_tempo_is_taken(played):
    slow = parts.page(played, brought(played, pace="50"))
    assert slow.minutes == pytest.approx(2 * 16 * 4 / 96)


def test_its_own_part_is_taken_or_asked_for(played):
    both = score(simple(4, name="Flute"), simple(6, name="Bassoon I"))
    assert parts.page(played, brought(played, both)).bars == 6
    assert parts.page(played, brought(played, both, part="flute")).bars == 4
    with pytest.raises(Refused, match="holds Horn and Oboe") as refused:
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
    with pytest.raises(Refused) as refused:
        brought(played, data, **typed)
    assert refused.value.field == field
    assert not played.store.shelf(PartRow).all()


def test_wide_is_her_own_span_on_keys(played):
    assert parts.wide_for(played, "bassoon") == 12
    hands.measure(played, "left", HAND)
    assert parts.wide_for(played, "piano") == pytest.approx(198 / 13.7)


def test_its_passages_are_laid_played_and_then_its_effort_is_hers(played):
    uid = brought(played)
    assert parts.lay(played, uid, NEXT) == NEXT
    assert parts.lay(played, uid, NEXT) == NEXT, "asked twice it makes them once"
    aims = week_aims.aims(played, NEXT)
    assert [a.title for a in aims] == [f"{p}, Night music" for p in parts.page(played, uid).passages]
    laying.lay(played, NEXT)
    block = next(b for b in own_blocks.blocks_between(played, NEXT, NEXT + timedelta(days=6)) if b.aim_uid)
    day = played.today - timedelta(days=1)
    kept = Session("played", day, (Block(20, "bassoon", "repertoire", planned=block.uid),), 8.0)
    corrections.put(played, kept)
    page = parts.page(played, uid)
    assert (page.calibrated, page.forecasts[0].effort) == (True, 8)
    parts.drop(played, uid)
    with pytest.raises(NotThere):
        parts.page(played, uid)
