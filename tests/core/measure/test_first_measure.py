"""The measure offered first: what a hand must not be asked, what is due, what belongs to what is marked."""

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.measure.first_measure import Candidate, Hands, first_measure

TODAY = date(2026, 11, 12)


def day_ago(days: int | None) -> date | None:
    return None if days is None else TODAY - timedelta(days=days)


def candidate(name: str, asks: str, days: int | None, regions: tuple[str, ...] = (), device: bool = False) -> Candidate:
    return Candidate(name, asks, regions, 14, day_ago(days), device)


candidates = st.lists(
    st.builds(
        candidate,
        st.text("abc", min_size=1),
        st.sampled_from(("force", "fingers", "looks")),
        st.none() | st.integers(0, 60),
        st.sets(st.sampled_from(("fingers", "forearm", "jaw & lips"))).map(tuple),
        st.booleans(),
    ),
    max_size=8,
)


@given(
    candidates,
    st.builds(Hands, st.booleans(), st.booleans(), st.booleans()),
    st.dictionaries(st.sampled_from(("fingers", "forearm", "jaw & lips")), st.integers(1, 14)),
)
def test_a_numb_or_spared_hand_is_asked_for_nothing_and_a_muted_day_for_no_force(offered, hands, marked):
    found = first_measure(offered, hands, marked, TODAY)
    allowed = [c for c in offered if hands.allows(c.asks) and (c.last or not c.device)]
    assert (found is None) == (not allowed)
    if found:
        assert found.candidate in allowed
        asks = found.candidate.asks
        assert asks == "looks" or not (hands.numb or hands.spared)
        assert asks != "force" or not hands.muted


@pytest.mark.parametrize(
    ("marked", "days", "first", "why"),
    [
        ({}, {"press": None, "even": 20, "posture": 30}, "press", "never"),
        ({}, {"press": 20, "even": 18, "posture": 30}, "posture", "due"),
        ({}, {"press": 3, "even": 2, "posture": 13}, "posture", "oldest"),
        ({"fingers": 2}, {"press": None, "even": 20, "posture": 30}, "press", "marked"),
        ({"fingers": 2}, {"press": 3, "even": 20, "posture": 30}, "even", "marked"),
        ({"fingers": 2, "back & seat": 5}, {"press": 20, "even": 20, "posture": 30}, "posture", "marked"),
    ],
)
def test_what_is_due_and_belongs_to_a_mark_comes_first(marked, days, first, why):
    offered = [
        candidate("press", "force", days["press"], ("wrist & thumb", "fingers")),
        candidate("even", "fingers", days["even"], ("fingers",)),
        candidate("posture", "looks", days["posture"], ("back & seat",)),
    ]
    found = first_measure(offered, Hands(), marked, TODAY)
    assert (found.candidate.id, found.why) == (first, why)


def test_a_device_is_asked_of_nobody_who_never_used_it():
    assert first_measure([candidate("band", "looks", None, (), True)], Hands(), {}, TODAY) is None
    assert first_measure([candidate("band", "looks", 40, (), True)], Hands(), {}, TODAY).why == "due"
