"""What an instrument asks of the body, where the body page opens."""

from dataclasses import replace

from chirotend.drawing import bodymap
from chirotend.library.loader import instruments
from chirotend.services.context import Context
from chirotend.services.kit import demands
from chirotend.services.kit.profile import say


def test_the_body_opens_on_what_the_main_instrument_asks_of_each_side(context: Context):
    context.player.instruments = ["violin", "bassoon"]
    asked = demands.zones_of_first(context)
    entry = instruments()["violin"]
    assert {z.zone for z in entry.left_load} == {key.split(".")[0] for key in asked if key.endswith(".left")} - {
        z.zone for z in entry.centre_load
    }
    assert bodymap.part_of(asked) == "left"
    assert bodymap.part_of(frozenset({"upper_lip.none"})) == "rest" and bodymap.part_of(frozenset()) == "left"
    say(context, mirrored="yes")
    other = {"left": "right", "right": "left", "none": "none"}
    middle = {z.zone for z in entry.centre_load}
    turned = {f"{zone}.{side if zone in middle else other[side]}" for zone, side in (k.split(".") for k in asked)}
    assert demands.zones_of_first(replace(context)) == turned
    context.player.instruments = []
    assert demands.zones_of_first(context) == frozenset()
