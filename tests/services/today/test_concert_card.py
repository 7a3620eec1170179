"""The card before the curtain: what it asks, offers and writes."""

from dataclasses import replace
from datetime import timedelta

import pytest

from chirotend.library.loader import card_problems, grips
from chirotend.services.body import checks
from chirotend.services.body.checks import TypedMarks, write_marks
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import Context, FieldError
from chirotend.services.kit import own_library, things
from chirotend.services.plan import engagements, week_aims
from chirotend.services.plan.week_aims import TypedAim
from chirotend.services.record import corrections, log
from chirotend.services.today import concert_card
from chirotend.services.today.stop import stopped


def test_the_card_knows_the_instrument_of_the_night(context):
    things.write(context, None, {"kind": "harness", "name": "Harness", "instrument": "bassoon"})
    things.write(context, None, {"kind": "peg", "name": "Peg", "instrument": "contrabassoon"})
    texts = offered(context, "thumb", "contrabassoon")
    assert "Set the height of your peg." in texts and not any("harness" in o for o in texts)


def offered(context: Context, problem: str, instrument: str = "", side: str = "") -> list[str]:
    card = next(c for c in concert_card.cards(context, instrument) if c.problem.id == problem)
    return [o.text for o in card.options if o.side in ("", side)]


def use(context: Context, grip: str) -> None:
    week_aims.write_aim(context, context.today, TypedAim("Rolls", 20, grip=grip))


def answered(**changes) -> concert_card.Typed:
    usual = {"problem": "thumb", "place": "thumb_ball", "side": "left", "strength": "clearly", "still": "no"}
    return concert_card.Typed(**{**usual, **changes})


def test_options_come_from_her_own_kit(context):
    context.player.instruments = ["bassoon", "snare"]
    things.write(context, None, {"kind": "harness", "name": "Harness, borrowed"})
    things.write(context, None, {"kind": "stick", "name": "Light pair", "mass_g": "42", "length_mm": "400"})
    things.write(context, None, {"kind": "stick", "name": "Heavy pair", "mass_g": "61", "length_mm": "410"})
    assert "Hang it on your harness, borrowed." in offered(context, "thumb")
    assert "Take the lighter pair you own: Light pair, 42 g." in offered(context, "thumb")
    assert "Take the heavier pair you own: Heavy pair, 61 g." in offered(context, "tremor")
    assert all(c.options and c.problem.hand_over for c in concert_card.cards(context))


def test_nothing_new_is_tried_tonight(context):
    """Never another mouthpiece or reed, never a rest taken off: in no option of any problem."""
    things.write(context, None, {"kind": "rest", "name": "Shoulder rest"})
    texts = [o.text.lower() for c in concert_card.cards(context) for o in c.options]
    assert any("shoulder rest sits where it always sits" in t for t in texts)
    assert not [t for t in texts if "mouthpiece" in t or "reed" in t or "take off" in t or "move or" in t]


def test_only_a_grip_she_uses_is_offered_for_the_same_hand_and_none_for_a_numb_one(context):
    context.player.instruments = ["snare"]
    sore = set(card_problems()["thumb"].places)
    fitting = [
        g
        for g in grips().values()
        if "sticks_mallets" in g.families and g.kind != "support" and sore & set(g.relieves) and not sore & set(g.costs)
    ]
    either = next(g for g in fitting if g.hand in ("either", "both"))
    assert not [o for o in offered(context, "thumb", side="left") if "a hold you use" in o]
    use(context, either.id)
    for side in ("left", "right"):
        (found,) = [o for o in offered(context, "thumb", side=side) if "a hold you use" in o]
        assert found.startswith(side.capitalize()) and either.name.lower() in found.lower()
    assert not [o for o in offered(context, "numb", side="left") if "hold you use" in o]
    write_marks(context, TypedMarks(("index_tip_palm.left",), "numbness", 2.0, ("playing",), "brief"), context.today)
    assert not [o for o in offered(context, "thumb", side="left") if "a hold you use" in o]
    assert [o for o in offered(context, "thumb", side="right") if "a hold you use" in o]


def test_even_a_hold_of_her_own_is_not_offered_for_what_is_numb(context):
    context.player.instruments = ["snare"]
    hold = {"name": "Mine", "families": ["sticks_mallets"], "kind": "hold", "hand": "either", "motion": ["fingers"]}
    own_library.add(context, "grip", {**hold, "relieves": ["index_tip_palm", "thumb_tip_palm"]})
    assert [o for o in offered(context, "thumb", side="left") if "mine" in o]
    assert not [o for o in offered(context, "numb", side="left") if "mine" in o]


def test_a_grip_is_offered_only_where_it_costs_no_sore_place(context):
    context.player.instruments = ["snare", "bassoon"]
    for grip in week_aims.holds_for(context, postures=False):
        use(context, grip)
    checked = 0
    for card in concert_card.cards(context):
        for option in (o for o in card.options if "a hold you use" in o.text):
            grip = next(g for g in grips().values() if g.name.lower() in option.text.lower())
            assert not set(grip.costs) & set(card.problem.places) and grip.hand in (option.side, "either", "both")
            checked += 1
        for side in ("left", "right"):
            own = [o.text.lower() for o in card.options if "a hold you use" in o.text and o.side == side]
            sore = set(card.problem.places)
            relieved = [len(sore & set(g.relieves)) for o in own for g in grips().values() if g.name.lower() in o]
            assert relieved == sorted(relieved, reverse=True), "what relieves most stands first"
    assert checked


def test_the_card_writes_the_place_that_was_touched_changes_the_call_and_books_once(context):
    typed = answered(problem="numb", place="ring_tip_palm_littlehalf", still="not ten minutes yet", handed_over=True)
    assert concert_card.write(context, typed)
    concert_card.write(context, typed)
    (entry,) = context.store.check(context.today, "playing").entries
    assert (entry.zone, entry.side, entry.lasting) == ("ring_tip_palm_littlehalf", "left", None)
    note = context.store.note(context.today)
    assert note is not None and note.note.count("Handed the part over.") == 1
    assert "left ring finger tip" in note.note and "numb or tingling" in note.note
    row = todays_call(context).row
    assert (row.call, row.row) == ("muted_pp", 4)  # how long it lasted is not known: row 4, not to be overruled
    booked = engagements.between(context, context.today, context.today + timedelta(days=2))
    assert [e.title for e in booked] == ["Make an appointment: numb or tingling"]


def test_still_numb_after_ten_minutes_is_handed_over_whatever_was_pressed(context):
    assert concert_card.write(context, answered(problem="numb", place="index_tip_palm", still="yes"))
    assert "Told to hand it over." in context.store.note(context.today).note
    assert todays_call(context).row.row == 2
    assert concert_card.write(
        context, answered(problem="shoulder", place="neck_back")
    )  # what stands open rules the next card


def test_a_card_adds_to_the_note_and_cuts_nothing(context):
    long = "x" * 1990
    log.write_day(context, context.today, False, long)
    assert not concert_card.write(context, answered(done=("Rest the thumb in every bar that is free.",)))
    note = context.store.note(context.today).note
    assert note.startswith(long) and "Rest the thumb" in note and len(note) > 2000


def test_a_card_that_waited_on_a_device_belongs_to_its_own_evening(context):
    concert_card.write(context, answered(at=context.now - timedelta(hours=14)))
    assert context.store.check(context.today - timedelta(days=1), "playing") is not None
    assert context.store.note(context.today) is None


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"problem": "hunger"}, "problem"),
        ({"place": ""}, "place"),
        ({"place": "hip_seat"}, "place"),
        ({"side": ""}, "side"),
        ({"strength": ""}, "strength"),
        ({"still": ""}, "still"),
        ({"done": ("x",) * 21}, "done"),
    ],
)
def test_a_card_that_says_too_little_is_refused(context, change, field):
    with pytest.raises(FieldError) as refused:
        concert_card.write(context, answered(**change))
    assert refused.value.field == field


def test_no_option_puts_anything_on_numb_skin_or_promises(context):
    texts = [t.lower() for p in card_problems().values() for t in (*(o.text for o in p.options), p.hand_over)]
    assert any("no tape and no padding on skin that is numb" in t for t in texts)
    assert not [t for t in texts for word in ("safe", "cleared", "play through", "medicine", "tablet") if word in t]


def test_a_yes_that_is_sent_again_does_not_come_back_after_it_was_taken_back(context):
    concert_card.sign_answered(context, "chest_pain", context.now - timedelta(minutes=3))
    assert stopped(context).urgent and "yes: pain or pressure in the chest" in log.day_of(context, context.today).note
    checks.rub_out_flags(context)
    concert_card.sign_answered(context, "chest_pain", context.now - timedelta(minutes=3))
    assert stopped(context) is None
    concert_card.sign_answered(context, "chest_pain", context.now)
    assert stopped(context).urgent, "a yes of another time counts"


def test_a_yes_counts_also_when_the_note_of_the_day_is_full(context):
    corrections.put(context, replace(log.day_of(context, context.today), note="x" * concert_card.NOTE_MAX))
    concert_card.sign_answered(context, "chest_pain", context.now)
    assert stopped(context).urgent
