"""A running session is a fold over events: copies, order and gaps do not matter."""

from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.errors import OutOfRange
from chirotend.core.session import events
from chirotend.core.session.events import Event
from chirotend.core.session.fold import FORGOTTEN_AFTER, state_at, state_of

T0 = datetime(2026, 11, 12, 9, 30, tzinfo=UTC)


def event(minute: float, kind: str, uid: str = "", **payload: str) -> Event:
    return Event(
        uid or f"{kind}{minute}", "s", "tablet", int(minute * 60), T0 + timedelta(minutes=minute), kind, payload
    )


SITTING = [
    event(0, "start", instrument="bassoon", block_kind="warm-up", preset="30/5/20"),
    event(10, "mark", "m1", place="thumb"),
    event(12, "mark", "m2", place="jaw"),
    event(12.5, "unmark", mark="m2"),
    event(30, "rest"),
    event(35, "block", instrument="contrabassoon"),
    event(40, "pause"),
    event(50, "resume"),
    event(60, "stop"),
]


def test_a_session_with_a_rest_a_pause_and_a_switch():
    state = state_of(SITTING)
    assert state.phase == "stopped" and state.ended_utc == T0 + timedelta(minutes=60)
    assert [(s.kind, s.instrument, s.seconds / 60) for s in state.spans] == [
        ("play", "bassoon", 30),
        ("rest", "bassoon", 5),
        ("play", "contrabassoon", 15),
    ]
    assert state.played_minutes == 45 and [m.place for m in state.marks] == ["thumb"]


@given(st.permutations(SITTING + SITTING[:4]))
def test_copies_and_order_do_not_matter(events):
    assert state_of(events) == state_of(SITTING)


def test_the_running_span_grows_with_the_clock_and_a_silent_one_is_forgotten():
    state = state_at(SITTING[:1], T0 + timedelta(minutes=7))
    assert state.played_minutes == 7 and state.live
    assert not state.forgotten(T0 + FORGOTTEN_AFTER)
    assert state.forgotten(T0 + FORGOTTEN_AFTER + timedelta(seconds=1))


def test_nothing_happens_after_the_end_and_nothing_before_the_start():
    assert state_of([]).phase == "idle" and state_of([event(1, "mark", place="thumb")]).marks == ()
    late = state_of([*SITTING, event(70, "block"), event(80, "close")])
    assert late.phase == "closed" and late.played_minutes == 45
    with pytest.raises(OutOfRange):
        event(1, "applaud")


words_ = st.text(st.characters(codec="utf-8"), max_size=12)
happenings = st.one_of(
    st.builds(events.Start, words_, words_, words_, st.booleans(), words_),
    st.builds(events.NextBar, words_, words_, st.none() | st.integers(0, 9999)),
    st.builds(events.Rest, words_, words_, st.none() | st.integers(0, 9999)),
    st.builds(events.Stretch, st.integers(-60, 60).map(float)),
    st.builds(events.LadderSet, st.integers(20, 400).map(float), st.sampled_from(["soft", "edge"])),
    st.builds(events.Run, st.booleans()),
    st.builds(events.Said, words_, words_, words_),
    st.sampled_from([events.Pause(), events.Stop(), events.Close(), events.Noted()]),
)


@given(happenings)
def test_what_happened_is_carried_as_texts_and_read_back(what):
    kind = next(k for k, made in events.EVENT_CLASSES.items() if made is type(what))
    texts = events.carried(what)
    assert all(isinstance(t, str) for t in texts.values()) and set(texts) <= set(events.CARRIED)
    assert events.read_event(kind, texts) == what


@given(
    st.sampled_from(events.EVENT_KINDS),
    st.dictionaries(st.sampled_from(events.CARRIED), st.text(max_size=8) | st.none()),
)
def test_no_text_keeps_an_event_from_being_read(kind, texts):
    assert isinstance(events.read_event(kind, texts), events.EVENT_CLASSES[kind])
    assert events.read_event(kind, "no object") == events.EVENT_CLASSES[kind]()


def test_a_bar_has_at_most_four_digits_and_a_number_is_finite_or_not_said():
    assert events.read_event("block", {"bar": "12"}).bar == 12
    assert [events.read_event("block", {"bar": bad}).bar for bad in ("12345", "-1", "²", "")] == [None] * 4
    assert (
        events.read_event("stretch", {"minutes": "nan"}).minutes
        == events.read_event("stretch", {"minutes": "x"}).minutes
        == 0
    )


def test_an_end_at_the_same_instant_comes_after_what_else_happened_then():
    for end in ("stop", "close"):
        same = [
            Event("a-end", "s", "page", 0, T0 + timedelta(minutes=9), end, {}),
            Event("z-mark", "s", "page", 0, T0 + timedelta(minutes=9), "mark", {"place": "thumb"}),
        ]
        state = state_of([event(0, "start"), *same])
        assert [m.uid for m in state.marks] == ["z-mark"] and not state.live


def test_a_run_without_a_ladder_is_no_ladder_and_a_stretch_is_of_the_bar_that_runs():
    state = state_of(
        [
            event(0, "start"),
            event(1, "run", clean="yes"),
            event(2, "stretch", minutes="10"),
            event(10, "rest"),
            event(12, "stretch", minutes="5"),
        ]
    )
    assert state.ladder is None
    assert [s.extra_min for s in state.spans] == [10, 5]
