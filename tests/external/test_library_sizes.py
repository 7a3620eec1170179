"""The library is as large as promised, and its warm-ups keep their promise."""

from datetime import date, timedelta

from chirotend.core.plan.suits import Condition
from chirotend.core.plan.warmup import compose
from chirotend.library.loader import exercises, families, grips, instruments
from tests.core.test_warmup import wish
from tests.shipped import shipped_exercises


def test_the_library_is_as_large_as_it_was_promised():
    assert len(instruments()) >= 24 and len(exercises()) >= 70 and len(grips()) >= 20
    assert {i.family for i in instruments().values()} == set(families())
    for instrument in instruments().values():
        assert instrument.carried_by and instrument.first_faults and instrument.source
        assert instrument.left_load or instrument.right_load or instrument.centre_load
    for exercise in exercises().values():
        assert exercise.caution and exercise.how and exercise.source
    assert {m for g in grips().values() for m in g.motion} >= {"wrist hinge", "forearm rotation", "fingers"}


def test_every_instrument_gets_a_warm_up_without_a_stretch_in_a_marked_zone():
    """Clinical rules: never in a marked zone. Every instrument, every one of its own loaded zones marked in turn."""
    day = date(2026, 11, 12)
    for number, (key, instrument) in enumerate(sorted(instruments().items())):
        offered = shipped_exercises(key)
        assert compose(wish(family=instrument.family), offered).steps
        for load in instrument.left_load[:2]:
            marked = frozenset({(load.zone, "left")})
            found = compose(
                wish(family=instrument.family, condition=Condition(marked), day=day + timedelta(days=number)), offered
            )
            loaded = {z for s in found.steps for z, side in s.exercise.zones if side in ("both", "left")}
            assert load.zone not in loaded
