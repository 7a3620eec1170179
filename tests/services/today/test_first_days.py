"""What a new player is told of what comes when: by the numbers of the rules, reached one after the other."""

from dataclasses import replace
from datetime import timedelta

from chirotend.services.body import checks
from chirotend.services.context import Context
from chirotend.services.record import log
from chirotend.services.today.first_days import FirstDays, first_days
from chirotend.services.today.today_page import todays_page


def told(context: Context) -> FirstDays | None:
    return first_days(context, todays_page(context))


def reached(context: Context) -> list[str]:
    found = told(context)
    assert found is not None
    return [step.when for step in found.steps if step.reached]


def test_the_first_day_asks_for_now_and_promises_the_rest(context: Context):
    found = told(context)
    assert found is not None and found.day_one and not found.asked_now
    assert reached(context) == ["From your first mark"]
    checks.nothing(context, "daily")
    found = told(context)
    assert found is not None and found.asked_now and found.day_one


def test_each_step_is_reached_when_the_rules_have_what_they_need_and_all_is_quiet_after_six_weeks(context: Context):
    seen = {}
    for n in range(45):
        then = replace(context, now=context.now + timedelta(days=n))
        log.write_session(then, log.TypedSession(then.today, 30, effort=4, instrument="bassoon"))
        checks.as_usual(then)
        found = told(then)
        for step in found.steps if found else ():
            if step.reached:
                seen.setdefault(step.when, n + 1)
        assert (found is None) == (n >= 42)
    assert seen == {
        "From your first mark": 1,
        "After 3 days written": 3,
        "After 7 played days, a week old": 14,
        "After 14 days answered": 14,
    }
