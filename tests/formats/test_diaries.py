"""Twelve diaries kept their own way (tests/diaries.py), each read as its player would say it should be."""

import csv
import io
from collections import Counter
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from importlib.resources import files
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st
from odf.opendocument import OpenDocumentSpreadsheet
from odf.table import Table, TableCell, TableRow
from odf.text import P
from openpyxl import Workbook

from chirotend.core.days import FIRST_DAY
from chirotend.formats.cells import UnreadableFile
from chirotend.formats.diary import reading, workbooks
from chirotend.formats.diary.guess import guessed
from chirotend.formats.diary.match import Column, Match
from chirotend.formats.diary.odd import oddities
from chirotend.formats.diary.reading import Diary
from chirotend.formats.diary.sheets import Sheet, sheets, unpacked
from chirotend.formats.diary.words import Words
from tests.diaries import FOLDER, WRITTEN

VIENNA = ZoneInfo("Europe/Vienna")
TODAY = date(2026, 11, 12)
NOW = datetime(2026, 11, 12, 9, 10, tzinfo=UTC)


def read(sheet: Sheet, match: Match | None = None, hers: dict[str, str] | None = None) -> Diary:
    match = match or Match()
    columns = [match.columns.get(n, column) for n, column in enumerate(guessed(sheet))]
    return reading.read_sheet(sheet, columns, match, Words(hers or {}), VIENNA, TODAY)


def table(text: str, match: Match | None = None, hers: dict[str, str] | None = None) -> Diary:
    return read(sheets(text.encode(), "diary.csv")[0], match, hers)


def brought(name: str, at: int = 0) -> Diary:
    return read(sheets((FOLDER / name).read_bytes(), name)[at])


def asked(diary: Diary) -> list[str]:
    return [q.code for q in diary.questions]


@pytest.mark.parametrize("name", WRITTEN)
def test_the_diaries_are_those_that_are_described(name):
    """Spreadsheets carry the hour they were written at; what stands in them is compared."""
    made = sheets(WRITTEN[name](), name)
    there = sheets((FOLDER / name).read_bytes(), name)
    assert [replace(s, text=None) for s in made] == [replace(s, text=None) for s in there]


WORST = ["year", "lengths", "strength_of", "unsaid_side", "unsaid_kind", "pairs", "doubles"]


@pytest.mark.parametrize(
    ("name", "sessions", "minutes", "checks", "notes", "questions"),
    [
        ("sheet-with-title.xlsx", 50, 3255, 40, 40, ["strength_of", "unsaid_kind"]),
        ("german-semicolons.csv", 42, 2895, 36, 42, ["effort_of", "unsaid_side", "unsaid_kind"]),
        ("french-tabs.txt", 47, 2940, 47, 6, ["year", "strength_of", "unsaid_kind"]),
        ("italian-sheet.ods", 39, 2700, 66, 39, ["strength_of", "unsaid_side", "unsaid_kind"]),
        ("spanish-mac.csv", 40, 2850, 40, 40, []),
        ("month-first.csv", 45, 3330, 0, 0, ["effort_of"]),
        ("two-sheets.xlsx", 47, 3120, 0, 0, []),
        ("old-sheet.xls", 43, 3120, 43, 43, ["unsaid_kind", "unsaid_strength"]),
        ("flat-objects.json", 48, 2970, 48, 0, ["strength_of", "unsaid_side", "unsaid_kind"]),
        ("without-names.csv", 63, 3750, 0, 51, ["year"]),
        (
            "worst.csv",
            15,
            1020,
            30,
            15,
            ["year", "lengths", "strength_of", "unsaid_side", "unsaid_kind", "pairs", "doubles"],
        ),
        ("nights.tsv", 38, 7335, 30, 6, ["strength_of", "unsaid_kind"]),
    ],
)
def test_each_diary_comes_to_what_its_player_wrote(name, sessions, minutes, checks, notes, questions):
    diary = brought(name)
    assert len(diary.sessions) == sessions
    assert sum(taken.session.minutes for taken in diary.sessions) == minutes
    assert (len(diary.checks), len(diary.notes)) == (checks, notes)
    assert asked(diary) == questions


def test_what_was_recognised_is_said():
    assert brought("sheet-with-title.xlsx").remarks == [
        "Above the table stands “My practice diary · autumn season”; it is left out.",
        "A line of totals is left out (line 55).",
        "10 rows have no day and take the day above.",
    ]


def test_a_long_sheet_of_complaints_has_their_side_kind_strength_and_timing():
    body = brought("two-sheets.xlsx", 1)
    found = {(timing, *place, strength) for (_, timing), felt in body.felt.items() for place, strength in felt.items()}
    assert ("after", "thumb_base_joint", "left", "tension", 3.0) in found
    assert ("waking", "neck_back", "left", "stiffness", 2.0) in found and (
        "waking",
        "neck_back",
        "right",
        "stiffness",
        2.0,
    ) in found


def test_nights_days_off_and_what_looks_odd():
    diary = brought("nights.tsv")
    late = next(t.session for t in diary.sessions if t.start_said == "23:15")
    assert (late.minutes, late.day) == (75, late.start_utc.astimezone(VIENNA).date())
    assert late.end_utc.astimezone(VIENNA).date() == late.day + timedelta(days=1)
    midnight = diary.sessions[-2].session
    assert (midnight.minutes, midnight.end_utc) == (120, datetime(2026, 11, 11, 23, 0, tzinfo=UTC))
    odd = {o.line: o.why for o in oddities(diary, NOW)}
    assert odd[36] == "11:30 on 9 November 2026 falls into the session of line 35. Both count."
    assert odd[37] == "11 h 30 on 10 November 2026: over ten hours in a day."
    assert odd[39] == "11 November 2026 is a day off too, in line 38."
    assert odd[40] == "11 November 1926 lies before 1950."
    assert next(t.session for t in diary.sessions if t.line == 36).start_utc is None


def test_a_session_of_later_today_looks_odd():
    diary = table("Date;Start;Min\n2026-11-12;08:00;30\n2026-11-12;23:00;30\n")
    assert [(o.line, o.why) for o in oddities(diary, NOW)] == [(3, "23:00 is later than now.")]


def test_a_row_that_cannot_be_read_costs_itself_alone_and_is_taken_whole_or_not():
    diary = brought("worst.csv")
    assert [(b.line, b.column, b.value) for b in sorted(diary.bad, key=lambda b: b.line)] == [
        (17, "Dat", "31/04"),
        (18, "h", "~"),
        (19, "", '02/11;1;"the storm;Fg;2;1;ok'),
    ]
    half = table("Date;Min;Thumb;Note\n2026-10-01;~;3;new reed\n")
    assert (half.sessions, half.felt, half.notes, len(half.bad)) == ([], {}, {}, 1)


@pytest.mark.parametrize(
    ("cells", "order", "questions"),
    [
        (["03/04", "04/04"], date(2026, 4, 3), ["order", "year"]),
        (["03/04/2026", "13/04/2026"], date(2026, 4, 3), []),
        (["03/04/2026", "03/14/2026"], date(2026, 3, 4), []),
        (["2026-04-03", "2026-04-04"], date(2026, 4, 3), []),
        (["45", "46115"], date(2026, 4, 3), []),
    ],
)
def test_the_order_of_day_and_month_is_settled_or_asked(cells, order, questions):
    diary = table("Date,Minutes\n" + "".join(f"{cell},30\n" for cell in cells))
    assert order in {taken.session.day for taken in diary.sessions} and asked(diary) == questions


@pytest.mark.parametrize(
    ("cells", "first"),
    [
        (["3.2.", "28.1.", "30.12.", "5.3."], 2026),
        (["5.9.", "30.12.", "28.1.", "3.2."], 2025),
        (["12.11.", "13.11."], 2025),
        (["20.12.", "5.7.", "1.2.", "30.9."], 2025),
    ],
)
def test_the_year_of_the_first_row_is_the_latest_that_puts_no_row_after_today(cells, first):
    """Common practice, no source: a diary is kept oldest first or newest first, and none is kept ahead."""
    diary = table("Date,Minutes\n" + "".join(f"{cell},30\n" for cell in cells))
    assert diary.sessions[0].session.day.year == first
    assert max(taken.session.day for taken in diary.sessions) <= TODAY


def test_days_without_a_year_go_on_over_new_year():
    diary = table("Date,Minutes\n30 Dec,30\n31 Dec,30\n1 Jan,30\n2 Jan,30\n")
    assert [t.session.day for t in diary.sessions][::3] == [date(2025, 12, 30), date(2026, 1, 2)]
    diary = table("Date,Minutes\n30 Dec,30\n1 Jan,30\n", Match(year=2023))
    assert [t.session.day.year for t in diary.sessions] == [2023, 2024]


def minutes(diary: Diary) -> list[float]:
    return [taken.session.minutes for taken in diary.sessions]


@pytest.mark.parametrize(
    ("name", "cells", "found", "questions"),
    [
        ("min", ["90", "45"], [90, 45], []),
        ("h", ["1,5", "2"], [90, 120], []),
        ("min", ["1,5", "2"], [90, 120], ["lengths"]),
        ("min", ["1,5", "90"], [90, 90], ["lengths"]),
        ("h", ["1:30", "90'"], [90, 90], []),
        ("min", ["45-60", "30"], [52.5, 30], ["pairs"]),
    ],
)
def test_minutes_or_hours_are_settled_or_asked(name, cells, found, questions):
    diary = table(f"Date;{name}\n" + "".join(f"2026-10-{n:02};{cell}\n" for n, cell in enumerate(cells, start=1)))
    assert minutes(diary) == found and asked(diary) == questions


@pytest.mark.parametrize(
    ("name", "cell", "minutes_", "timed"),
    [
        ("time", "90", 90, False),
        ("time", "1:30", 90, False),
        ("Zeit", "10:30–12:00", 90, True),
        ("from to", "19.30 - 21.00", 90, True),
    ],
)
def test_a_column_of_times_is_told_from_one_of_lengths_by_its_cells(name, cell, minutes_, timed):
    (taken,) = table(f"Date;{name}\n2026-10-01;{cell}\n").sessions
    assert (taken.session.minutes, taken.session.start_utc is not None) == (minutes_, timed)


def test_an_answer_changes_the_reading():
    text = "Date;min;Effort\n2026-10-01;1,5;4\n2026-10-02;90;5\n"
    assert minutes(table(text, Match(lengths="minutes"))) == [1.5, 90]
    assert [t.session.effort for t in table(text).sessions] == [8, 10]
    assert [t.session.effort for t in table(text, Match(effort_of=10)).sessions] == [4, 5]
    assert table(text, Match(columns={2: Column(meaning="add_note")})).notes[date(2026, 10, 1)].note == "Effort: 4"


def places(diary: Diary) -> Counter[tuple[str, str, str, float]]:
    return Counter((*place, strength) for felt in diary.felt.values() for place, strength in felt.items())


@pytest.mark.parametrize(
    ("cell", "found"),
    [
        ("L thumb tight 3", {("thumb_base_joint", "left", "tension", 3)}),
        (
            "li Daumen 2, re HG Kribbeln 4/10",
            {("thumb_base_joint", "left", "pain", 2), ("wrist_back_mid", "right", "tingling", 4)},
        ),
        (
            "pouce gauche 3/5; nuque gauche raide 2",
            {("thumb_base_joint", "left", "pain", 6), ("neck_back", "left", "stiffness", 2)},
        ),
        ("lower back sore 4", {("spine_low", "none", "pain", 4)}),
        ("none", set()),
        ("ok", set()),
        ("–", set()),
    ],
)
def test_complaints_in_words_have_their_places(cell, found):
    diary = table(f'Date;Min;Beschwerden\n2026-10-01;30;"{cell}"\n')
    assert set(places(diary)) == found and list(diary.felt) == [(date(2026, 10, 1), "playing")]


def test_sheets_of_one_shape_are_one_diary_with_their_lines_counted_through():
    book = Workbook()
    for month, day in (("September", 3), ("October", 5)):
        sheet = book.create_sheet(month)
        sheet.append(["Day", "Min"])
        sheet.append([date(2026, 9 if day == 3 else 10, day), 30])
    out = io.BytesIO()
    book.save(out)
    (whole,) = [s for s in sheets(out.getvalue(), "year.xlsx") if s.header]
    assert [(line, cells[0]) for line, cells in whole.rows] == [(2, "2026-09-03"), (4, "2026-10-05")]
    assert whole.remarks == ("2 sheets are read as one, their lines counted through: September, October.",)
    assert minutes(read(whole)) == [30, 30]


def test_no_word_is_lost_and_no_log_is_no_answer():
    diary = table("Date;Min;Symptoms;Reeds\n2026-10-01;30;felt odd;new one\n2026-10-02;30;;\n")
    assert diary.felt == {} and list(diary.notes) == [date(2026, 10, 1)]
    assert diary.notes[date(2026, 10, 1)].note.split("\n") == ["Symptoms: felt odd", "Reeds: new one"]


def test_her_own_word_goes_before_the_list():
    text = "Date;Min;Kind;Symptoms\n2026-10-01;30;Probe;the knob left 3\n"
    assert table(text).sessions[0].session.blocks[0].kind == "rehearsal"
    mine = table(text, hers={"kind probe": "lesson", "zone the knob left": "thumb_ball"})
    assert mine.sessions[0].session.blocks[0].kind == "lesson"
    assert set(places(mine)) == {("thumb_ball", "left", "pain", 3)}


@pytest.mark.parametrize(
    "data",
    [
        b"sep=;\nDate;Min\n2026-10-01;30\n",
        b'"Date"\t"Min"\r2026-10-01\t30\r',
        "Date;Min\n2026-10-01;30\n".encode("utf-16"),
        "\ufeffDate|Min\r\n2026-10-01|30\r\n".encode(),
    ],
)
def test_whatever_stands_between_the_cells_they_are_found(data):
    assert minutes(read(sheets(data, "x.dat")[0])) == [30]


def test_a_small_file_that_asks_for_gigabytes_is_refused():
    document = OpenDocumentSpreadsheet()
    sheet, row, cell = (
        Table(name="a"),
        TableRow(numberrowsrepeated=90_000),
        TableCell(valuetype="string", numbercolumnsrepeated=500),
    )
    cell.addElement(P(text="x" * 20))
    row.addElement(cell)
    sheet.addElement(row)
    document.spreadsheet.addElement(sheet)
    out = io.BytesIO()
    document.write(out)
    assert len(out.getvalue()) < 5000
    with pytest.raises(UnreadableFile, match="this server gives one file"):
        sheets(out.getvalue(), "x.ods")


@pytest.mark.parametrize(
    ("data", "sentence"),
    [
        (b"PK\x03\x04 no archive", "damaged or locked"),
        (b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1 nothing", "cannot be read as a spreadsheet"),
        (b'[{"date": "2026', "breaks off or is not JSON"),
        (b"[1, 2]", "not one of objects"),
        (b"\x89PNG\r\n\x1a\n\x00\x00\x00\x07IHDR\x01\x02\x03", "neither a table nor text"),
        (("a," * 150 + "b\n").encode(), "at most 120"),
    ],
)
def test_a_file_that_is_no_table_is_refused_with_a_sentence(data, sentence):
    with pytest.raises(UnreadableFile, match=sentence):
        for name, inner in unpacked(data, "x"):
            sheets(inner, name)


@pytest.mark.parametrize("name", ["diary.xlsx", "diary.csv"])
def test_the_empty_diary_that_is_offered_is_read_without_a_question(name):
    data = files("chirotend.web").joinpath("static/files", name).read_bytes()
    (empty, *others) = sheets(data, name)
    assert (read(empty).sessions, read(empty).remarks) == ([], ["The example rows are left out."])
    assert not any(column.meaning == "day" for other in others for column in guessed(other))
    names = [column.meaning for column in guessed(empty)]
    assert "add_note" not in names and "leave_out" not in names and len(set(names)) == len(names) == 14


def test_the_examples_of_the_empty_diary_mean_what_they_say():
    data = files("chirotend.web").joinpath("static/files/diary.csv").read_bytes()
    diary = read(sheets(data.replace(b"Example: delete this row", b"a note"), "diary.csv")[0])
    assert minutes(diary) == [45, 90] and asked(diary) == ["unsaid_side"]
    assert set(places(diary)) >= {("thumb_base_joint", "left", "tension", 3)}
    assert [t.session.effort for t in diary.sessions] == [4, 6]


NAMES = ["Date", "Datum", "Start", "von", "Min", "h", "Dauer", "Effort", "Kind", "inst", "thumb", "L wrist", "Where"]
NAMES += ["Side", "Strength", "When felt", "Sleep", "off", "Note", "Mood", ""]
CELLS = ["12.10.2026", "2026-10-12", "3/4", "31/02/2026", "99", "1,5", "1h30", "25:00", "10:30", "23:00–00:30", "off"]
CELLS += ["x", "-3", "3-4", "7/5", "L thumb tight 3; neck", "none", "–", "Probe", "", "=1+1", '"', "1e9", "٣", "½"]
some_text = st.text(st.characters(exclude_characters="\0", exclude_categories=["Cs"]), max_size=9)
a_table = st.integers(1, 7).flatmap(
    lambda width: st.tuples(
        st.lists(st.sampled_from(NAMES), min_size=width, max_size=width),
        st.lists(st.lists(st.sampled_from(CELLS) | some_text, min_size=width, max_size=width), max_size=12),
    )
)


@given(a_table)
def test_whatever_stands_in_a_table_is_in_range_or_refused(found):
    header, rows = found
    out = io.StringIO(newline="")
    csv.writer(out).writerows([header, *rows])
    for sheet in sheets(out.getvalue().encode("utf-8", "replace"), "x.csv"):
        diary = read(sheet)
        assert all(0 < t.session.minutes <= 1440 and FIRST_DAY <= t.session.day <= TODAY for t in diary.sessions)
        assert all(t.session.effort is None or 0 <= t.session.effort <= 10 for t in diary.sessions)
        assert all(0 < strength <= 10 for felt in diary.felt.values() for strength in felt.values())
        assert {b.line for b in diary.bad}.isdisjoint(t.line for t in diary.sessions)
        assert diary.checks is not None and oddities(diary, NOW) is not None


a_day = st.dates(date(2026, 9, 1), date(2026, 11, 10))
some_rows = st.lists(st.tuples(a_day, st.sampled_from([30, 45, 60]), st.integers(6, 9)), min_size=1, max_size=12)


@given(some_rows, st.randoms(use_true_random=False))
def test_a_row_has_the_same_id_wherever_it_stands_in_the_file(rows, chance):
    def ids(found):
        text = "Date,Min,Effort\n" + "".join(
            f"{day.isoformat()},{minutes},{effort}\n" for day, minutes, effort in found
        )
        return sorted(taken.session.uid for taken in table(text, Match(doubles="both")).sessions)

    shuffled = list(rows)
    chance.shuffle(shuffled)
    assert ids(rows) == ids(shuffled) and len(set(ids(rows))) == len(rows)


def test_a_night_that_ends_after_four_is_one_session_of_its_evening():
    (taken,) = table("Date;Start;End\n2026-10-01;20:00;05:00\n").sessions
    assert (taken.session.minutes, taken.session.day) == (540, date(2026, 10, 1))


def test_nought_is_asked_and_nothing_there():
    assert table("Date;Min;left thumb\n2026-10-01;30;0\n").felt == {(date(2026, 10, 1), "playing"): {}}


def test_an_effort_from_six_to_twenty_becomes_one_from_nought_to_ten():
    diary = table("Date;Min;RPE\n2026-10-01;30;6\n2026-10-02;30;13\n2026-10-03;30;20\n")
    assert [taken.session.effort for taken in diary.sessions] == [0, 5, 10]


def test_a_length_beyond_its_times_and_a_start_of_another_day_look_odd():
    diary = table(
        "Date;Start;End;Min\n2026-10-01;10:00;11:00;90\n2026-10-02;2026-10-03 10:00;;30\n2026-10-04;9:00;10:00;60\n"
    )
    assert [(o.line, o.column) for o in oddities(diary, NOW)] == [(2, "minutes"), (3, "start")]


@pytest.mark.parametrize(
    ("text", "kind", "questions"),
    [
        ("Date,Min,Pain\n2026-10-01,30,L wrist 7\n", "pain", []),
        ("Datum;Min;Schmerz\n2026-10-01;30;linkes Handgelenk 7\n", "pain", []),
        ("Date,Min,Where,Pain level\n2026-10-01,30,left wrist,7\n", "pain", []),
        ("Date,Min,Where,Type,Level\n2026-10-01,30,left wrist,pain,7\n", "pain", []),
        ("Date,Min,Where,Type,Level\n2026-10-01,30,left wrist,tight,7\n", "tension", []),
        ("Date,Min,Left wrist (0-10)\n2026-10-01,30,7\n", "pain", ["unsaid_kind"]),
        ("Date,Min,Body,Level\n2026-10-01,30,left wrist,7\n", "pain", ["unsaid_kind"]),
    ],
)
def test_the_kind_of_a_complaint_is_what_its_cell_column_or_sheet_says_else_it_is_asked(text, kind, questions):
    found = table(text)
    assert dict(found.felt) == {(date(2026, 10, 1), "playing"): {("wrist_back_mid", "left", kind): 7.0}}
    assert asked(found) == questions
    if questions:
        said = table(text, Match(unsaid_kind="tension"))
        assert dict(said.felt) == {(date(2026, 10, 1), "playing"): {("wrist_back_mid", "left", "tension"): 7.0}}
        only_noted = table(text, Match(unsaid_kind="note"))
        assert not only_noted.felt[date(2026, 10, 1), "playing"] and "7" in only_noted.notes[date(2026, 10, 1)].note


def test_a_strength_without_a_place_stays_in_the_note_and_its_place_is_asked_once():
    text = "Date,Min,Pain\n2026-10-01,30,7\n2026-10-02,30,0\n2026-10-03,30,6\n"
    found = table(text)
    assert asked(found) == ["unsaid_place"] and found.questions[0].asked.startswith("2 strengths")
    assert found.notes[date(2026, 10, 1)].note == "Pain: 7" and found.felt == {(date(2026, 10, 2), "playing"): {}}
    placed = table(text, Match(unsaid_place="wrist_back_mid", unsaid_side="left"))
    assert placed.felt[date(2026, 10, 1), "playing"] == {("wrist_back_mid", "left", "pain"): 7.0}


def test_a_spreadsheet_over_which_its_reader_gives_up_is_said_to_be_damaged(monkeypatch):
    class PanicException(BaseException):
        """As the reader's own is called, which no name leads to."""

    def panics(_file: object) -> None:
        raise PanicException

    monkeypatch.setattr(workbooks, "load_workbook", panics)
    with pytest.raises(UnreadableFile, match="a damaged spreadsheet"):
        workbooks.answered({"file": "x.xlsx"}, b"PK", lambda share: None)
