"""The tempo ladder and the silent questions against simulated players; the new events of a session."""

import math
import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.errors import OutOfRange
from chirotend.core.session import ladder, prompts
from chirotend.core.session.fold import state_of
from chirotend.core.session.prompts import Answer
from tests.core.test_fold import event


def climb(school: str, edge: float, runs: int, seed: int, start: float = 60) -> ladder.Ladder:
    """A player who is clean with a probability that falls through one half at `edge` beats per minute."""
    chance = random.Random(seed)
    found = ladder.begin(start, school)
    for _ in range(runs):
        clean = chance.random() < 1 / (1 + math.exp((found.tempo - edge) / (edge * 0.03)))
        found = ladder.after(found, clean)
    return found


@pytest.mark.parametrize("school", ladder.MANNERS)
@pytest.mark.parametrize("edge", [90.0, 120.0, 160.0])
def test_a_simulated_player_ends_near_her_edge_and_the_held_tempo_lies_below_it(school, edge):
    ends = [climb(school, edge, 80, seed) for seed in range(12)]
    middle = sum(e.tempo for e in ends) / len(ends)
    assert 0.85 * edge <= middle <= 1.1 * edge
    held = [e.top_clean for e in ends if e.top_clean]
    assert held and sum(held) / len(held) <= 1.04 * edge


def test_the_soft_school_goes_up_later_than_the_edge():
    soft, edge = (climb(s, 150, 9, 1) for s in ladder.MANNERS)
    assert soft.tempo < edge.tempo


def test_most_runs_failing_drops_the_tempo_and_one_does_not():
    found = ladder.begin(100, "soft")
    found = ladder.after(found, False)
    assert found.tempo == 100
    assert ladder.after(found, False).tempo == 90


@given(
    st.lists(st.booleans(), max_size=60),
    st.sampled_from(ladder.MANNERS),
    st.floats(20, 400),
    st.none() | st.floats(20, 400),
)
def test_a_ladder_stays_in_range_and_under_a_muted_ceiling(runs, school, start, ceiling):
    found = ladder.begin(start, school, ceiling)
    for clean in runs:
        found = ladder.after(found, clean)
        assert 20 <= found.tempo <= 400 and (ceiling is None or found.tempo <= round(ceiling) + 0.5)
    assert len(found.runs) == len(runs)
    assert found.top_clean is None or any(tempo == found.top_clean and clean for tempo, clean in found.runs)


@pytest.mark.parametrize("bad", [(10, "soft"), (500, "soft"), (60, "wild")])
def test_a_ladder_that_cannot_begin(bad):
    with pytest.raises(OutOfRange):
        ladder.begin(*bad)


WEIGHTS = {"thumb": 9.0, "jaw": 1.0}


def test_the_weakest_spot_is_asked_first_and_not_before_its_time():
    assert prompts.due(7, [], WEIGHTS) is None
    assert prompts.due(8, [], WEIGHTS) == "thumb"
    assert prompts.due(12.5, [], WEIGHTS) is None
    assert prompts.due(30, [], {}) is None


def test_an_answer_counts_for_the_question_that_stood_and_for_no_other_time():
    """By hand: asked at 8 minutes; "fine" at 9 gives quiet to 24, "tight" to 17; said at 20 it answers nothing."""
    assert prompts.due(23.5, [Answer(9, "thumb", "fine")], WEIGHTS) is None
    assert prompts.due(24, [Answer(9, "thumb", "fine")], WEIGHTS) is not None
    assert prompts.due(17, [Answer(9, "thumb", "tight")], WEIGHTS) is not None
    assert prompts.due(16.5, [Answer(9, "thumb", "tight")], WEIGHTS) is None
    late = [Answer(20, "thumb", "tight")]
    assert prompts.due(11, late, WEIGHTS) == "thumb" and prompts.due(28, late, WEIGHTS) is None


def questions(minutes: float, answer: str | None) -> int:
    """How many questions stand over so many minutes of a player who always (or never) answers."""
    given_answers: list[Answer] = []
    count, at, last = 0, 0.0, None
    while at < minutes:
        prompt = prompts.due(at, given_answers, WEIGHTS)
        if prompt and prompt != last:
            count += 1
            if answer:
                given_answers.append(Answer(at, prompt, answer))
        last = prompt if not answer else None
        at += 0.5
    return count


def test_what_is_not_answered_is_asked_less_and_what_is_tight_more():
    never, fine, tight = questions(120, None), questions(120, "fine"), questions(120, "tight")
    assert never < fine < tight
    assert never <= 4


def test_events_of_the_stand():
    state = state_of(
        [
            event(0, "start", instrument="bassoon", planned="yes"),
            event(1, "ladder", tempo="100", school="soft"),
            event(2, "run", clean="yes"),
            event(3, "stretch", minutes="5"),
            event(4, "answer", "a", prompt="thumb", said="tight", place="thumb"),
            event(5, "answer", prompt="jaw", said="perhaps"),
            event(10, "rest"),
            event(10.5, "block"),
            event(12, "block", bar="7"),
            event(13, "rest"),
            event(14, "ladder", tempo="fast"),
        ]
    )
    assert [s.bar for s in state.spans] == [0, 1, 2, 7, 8]
    assert state.spans[0].extra_min == 5
    assert state.skipped_rests == 1
    assert [(a.prompt, a.said, a.at_min) for a in state.answers] == [("thumb", "tight", 4.0)]
    assert [(m.uid, m.place) for m in state.marks] == [("a", "thumb")]
    assert state.ladder is None  # a tempo that cannot be leaves no ladder
    assert state_of([event(0, "start"), event(1, "stretch", minutes="lots")]).spans[0].extra_min == 0
