"""Five years on a page, two spans beside them; what of the score is shown, and a measure laid under it."""

from dataclasses import replace
from datetime import date, timedelta

import pytest

from chirotend.drawing import score as drawn
from chirotend.drawing.quarters import DAYS, quarter
from chirotend.services.body import checks
from chirotend.services.call.todays_call import todays_call
from chirotend.services.context import FieldError
from chirotend.services.record import log
from chirotend.services.record.log import TypedSession
from chirotend.services.record.measured import keep
from chirotend.services.score import only, score_page, years
from chirotend.services.score.only import Only


def shown(context):
    return years.years_page(context, context.today.year, years.spans_of(context, {}))


def test_a_line_a_quarter_from_the_first_year_written(context):
    log.write_session(context, TypedSession(date(2024, 8, 20), 60, effort=4))
    page = shown(context)
    assert [r.year for r in page.rows if r.year] == [2024, 2025, 2026] and len(page.rows) == 12
    third = page.rows[2].drawn
    assert (third.first, third.last) == (date(2024, 7, 1), date(2024, 9, 30))
    assert third.load[50] == 240 and third.load[49] is None
    assert (page.rows[0].drawn.last, page.rows[3].drawn.last) == (date(2024, 3, 31), date(2024, 12, 31))


def test_a_long_rest_is_told_from_a_stretch_nobody_wrote(context):
    for back in (80, 40):
        log.write_session(context, TypedSession(context.today - timedelta(days=back), 60, effort=4))
    for back in range(79, 40, -2):
        log.write_day(context, context.today - timedelta(days=back), off=True)
    stretches = [s for r in shown(context).rows for s in r.drawn.idle]
    assert (date(2026, 8, 25), date(2026, 9, 30), True) in stretches  # half of its days are known to be off
    assert (date(2026, 10, 4), date(2026, 11, 12), False) in stretches


def test_the_strongest_sign_of_a_week_and_a_week_with_a_tacet(context):
    for strength, back in ((2, 3), (6, 2)):
        place = checks.TypedMarks(["thumb_base_joint.left"], "pain", strength, ["after"])
        then = replace(context, now=context.now - timedelta(days=back))
        checks.write_marks(then, place)
        todays_call(then)
    last = shown(context).rows[-1].drawn
    assert [(kind, strength) for _, kind, strength in last.signs] == [("pain", 6.0)]
    assert [call for _, call in last.calls] == ["tacet"]


def test_an_instrument_is_pencilled_in_where_it_was_new(context):
    log.write_session(context, TypedSession(date(2026, 2, 3), 60, effort=4, instrument="bassoon"))
    log.write_session(context, TypedSession(date(2026, 5, 3), 10, effort=4, instrument="contrabassoon"))
    assert [r.remarks for r in shown(context).rows if r.remarks] == [("first contrabassoon",)]


def test_columns_stay_inside_their_line(context):
    log.write_session(context, TypedSession(date(2026, 9, 30), 900, effort=10))
    for row in shown(context).rows:
        picture = quarter(row.drawn, 520)
        for shape in picture.shapes:
            if shape.tag == "rect":
                assert 0 <= float(shape.attrs["x"]) <= 520 and float(shape.attrs["y"]) >= 0
                assert float(shape.attrs["x"]) + float(shape.attrs["width"]) <= 520 * 93 / DAYS


def test_spans_are_refused_at_their_fields(context):
    good = {"a_from": "2026-01-01", "a_to": "2026-01-31", "b_from": "2026-02-01", "b_to": "2026-02-28"}
    assert years.spans_of(context, good)[1] == (date(2026, 2, 1), date(2026, 2, 28))
    for field, value in (("a_to", "2025-12-31"), ("b_to", "2029-01-01"), ("b_from", "soon"), ("a_from", "")):
        with pytest.raises(FieldError) as refused:
            years.spans_of(context, {**good, field: value})
        assert refused.value.field == field


@pytest.mark.parametrize(
    ("before", "now", "words"),
    [
        (400, 480, "a fifth more"),
        (6, 3, "half"),
        (1, 2, "twice"),
        (100, 101, "about the same"),
        (0, 3, "3 more"),
        (2, 0, "from 2"),
        (0, 0, "the same"),
        (1, 9, "9 times"),
        (100, 20, "80\u00a0% less"),
        (None, 3, "cannot be told"),
    ],
)
def test_what_changed_in_words(before, now, words):
    assert years.change(before, now) == words


def test_only_one_region_and_instrument_are_shown(context):
    log.write_session(context, TypedSession(context.today, 60, effort=4, instrument="bassoon"))
    log.write_session(
        context, TypedSession(context.today - timedelta(days=1), 20, effort=4, instrument="contrabassoon")
    )
    for place in ("thumb_base_joint.left", "neck_back.right"):
        checks.write_marks(context, checks.TypedMarks([place], "tension", 4, ["after"]))
    days = score_page.score_lines_page(context, 2, context.today, Only("wrist & thumb", "contrabassoon")).days
    today = next(d for d in days if d.today)
    assert [m.region for m in today.marks] == ["wrist & thumb"]
    assert (today.load, today.played) == (0, False)  # known, and none of it on the contrabassoon
    assert days[days.index(today) - 1].load == 80


def test_a_measure_is_laid_under_with_its_own_scale(context):
    for back, tempo in ((40, 60), (9, 72), (2, 66)):
        keep(replace(context, now=context.now - timedelta(days=back)), "tempo.top_clean", tempo, instrument="bassoon")
    (key,) = only.measures(context)
    assert only.measures(context)[key] == "top clean tempo, bassoon"
    line = score_page.score_lines_page(context, 2, context.today, Only(under=key)).wide[0]
    assert [v for _, v in line.measured.values] == [72, 66] and (line.measured.low, line.measured.high) == (60, 72)
    plain = replace(line, measured=None)
    assert drawn.drawn(line).height > drawn.drawn(plain).height
    assert any(s.text == "72" for s in drawn.drawn(line).over)


def test_what_there_is_none_of_is_not_chosen(context):
    assert only.read_choice(context, {"region": "tail", "instrument": "kazoo", "under": "luck"}) == only.EVERYTHING


def test_an_instrument_put_down_for_years_is_not_new_again(context):
    for day, instrument in (
        (date(2015, 3, 2), "bassoon"),
        (date(2015, 4, 2), "contrabassoon"),
        (date(2026, 5, 4), "contrabassoon"),
    ):
        log.write_session(context, TypedSession(day, 60, effort=4, instrument=instrument))
    assert not any(row.remarks for row in shown(context).rows)


@pytest.mark.parametrize("wanted", [0, 3, 2019, 9999, 123456])
def test_years_before_her_first_and_after_this_one_are_none(context, wanted):
    log.write_session(context, TypedSession(date(2024, 8, 20), 60, effort=4))
    page = years.years_page(context, wanted, years.spans_of(context, {}))
    assert (page.first, page.last) in ((2024, 2024), (2024, 2026))
