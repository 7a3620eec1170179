"""Muted made hers, in words, and on the stand."""

from datetime import timedelta

import pytest

from chirotend.core.plan.week import PlannedBlock
from chirotend.core.plan.week_problem import monday
from chirotend.services.body import checks
from chirotend.services.plan import own_blocks, week_aims
from chirotend.services.plan.week_aims import TypedAim
from chirotend.services.play import bars
from chirotend.services.record import log
from chirotend.services.record.log import TypedSession
from chirotend.services.today import suited
from chirotend.services.today.today_page import todays_page
from chirotend.store.models import PlannedRow


@pytest.fixture
def muted(context):
    """A week of an hour a day, then pain 4 in the left shoulder: Muted mp, 42 minutes."""
    for back in range(7, 0, -1):
        log.write_session(
            context, TypedSession(context.today - timedelta(days=back), 60, effort=4, instrument="bassoon")
        )
    checks.write_marks(context, checks.TypedMarks(["shoulder_front.left"], "pain", 4, ["after"]))
    return context


def sentences(context):
    return [line.sentence for line in suited.lines(context)]


def test_nothing_is_said_of_an_open_day(context):
    assert suited.lines(context) == () and suited.left_out(context) == frozenset()


def test_minutes_and_blocks_and_no_word_of_what_the_library_does_not_know(muted):
    said = sentences(muted)
    assert said[0] == "You have 42 min left: 3 blocks of at most 20."
    assert not any("asks nothing" in sentence or "rather the" in sentence for sentence in said)
    log.write_session(muted, TypedSession(muted.today, 45, effort=3, instrument="bassoon"))
    assert sentences(muted)[0] == "Today’s minutes are played."


def test_aims_that_wait_are_named_and_are_no_bars_of_the_stand(muted):
    new = week_aims.write_aim(muted, monday(muted.today), TypedAim("Premiere", 60, 4, "bassoon", True))
    soft = week_aims.write_aim(muted, monday(muted.today), TypedAim("Long tones", 60, 2, "bassoon"))
    blocks = [PlannedBlock(uid, muted.today, muted.now, 30, uid, "x", "bassoon") for uid in (new, soft)]
    muted.store.add_rows(PlannedRow, [own_blocks.values_of(b) for b in blocks])
    said = sentences(muted)
    assert "Leave out today: “Premiere” (new and hard)." in said
    assert "Today, softly and slowly: “Long tones”." in said
    today = todays_page(muted).issued
    scheduled = bars.laid_out(muted, "bassoon", bars.PLAN, today)
    assert {b.planned for b in scheduled if b.kind == "play"} == {soft}
    assert own_blocks.block_of(muted, new).minutes == 30  # it stays laid for another day
