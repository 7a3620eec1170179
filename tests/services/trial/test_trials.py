"""Trials are looked at, begun, told, and decided; what is missing stays missing, what else changes ends them."""

from dataclasses import replace
from datetime import date, time, timedelta
from itertools import groupby

import pytest

from chirotend.core.record import Check, Entry
from chirotend.formats.csv_log import check_uid
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import FieldError, NotThere
from chirotend.services.kit import things
from chirotend.services.plan.programmes import begin as programmes
from chirotend.services.record import corrections, log
from chirotend.services.record import measured as values
from chirotend.services.trial import measures, shown, trials
from chirotend.store.models import KitRow, TrialRow

MEASURE = "mark|wrist & thumb|left|waking|"
TYPED = {"what": "the thumb rest", "change": "rest", "measure": MEASURE, "order": "phases", "days": "28", "least": "5"}


def wakes(context, day, strength, kind="tension"):
    entries = (Entry("thumb_ball", "left", kind, strength),) if strength else ()
    corrections.put(context, Check(check_uid(day, "waking"), day, "waking", entries))


@pytest.fixture
def marked(played):
    """Six weeks of mornings with a thumb at 3 to 5."""
    for back in range(42, -1, -1):
        wakes(played, played.today - timedelta(days=back), 1 + (back * 7) % 3 / 2)
    return played


def gone_through(context, uid, without, with_it, skip=(), noise=2):
    """Live a trial to its end: a value for each day by its letter; returns the context of the day after."""
    t = trials.trial(context, uid)
    for n, letter in enumerate(t.data.letters):
        day = t.first + timedelta(days=n)
        if n not in skip:
            value = with_it if letter == "B" else without
            wakes(context, day + timedelta(days=1), value + n // 2 % noise)
    return replace(context, now=context.now + timedelta(days=len(t.data.letters) + 2))


def test_what_it_could_show_is_said_before_it_begins(marked):
    looked = trials.preview(marked, TYPED)
    assert (looked.known, len(looked.data.letters)) == (42, 28)
    assert looked.detects == 1.5
    assert shown.preview_words(looked).endswith("Simulated from 42 of your own last 42 days.")
    short = trials.preview(marked, {**TYPED, "days": "10"})
    assert "would hardly show any change" in shown.preview_words(short)


def test_nothing_known_before_is_said_and_is_no_hindrance(played):
    wakes(played, played.today, 2)
    assert shown.preview_words(trials.preview(played, TYPED)).startswith("Too few of your own days are written")
    trials.begin(played, TYPED)
    assert played.store.repository(TrialRow).all()[0].data["detects"] is None


def test_a_change_that_helped_is_kept_and_written_beside_its_thing(marked, monkeypatch):
    monkeypatch.setattr(trials.secrets, "randbits", lambda _: 3)
    thing = things.write(marked, None, {"kind": "rest", "name": "Thumb rest", "instrument": "bassoon"})
    uid = trials.begin(marked, {**TYPED, "thing": thing})
    context = gone_through(marked, uid, 2, 0)
    page = shown.trials_page(context, uid)
    assert page.headline == "Better with it, as far as 28 days can tell."
    assert page.share[0] == 100
    assert page.middles.startswith("On the middle day: without it 2.5")
    assert page.middles.endswith("2 points and 30 % (Farrar and others, 2001).")
    trials.decide(context, uid, "kept")
    note = context.store.repository(KitRow).get(thing).note
    assert note.endswith("the thumb rest, kept after 28 days, 100 of 100 day pairs better.")
    assert shown.listed_page(context).trials[0][0].outcome == "kept"


def test_a_morning_belongs_to_the_day_before_it(marked):
    wakes(marked, date(2026, 11, 6), 7)
    m = measures.measure_from(marked, MEASURE)
    found = measures.values(marked, m, date(2026, 11, 5), date(2026, 11, 6))
    assert found[0] == 7


def test_two_days_and_missing_days_tell_nothing_yet(marked):
    uid = trials.begin(marked, {**TYPED, "order": "turn", "days": "8", "least": "3"})
    context = gone_through(marked, uid, 4, 1, skip=range(2, 8))
    page = shown.trials_page(context, uid)
    assert page.headline == "Cannot tell: three days of each are the least."
    assert (page.written, page.share, page.pairs) == (2, None, None)
    assert "6 days stay missing" in " ".join(d.rest for d in page.doubts)


def test_a_small_change_says_how_many_days_more(marked):
    uid = trials.begin(marked, {**TYPED, "order": "turn", "days": "10", "least": "3"})
    context = gone_through(marked, uid, 1, 0, noise=3)
    last_day = replace(context, now=context.now - timedelta(days=2))
    going = shown.trials_page(last_day, uid)
    assert going.headline == "Still going on. The answer stands once 22 November is over."
    assert (going.share, going.pairs, going.middles) == (None, None, ""), (
        "nothing is compared before its last day is over"
    )
    assert going.ends_early == "If you end it before 22 November is over, you get no answer."
    page = shown.trials_page(context, uid)
    assert page.headline.startswith("Cannot tell: about ") and page.growable
    assert "Nothing was drawn by lot" in " ".join(d.rest for d in page.doubts)
    trials.lengthen(context, uid)
    longer = trials.trial(context, uid)
    assert (longer.data.letters, longer.data.lot_days) == ("AB" * 10, 10)
    with pytest.raises(FieldError, match="any more"):
        trials.lengthen(context, uid)


def test_who_stops_on_a_good_day_is_told_nothing(marked):
    uid = trials.begin(marked, {**TYPED, "order": "turn", "days": "30", "least": "3"})
    context = gone_through(marked, uid, 4, 1)
    early = replace(context, now=context.now - timedelta(days=12))
    trials.decide(early, uid, "kept")
    page = shown.trials_page(context, uid)
    assert (page.answer.verdict, page.headline) == ("cannot_tell", "The trial ended before it could tell.")
    assert trials.result_words(context, page.trial, "kept").endswith("it ended before it could tell.")


@pytest.mark.parametrize("how", ["muted", "programme"])
def test_what_else_changes_ends_the_comparison_and_says_so(marked, how):
    uid = trials.begin(marked, {**TYPED, "order": "turn", "days": "20", "least": "3"})
    tenth = replace(marked, now=marked.now + timedelta(days=10))
    if how == "programme":
        programmes.begin(tenth, "half_hour", {})
    else:
        row = todays_call(tenth).row
        kept = ("day", "issued_utc", "version", "row", "findings", "dose", "standing")
        tenth.store.add_call(**{name: getattr(row, name) for name in kept}, call="muted_mp")
    context = gone_through(marked, uid, 4, 1)
    page = shown.trials_page(context, uid)
    assert page.trial.broken_on == tenth.today
    assert page.days == 9
    assert page.doubts[0].lead == "Something else changed."
    with pytest.raises(FieldError):
        trials.lengthen(context, uid)


def test_a_change_is_taken_away_and_given_again_by_lot(marked):
    asked = {**TYPED, "order": "again", "days": "24"}
    uid = trials.begin(marked, asked)
    letters = trials.trial(marked, uid).data.letters
    stretches = ["".join(group) for _, group in groupby(letters)]
    assert [s[0] for s in stretches] == list("ABAB") and min(map(len, stretches)) >= 5
    after = gone_through(marked, uid, 4, 2)
    assert shown.trials_page(after, uid).answer.verdict == "better"
    trials.lengthen(marked, uid)
    assert trials.trial(marked, uid).data.letters == letters + "B" * 10
    with pytest.raises(FieldError, match="Each of the four stretches has") as refused:
        trials.preview(marked, {**asked, "days": "16"})
    assert refused.value.field == "least"


def test_a_probe_taken_once_is_offered_and_asked_for_daily(played):
    values.keep(played, "pressure.wasted.key", 20.0, hand="left", instrument="bassoon")
    key = next(c.key for c in measures.choices(played) if c.key.startswith("measure||||pressure.wasted.key"))
    looked = trials.preview(played, {**TYPED, "measure": key})
    assert shown.preview_words(looked).endswith("Measure it on each of its days.")


def test_nerve_signs_are_no_measure(marked):
    wakes(marked, marked.today, 3, "tingling")
    keys = [c.key for c in measures.choices(marked)]
    assert MEASURE in keys
    m = measures.measure_from(marked, MEASURE)
    assert measures.values(marked, m, marked.today - timedelta(days=1), marked.today)[0] == 0


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"what": " "}, "what"),
        ({"change": "luck"}, "change"),
        ({"measure": "mark|moon|left|waking|"}, "measure"),
        ({"days": "2"}, "days"),
        ({"days": "999"}, "days"),
        ({"order": "any"}, "order"),
        ({"least": "20"}, "least"),
        ({"least": "1"}, "least"),
        ({"thing": "x"}, "thing"),
        ({"instrument": "kazoo"}, "instrument"),
        ({"hold": "x", "instrument": "bassoon"}, "hold"),
    ],
)
def test_what_cannot_be_tried_says_what_is_wrong(marked, change, field):
    with pytest.raises(FieldError) as refused:
        trials.begin(marked, {**TYPED, **change})
    assert refused.value.field == field
    assert not marked.store.repository(TrialRow).all()


def test_one_at_a_time_and_on_an_open_day(marked):
    uid = trials.begin(marked, TYPED)
    with pytest.raises(FieldError, match="one change at a time"):
        trials.begin(marked, TYPED)
    trials.drop(marked, uid)
    with pytest.raises(NotThere):
        shown.trials_page(marked, uid)
    wakes(marked, marked.today, 4, "pain")
    with pytest.raises(FieldError, match="on a day that is Open"):
        trials.begin(marked, TYPED)


def test_effort_at_equal_load_is_a_measure(played):
    log.write_session(played, log.TypedSession(played.today, 90, time(7), 8, "bassoon"))
    m = measures.measure_from(played, "effort||||")
    found = measures.values(played, m, played.today - timedelta(days=3), played.today)
    assert found[-1] == 3
    assert measures.better_of(m) == "lower"
