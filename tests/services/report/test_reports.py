"""A report is made from what is written, and opens to nobody but whoever has its code, for ten minutes, nearby."""

from dataclasses import replace
from datetime import date, timedelta

import pytest

from chirotend.core.record import Check, Entry
from chirotend.formats.csv_log import check_uid
from chirotend.services.context import FieldError, NotThere
from chirotend.services.record import corrections
from chirotend.services.report import contents, reports
from chirotend.store.models import ShareRow

TYPED = {"audience": "clinician", "why": "My thumb wakes tight.", "question_1": "From the wrist?", "named": ""}


@pytest.fixture
def marked(played):
    for back in (3, 20, 40, 65):
        day = played.today - timedelta(days=back)
        entry = Entry("thumb_ball", "left", "tension", 2 + back % 3)
        corrections.put(played, Check(check_uid(day, "waking"), day, "waking", (entry,)))
    return played


def made(context, **typed):
    uid = reports.make(context, {**TYPED, **typed})
    return uid, contents.report(context, reports.row_of(context, uid))


def test_it_says_what_was_written_in_its_span_and_nothing_else(marked):
    _, r = made(marked)
    assert (r.days, r.who) == (70, "A player")
    assert [m.day for m in r.marks] == [marked.today - timedelta(days=back) for back in (65, 40, 20, 3)]
    assert [len(p.lines) for p in r.maps] == [1, 1, 1]
    assert r.maps[2].lines == ("Left thumb ball: tightness on 2 days, mostly waking.",)
    assert sum(minutes for _, minutes in r.week_minutes) > 3000
    _, short = made(marked, first="2026-11-01", last="2026-11-12")
    assert len(short.marks) == 1


def test_her_name_stands_there_only_when_she_says_so(marked):
    assert made(marked, named="yes")[1].who == marked.player.name
    assert marked.player.name not in str(contents.as_values(made(marked)[1]))


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"audience": "boss"}, "audience"),
        ({"first": "2026-11-30"}, "first"),
        ({"first": "2024-01-01"}, "first"),
        ({"last": "2027-01-01"}, "last"),
        ({"first": "soon"}, "first"),
        ({"why": "x" * 401}, "why"),
        ({"question_2": "x" * 161}, "question_2"),
    ],
)
def test_what_cannot_stand_on_it_says_what_is_wrong(marked, change, field):
    with pytest.raises(FieldError) as refused:
        made(marked, **change)
    assert refused.value.field == field
    assert reports.reports(marked) == []


def test_a_code_opens_one_page_for_ten_minutes_and_counts_the_looks(marked):
    uid, _ = made(marked)
    code = reports.show(marked, uid)
    assert code.replace(" ", "").isdigit()
    assert code not in str([vars(row) for row in marked.store.repository(ShareRow).all()])
    opened = reports.opened(marked.db, code.replace(" ", ""), "192.168.1.20", marked.now)
    assert opened.uid == uid
    assert reports.shares(marked, uid).looks == 1
    late = marked.now + timedelta(minutes=10, seconds=1)
    for wrong, address, at in (
        ("0000 0000", "127.0.0.1", marked.now),
        (code, "127.0.0.1", late),
        (code, "8.8.8.8", marked.now),
        (code, None, marked.now),
    ):
        with pytest.raises(FieldError):
            reports.opened(marked.db, wrong, address, at)


def test_a_new_code_ends_the_old_one_and_taking_back_ends_all(marked):
    uid, _ = made(marked)
    old, new = reports.show(marked, uid), reports.show(marked, uid)
    with pytest.raises(FieldError):
        reports.opened(marked.db, old, "127.0.0.1", marked.now)
    assert reports.opened(marked.db, new, "127.0.0.1", marked.now)
    reports.take_back(marked, uid)
    with pytest.raises(FieldError):
        reports.opened(marked.db, new, "127.0.0.1", marked.now)
    last = reports.show(marked, uid)
    reports.delete(marked, uid)
    with pytest.raises(FieldError):
        reports.opened(marked.db, last, "127.0.0.1", marked.now)
    with pytest.raises(NotThere):
        reports.row_of(marked, uid)


def test_an_empty_record_makes_a_page_that_says_so(context):
    r = contents.report(context, reports.row_of(context, reports.make(context, {"audience": "repairer"})))
    assert (r.marks, r.measures, r.week_minutes, r.written) == ((), (), (), 0)
    assert r.maps[0].lines == ()
    assert replace(r, parts=()).days == 70
    assert contents.as_rows(r)[0] == ("kind", "day", "what", "value", "unit")
    assert date.fromisoformat(contents.as_values(r)["first"]) == r.first


@pytest.mark.parametrize(
    ("address", "near"),
    [
        ("192.168.1.20", True),
        ("10.0.0.9", True),
        ("172.31.0.1", True),
        ("::ffff:192.168.1.20", True),
        ("fd12::7", True),
        ("fe80::1", True),
        ("127.0.0.1", True),
        ("172.32.0.1", False),
        ("198.18.0.1", False),
        ("192.0.2.7", False),
        ("::ffff:192.0.2.7", False),
        ("2001:db8::1", False),
        ("", False),
        (None, False),
    ],
)
def test_near_is_this_machine_and_the_networks_of_a_house(address, near):
    assert reports.is_near(address) == near


def test_a_question_that_a_sheet_would_run_is_text_in_the_table(marked):
    _, r = made(marked, question_1='=HYPERLINK("http://x.test", "open")')
    rows = contents.as_rows(r)
    assert [row[2][:11] for row in rows if row[0] == "question"] == ["'=HYPERLINK"]
    assert not any(cell[:1] in "=+@" for row in rows for cell in row if cell)
