"""What goes wrong on a stand: events twice and out of order, two devices, clocks set back, clock-change nights."""

import random
from dataclasses import replace
from datetime import UTC, datetime, timedelta

import pytest

from chirotend.core.session.fold import state_of
from chirotend.services.context import Context, FieldError
from chirotend.services.play import running_session, wrapup
from tests.core.test_fold import T0, event


def events(context: Context, session: str, device: str, count: int, start_min: float = 0.0) -> list[dict]:
    kinds = ("rest", "block", "mark", "mark")
    return [
        {
            "uid": f"{device}-{n}",
            "session": session,
            "device": device,
            "seq": n + 1,
            "kind": kinds[n % 4],
            "payload": {"place": "thumb"},
            "at_utc": (context.now + timedelta(minutes=start_min, seconds=10 * n)).isoformat(),
        }
        for n in range(count)
    ]


def test_two_hundred_events_twice_and_out_of_order_are_one_session(context):
    session = running_session.start(context, "bassoon", "repertoire")
    later = replace(context, now=context.now + timedelta(hours=1))
    sent = events(context, session, "tablet", 200)
    once = running_session.running_session(later)
    shuffled = [*sent, *sent]
    random.Random(3).shuffle(shuffled)
    new = sum(running_session.append(later, shuffled[i : i + 50]).new for i in range(0, 400, 50))
    assert new == 200
    state = running_session.running_session(later).state
    assert len(state.marks) == 100 and len(state.spans) == 101
    assert once.uid == session
    assert sum(s.seconds for s in state.spans) == pytest.approx(3600)
    assert running_session.append(later, sent).new == 0


def test_two_devices_share_one_session_and_a_second_cannot_begin_another(context):
    session = running_session.start(context, "bassoon", "repertoire")
    later = replace(context, now=context.now + timedelta(minutes=30))
    with pytest.raises(FieldError, match="open already"):
        running_session.start(later, "contrabassoon", "technique")
    running_session.append(later, events(context, session, "tablet", 8))
    running_session.append(later, events(context, session, "phone", 8, start_min=0.05))
    state = running_session.running_session(later).state
    assert len(state.marks) == 8
    assert {m.uid.split("-")[0] for m in state.marks} == {"tablet", "phone"}


def test_a_clock_set_back_an_hour_loses_and_doubles_nothing():
    def told(minute: float, kind: str, seq: int, **payload: str):
        return replace(event(minute, kind, f"{kind}{seq}", **payload), seq=seq)

    right = [
        told(0, "start", 1),
        told(20, "rest", 2),
        told(25, "block", 3),
        told(40, "mark", 4, place="thumb"),
        told(45, "stop", 5),
    ]
    back = [*right[:2], *(replace(e, at_utc=e.at_utc - timedelta(hours=1)) for e in right[2:])]
    state = state_of(back)
    assert (state.phase, len(state.spans), len(state.marks)) == ("stopped", 3, 1)
    assert state.played_minutes == 20  # what the clock lost cannot be counted, but no touch is lost
    assert state_of(right).played_minutes == 40


@pytest.mark.parametrize(
    ("start", "day", "minutes"),
    [
        (datetime(2026, 11, 12, 2, 50, tzinfo=UTC), "2026-11-11", 60),  # 3.50 in Vienna: still the evening before
        (datetime(2026, 11, 12, 3, 10, tzinfo=UTC), "2026-11-12", 60),
        (datetime(2026, 10, 25, 0, 30, tzinfo=UTC), "2026-10-24", 120),  # 2.30 twice: the clocks go back
        (datetime(2026, 3, 29, 0, 30, tzinfo=UTC), "2026-03-28", 120),  # 2.30 never: they go forward
    ],
)
def test_a_session_over_the_edge_of_a_day_keeps_its_minutes_and_its_evening(context, start, day, minutes):
    session = running_session.start(replace(context, now=start), "bassoon", "performance")
    end = replace(context, now=start + timedelta(minutes=minutes))
    written = wrapup.write_in(end, wrapup.WrapUp(5, "nothing", []))
    assert written.uid == session
    assert (written.day.isoformat(), written.minutes) == (day, minutes)


def test_an_event_keeps_its_own_instant_when_nothing_counts_it():
    state = state_of(
        [event(0, "start"), replace(event(5, "rest", "r"), seq=0), replace(event(3, "mark", "m", place="jaw"), seq=0)]
    )
    assert [m.at_utc for m in state.marks] == [T0 + timedelta(minutes=3)]
    assert state.phase == "resting"
