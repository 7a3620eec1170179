"""What she set up is in her export and gone when deleted."""

from chirotend.services.kit import hands, things
from chirotend.services.plan import scheduling, week_aims
from chirotend.services.plan.week_aims import TypedAim
from chirotend.services.record import exports
from chirotend.services.today import warmups
from tests.services.conftest import HAND, NEXT


def test_everything_she_set_up_is_in_her_export_and_gone_when_deleted(played, tmp_path):
    hands.measure(played, "left", HAND)
    things.write(played, None, {"kind": "chair", "name": "Chair"})
    week_aims.write_aim(played, NEXT, TypedAim("Thirds", 40))
    scheduling.schedule(played, NEXT)
    warmups.keep(played)
    text = exports.everything(played)
    for word in ('"hand.span"', '"Chair"', '"Thirds"', '"planner"', '"warmups"'):
        assert word in text
    exports.delete_everything(played, tmp_path)
    assert exports.is_empty(played)
