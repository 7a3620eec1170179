"""Hands, kit, the bench, own items, warm-ups, dates and the week's plan, as services do them."""

from dataclasses import replace
from datetime import UTC, date, datetime, time, timedelta

import pytest

from chirotend.core.plan.planner import monday
from chirotend.core.plan.week import plan_rules
from chirotend.services import (
    bench,
    corrections,
    date_question,
    engagements,
    exports,
    hands,
    kit,
    log,
    own_library,
    plan,
    plan_page,
    playing,
    today,
    uses,
    warmups,
)
from chirotend.services.checks import TypedMarks, as_usual, write_marks
from chirotend.services.desk import Desk, NotThere, Refused
from chirotend.services.engagements import Typed
from chirotend.services.plan import TypedAim
from chirotend.services.profile import Profile, profile, say
from chirotend.store.models import PlannedRow, WarmupRow

HAND = {
    "span": "198",
    "1-2.ease": "58",
    "1-2.most": "66",
    "2-3.ease": "40",
    "2-3.most": "50",
    "1-3.ease": "82",
    "1-3.most": "98",
}


@pytest.fixture
def played(desk: Desk) -> Desk:
    """Eight weeks of an hour and a half a day on the bassoon: a usual range, a usual week."""
    for back in range(60, 0, -1):
        day = desk.today - timedelta(days=back)
        minutes = 80 + (back * 7) % 30
        log.write_session(desk, log.TypedSession(day, minutes, time(10), 5, "bassoon"))
    as_usual(desk)
    return desk


# --- hands, kit, room --------------------------------------------------------------------------------------


def test_hands_are_kept_by_value_and_the_latest_counts(desk):
    assert hands.measured(desk).on is None
    assert hands.measure(desk, "left", HAND) == 7
    assert hands.measure(desk, "left", HAND) == 0  # nothing changed, nothing is written again
    later = replace(desk, now=desk.now + timedelta(days=3))
    assert hands.measure(later, "left", {"span": "20 cm"}) == 1
    found = hands.measured(later)
    assert found.hands["left"].span_mm == 200 and found.hands["left"].gaps["1-2"].ease_mm == 58
    assert found.hands["right"].gaps == {}
    assert found.on == later.today


def test_a_player_who_reads_inches_types_and_sees_inches(desk):
    desk.player.units = "inch"
    hands.measure(desk, "left", {"span": "7.8"})
    assert hands.measured(desk).hands["left"].span_mm == pytest.approx(198.12)
    assert hands.known_values(desk, "left") == {"span": "7.8 in"}
    knob = next(k for k in bench.bench(desk, "string", {"length": "41.5"}).knobs if k.field == "length")
    assert (knob.shown_unit, knob.value) == ("in", pytest.approx(1054.1))


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        ({"span": "wide"}, "left.span"),
        ({"span": "3"}, "left.span"),
        ({"span": "20 miles"}, "left.span"),
        ({"1-2.ease": "70", "1-2.most": "60"}, "left.1-2.ease"),
        ({"1-2.ease": "50"}, "left.1-2.most"),
        ({"1-2.most": "50"}, "left.1-2.ease"),
    ],
)
def test_a_measure_that_cannot_be_is_refused_at_its_field_and_nothing_is_kept(desk, typed, field):
    with pytest.raises(Refused) as refused:
        hands.measure(desk, "left", typed)
    assert refused.value.field == field
    assert hands.measured(desk).on is None


def test_what_she_says_of_herself_is_kept_and_a_strange_word_refused(desk):
    assert profile(desk) == Profile()
    say(desk, little_left="moves with the ring finger", cold_hands="often", mirrored="yes")
    assert len(hands.findings(profile(desk))) == 3
    for name, value in (("dominant", "foot"), ("warm_minutes", 2.0), ("to_hour", 3.0), ("rest_weekday", "9")):
        with pytest.raises(Refused):
            say(desk, **{name: value})
    assert profile(desk).cold_hands == "often"


def test_kit_says_what_is_due(desk):
    uid = kit.write(
        desk,
        None,
        {
            "kind": "instrument",
            "name": "Bassoon",
            "instrument": "bassoon",
            "mass_g": "3.4 kg",
            "service_on": "2025-11-01",
            "service_months": "12",
        },
    )
    kit.write(desk, None, {"kind": "harness", "name": "Harness", "back_on": "2026-11-20", "note": "borrowed"})
    instrument, harness = kit.kit(desk)
    assert (instrument.line, instrument.due) == ("3.40 kg", "set-up due since November 2026")
    assert harness.due == "give back by 20 November"
    kit.write(
        desk,
        uid,
        {
            "kind": "instrument",
            "name": "Bassoon",
            "instrument": "bassoon",
            "service_on": "2026-11-01",
            "service_months": "12",
        },
    )
    assert kit.kit(desk)[0].due == ""
    change = corrections.offered(desk)
    assert change and change.action == "edit"
    corrections.undo(desk, change.number)
    assert kit.kit(desk)[0].due != ""


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        ({"kind": "boat", "name": "x"}, "kind"),
        ({"kind": "strap", "name": ""}, "name"),
        ({"kind": "instrument", "name": "x", "instrument": "kazoo"}, "instrument"),
        ({"kind": "stick", "name": "x", "mass_g": "heavy"}, "mass_g"),
        ({"kind": "stick", "name": "x", "length_mm": "40", "balance_mm": "50"}, "balance_mm"),
        ({"kind": "strap", "name": "x", "service_on": "2026-02-30"}, "service_on"),
        ({"kind": "strap", "name": "x", "service_on": "2027-01-01"}, "service_on"),
        ({"kind": "strap", "name": "x", "service_months": "0"}, "service_months"),
    ],
)
def test_kit_that_cannot_be_is_refused_at_its_field(desk, typed, field):
    with pytest.raises(Refused) as refused:
        kit.write(desk, None, typed)
    assert refused.value.field == field
    assert kit.kit(desk) == ()


# --- the bench ---------------------------------------------------------------------------------------------


@pytest.mark.parametrize("tab", list(bench.TABS))
def test_every_bench_has_numbers_a_drawing_and_one_thing_to_try(desk, tab):
    found = bench.bench(desk, tab, {})
    assert found.rows and found.knobs and found.wide.shapes and found.narrow.shapes
    assert found.remark and found.fine_print
    for choice in found.choices:
        assert bench.bench(desk, tab, {"choice": choice}).choice == choice
    for knob in found.knobs:
        with pytest.raises(Refused) as refused:
            bench.bench(desk, tab, {knob.field: "99999"})
        assert refused.value.field == knob.field and "type a number from" in refused.value.sentence
    with pytest.raises(NotThere):
        bench.bench(desk, tab, {"choice": "nothing"})


def test_the_strap_that_moves_says_what_it_takes_off_and_is_compared_with_how_it_hangs(desk):
    moved = bench.bench(desk, "carry", {"choice": "bassoon_seat", "strap": "120"})
    assert "takes 25 % off the left hand: 17.4 N → 13.1 N" in moved.remark and "repairer" in moved.remark
    bench.keep_as_it_hangs(desk, {"choice": "bassoon_seat", "strap": "120"})
    again = bench.bench(desk, "carry", {"choice": "bassoon_seat"})
    assert next(k for k in again.knobs if k.field == "strap").value == 120
    assert "Try next: moving" in again.remark


def test_a_strap_takes_weight_off_the_thumb(desk):
    bare = bench.bench(desk, "carry", {"choice": "clarinet_thumb"})
    assert "a strap that pulls with 4.0 N takes" in bare.remark
    strapped = bench.bench(desk, "carry", {"choice": "clarinet_thumb", "tension": "4"})
    assert float(strapped.rows[0][1].split()[0]) < float(bare.rows[0][1].split()[0])


def test_the_instrument_of_her_kit_is_the_one_on_the_bench(desk):
    kit.write(
        desk,
        None,
        {"kind": "instrument", "name": "Mine", "instrument": "bassoon", "mass_g": "3.1 kg", "balance_mm": "455"},
    )
    kit.write(
        desk, None, {"kind": "stick", "name": "Old pair", "mass_g": "48", "length_mm": "395", "balance_mm": "180"}
    )
    knobs = {k.field: k.value for k in bench.bench(desk, "carry", {"choice": "bassoon_seat"}).knobs}
    assert (knobs["mass"], knobs["balance"]) == (3.1, 455)
    assert "Old pair" in bench.bench(desk, "sticks", {}).choices.values()


def test_reach_is_judged_by_the_hand_that_plays_it(desk):
    hands.measure(desk, "left", {**HAND, "1-4.ease": "104", "1-4.most": "120", "2-4.ease": "50", "2-4.most": "60"})
    found = bench.bench(desk, "string", {"choice": "double_bass", "length": "1050", "first": "1", "apart": "2"})
    assert found.rows[1][0] == "1–4" and found.rows[1][-1] == "stretched"
    assert "strings apart" in found.rows[-1][0]
    assert "teacher" in found.remark
    say(desk, mirrored="yes")
    assert "Measure the gaps of your right hand" in bench.bench(desk, "string", {"choice": "double_bass"}).remark
    eased = bench.bench(desk, "holes", {"choice": "bassoon_left", "extension": "6"})
    assert any("was 47 mm" in cell for cell in eased.rows[1])


# --- own items ---------------------------------------------------------------------------------------------


def test_an_item_of_her_own_is_checked_like_the_shipped_ones_and_can_be_taken_out(desk):
    uid = own_library.add(desk, "instrument", {"name": "Glass bassoon", "family": "thumb_winds"})
    assert own_library.name_of(desk, uid) == "Glass bassoon" and uid in own_library.instruments(desk)
    own = own_library.add(
        desk,
        "exercise",
        {
            "name": "Mother’s shake",
            "families": ["all"],
            "stage": "release",
            "minutes": "1.5",
            "hands": "both",
            "how": "Shake, smile.",
            "zones_loaded": [],
        },
    )
    assert own in {e.id for e in warmups._offered(desk, "bassoon")}
    own_library.add(
        desk,
        "grip",
        {"name": "Thumb off", "kind": "hold", "families": ["sticks_mallets"], "hand": "either", "motion": ["fingers"]},
    )
    assert corrections.offered(desk) is not None
    own_library.remove(desk, "instrument", uid)
    assert uid not in own_library.instruments(desk)


@pytest.mark.parametrize(
    ("kind", "document", "field"),
    [
        ("instrument", {"name": "", "family": "flutes"}, "name"),
        ("instrument", {"name": "???", "family": "flutes"}, "name"),
        ("instrument", {"name": "x", "family": "kazoos"}, "family"),
        ("exercise", {"name": "x", "families": []}, "family"),
        (
            "exercise",
            {"name": "x", "families": ["all"], "stage": "sleep", "minutes": 1, "hands": "both", "how": ""},
            "stage",
        ),
        (
            "exercise",
            {"name": "x", "families": ["all"], "stage": "release", "minutes": "ten", "hands": "both", "how": ""},
            "minutes",
        ),
        ("grip", {"name": "x", "kind": "k", "families": ["all"], "hand": "foot", "motion": []}, "hand"),
    ],
)
def test_an_own_item_that_cannot_be_is_refused_at_its_field(desk, kind, document, field):
    with pytest.raises(Refused) as refused:
        own_library.add(desk, kind, document)
    assert refused.value.field == field


# --- warm-ups ----------------------------------------------------------------------------------------------


def test_the_warm_up_leaves_out_a_sore_place_and_says_so(desk):
    write_marks(desk, TypedMarks(("thumb_base_joint.left",), "pain", 4.0, ("waking",)), desk.today)
    page = warmups.page(desk)
    assert any("left joint at the base of the thumb is marked" in line or "thumb" in line for line in page.left_out)
    assert all(("thumb_base_joint", "both") not in s.step.exercise.zones for s in page.steps)


def test_a_mark_at_a_whisper_keeps_nothing_out(desk):
    write_marks(desk, TypedMarks(("lower_lip.none",), "tension", 1.0, ("waking",)), desk.today)
    assert not any("lower lip" in line for line in warmups.page(desk).left_out)


def test_changes_are_kept_for_the_day_and_for_the_memory(desk):
    page = warmups.page(desk)
    assert not page.kept and page.minutes == 12
    warmups.change(desk, minutes=20, tags=["scales"])
    first = warmups.page(desk).steps[0]
    warmups.change(desk, swap=(first.step.exercise.id, first.instead[0][0]))
    warmups.change(desk, skip=warmups.page(desk).steps[1].step.exercise.id)
    page = warmups.page(desk)
    assert page.kept and page.warmup.minutes == 20 and page.steps[0].step.exercise.id == first.instead[0][0]
    tomorrow = replace(desk, now=desk.now + timedelta(days=1))
    assert warmups.done_before(tomorrow) == {s.step.exercise.id for s in page.steps}
    warmups.compose_afresh(desk)
    assert desk.store.shelf(WarmupRow).all() == []
    with pytest.raises(Refused):
        warmups.change(desk, minutes=2)
    with pytest.raises(Refused):
        warmups.change(desk, instrument="kazoo")


def test_a_kept_step_stays_every_day_and_a_mirrored_player_has_her_own_sides(desk):
    lists = [warmups.page(replace(desk, now=desk.now + timedelta(days=n))).warmup for n in range(8)]
    turning = next(s.exercise.id for w in lists for s in w.steps if s.turned)
    warmups.keep_step(desk, turning)
    later = [warmups.page(replace(desk, now=desk.now + timedelta(days=n))) for n in range(8)]
    assert all(turning in p.warmup.ids for p in later)
    assert not any(s.step.turned and s.kept for p in later for s in p.steps)
    warmups.keep_step(desk, turning)
    assert profile(desk).kept_steps == ()
    played = own_library.instruments(desk)["bassoon"]
    entry = next(e for e in own_library.exercises(desk).values() if e.zones_from_instrument and e.hands == "both")
    usual, mirrored = (dict(warmups.as_exercise(entry, played, m).zones) for m in (False, True))
    assert (usual["web_thumb"], mirrored["web_thumb"]) == ("right", "left")


def test_the_stand_runs_through_the_steps_then_rests(desk):
    session = playing.start_warmup(desk)
    steps = warmups.kept_steps(desk, desk.today)
    stand = playing.stand(desk)
    assert (stand.title, stand.bar_min, stand.next_title) == (steps[0].name, steps[0].minutes, steps[1].name)
    for n in range(1, len(steps)):
        at = replace(desk, now=desk.now + timedelta(minutes=n))
        playing.append(at, [{"uid": f"b{n}", "session": session, "kind": "block", "seq": n}])
    stand = playing.stand(at)
    assert (stand.title, stand.next_kind, stand.next_title) == (steps[-1].name, "rest", "")
    after = replace(desk, now=desk.now + timedelta(minutes=len(steps)))
    playing.append(after, [{"uid": "r", "session": session, "kind": "rest", "seq": 99}])
    assert playing.stand(after).title == ""
    playing.append(after, [{"uid": "s", "session": session, "kind": "stop", "seq": 100}])
    written = playing.write_in(after, playing.WrapUp(3, "nothing", []))
    assert [b.kind for b in written.blocks] == ["warm-up"]


@pytest.mark.parametrize(
    ("typed", "last"), [({"cycle": "i m a m", "octaves": "3"}, "a"), ({"cycle": "1-2-3", "notes": "8"}, "2")]
)
def test_a_cycle_is_counted_out(typed, last):
    usual = {"cycle": "i m", "octaves": "1", "notes": "", "group": "3"}
    assert warmups.counted_out({**usual, **typed}).last == last
    for bad in ({"cycle": ""}, {"octaves": "x"}, {"octaves": "20"}, {"notes": "0"}, {"group": "99"}):
        with pytest.raises(Refused):
            warmups.counted_out({**usual, **bad})


# --- dates -------------------------------------------------------------------------------------------------


def a_date(desk: Desk, days: int = 2, start: int = 19, end: int = 22, title: str = "Concert", **more) -> Typed:
    return Typed(desk.today + timedelta(days=days), time(start), time(end), title, **more)


def test_an_engagement_takes_what_is_usual_for_its_title_and_may_end_after_midnight(desk):
    made = engagements.write(desk, a_date(desk, start=23, end=2))
    assert (made.kind, made.minutes, made.effort, made.instrument) == ("performance", 126, 6, "bassoon")
    assert engagements.made(desk, a_date(desk, title="train to the coast")).minutes == 0
    assert engagements.made(desk, a_date(desk, title="dentist")).kind == "appointment"


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"title": " "}, "title"),
        ({"kind": "party"}, "kind"),
        ({"start": 1, "end": 23}, "end"),
        ({"minutes": 500}, "minutes"),
        ({"effort": 11}, "effort"),
    ],
)
def test_an_engagement_that_cannot_be_is_refused(desk, change, field):
    with pytest.raises(Refused) as refused:
        engagements.write(desk, a_date(desk, **change))
    assert refused.value.field == field


CALENDAR = """BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//EN\r\nBEGIN:VEVENT\r\nUID:a\r\nDTSTART:20261118T180000Z\r
DTEND:20261118T210000Z\r\nSUMMARY:{title}\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"""


def test_a_calendar_is_brought_once_changed_where_it_changed_and_can_be_taken_back(desk):
    bring = lambda text: engagements.bring_calendar(desk, "c.ics", text.encode())  # noqa: E731
    first = bring(CALENDAR.format(title="Orchestra rehearsal"))
    assert (first.new, first.known) == (1, 0)
    assert (bring(CALENDAR.format(title="Orchestra rehearsal")).known) == 1
    assert bring(CALENDAR.format(title="Dress rehearsal")).changed == 1
    moved = bring(CALENDAR.format(title="Dress rehearsal").replace("T180000Z", "T170000Z"))
    assert (moved.new, moved.gone) == (1, 1)
    (row,) = engagements.rows_between(desk, desk.today, desk.today + timedelta(days=30))
    assert (row.title, row.kind, row.minutes) == ("Dress rehearsal", "rehearsal", 144)
    engagements.take_back_import(desk, moved.uid)
    assert engagements.between(desk, desk.today, desk.today + timedelta(days=30)) == []
    for data in (b"", b"\x00not a calendar", b"x" * 3_000_000):
        with pytest.raises(Refused):
            engagements.bring_calendar(desk, "c.ics", data)


def test_load_fills_itself_as_planned_once_it_is_over(desk):
    made = engagements.write(desk, a_date(desk, 0, 8, 9, "Rehearsal", minutes=40, effort=4))
    assert [r.uid for r in engagements.waiting(desk)] == [made.uid]
    session = engagements.as_planned(desk, made.uid)
    assert (session.minutes, session.effort, session.blocks[0].kind) == (40, 4, "rehearsal")
    assert engagements.waiting(desk) == []
    with pytest.raises(Refused):
        engagements.as_planned(desk, made.uid)
    later = engagements.write(desk, a_date(desk, 0, 20, 21))
    with pytest.raises(Refused):
        engagements.as_planned(desk, later.uid)


def test_other_uses_count_in_the_load_and_not_as_playing(desk):
    uses.write_use(desk, "typing", 60)
    _, evidence = today.issue(desk)
    assert evidence.load.on(desk.today) == (0, 120)
    assert desk.store.played_days_before(desk.today + timedelta(days=1), 5) == ()
    with pytest.raises(Refused):
        uses.write_use(desk, "typing", None)
    with pytest.raises(NotThere):
        uses.write_use(desk, "knitting", 10)


# --- the week ----------------------------------------------------------------------------------------------

NEXT = date(2026, 11, 16)


def test_the_week_is_laid_inside_her_usual_and_what_was_moved_by_hand_stays(played):
    engagements.write(played, Typed(NEXT + timedelta(days=3), time(19), time(22), "Concert"))
    for title in ("Low F", "Thirds", "Act II"):
        plan.write_aim(played, NEXT, TypedAim(title, 60, 4, "bassoon"))
    assert plan.lay(played, NEXT) == 180
    what = plan.ahead(played, NEXT, NEXT + timedelta(days=6))
    laid_days = {b.day for b in what.blocks}
    assert len(laid_days) >= 4
    assert max(what.loads[d] for d in laid_days) <= what.day_high
    own = what.blocks[0]
    moved = plan.move(played, own.uid, minutes=45, days=1)
    assert moved.laid_by == "hand"
    plan.lay(played, NEXT)
    again = plan.blocks_between(played, NEXT, NEXT + timedelta(days=6))
    assert moved in again
    assert sum(b.minutes for b in again) == pytest.approx(180)
    night = NEXT + timedelta(days=3)
    assert sum(b.minutes for b in again if b.day == night) <= plan_rules()["performance_day_most_min"]
    concert = engagements.between(played, night, night)[0]
    assert not any(b.start_utc < concert.end_utc and concert.start_utc < b.end_utc for b in again)


def test_what_found_no_place_says_why_and_keeps_it(played):
    say(played, rest_weekday="1", rest_school="day off", from_hour=9.0, to_hour=9.5)
    plan.write_aim(played, NEXT, TypedAim("Thirds", 600, 8, "bassoon"))
    plan.lay(played, NEXT)
    (row,) = plan.aims(played, NEXT)
    assert row.unlaid.startswith("4") and "minutes of Thirds" in row.unlaid and "off on Tuesday" in row.unlaid


def test_nothing_new_is_laid_while_muted_and_the_dose_is_the_ceiling(played):
    write_marks(played, TypedMarks(("thumb_base_joint.left",), "pain", 3.0, ("waking",)), played.today)
    week = monday(played.today)
    new = plan.write_aim(played, week, TypedAim("New solo", 40, 4, "bassoon", new_hard=True))
    plan.write_aim(played, week, TypedAim("Old song", 300, 4, "bassoon"))
    plan.lay(played, week)
    rows = {row.uid: row for row in plan.aims(played, week)}
    assert "nothing new while Muted" in rows[new].unlaid
    blocks = plan.blocks_between(played, played.today, played.today)
    assert sum(b.minutes for b in blocks) <= 70
    assert all(b.title == "Old song" for b in blocks)


def test_a_new_instrument_is_laid_by_its_first_dose(played):
    plan.write_aim(played, NEXT, TypedAim("Contra, low", 60, 4, "contrabassoon"))
    plan.lay(played, NEXT)
    (row,) = plan.aims(played, NEXT)
    assert "a new instrument grows slowly" in row.unlaid
    engagements.write(played, Typed(NEXT, time(19), time(22), "Concert", instrument="contrabassoon"))
    page = plan_page.page(played, NEXT)
    assert any("contrabassoon is new to your hands (0 days played)" in j.sentence for j in page.jumps)


def test_without_a_usual_an_hour_a_day_is_laid(desk):
    plan.write_aim(desk, NEXT, TypedAim("Scales", 600, 4, "bassoon"))
    assert 0 < plan.lay(desk, NEXT) <= 7 * 60
    assert not plan_page.page(desk, NEXT).has_usual


def test_a_block_cannot_be_moved_onto_something_or_into_the_past(played):
    plan.write_aim(played, NEXT, TypedAim("Thirds", 20, 4, "bassoon"))
    plan.lay(played, NEXT)
    (only,) = plan.blocks_between(played, NEXT, NEXT + timedelta(days=6))
    local = only.start_utc.astimezone(played.zone)
    engagements.write(
        played, Typed(local.date() + timedelta(days=1), local.time(), (local + timedelta(hours=1)).time(), "Lesson")
    )
    for by in ({"days": 1}, {"days": -30}, {"longer": 500}):
        with pytest.raises(Refused):
            plan.move(played, only.uid, **by)
    assert plan.block_of(played, only.uid) == only
    plan.rub_out(played, only.uid)
    with pytest.raises(NotThere):
        plan.block_of(played, only.uid)
    undo = corrections.offered(played)
    assert undo is not None
    corrections.undo(played, undo.number)
    assert plan.block_of(played, only.uid) == only


def test_a_block_keeps_its_local_hour_over_the_change_of_clocks(desk):
    before = replace(desk, now=datetime(2026, 10, 20, 8, tzinfo=UTC))
    start = datetime(2026, 10, 24, 8, tzinfo=UTC)  # 10.00 in Vienna, the day before the clocks go back
    before.store.shelf(PlannedRow).put(
        {"uid": "b", "day": date(2026, 10, 24), "start_utc": start, "minutes": 30, "effort": 4, "laid_by": "hand"}
    )
    assert plan.move(before, "b", days=1).start_utc == datetime(2026, 10, 25, 9, tzinfo=UTC)


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        (TypedAim("", 30), "aim_title"),
        (TypedAim("x", None), "aim_minutes"),
        (TypedAim("x", 3), "aim_minutes"),
        (TypedAim("x", 30, 12), "aim_effort"),
        (TypedAim("x", 30, manner="wild"), "aim_manner"),
    ],
)
def test_an_aim_that_cannot_be_is_refused(desk, typed, field):
    with pytest.raises(Refused) as refused:
        plan.write_aim(desk, NEXT, typed)
    assert refused.value.field == field


# --- can I take this date? ---------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("line", "day", "start", "end", "title", "instrument"),
    [
        ("Sa 28, 10.00, octet, contra, 3 h", date(2026, 11, 28), time(10), time(13), "octet", "contrabassoon"),
        ("28 Nov, 19:30–22:15, gala concert", date(2026, 11, 28), time(19, 30), time(22, 15), "gala concert", ""),
        ("2026-12-01, 9.00, quintet 90 min", date(2026, 12, 1), time(9), time(10, 30), "quintet", ""),
    ],
)
def test_a_date_is_read_from_one_line(desk, line, day, start, end, title, instrument):
    found = date_question.read_line(desk, line)
    assert (found.day, found.start, found.end, found.title, found.instrument) == (day, start, end, title, instrument)


@pytest.mark.parametrize(
    "line",
    [
        "",
        "octet",
        "Sa 28, octet",
        "Sa 28, 10.00, octet",
        "Mo 28, 10.00, 3 h",
        "Sa 28, 27.00, 3 h",
        "2026-02-30, 10.00, 3 h",
        "2026-11-01, 10.00, octet, 3 h",
    ],
)
def test_a_line_that_cannot_be_read_says_what_is_missing(desk, line):
    with pytest.raises(Refused) as refused:
        date_question.ask(desk, line)
    assert refused.value.field == "line"


def test_a_date_is_answered_and_taken_with_its_changes(played):
    plan.write_aim(played, NEXT, TypedAim("Thirds", 280, 4, "bassoon"))
    plan.lay(played, NEXT)
    (saturday,) = plan.blocks_between(played, NEXT + timedelta(days=5), NEXT + timedelta(days=5))
    line = f"Sa 21, {saturday.start_utc.astimezone(played.zone):%H.%M}, octet, 2 h"
    asked = date_question.ask(played, line)
    assert asked.verdict.startswith("Yes, with") and saturday in asked.answer.goes
    assert "Thirds on Saturday" in asked.changes[0]
    taken = date_question.take(played, line)
    assert taken.title == "octet"
    assert saturday not in plan.blocks_between(played, NEXT, NEXT + timedelta(days=6))


def test_against_the_answer_only_with_a_reason(played):
    engagements.write(played, Typed(NEXT + timedelta(days=5), time(19), time(22), "Concert"))
    line = "Sa 21, 20.00, second concert, 2 h"
    assert date_question.ask(played, line).answer.verdict == "no"
    with pytest.raises(Refused) as refused:
        date_question.take(played, line)
    assert refused.value.field == "line"
    with pytest.raises(Refused) as refused:
        date_question.take(played, line, as_it_stands=True)
    assert refused.value.field == "reason"
    taken = date_question.take(played, line, True, "only the second half")
    assert engagements.row_of(played, taken.uid).reason == "only the second half"


def test_everything_she_set_up_is_in_her_export_and_gone_when_deleted(played, tmp_path):
    hands.measure(played, "left", HAND)
    kit.write(played, None, {"kind": "chair", "name": "Chair"})
    plan.write_aim(played, NEXT, TypedAim("Thirds", 40))
    plan.lay(played, NEXT)
    warmups.keep(played)
    text = exports.everything(played)
    for word in ('"hand.span"', '"Chair"', '"Thirds"', '"planner"', '"warmups"'):
        assert word in text
    exports.delete_everything(played, tmp_path)
    assert exports.is_empty(played)
