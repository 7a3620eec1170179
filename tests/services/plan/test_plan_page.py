"""The week as its page shows it."""

from datetime import timedelta

from chirotend.core.plan.week_problem import monday
from chirotend.services.context import Context
from chirotend.services.plan import plan_page
from chirotend.services.record import log
from tests.drawing.steps import of_class


def test_a_day_past_that_is_not_written_has_a_dash_and_a_day_off_a_nought(context: Context):
    """The clock stands on a Thursday: Monday was off, Tuesday played, Wednesday is not written."""
    first = monday(context.today)
    log.write_day(context, first, True)
    log.write_session(context, log.TypedSession(first + timedelta(days=1), 60, effort=4, instrument="bassoon"))
    for picture in plan_page.planned_week_page(context, context.today).pictures:
        said = [shape.text for shape in of_class((*picture.under, *picture.over), "load-value")]
        assert said == ["0", "240", "–", "0", "0", "0", "0"]
