"""A call kept in memory is the one that would be worked out afresh, whatever was written and however late it became."""

from dataclasses import asdict, replace
from datetime import timedelta

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from chirotend.core.record import Block, Check, Entry, Session
from chirotend.services.call.kept_calls import KEPT_CALLS
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context
from chirotend.services.today.week import week_of
from chirotend.store.models import SignAnswerRow

HAND = ("thumb_base_joint", "left")
steps = st.one_of(
    st.tuples(st.just("mark"), st.sampled_from(["pain", "tension", "tingling"]), st.integers(1, 8)),
    st.tuples(st.just("mark two days ago"), st.sampled_from(["pain", "numbness"]), st.integers(1, 8)),
    st.tuples(st.just("play"), st.integers(5, 240)),
    st.tuples(st.just("later"), st.integers(1, 9)),
    st.tuples(st.just("not so")),
    st.tuples(st.just("seen")),
)


def mark(context: Context, kind: str, strength: int, days_ago: int = 0) -> None:
    at = context.now - timedelta(days=days_ago)
    day, timing = context.today - timedelta(days=days_ago), "playing"
    context.store.put_check(Check(f"{day} {timing}", day, timing, (Entry(*HAND, kind, strength),), at_utc=at))


def after_step(context: Context, step: tuple, number: int) -> Context:
    match step:
        case ("mark", kind, strength):
            mark(context, kind, strength)
        case ("mark two days ago", kind, strength):
            mark(context, kind, strength, 2)
        case ("play", minutes):
            context.store.put_session(Session(f"s{number}", context.today, (Block(minutes, "bassoon"),), 4))
        case ("later", hours):
            return replace(context, now=context.now + timedelta(hours=hours))
        case ("not so",):
            answer = {"uid": f"a{number}", "region": "thumb", "side": "left", "day": context.today, "answer": "not_so"}
            context.store.repository(SignAnswerRow).put(answer)
        case ("seen",):
            context.store.add_clearance(context.now + timedelta(seconds=number), 20)
            return replace(context, now=context.now + timedelta(minutes=1))
    return context


def said(context: Context) -> tuple[object, ...]:
    row, evidence = (today := todays_call(context)).row, today.evidence
    return (
        row.call,
        row.row,
        row.findings,
        row.dose,
        row.standing,
        evidence.now_utc,
        asdict(week_of(evidence)),
    )


@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(steps, min_size=2, max_size=12))
def test_a_kept_call_is_the_one_that_would_be_worked_out_now(context, run):
    context.db.rollback()
    now = context
    for number, step in enumerate(run):
        now = after_step(now, step, number)
        kept = said(now)
        KEPT_CALLS.forget()
        assert said(now) == kept


def test_a_mark_grows_too_old_while_nothing_is_written(context):
    for back in (2, 1, 0):
        day = context.today - timedelta(days=back)
        context.store.put_check(Check(f"{day} waking", day, "waking"))
    mark(context, "pain", 3, 2)
    assert todays_call(replace(context, now=context.now - timedelta(minutes=5))).row.call == "muted_mp"
    assert todays_call(replace(context, now=context.now + timedelta(minutes=5))).row.row != 5
