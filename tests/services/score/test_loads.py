"""Load by hand and place: what library and aims say is asked of which place, mirrored players, the week."""

from datetime import timedelta

import pytest

from chirotend.core.plan.week import PlannedBlock
from chirotend.core.plan.week_problem import monday
from chirotend.core.record import Block, Session
from chirotend.library.loader import background_methods
from chirotend.services.context import FieldError, NotThere
from chirotend.services.kit import profile
from chirotend.services.plan import own_blocks, week_aims
from chirotend.services.plan.week_aims import TypedAim
from chirotend.services.record import exports, log
from chirotend.services.record.log import TypedSession
from chirotend.services.score import background, loads
from chirotend.store.models import PlannedRow


def load_of(page, name):
    return next((bar.load for place, bar in page.places if place == name), "not asked")


def test_each_instrument_loads_its_own_places(context):
    log.write_session(context, TypedSession(context.today, 60, effort=4, instrument="contrabassoon"))
    page = loads.loads_page(context, context.today)
    assert load_of(page, "right wrist and thumb") == load_of(page, "left neck and shoulder") == 240
    assert load_of(page, "left fingers") == "not asked"  # the library has no such entry for it
    assert "You played 60 min on one day of seven that are written" in page.lines[0].sentence


def test_a_mirrored_player_has_the_other_side(context):
    log.write_session(context, TypedSession(context.today, 60, effort=4, instrument="contrabassoon"))
    plain = {place for place, _ in loads.loads_page(context, context.today).places}
    profile.say(context, mirrored="yes")
    swapped = {place for place, _ in loads.loads_page(context, context.today).places}
    other = {"left": "right", "right": "left"}
    assert swapped == {" ".join(other.get(w, w) for w in place.split()) for place in plain} != plain


def test_the_grip_of_an_aim_adds_its_places(context):
    aim = week_aims.write_aim(
        context, monday(context.today), TypedAim("slow", 60, 4, "contrabassoon", grip="stick_fulcrum_index")
    )
    block = PlannedBlock("laid", context.today, context.now, 30, aim, "slow", "contrabassoon")
    context.store.add_rows(PlannedRow, [own_blocks.values_of(block)])
    played = Session("s", context.today, (Block(30, "contrabassoon", "repertoire", 4, planned="laid"),))
    context.store.add_all([played], [], [])
    assert load_of(loads.loads_page(context, context.today), "left fingers") == 120


def test_above_her_usual_weeks_is_said_with_how_much(context):
    for back in range(60, -1, -1):
        day = context.today - timedelta(days=back)
        log.write_session(context, TypedSession(day, 60 if back > 6 else 90, effort=4, instrument="bassoon"))
    page = loads.loads_page(context, context.today)
    assert page.lines[0].sentence.startswith("These places had more to do than in your usual weeks: ")
    assert "left wrist and thumb (50\u00a0%)" in page.lines[0].sentence
    assert any(line.sentence.startswith("You played 10 h 30 in seven days, 3 h 30 more") for line in page.lines)


def test_the_ratio_is_in_the_export_for_days_whose_month_is_known(context):
    for back in range(28, -1, -1):
        log.write_session(context, TypedSession(context.today - timedelta(days=back), 60 if back > 6 else 90, effort=4))
    rows = exports.csv_files(context)["load_ratio.csv"].split()
    assert rows[0] == "ending_on,acute_au,ratio_coupled,ratio_uncoupled"
    assert rows[2] == "2026-11-12,2520,1.3333,1.5000" and len(rows) == 3  # 7 * 360, over 7 * 270 and over 7 * 240


@pytest.mark.parametrize("method", background_methods().values(), ids=lambda m: m.id)
def test_every_method_answers_its_own_example_and_no_verdict(method):
    typed = {i.field: i.example for i in method.inputs}
    found = background.ask(method.id, typed)
    said = " ".join((found.sentence, *found.flags)).lower()
    assert "{" not in said and not any(word in said for word in ("safe", "risk", "danger", "hurt", "harm"))
    for i in method.inputs:
        with pytest.raises(FieldError) as refused:
            background.ask(method.id, {**typed, i.field: "x"})
        assert refused.value.field == i.field and i.label in refused.value.sentence


def test_what_contradicts_itself_is_refused_at_a_field_that_is_there():
    typed = {i.field: i.example for i in background_methods()["strain_index"].inputs}
    with pytest.raises(FieldError, match="40 efforts of 2 s do not fit into a minute") as refused:
        background.ask("strain_index", {**typed, "E_per_min": "40"})
    assert refused.value.field == "D_s"
    with pytest.raises(NotThere):
        background.ask("horoscope", {})


def test_paces_beyond_the_rule_say_so():
    typed = {i.field: i.example for i in background_methods()["hand_activity"].inputs}
    assert any("Faster than the rule" in f for f in background.ask("hand_activity", {**typed, "F_hz": "8"}).flags)
