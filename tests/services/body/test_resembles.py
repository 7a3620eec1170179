"""What marks resemble, in words; the self-checks; what eased it. Nothing here names a condition or loosens a call."""

from datetime import timedelta

import pytest

from chirotend.core.body.patterns import TIERS
from chirotend.core.body.redflags import red_flag
from chirotend.library.loader import self_checks as shipped_checks
from chirotend.library.loader import symptom_patterns
from chirotend.services.body import checks, resembles, self_checks
from chirotend.services.body.checks import TypedMarks, write_marks
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context, FieldError, NotThere
from chirotend.services.kit.profile import say

#: names of conditions and promises that no sentence may hold
NEVER = (
    "syndrome",
    "tendinitis",
    "tendonitis",
    "arthritis",
    "dystonia",
    "diagnosed",
    "you have",
    "safe",
    "cure",
    "exercise for it",
)


def mark(
    context: Context, places: tuple[str, ...], kind: str, strength: float = 3, timing: str = "night", **more
) -> None:
    write_marks(context, TypedMarks(places, kind, strength, (timing,), **more), context.today)


def test_thumb_index_and_middle_are_told_as_an_area_and_a_drawing(context):
    mark(context, ("thumb_tip_palm.left", "index_tip_palm.left", "middle_tip_palm.left"), "tingling")
    page = resembles.resembling_page(context)
    sentences = " ".join(line.sentence for line in page.lines)
    assert "the usual area of the median nerve. Not a diagnosis" in sentences
    assert "Left hand as drawn: the thumb-side fingers alone" in sentences
    assert page.patterns[0].id == "thumb_to_half_ring"
    assert page.patterns[0].what_else and page.patterns[0].log_next and page.patterns[0].see_whom
    assert all(line.source and line.rule for line in page.lines)


def test_an_urgent_answer_makes_it_sooner_and_tacet_hides_what_to_do_meanwhile(context):
    mark(context, ("thumb_tip_palm.left", "index_tip_palm.left", "middle_tip_palm.left"), "tingling")
    assert resembles.resembling_page(context).patterns[0].ease_off
    checks.write_flags(context, "waking", ["constant_numbness"])
    shown = resembles.resembling_page(context).patterns[0]
    assert shown.how_soon == "within a week"
    assert shown.ease_off == ()
    assert todays_call(context).row.call == "tacet"


def test_pain_while_playing_is_told_by_its_stage(context):
    mark(context, ("thumb_base_joint.left", "thumb_ball.left"), "pain", 2, "playing")
    page = resembles.resembling_page(context)
    assert any(line.sentence.startswith("Stage 2 of five") for line in page.lines)
    assert page.patterns[0].id == "thumb_base_pinch"


def test_the_stage_is_told_week_by_week(context):
    write_marks(
        context, TypedMarks(("thumb_base_joint.left",), "pain", 2, ("playing",)), context.today - timedelta(days=20)
    )
    mark(context, ("thumb_base_joint.left", "thumb_ball.left"), "pain", 2, "playing")
    stages = [stage for _, stage in resembles.resembling_page(context).stages]
    assert len(stages) == 12 and stages[-1] == 2 and stages[-3] == 1 and stages[0] == 0


def test_a_quiet_fortnight_resembles_nothing(context):
    assert resembles.resembling_page(context) == resembles.Likenesses((), ())


def test_no_pattern_names_a_condition_and_each_is_whole():
    for pattern in symptom_patterns().values():
        shown = (
            pattern.plain_name,
            pattern.looks_like.words,
            *pattern.what_else_it_can_be,
            *pattern.ease_off,
            *pattern.what_to_log_next,
        )
        assert not [word for word in NEVER for text in shown if word in text.lower()], pattern.id
        assert pattern.see_whom and pattern.how_soon in TIERS and pattern.source and not pattern.reviewed_by_clinician


def test_what_eased_it_is_kept_and_a_strange_word_refused(context):
    mark(context, ("thumb_ball.left",), "pain", eased="shaking_out")
    assert checks.marked_on(context, context.today)[0].entry.eased == "shaking_out"
    with pytest.raises(FieldError) as refused:
        mark(context, ("thumb_ball.left",), "pain", eased="magic")
    assert refused.value.field == "eased"


def test_a_self_check_is_kept_and_a_clear_one_loosens_nothing(context):
    mark(context, ("thumb_ball.left",), "pain", 6, "waking")
    before = todays_call(context).row.call
    assert len(self_checks.shown(context)) == 5 and all(c.picture.lines for c in self_checks.shown(context))
    self_checks.answer(context, "palm_flat", "same")
    assert self_checks.shown(context)[0].last == "as always"
    assert todays_call(context).row.call == before == "tacet"
    self_checks.answer(context, "palm_flat", "differs")
    assert self_checks.shown(context)[0].last == "differs"
    say(context, recent_operation="yes")
    assert "shoulder_reach" not in {c.check.id for c in self_checks.shown(context)}
    with pytest.raises(NotThere):
        self_checks.answer(context, "wrist_bend", "same")
    with pytest.raises(FieldError):
        self_checks.answer(context, "palm_flat", "maybe")


def test_only_the_five_gentle_ones_are_offered():
    """Clinical rules: palm flat, gentle fist, side by side, thumb-finger ring, pain-free reach; nothing forced."""
    assert set(shipped_checks()) == {"palm_flat", "gentle_fist", "side_by_side", "thumb_ring", "shoulder_reach"}


def test_every_emergency_of_a_pattern_is_shown_and_comes_first(context):
    """Bladder, saddle and chest signs once fell off the end of the list."""
    for pattern in symptom_patterns().values():
        shown = resembles._shown_pattern(pattern, "left", (), 0.4, set(), (), False)
        tiers = [s.tier for s in pattern.sooner_if if s.tier in ("emergency", "same_day")]
        words = [red_flag(s.code).sentence.rstrip(".") for s in pattern.sooner_if if s.tier == "emergency"]
        assert set(shown.sooner[: len(words)]) == set(words), pattern.id
        assert len(shown.sooner) == len(tiers) + len(pattern.prompt_if), pattern.id


@pytest.mark.parametrize(
    ("pattern", "code"),
    [
        ("thumb_side_wrist", "pain_after_fall"),
        ("thumb_base_pinch", "pain_after_fall"),
        ("little_side_wrist", "pain_after_fall"),
        ("ring_little_elbow", "thenar_wasting"),
        ("ring_little_wrist", "thenar_wasting"),
    ],
)
def test_a_pattern_asks_for_the_sign_that_makes_it_pressing(pattern, code):
    found = symptom_patterns()[pattern]
    assert code in found.ask_first and code in {s.code for s in found.sooner_if}


def test_one_tingling_finger_says_nothing_of_a_drawing_and_nothing_is_told_in_percent(context):
    mark(context, ("middle_tip_palm.left", "thumb_ball.left"), "tingling")
    page = resembles.resembling_page(context)
    assert not [line for line in page.lines if "as drawn" in line.sentence]
    said = [line.sentence + line.rule for line in page.lines] + [p.likeness for p in page.patterns]
    assert not [s for s in said if "%" in s or "losing function" in s]
