"""Hands and kit: kept by value, refused at their field, due for service."""

from dataclasses import replace
from datetime import timedelta

import pytest

from chirotend.services.context import FieldError
from chirotend.services.kit import equipment_bench, hands, things
from chirotend.services.kit.profile import Profile, profile, say
from chirotend.services.record import corrections
from tests.services.conftest import HAND


def test_hands_are_kept_by_value_and_the_latest_counts(context):
    assert hands.measured(context).on is None
    assert hands.measure(context, "left", HAND) == 7
    assert hands.measure(context, "left", HAND) == 0  # nothing changed, nothing is written again
    later = replace(context, now=context.now + timedelta(days=3))
    assert hands.measure(later, "left", {"span": "20 cm"}) == 1
    found = hands.measured(later)
    assert found.hands["left"].span_mm == 200 and found.hands["left"].gaps["1-2"].ease_mm == 58
    assert found.hands["right"].gaps == {}
    assert found.on == later.today


def test_a_player_who_reads_inches_types_and_sees_inches(context):
    context.player.units = "inch"
    hands.measure(context, "left", {"span": "7.8"})
    assert hands.measured(context).hands["left"].span_mm == pytest.approx(198.12)
    assert hands.known_values(context, "left") == {"span": "7.8 in"}
    knob = next(
        k for k in equipment_bench.equipment_bench(context, "string", {"length": "41.5"}).knobs if k.field == "length"
    )
    assert (knob.shown_unit, knob.value) == ("in", pytest.approx(1054.1))


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        ({"span": "wide"}, "left.span"),
        ({"span": "3"}, "left.span"),
        ({"span": "20 miles"}, "left.span"),
        ({"1-2.ease": "70", "1-2.most": "60"}, "left.1-2.ease"),
        ({"1-2.ease": "50"}, "left.1-2.most"),
        ({"1-2.most": "50"}, "left.1-2.ease"),
    ],
)
def test_a_measure_that_cannot_be_is_refused_at_its_field_and_nothing_is_kept(context, typed, field):
    with pytest.raises(FieldError) as refused:
        hands.measure(context, "left", typed)
    assert refused.value.field == field
    assert hands.measured(context).on is None


def test_what_she_says_of_herself_is_kept_and_a_strange_word_refused(context):
    assert profile(context) == Profile()
    say(context, little_left="moves with the ring finger", cold_hands="often", mirrored="yes")
    assert len(hands.findings(profile(context))) == 3
    for name, value in (("dominant", "foot"), ("warm_minutes", 2.0), ("to_hour", 3.0), ("rest_weekday", "9")):
        with pytest.raises(FieldError):
            say(context, **{name: value})
    assert profile(context).cold_hands == "often"


def test_kit_says_what_is_due(context):
    uid = things.write(
        context,
        None,
        {
            "kind": "instrument",
            "name": "Bassoon",
            "instrument": "bassoon",
            "mass_g": "3.4 kg",
            "service_on": "2025-11-01",
            "service_months": "12",
        },
    )
    things.write(context, None, {"kind": "harness", "name": "Harness", "back_on": "2026-11-20", "note": "borrowed"})
    instrument, harness = things.kit(context)
    assert (instrument.line, instrument.due) == ("3.40 kg", "set-up due since November 2026")
    assert harness.due == "give back by 20 November"
    things.write(
        context,
        uid,
        {
            "kind": "instrument",
            "name": "Bassoon",
            "instrument": "bassoon",
            "service_on": "2026-11-01",
            "service_months": "12",
        },
    )
    assert things.kit(context)[0].due == ""
    change = corrections.offered(context)
    assert change and change.action == "edit"
    corrections.undo(context, change.number)
    assert things.kit(context)[0].due != ""


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        ({"kind": "boat", "name": "x"}, "kind"),
        ({"kind": "strap", "name": ""}, "name"),
        ({"kind": "instrument", "name": "x", "instrument": "kazoo"}, "instrument"),
        ({"kind": "stick", "name": "x", "mass_g": "heavy"}, "mass_g"),
        ({"kind": "stick", "name": "x", "length_mm": "40", "balance_mm": "50"}, "balance_mm"),
        ({"kind": "strap", "name": "x", "service_on": "2026-02-30"}, "service_on"),
        ({"kind": "strap", "name": "x", "service_on": "2027-01-01"}, "service_on"),
        ({"kind": "strap", "name": "x", "service_months": "0"}, "service_months"),
    ],
)
def test_kit_that_cannot_be_is_refused_at_its_field(context, typed, field):
    with pytest.raises(FieldError) as refused:
        things.write(context, None, typed)
    assert refused.value.field == field
    assert things.kit(context) == ()
