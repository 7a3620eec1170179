"""The fitting bench answers with numbers, a drawing and one thing to try."""

import pytest

from chirotend.services.context import FieldError, NotThere
from chirotend.services.kit import equipment_bench, hands, things
from chirotend.services.kit.profile import say
from tests.services.conftest import HAND


@pytest.mark.parametrize("tab", list(equipment_bench.TABS))
def test_every_bench_has_numbers_a_drawing_and_one_thing_to_try(context, tab):
    found = equipment_bench.equipment_bench(context, tab, {})
    assert found.rows and found.knobs and found.wide.shapes and found.narrow.shapes
    assert found.remark and found.fine_print
    for choice in found.choices:
        assert equipment_bench.equipment_bench(context, tab, {"choice": choice}).choice == choice
    for knob in found.knobs:
        with pytest.raises(FieldError) as refused:
            equipment_bench.equipment_bench(context, tab, {knob.field: "99999"})
        assert refused.value.field == knob.field and "type a number from" in refused.value.sentence
    with pytest.raises(NotThere):
        equipment_bench.equipment_bench(context, tab, {"choice": "nothing"})


def test_the_strap_that_moves_says_what_it_takes_off_and_is_compared_with_how_it_hangs(context):
    moved = equipment_bench.equipment_bench(context, "carry", {"choice": "bassoon_seat", "strap": "120"})
    assert "takes 25 % off the left hand: 17.4 N → 13.1 N" in moved.remark and "repairer" in moved.remark
    equipment_bench.save_as_baseline(context, {"choice": "bassoon_seat", "strap": "120"})
    again = equipment_bench.equipment_bench(context, "carry", {"choice": "bassoon_seat"})
    assert next(k for k in again.knobs if k.field == "strap").value == 120
    assert "Try next: moving" in again.remark


def test_a_strap_takes_weight_off_the_thumb(context):
    bare = equipment_bench.equipment_bench(context, "carry", {"choice": "clarinet_thumb"})
    assert "a strap that pulls with 4.0 N takes" in bare.remark
    strapped = equipment_bench.equipment_bench(context, "carry", {"choice": "clarinet_thumb", "tension": "4"})
    assert float(strapped.rows[0][1].split()[0]) < float(bare.rows[0][1].split()[0])


def test_the_instrument_of_her_kit_is_the_one_on_the_bench(context):
    things.write(
        context,
        None,
        {"kind": "instrument", "name": "Mine", "instrument": "bassoon", "mass_g": "3.1 kg", "balance_mm": "455"},
    )
    things.write(
        context, None, {"kind": "stick", "name": "Old pair", "mass_g": "48", "length_mm": "395", "balance_mm": "180"}
    )
    knobs = {
        k.field: k.value for k in equipment_bench.equipment_bench(context, "carry", {"choice": "bassoon_seat"}).knobs
    }
    assert (knobs["mass"], knobs["balance"]) == (3.1, 455)
    assert "Old pair" in equipment_bench.equipment_bench(context, "sticks", {}).choices.values()


def test_reach_is_judged_by_the_hand_that_plays_it(context):
    hands.measure(context, "left", {**HAND, "1-4.ease": "104", "1-4.most": "120", "2-4.ease": "50", "2-4.most": "60"})
    found = equipment_bench.equipment_bench(
        context, "string", {"choice": "double_bass", "length": "1050", "first": "1", "apart": "2"}
    )
    assert found.rows[1][0] == "1–4" and found.rows[1][-1] == "stretched"
    assert "strings apart" in found.rows[-1][0]
    assert "teacher" in found.remark
    say(context, mirrored="yes")
    assert (
        "Measure the gaps of your right hand"
        in equipment_bench.equipment_bench(context, "string", {"choice": "double_bass"}).remark
    )
    eased = equipment_bench.equipment_bench(context, "holes", {"choice": "bassoon_left", "extension": "6"})
    assert any("was 47 mm" in cell for cell in eased.rows[1])


@pytest.mark.parametrize(
    ("plays", "tab"),
    [("bassoon", "carry"), ("violin", "string"), ("open_hole_flute", "holes"), ("snare", "sticks"), ("piano", None)],
)
def test_the_bench_begins_with_her_first_instrument(context, plays, tab):
    context.player.instruments = [plays, "cello"]
    assert equipment_bench.own_tab(context) == tab


@pytest.mark.parametrize(
    ("plays", "apart", "system"), [("violin", 11, "1234"), ("cello", 16, "1234"), ("double_bass", 28, "124")]
)
def test_strings_lie_as_on_her_own_instrument(context, plays, apart, system):
    context.player.instruments = [plays]
    shown = equipment_bench.equipment_bench(context, "string", {})
    assert next(k.value for k in shown.knobs if k.field == "spacing") == apart
    assert shown.options["system"][0] == system and "doubtful" in shown.fine_print


def test_what_pulls_back_is_said_so_and_only_a_carrying_joint_has_a_moment(context):
    rows = equipment_bench.equipment_bench(context, "carry", {"choice": "bassoon_seat"}).rows
    shares = {row[0]: row[2] for row in rows}
    assert "−" not in "".join(shares.values()) and "-" not in "".join(shares.values())
    assert shares["right-hand rest"] == "pulls back"
    assert sum(float(s.removesuffix(" %")) for s in shares.values() if s.endswith("%")) == pytest.approx(100, abs=1)
    hanging = {
        row[0]: row[2] for row in equipment_bench.equipment_bench(context, "carry", {"choice": "clarinet_thumb"}).rows
    }
    assert hanging["neck strap"] == "0 %", "a strap that pulls with nothing steadies nothing"
    assert not any("moment" in row[0] for row in rows)
    assert any(
        "moment" in row[0]
        for row in equipment_bench.equipment_bench(context, "carry", {"choice": "clarinet_thumb"}).rows
    )
    sticks = equipment_bench.equipment_bench(context, "sticks", {})
    assert "times the push" in sticks.remark and "work" not in f"{sticks.remark}{sticks.rows}"
