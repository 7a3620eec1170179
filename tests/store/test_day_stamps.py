"""Days kept in memory are the days of the database: after any writes, roll-backs, and writes of another one."""

from datetime import date, timedelta

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import text

from chirotend.core.record import Block, Check, DayNote, Entry, Session
from chirotend.store.day_stamps import KEPT
from chirotend.store.player_store import PlayerStore

FIRST = date(2026, 11, 1)
LAST = FIRST + timedelta(days=5)

days = st.integers(0, 5).map(lambda n: FIRST + timedelta(days=n))
minutes = st.integers(5, 90)
steps = st.one_of(
    st.tuples(st.just("session"), st.sampled_from("abc"), days, minutes),
    st.tuples(st.just("drop session"), st.sampled_from("abc")),
    st.tuples(st.just("check"), days, st.integers(0, 9)),
    st.tuples(st.just("drop check"), days),
    st.tuples(st.just("note"), days, st.booleans()),
    st.tuples(st.just("drop note"), days),
    st.tuples(st.just("look")),
    st.tuples(st.just("commit")),
    st.tuples(st.just("roll back")),
    st.tuples(st.just("another one writes"), st.sampled_from("abc"), days, minutes),
)


def take(store: PlayerStore, step: tuple) -> None:
    match step:
        case ("session", uid, day, length):
            store.put_session(Session(uid, day, (Block(length, "bassoon"),), 4))
        case ("drop session", uid):
            store.drop_session(uid)
        case ("check", day, strength):
            entries = (Entry("thumb_base_joint", "left", "tension", strength),)
            store.put_check(Check(f"{day} after", day, "after", entries))
        case ("drop check", day):
            store.drop_check(day, "after")
        case ("note", day, off):
            store.put_note(DayNote(day, off))
        case ("drop note", day):
            store.drop_note(day)


def as_it_stands(store: PlayerStore):
    """The same days read past everything that is kept."""
    KEPT.forget()
    return store.record(FIRST, LAST)


@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(steps, max_size=25))
def test_what_is_kept_is_what_stands(app, context, run):
    context.db.commit()
    store = context.store
    with app.extensions["database"].open_db() as other:
        second = PlayerStore(other, store.player_id)
        for step in run:
            if step[0] == "commit":
                context.db.commit()
            elif step[0] == "roll back":
                context.db.rollback()
            elif step[0] == "another one writes":
                context.db.commit()  # one writer at a time
                take(second, ("session", *step[1:]))
                second.record(FIRST, LAST)
                other.commit()
            else:
                take(store, step)
            kept = store.record(FIRST, LAST)
            assert kept == as_it_stands(store)
            other.rollback()
            assert second.record(FIRST, LAST) == as_it_stands(second)
    assert store.unstamped() == []
    context.db.rollback()
    store.drop_everything()
    context.db.commit()


def test_a_day_that_is_not_written_to_is_not_read_again(context, monkeypatch):
    take(context.store, ("session", "a", FIRST, 30))
    take(context.store, ("session", "b", LAST, 30))
    before = context.store.record(FIRST, LAST)
    read = []
    monkeypatch.setattr(PlayerStore, "_days_read", lambda self, *span: read.append(span) or {})
    assert context.store.record(FIRST, LAST).sessions[0] is before.sessions[0] and read == []
    take(context.store, ("drop session", "b"))
    context.store.record(FIRST, LAST)
    assert read == [(LAST, LAST)]


def test_a_day_without_a_stamp_is_a_fault_that_the_check_names(context):
    take(context.store, ("session", "a", FIRST, 30))
    context.db.execute(text("delete from day_stamp"))
    assert context.store.unstamped() == [FIRST.isoformat()]


@pytest.mark.parametrize("kind", ["start", "stop", "close"])
def test_a_session_is_open_from_its_start_to_its_close(context, kind):
    for n, each in enumerate(("start", "stop", "close")):
        context.store.add_event(
            uid=str(n), session_uid="s", device="d", seq=n, at_utc=context.now, monotonic_ms=None, kind=each, payload={}
        )
        if each == kind:
            break
    assert context.store.running_sessions() == ([] if kind == "close" else ["s"])
    assert set(context.store.running_sessions_by_events()) == set(context.store.running_sessions())
    context.store.note_running_sessions()
    assert context.store.running_sessions() == ([] if kind == "close" else ["s"])
