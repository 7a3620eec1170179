"""Muted made hers. Common practice, no source."""

from hypothesis import given
from hypothesis import strategies as st

from chirotend.core.judge.rules import MUTED_MP, muted_dose
from chirotend.core.plan.suited import Way, suited
from chirotend.core.plan.week import Aim

THUMB, NECK = ("wrist & thumb", "left"), ("neck & shoulder", "right")
DOSE = muted_dose(MUTED_MP, 120.0)  # 84 minutes in blocks of 20
BASSOON, CONTRA = Way("bassoon", frozenset({THUMB})), Way("contrabassoon", frozenset({NECK}))
OPEN_HAND = Way("open_hand", frozenset(), frozenset({THUMB}))
HOOKED = Way("hooked", frozenset({THUMB}), frozenset({NECK}))


def test_what_is_left_is_whole_blocks_and_the_rest():
    assert (suited(DOSE, 0, (), (), (), (), {}).left_min, suited(DOSE, 0, (), (), (), (), {}).blocks) == (84, 5)
    assert suited(DOSE, 24, (), (), (), (), {}).blocks == 3
    assert (suited(DOSE, 100, (), (), (), (), {}).left_min, suited(DOSE, 100, (), (), (), (), {}).blocks) == (0, 0)


def test_what_asks_something_of_the_marked_place_and_the_grip_that_eases_it():
    found = suited(DOSE, 0, [THUMB], [BASSOON, CONTRA], [OPEN_HAND, HOOKED], (), {})
    assert (found.instruments, found.demands) == (2, (("bassoon", (THUMB,)),))
    assert (found.grips, found.not_grips) == (("open_hand",), ("hooked",))


def test_what_waits_and_why():
    aims = [
        Aim("new", "a premiere", 60, instrument="contrabassoon", new_hard=True),
        Aim("grip", "low B", 30, instrument="contrabassoon"),
        Aim("bassoon", "thirds", 30, instrument="bassoon"),
        Aim("contra", "long tones", 30, instrument="contrabassoon"),
    ]
    held = {"grip": "hooked"}
    found = suited(DOSE, 0, [THUMB], [BASSOON, CONTRA], [HOOKED], aims, held)
    assert [(w.aim, w.why, w.what) for w in found.wait] == [
        ("new", "new_hard", ""),
        ("grip", "grip", "hooked"),
    ]
    # nothing is known of the contrabassoon and the thumb: it is not offered in the place of the bassoon
    assert found.go == ("bassoon", "contra")


places = st.sampled_from([THUMB, NECK, ("fingers", "right"), ("back & seat", "none")])
ways = st.builds(Way, st.text(min_size=1, max_size=3), st.frozensets(places), st.frozensets(places))
aims_of_hers = st.builds(Aim, st.text(min_size=1, max_size=4), st.just("x"), st.floats(0, 90), new_hard=st.booleans())


@given(
    st.frozensets(places),
    st.lists(ways, unique_by=lambda w: w.id),
    st.lists(ways, unique_by=lambda w: w.id),
    st.lists(aims_of_hers, unique_by=lambda a: a.uid),
)
def test_every_aim_is_said_once_and_nothing_that_costs_a_marked_place_is_offered(marked, instruments, grips, aims):
    found = suited(DOSE, 10, marked, instruments, grips, aims, {})
    assert sorted((*found.go, *(w.aim for w in found.wait))) == sorted(a.uid for a in aims)
    by_id = {g.id: g for g in grips}
    assert not any(by_id[g].demands & marked for g in found.grips)
    assert not any(a.new_hard for a in aims if a.uid in found.go)
